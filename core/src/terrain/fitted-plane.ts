/** A plane: its gradient east and north, and its elevation at a place. */
export interface FittedPlane {
  dx: number;
  dy: number;
  at: (x: number, y: number) => number;
}

/** Share of their spread by which places must lie off a line for a plane to be fitted through them. */
const OFF_LINE = 1e-9;

/** The plane through places x, y, z by least squares of their heights; null where they lie in one line in plan. */
export function fittedPlane(places: readonly (readonly number[])[]): FittedPlane | null {
  const n = places.length;
  if (n < 3) return null;
  const [mx, my, mz] = [0, 1, 2].map((k) => places.reduce((sum, p) => sum + p[k], 0) / n);
  let [xx, xy, yy, xz, yz] = [0, 0, 0, 0, 0];
  for (const [px, py, pz] of places) {
    const [x, y, z] = [px - mx, py - my, pz - mz];
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xz += x * z;
    yz += y * z;
  }
  const det = xx * yy - xy * xy;
  if (!(det > OFF_LINE * (xx + yy) ** 2)) return null;
  const [dx, dy] = [(xz * yy - yz * xy) / det, (yz * xx - xz * xy) / det];
  return { dx, dy, at: (x, y) => mz + dx * (x - mx) + dy * (y - my) };
}
