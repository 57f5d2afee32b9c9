import { orientation } from './predicates.ts';

/**
 * Whether a place lies inside a closed ring (x, y, x, y …, first place not repeated), by the even-odd
 * rule with exact side tests. A place exactly on the ring may count as either.
 */
export function pointInRing(ring: Float64Array, x: number, y: number): boolean {
  let inside = false;
  const n = ring.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
    const ay = ring[j + 1];
    const by = ring[i + 1];
    if (ay > y === by > y) continue;
    const turn = orientation(ring[j], ay, ring[i], by, x, y);
    if (by > ay ? turn > 0 : turn < 0) inside = !inside;
  }
  return inside;
}

/** Signed area of a closed ring, m²: positive counter-clockwise (shoelace formula about the first place). */
export function ringArea(ring: Float64Array | number[]): number {
  let sum = 0;
  const x0 = ring[0];
  const y0 = ring[1];
  for (let i = 2; i + 3 < ring.length; i += 2)
    sum += (ring[i] - x0) * (ring[i + 3] - y0) - (ring[i + 2] - x0) * (ring[i + 1] - y0);
  return sum / 2;
}

/** Whether two sides of a closed ring cross each other away from its corners; such a boundary has no inside to speak of. */
export function ringCrossesItself(ring: Float64Array): boolean {
  const n = ring.length / 2;
  const at = (i: number): [number, number] => [ring[2 * (i % n)], ring[2 * (i % n) + 1]];
  for (let i = 0; i < n; i++)
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      const [a, b, c, d] = [at(i), at(i + 1), at(j), at(j + 1)];
      const s1 = orientation(...a, ...b, ...c) * orientation(...a, ...b, ...d);
      const s2 = orientation(...c, ...d, ...a) * orientation(...c, ...d, ...b);
      if (s1 < 0 && s2 < 0) return true;
    }
  return false;
}
