const spare = new Float64Array(16);

/**
 * What two triangles have in common, the first cut by the sides of the second (Sutherland and Hodgman, 1974): right wherever their
 * corners lie on each other’s sides.
 * @param corners x, y of the three corners of either, counter-clockwise
 * @param places is written: x, y of the corners of the piece
 * @returns how many there are; 0 where nothing is common
 */
export function clippedPiece(corners: Float64Array, places: Float64Array): number {
  let [from, to]: Float64Array[] = [places, spare];
  from.set(corners.subarray(0, 6));
  let n = 3;
  for (let k = 0; k < 3; k++) {
    const [v, w] = [6 + 2 * k, 6 + 2 * ((k + 1) % 3)];
    const m = cutBySide(from, n, to, corners[v], corners[v + 1], corners[w], corners[w + 1]);
    if (m < 0) continue;
    if (m < 3) return 0;
    [from, to, n] = [to, from, m];
  }
  if (from !== places) places.set(from);
  return n;
}

/** The part of an area to the left of a side; the number of its corners, below 0 where all of it is. */
function cutBySide(
  from: Float64Array,
  n: number,
  to: Float64Array,
  px: number,
  py: number,
  qx: number,
  qy: number,
): number {
  const [dx, dy] = [qx - px, qy - py];
  let before = dx * (from[2 * n - 1] - py) - dy * (from[2 * n - 2] - px);
  let m = 0;
  let isWhole = true;
  for (let i = 0; i < n; i++) {
    const [x, y] = [from[2 * i], from[2 * i + 1]];
    const now = dx * (y - py) - dy * (x - px);
    if ((now > 0 && before < 0) || (now < 0 && before > 0)) {
      const j = 2 * (i === 0 ? n - 1 : i - 1);
      const f = before / (before - now);
      to[2 * m] = from[j] + f * (x - from[j]);
      to[2 * m + 1] = from[j + 1] + f * (y - from[j + 1]);
      m++;
    }
    if (now >= 0) {
      to[2 * m] = x;
      to[2 * m + 1] = y;
      m++;
    } else isWhole = false;
    before = now;
  }
  return isWhole ? -1 : m;
}
