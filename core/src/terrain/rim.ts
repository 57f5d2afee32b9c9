import type { Constraints } from './constraints.ts';
import { GHOST, nextEdge, previousEdge, type Mesh } from './delaunay.ts';

/** The triangles that a surface keeps of a mesh: none over its longest side, none at the rim that only rounding made. */
export function keptTriangles(mesh: Mesh, { fixed }: Constraints, longestSide: number | null, rounding: number) {
  const { corner, twin, count } = mesh;
  const out = thinAtRim(mesh, fixed, rounding);
  let thin = 0;
  for (let t = 0; t < count; t++) thin += out[t];
  const limit = longestSide === null ? Infinity : longestSide * longestSide;
  const number = new Int32Array(count).fill(-1);
  let kept = 0;
  let tooLong = 0;
  for (let t = 0, e = 0; t < count; t++, e += 3) {
    if (corner[e] < 0 || corner[e + 1] < 0 || corner[e + 2] < 0 || out[t]) continue;
    if (limit < Infinity && hasLongSide(mesh, fixed, e, limit)) tooLong++;
    else number[t] = kept++;
  }
  const triangles = new Uint32Array(kept * 3);
  const neighbours = new Int32Array(kept * 3);
  const breakSides = new Uint8Array(kept * 3);
  for (let t = 0, at = 0; t < count; t++) {
    if (number[t] < 0) continue;
    for (let e = 3 * t; e < 3 * t + 3; e++, at++) {
      triangles[at] = corner[e];
      breakSides[at] = fixed[e];
      const f = twin[e];
      const beside = (f / 3) | 0;
      const other = number[beside];
      neighbours[at] = other < 0 ? -1 : other * 3 + (f - 3 * beside);
    }
  }
  return { triangles, neighbours, breakSides, tooLong, thin };
}

/** Whether a side of the triangle at half-edge e is longer than allowed, breaklines apart; `limit`: its square, m². */
function hasLongSide({ x, y, corner }: Mesh, fixed: Uint8Array, e: number, limit: number): boolean {
  const [a, b, c] = [corner[e], corner[e + 1], corner[e + 2]];
  return (
    (!fixed[e] && (x[a] - x[b]) ** 2 + (y[a] - y[b]) ** 2 > limit) ||
    (!fixed[e + 1] && (x[b] - x[c]) ** 2 + (y[b] - y[c]) ** 2 > limit) ||
    (!fixed[e + 2] && (x[c] - x[a]) ** 2 + (y[c] - y[a]) ** 2 > limit)
  );
}

/**
 * 1 for triangles at the rim whose far corner is nearer to the side at the rim than rounding: points that lie in line but
 * for their last decimal. What such a triangle leaves at the rim is looked at in turn; a breakline at the rim stays.
 */
function thinAtRim(mesh: Mesh, fixed: Uint8Array, rounding: number): Uint8Array {
  const { x, y, corner, twin, count } = mesh;
  const out = new Uint8Array(count);
  if (!(rounding > 0)) return out;
  const rim: number[] = [];
  for (let e = 0; e < count * 3; e += 3)
    for (let k = 0; k < 3; k++) if (corner[e + k] === GHOST) rim.push(twin[e + ((k + 1) % 3)]);
  while (rim.length) {
    const e = rim.pop()!;
    const t = Math.floor(e / 3);
    const [a, b, c] = [corner[e], corner[nextEdge(e)], corner[previousEdge(e)]];
    if (out[t] || fixed[e] || a === GHOST || b === GHOST || c === GHOST) continue;
    const [dx, dy] = [x[b] - x[a], y[b] - y[a]];
    const twice = Math.abs(dx * (y[c] - y[a]) - dy * (x[c] - x[a]));
    // What is thick by exactly the last decimal is none that rounding made.
    if (twice * twice >= 0.998 * rounding * rounding * (dx * dx + dy * dy)) continue;
    out[t] = 1;
    rim.push(twin[nextEdge(e)], twin[previousEdge(e)]);
  }
  return out;
}
