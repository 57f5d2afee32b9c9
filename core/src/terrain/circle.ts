import { inCircle, orientation } from '#core/kernel';

/**
 * Whether vertex d lies inside the circle through a, b, c (counter-clockwise), with no case undecided: four vertices on
 * one circle are told apart as if each were lifted by an infinitely small amount of its own, the larger the later it
 * comes by east, then north. What a set of places gives then depends on their coordinates alone, not on the order in which
 * they came in. Rule of Devillers and Teillaud, "Perturbations for Delaunay and weighted Delaunay 3D triangulations"
 * (2011), in plan.
 */
export function isInsideCircle(x: Float64Array, y: Float64Array, a: number, b: number, c: number, d: number): boolean {
  const sign = inCircle(x[a], y[a], x[b], y[b], x[c], y[c], x[d], y[d]);
  return sign > 0 || (sign === 0 && isInsideByRank(x, y, a, b, c, d));
}

/** For four places on one circle; of any three at most two are in line with a fourth, so the second term decides. */
function isInsideByRank(x: Float64Array, y: Float64Array, a: number, b: number, c: number, d: number): boolean {
  const comesAfter = (u: number, v: number): boolean => x[u] > x[v] || (x[u] === x[v] && y[u] > y[v]);
  let [last, second] = comesAfter(b, a) ? [b, a] : [a, b];
  for (const v of [c, d]) {
    if (comesAfter(v, last)) [last, second] = [v, last];
    else if (comesAfter(v, second)) second = v;
  }
  for (const v of [last, second]) {
    if (v === d) return false;
    const turn =
      v === c
        ? orientation(x[a], y[a], x[b], y[b], x[d], y[d])
        : v === b
          ? orientation(x[a], y[a], x[d], y[d], x[c], y[c])
          : orientation(x[d], y[d], x[b], y[b], x[c], y[c]);
    if (turn !== 0) return turn > 0;
  }
  return false;
}
