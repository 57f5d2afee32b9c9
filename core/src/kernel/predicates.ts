import { incircle, orient2d } from 'robust-predicates';

// Static error bounds of Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust
// Geometric Predicates" (1997): below them the fast value's sign is not certain and the adaptive
// evaluation of the robust-predicates package decides.
const EPSILON = 1.1102230246251565e-16;
/** Of the sum of the products' sizes: where the fast value of a turn is larger, its sign is certain. */
export const TURN_BOUND = (3 + 16 * EPSILON) * EPSILON;
/** Of the sum of the products' sizes: where the fast empty-circle value is larger, its sign is certain. */
export const INCIRCLE_BOUND = (10 + 96 * EPSILON) * EPSILON;

/**
 * Exact sign of the turn a → b → c in plan: positive to the left (counter-clockwise, east right and
 * north up), negative to the right, 0 exactly when the three points are in line.
 * The magnitude approximates twice the triangle's area, m².
 */
export function orientation(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
  const left = (ax - cx) * (by - cy);
  const right = (ay - cy) * (bx - cx);
  const det = left - right;
  const bound = TURN_BOUND * (Math.abs(left) + Math.abs(right));
  if (det > bound || -det > bound) return det;
  return -orient2d(ax, ay, bx, by, cx, cy);
}

/**
 * Exact sign of the empty-circle test: positive when d lies inside the circle through a, b, c
 * (counter-clockwise), negative outside, 0 on it.
 */
export function inCircle(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): number {
  const adx = ax - dx;
  const ady = ay - dy;
  const bdx = bx - dx;
  const bdy = by - dy;
  const cdx = cx - dx;
  const cdy = cy - dy;
  const bc = bdx * cdy;
  const cb = cdx * bdy;
  const ca = cdx * ady;
  const ac = adx * cdy;
  const ab = adx * bdy;
  const ba = bdx * ady;
  const alift = adx * adx + ady * ady;
  const blift = bdx * bdx + bdy * bdy;
  const clift = cdx * cdx + cdy * cdy;
  const det = alift * (bc - cb) + blift * (ca - ac) + clift * (ab - ba);
  const size =
    (Math.abs(bc) + Math.abs(cb)) * alift +
    (Math.abs(ca) + Math.abs(ac)) * blift +
    (Math.abs(ab) + Math.abs(ba)) * clift;
  const bound = INCIRCLE_BOUND * size;
  if (det > bound || -det > bound) return det;
  return incircle(ax, ay, bx, by, cx, cy, dx, dy);
}
