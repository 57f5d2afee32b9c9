/** Length of a difference in plan or space. Math.hypot is not the same to the last bit in every engine; a square root is. */
export const distance = (dx: number, dy: number, dz = 0): number => Math.sqrt(dx * dx + dy * dy + dz * dz);
