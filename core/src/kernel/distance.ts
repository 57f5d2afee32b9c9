/** Length of a difference in plan or space. Math.hypot is not the same to the last bit in every engine; a square root is. */
export const distance = (dx: number, dy: number, dz = 0): number => Math.sqrt(dx * dx + dy * dy + dz * dz);

/** How far a place is from the straight between two others, in space: x y z of each; in plan: x y of each. */
export function distanceToSide(
  [px, py, pz = 0]: readonly number[],
  [ax, ay, az = 0]: readonly number[],
  [bx, by, bz = 0]: readonly number[],
): number {
  const [ux, uy, uz] = [bx - ax, by - ay, bz - az];
  const [vx, vy, vz] = [px - ax, py - ay, pz - az];
  const long = ux * ux + uy * uy + uz * uz;
  const share = long > 0 ? Math.min(1, Math.max(0, (ux * vx + uy * vy + uz * vz) / long)) : 0;
  return distance(vx - share * ux, vy - share * uy, vz - share * uz);
}
