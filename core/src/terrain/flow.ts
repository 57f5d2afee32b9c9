import { distance } from '#core/kernel';
import { nextEdge, previousEdge } from './delaunay.ts';
import { planeOf } from './heights.ts';
import { triangleWalk } from './locate.ts';
import { trianglesAt } from './moved.ts';
import type { Surface } from './surface.ts';

/** Where water runs from a place, and what it ends at. */
export interface FlowLine {
  /** x, y, z, x, y, z …, m; it never rises. */
  line: number[];
  end: 'rim' | 'hollow' | 'level';
}

/**
 * Lines of steepest descent over the planes of a surface's triangles: across a triangle along its gradient, along a side
 * towards which both its triangles fall, from a vertex down the steepest of its triangles and sides. Null off the surface.
 */
export function flowFinder(s: Surface): (x: number, y: number) => FlowLine | null {
  const find = triangleWalk(s);
  const { start, triangle } = trianglesAt(s);
  // Every step goes down; rounding alone could make one go on for ever.
  const most = 10_000 + 4 * s.triangles.length;
  return (x0, y0) => {
    const first = find(x0, y0);
    if (first < 0) return null;
    const line = [x0, y0, planeOf(s, first).at(x0, y0)];
    let at: Step = { kind: 'in', t: first, x: x0, y: y0, from: -1 };
    for (let step = 0; step < most; step++) {
      const next: Step | FlowLine['end'] = at.kind === 'in' ? across(s, at) : fromVertex(s, at.v, start, triangle);
      if (typeof next === 'string') return { line, end: next };
      at = next;
      if (at.kind === 'at') line.push(s.x[at.v], s.y[at.v], s.z[at.v]);
      else if (at.from >= 0)
        line.push(at.x, at.y, Math.min(elevationOn(s, at.from, at.x, at.y), line[line.length - 1]));
      if (at.kind === 'in' && at.t < 0) return { line, end: 'rim' };
    }
    return { line, end: 'level' };
  };
}

/** A place in a triangle (−1 beyond the rim) that was entered by a half-edge (−1: none), or a vertex. */
type Step = { kind: 'in'; t: number; x: number; y: number; from: number } | { kind: 'at'; v: number };

function across(s: Surface, { t, x, y, from }: Extract<Step, { kind: 'in' }>): Step | FlowLine['end'] {
  const { dx, dy } = planeOf(s, t);
  if (!(distance(dx, dy) > LEVEL)) return 'level';
  let [out, best] = [-1, Infinity];
  for (let e = 3 * t; e < 3 * t + 3; e++) {
    if (e === from) continue;
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    const [ex, ey] = [s.x[b] - s.x[a], s.y[b] - s.y[a]];
    // Downhill is (−dx, −dy); a side is left by where that turns right of it.
    const turns = ex * -dy - ey * -dx;
    if (turns >= 0) continue;
    const along = (ex * (y - s.y[a]) - ey * (x - s.x[a])) / -turns;
    if (along < best) [out, best] = [e, along];
  }
  if (out < 0) return 'level';
  const [a, b] = [s.triangles[out], s.triangles[nextEdge(out)]];
  const step = Math.max(0, best);
  const [qx, qy] = [x - dx * step, y - dy * step];
  const [ex, ey] = [s.x[b] - s.x[a], s.y[b] - s.y[a]];
  const share = ((qx - s.x[a]) * ex + (qy - s.y[a]) * ey) / (ex * ex + ey * ey);
  if (share <= AT_VERTEX) return { kind: 'at', v: a };
  if (share >= 1 - AT_VERTEX) return { kind: 'at', v: b };
  const beyond = s.neighbours[out];
  if (beyond < 0) return { kind: 'in', t: -1, x: s.x[a] + share * ex, y: s.y[a] + share * ey, from: out };
  const u = Math.floor(beyond / 3);
  const there = planeOf(s, u);
  // Into the neighbour: to the right of the side as this triangle has it.
  if (ex * -there.dy - ey * -there.dx < 0)
    return { kind: 'in', t: u, x: s.x[a] + share * ex, y: s.y[a] + share * ey, from: beyond };
  if (s.z[a] === s.z[b]) return 'level';
  return { kind: 'at', v: s.z[a] < s.z[b] ? a : b };
}

function fromVertex(s: Surface, v: number, start: Uint32Array, triangle: Uint32Array): Step | FlowLine['end'] {
  let steepest = 0;
  let next: Step | null = null;
  let [rim, level] = [false, false];
  for (let k = start[v]; k < start[v + 1]; k++) {
    const t = triangle[k];
    const e = [3 * t, 3 * t + 1, 3 * t + 2].find((side) => s.triangles[side] === v)!;
    const back = previousEdge(e);
    rim ||= s.neighbours[e] < 0 || s.neighbours[back] < 0;
    const [a, b] = [s.triangles[nextEdge(e)], s.triangles[back]];
    for (const u of [a, b]) {
      const falls = (s.z[v] - s.z[u]) / distance(s.x[u] - s.x[v], s.y[u] - s.y[v]);
      level ||= falls === 0;
      if (falls > steepest) [steepest, next] = [falls, { kind: 'at', v: u }];
    }
    const { dx, dy } = planeOf(s, t);
    const [ax, ay, bx, by] = [s.x[a] - s.x[v], s.y[a] - s.y[v], s.x[b] - s.x[v], s.y[b] - s.y[v]];
    // Downhill lies between the two sides.
    if (ax * -dy - ay * -dx <= 0 || bx * -dy - by * -dx >= 0) continue;
    const falls = distance(dx, dy);
    if (falls > steepest) [steepest, next] = [falls, { kind: 'in', t, x: s.x[v], y: s.y[v], from: -1 }];
  }
  return next ?? (rim ? 'rim' : level ? 'level' : 'hollow');
}

function elevationOn(s: Surface, e: number, x: number, y: number): number {
  const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
  const [ex, ey] = [s.x[b] - s.x[a], s.y[b] - s.y[a]];
  const share = ((x - s.x[a]) * ex + (y - s.y[a]) * ey) / (ex * ex + ey * ey);
  return s.z[a] + share * (s.z[b] - s.z[a]);
}

/** Rise over run below which ground is level: a micrometre in a metre. */
const LEVEL = 1e-6;
/** Share of a side within which a line that leaves through it leaves at its end. */
const AT_VERTEX = 1e-9;
