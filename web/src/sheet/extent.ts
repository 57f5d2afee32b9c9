/** Extent of the points that take part; those left out or waiting would show a sheet of empty miles. */
export function extentOf(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  state: Uint8Array | null,
): [number, number, number, number] | null {
  const extent: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < x.length; i++) {
    if (state && state[i] !== 0) continue;
    extent[0] = Math.min(extent[0], x[i]);
    extent[1] = Math.min(extent[1], y[i]);
    extent[2] = Math.max(extent[2], x[i]);
    extent[3] = Math.max(extent[3], y[i]);
  }
  return Number.isFinite(extent[0]) ? extent : null;
}

/** A closed ring as a course at one elevation. */
export const ringCourse = (ring: number[], z: number): number[] => {
  const out: number[] = [];
  for (let i = 0; i < ring.length; i += 2) out.push(ring[i], ring[i + 1], z);
  out.push(ring[0], ring[1], z);
  return out;
};
