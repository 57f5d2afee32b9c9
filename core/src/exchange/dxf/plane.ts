/** A plane that an entity lies in, by its normal: coordinates of the entity as places in space. */
export interface Plane {
  at(x: number, y: number, z: number): [x: number, y: number, z: number];
  /** Whether it is level, seen from below: what lies in it stays in plan, its arcs turn the other way. */
  fromBelow: boolean;
}

/** Below this a normal leans towards no side (DXF reference, arbitrary axis algorithm). */
const UPRIGHT = 1 / 64;
const LEVEL = 1e-12;

/** The plane of a normal by the arbitrary axis algorithm of the DXF reference; null for the ground's own, and for a normal of no length. */
export function planeOf(nx: number, ny: number, nz: number): Plane | null {
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
  if (!(length > 0) || !Number.isFinite(length)) return null;
  const n = [nx / length, ny / length, nz / length];
  const level = Math.abs(n[0]) < LEVEL && Math.abs(n[1]) < LEVEL;
  if (level && n[2] > 0) return null;
  const along = Math.abs(n[0]) < UPRIGHT && Math.abs(n[1]) < UPRIGHT ? [n[2], 0, -n[0]] : [-n[1], n[0], 0];
  const size = Math.sqrt(along[0] * along[0] + along[1] * along[1] + along[2] * along[2]);
  const ax = along.map((v) => v / size);
  const ay = [n[1] * ax[2] - n[2] * ax[1], n[2] * ax[0] - n[0] * ax[2], n[0] * ax[1] - n[1] * ax[0]];
  // Added to zero, what is zero has no sign.
  const part = (k: 0 | 1 | 2, x: number, y: number, z: number): number => x * ax[k] + y * ay[k] + z * n[k] + 0;
  return { at: (x, y, z) => [part(0, x, y, z), part(1, x, y, z), part(2, x, y, z)], fromBelow: level };
}

type Vector = [number, number, number];

/** Of length 1; one of no length points up. */
export function unit([x, y, z]: Vector): Vector {
  const length = Math.sqrt(x * x + y * y + z * z);
  return length > 0 && Number.isFinite(length) ? [x / length, y / length, z / length] : [0, 0, 1];
}

export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
