import type { Surface } from './surface.ts';

/** Elevation of the plane of triangle t at a place. */
export function elevationIn(
  { x, y, z, triangles }: Pick<Surface, 'x' | 'y' | 'z'> & { triangles: Uint32Array | Int32Array },
  t: number,
  px: number,
  py: number,
): number {
  const a = triangles[3 * t];
  const b = triangles[3 * t + 1];
  const c = triangles[3 * t + 2];
  const ux = x[b] - x[a];
  const uy = y[b] - y[a];
  const vx = x[c] - x[a];
  const vy = y[c] - y[a];
  const wx = px - x[a];
  const wy = py - y[a];
  const det = ux * vy - uy * vx;
  return z[a] + ((wx * vy - wy * vx) * (z[b] - z[a]) + (ux * wy - uy * wx) * (z[c] - z[a])) / det;
}
