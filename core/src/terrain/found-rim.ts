import { nextEdge } from './delaunay.ts';
import { peelRim } from './rim-loops.ts';
import type { Surface } from './surface.ts';

/** How much longer than what joins all that was traced a side at the rim may be: gaps between lines are never all alike. */
const SLACK = 1.5;

/**
 * The rim that a surface has by itself: the closed breaklines that hold all of it where there are such; else what
 * `peelRim` leaves when no side at the rim is longer than half as much again as the longest that is needed to join all.
 */
export function foundRim(s: Surface): { surface: Surface; count: number } {
  const held = peelRim(s, 0);
  if (held.surface.triangles.length && usedBy(held.surface) === usedBy(s)) return held;
  return peelRim(s, SLACK * joiningLength(s));
}

function usedBy({ triangles, x }: Surface): number {
  const used = new Uint8Array(x.length);
  for (const v of triangles) used[v] = 1;
  return used.reduce((n, one) => n + one, 0);
}

/** The longest side that is needed to join all vertices of a surface, m: that of their shortest tree; breaklines join for nothing. */
function joiningLength({ x, y, triangles, neighbours, breakSides }: Surface): number {
  const of = Int32Array.from(x, (_, v) => v);
  const root = (v: number): number => {
    while (of[v] !== v) v = of[v] = of[of[v]];
    return v;
  };
  const join = (e: number): boolean => {
    const [a, b] = [root(triangles[e]), root(triangles[nextEdge(e)])];
    of[a] = b;
    return a !== b;
  };
  const sides: { e: number; squared: number }[] = [];
  for (let e = 0; e < triangles.length; e++) {
    if (neighbours[e] > e) continue;
    const [a, b] = [triangles[e], triangles[nextEdge(e)]];
    if (breakSides[e]) join(e);
    else sides.push({ e, squared: (x[a] - x[b]) ** 2 + (y[a] - y[b]) ** 2 });
  }
  let longest = 0;
  for (const { e, squared } of sides.sort((p, q) => p.squared - q.squared)) if (join(e)) longest = squared;
  return Math.sqrt(longest);
}
