import Flatbush from 'flatbush';
import type { Surface } from '#core/terrain';

/** m in plan within which a point of one party is that of the other. */
export const ONE_POINT = 0.05;

/** Vertices of a surface that triangles stand on. */
function usedIn({ x, triangles }: Surface): number[] {
  const used = new Uint8Array(x.length);
  for (const v of triangles) used[v] = 1;
  return Array.from(used.keys()).filter((v) => used[v]);
}

export interface SamePoints {
  /** Vertices that both have: one's and the other's. */
  both: [ours: number, theirs: number][];
  /** Vertices that one has alone. */
  ours: number[];
  theirs: number[];
}

/** Which points two surfaces have in common: each the nearest of the other within a distance in plan, m. */
export function samePoints(ours: Surface, theirs: Surface, within: number): SamePoints {
  const [a, b] = [usedIn(ours), usedIn(theirs)];
  const nearest = (of: Surface, list: readonly number[]) => {
    if (list.length === 0) return () => -1;
    const index = new Flatbush(list.length);
    for (const v of list) index.add(of.x[v], of.y[v]);
    index.finish();
    return (x: number, y: number): number => list[index.neighbors(x, y, 1, within)[0] ?? -1] ?? -1;
  };
  const [toOurs, toTheirs] = [nearest(ours, a), nearest(theirs, b)];
  const both = a.flatMap((v): [number, number][] => {
    const w = toTheirs(ours.x[v], ours.y[v]);
    return w >= 0 && toOurs(theirs.x[w], theirs.y[w]) === v ? [[v, w]] : [];
  });
  const [inOurs, inTheirs] = [new Set(both.map(([v]) => v)), new Set(both.map(([, w]) => w))];
  return { both, ours: a.filter((v) => !inOurs.has(v)), theirs: b.filter((w) => !inTheirs.has(w)) };
}
