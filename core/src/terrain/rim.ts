import type { Constraints } from './constraints.ts';
import { GHOST, nextEdge, previousEdge, type Mesh } from './delaunay.ts';

/** The triangles that a surface keeps of a mesh: none over its longest side, none at the rim that only rounding made. */
export function keptTriangles(mesh: Mesh, { fixed }: Constraints, longestSide: number | null, rounding: number) {
  const { x, y, corner, twin, source, count } = mesh;
  const limit = longestSide === null ? Infinity : longestSide * longestSide;
  const out = thinAtRim(mesh, fixed, rounding);
  const thin = out.reduce((sum, gone) => sum + gone, 0);
  const number = new Int32Array(count).fill(-1);
  let kept = 0;
  let tooLong = 0;
  for (let t = 0; t < count; t++) {
    const e = t * 3;
    if (out[t] || corner[e] === GHOST || corner[e + 1] === GHOST || corner[e + 2] === GHOST) continue;
    let long = false;
    for (let k = e; k < e + 3; k++) {
      const a = corner[k];
      const b = corner[nextEdge(k)];
      const dx = x[a] - x[b];
      const dy = y[a] - y[b];
      if (dx * dx + dy * dy > limit && !fixed[k]) long = true;
    }
    if (long) tooLong++;
    else number[t] = kept++;
  }
  const triangles = new Uint32Array(kept * 3);
  const neighbours = new Int32Array(kept * 3).fill(-1);
  const breakSides = new Uint8Array(kept * 3);
  for (let t = 0; t < count; t++) {
    if (number[t] < 0) continue;
    for (let k = 0; k < 3; k++) {
      const e = t * 3 + k;
      const at = number[t] * 3 + k;
      triangles[at] = source[corner[e]];
      breakSides[at] = fixed[e];
      const f = twin[e];
      const other = number[Math.floor(f / 3)];
      if (other >= 0) neighbours[at] = other * 3 + (f % 3);
    }
  }
  return { triangles, neighbours, breakSides, tooLong, thin };
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
  for (let e = 0; e < count * 3; e++) {
    const g = Math.floor(e / 3) * 3;
    if (corner[g] !== GHOST && corner[g + 1] !== GHOST && corner[g + 2] !== GHOST) {
      const h = Math.floor(twin[e] / 3) * 3;
      if (corner[h] === GHOST || corner[h + 1] === GHOST || corner[h + 2] === GHOST) rim.push(e);
    }
  }
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
