/** Length of a difference in plan or space. Math.hypot is not the same to the last bit in every engine; a square root is. */
export const distance = (dx: number, dy: number, dz = 0): number => Math.sqrt(dx * dx + dy * dy + dz * dz);

/** How far a place is from the straight between two others, in space: x y z of each. */
export function distanceToSide(p: readonly number[], a: readonly number[], b: readonly number[]): number {
  const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const [vx, vy, vz] = [p[0] - a[0], p[1] - a[1], p[2] - a[2]];
  const long = ux * ux + uy * uy + uz * uz;
  const share = long > 0 ? Math.min(1, Math.max(0, (ux * vx + uy * vy + uz * vz) / long)) : 0;
  return distance(vx - share * ux, vy - share * uy, vz - share * uz);
}
