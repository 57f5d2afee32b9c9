/** x = (m0 c + m1 r + m2) / w, y = (m3 c + m4 r + m5) / w, w = m6 c + m7 r + m8: pixels to metres, nine numbers. */
export type Projective = [number, number, number, number, number, number, number, number, number];

/** Where a place of the picture is on the plan, m. */
export function placeOf(m: Readonly<Projective>, column: number, row: number): { x: number; y: number } {
  const w = m[6] * column + m[7] * row + m[8];
  return { x: (m[0] * column + m[1] * row + m[2]) / w, y: (m[3] * column + m[4] * row + m[5]) / w };
}

/** The way back, metres to pixels; null where the picture has no area. */
export function invertProjective(m: Readonly<Projective>): Projective | null {
  const [a, b, c, d, e, f, g, h, i] = m;
  const out: Projective = [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f, d * h - e * g, b * g - a * h, a * e - b * d]; // prettier-ignore
  const determinant = a * out[0] + b * out[3] + c * out[6];
  if (!Number.isFinite(determinant) || determinant === 0) return null;
  return out.map((v) => v / determinant) as Projective;
}

/** The same picture about another origin, so that its places stay small numbers. */
export const shiftedBy = (m: Readonly<Projective>, x: number, y: number): Projective => [
  m[0] - x * m[6], m[1] - x * m[7], m[2] - x * m[8],
  m[3] - y * m[6], m[4] - y * m[7], m[5] - y * m[8],
  m[6], m[7], m[8],
]; // prettier-ignore

/** West, south, east and north of a picture on the plan, m. */
export function extentOfPicture(
  m: Readonly<Projective>,
  size: { width: number; height: number },
): [number, number, number, number] {
  const out: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  cornersOf(m, size).forEach((v, i) => {
    out[i % 2] = Math.min(out[i % 2], v);
    out[2 + (i % 2)] = Math.max(out[2 + (i % 2)], v);
  });
  return out;
}

/** The corners of a picture on the plan, m, from its upper left one on; x, y, x, y … */
export function cornersOf(m: Readonly<Projective>, { width, height }: { width: number; height: number }): number[] {
  return [[0, 0], [width, 0], [width, height], [0, height]].flatMap(([c, r]) => {
    const { x, y } = placeOf(m, c, r);
    return [x, y];
  }); // prettier-ignore
}
