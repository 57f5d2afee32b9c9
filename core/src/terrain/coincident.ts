import { PlaceCells } from './place-cells.ts';

/** Which of points that are one place stays: by the order in which they came, or by elevation; or their mean. */
export const KEEP_RULES = ['first', 'last', 'mean', 'highest', 'lowest'] as const;
export type KeepRule = (typeof KEEP_RULES)[number];

/**
 * The order in which points claim their surroundings: of two points that are one place, the one that claims first stays.
 * Ties go by coordinates, then by order. Null for the order in which they came.
 */
export function claimOrder(rule: KeepRule, x: Float64Array, y: Float64Array, z: Float64Array): Uint32Array | null {
  if (rule === 'first') return null;
  const n = x.length;
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  if (rule === 'last') return order.reverse();
  const byPlace = (a: number, b: number): number => x[a] - x[b] || y[a] - y[b] || z[a] - z[b] || a - b;
  if (rule === 'mean') return order.sort(byPlace);
  const up = rule === 'lowest' ? 1 : -1;
  return order.sort((a, b) => up * (z[a] - z[b]) || byPlace(a, b));
}

/** Points that are one place, by the one that stays, itself among them; from pairs [kept, left out]. */
export function coincidentPlaces(pairs: Uint32Array): Map<number, number[]> {
  const places = new Map<number, number[]>();
  for (let i = 0; i < pairs.length; i += 2) {
    const known = places.get(pairs[i]);
    if (known) known.push(pairs[i + 1]);
    else places.set(pairs[i], [pairs[i], pairs[i + 1]]);
  }
  return places;
}

/**
 * For each point the one that stands for it: itself, or the point within `distance` (m, in plan) that claimed the place
 * before it. Points that stay are farther than that from each other.
 */
export function keepersOf(x: Float64Array, y: Float64Array, distance: number, claim: Uint32Array | null): Uint32Array {
  const n = x.length;
  const keeper = new Uint32Array(n);
  const cells = new PlaceCells(x, y, distance);
  const limit = distance * distance;
  for (let k = 0; k < n; k++) {
    const i = claim ? claim[k] : k;
    const other = cells.near(x[i], y[i], limit);
    keeper[i] = other < 0 ? i : other;
    if (other < 0) cells.add(i);
  }
  return keeper;
}
