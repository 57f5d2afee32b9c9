import { ringArea } from '#core/kernel';
import { nextEdge, previousEdge } from './delaunay.ts';
import type { Surface } from './surface.ts';

/** The loops of a surface's rim as vertices: outer ones counter-clockwise, those round voids clockwise. */
export function rimLoops({ triangles, neighbours }: Pick<Surface, 'triangles' | 'neighbours'>): number[][] {
  const seen = new Uint8Array(neighbours.length);
  const out: number[][] = [];
  for (let begin = 0; begin < neighbours.length; begin++) {
    if (neighbours[begin] >= 0 || seen[begin]) continue;
    const loop: number[] = [];
    let e = begin;
    do {
      seen[e] = 1;
      loop.push(triangles[e]);
      // The next side of the rim, within the same fan of triangles.
      e = nextEdge(e);
      while (neighbours[e] >= 0) e = nextEdge(neighbours[e]);
    } while (e !== begin);
    out.push(loop);
  }
  return out;
}

/** Outer loops of the rim in plan: x, y, x, y …, m. */
export const outlines = (s: Surface): Float64Array[] =>
  rimLoops(s)
    .map((loop) => Float64Array.from(loop.flatMap((v) => [s.x[v], s.y[v]])))
    .filter((ring) => ringArea(ring) > 0);

/**
 * A surface without the triangles at its rim whose side at the rim is longer than allowed, m, and those that then come to
 * lie there; breaklines stay. A bay opens where points are far apart; inside, nothing goes.
 */
export function peelRim(s: Surface, longest: number): { surface: Surface; count: number } {
  const { x, y, triangles, neighbours, breakSides } = s;
  const gone = new Uint8Array(triangles.length / 3);
  const limit = longest * longest;
  const open: number[] = [];
  for (let e = 0; e < neighbours.length; e++) if (neighbours[e] < 0) open.push(e);
  let count = 0;
  while (open.length) {
    const e = open.pop()!;
    const t = Math.floor(e / 3);
    const [a, b] = [triangles[e], triangles[nextEdge(e)]];
    if (gone[t] || breakSides[e] || (x[a] - x[b]) ** 2 + (y[a] - y[b]) ** 2 <= limit) continue;
    gone[t] = 1;
    count++;
    for (const side of [nextEdge(e), previousEdge(e)]) if (neighbours[side] >= 0) open.push(neighbours[side]);
  }
  return { surface: count ? without(s, gone) : s, count };
}

/** A surface without some of its triangles, over the same vertices. */
export function without(s: Surface, gone: Uint8Array): Surface {
  const number = new Int32Array(gone.length).fill(-1);
  let kept = 0;
  for (let t = 0; t < gone.length; t++) if (!gone[t]) number[t] = kept++;
  const triangles = new Uint32Array(3 * kept);
  const neighbours = new Int32Array(3 * kept);
  const breakSides = new Uint8Array(3 * kept);
  for (let t = 0, at = 0; t < gone.length; t++) {
    if (gone[t]) continue;
    for (let e = 3 * t; e < 3 * t + 3; e++, at++) {
      triangles[at] = s.triangles[e];
      breakSides[at] = s.breakSides[e];
      const beside = s.neighbours[e] < 0 ? -1 : number[Math.floor(s.neighbours[e] / 3)];
      neighbours[at] = beside < 0 ? -1 : 3 * beside + (s.neighbours[e] % 3);
    }
  }
  return { ...s, triangles, neighbours, breakSides };
}
