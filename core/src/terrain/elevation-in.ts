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
  return elevationOfPlane(x[a], y[a], z[a], x[b], y[b], z[b], x[c], y[c], z[c], px, py);
}

/** Elevation at a place of the plane through three corners a, b, c. */
export function elevationOfPlane(
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
  cx: number,
  cy: number,
  cz: number,
  px: number,
  py: number,
): number {
  const ux = bx - ax;
  const uy = by - ay;
  const vx = cx - ax;
  const vy = cy - ay;
  const wx = px - ax;
  const wy = py - ay;
  const det = ux * vy - uy * vx;
  return az + ((wx * vy - wy * vx) * (bz - az) + (ux * wy - uy * wx) * (cz - az)) / det;
}
