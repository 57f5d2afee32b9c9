import { pointInRing } from '#core/kernel';
import type { SurfaceRow } from '#core/project';
import { nextEdge, type Surface } from '#core/terrain';

/** The key of a breakline that is drawn on a surface, by its row. */
export const drawnKey = (row: string): string => `drawn ${row}`;
export const otherKey = (surface: string): string => `surface ${surface}`;

/** Points and breaklines of another surface; how many points, null where it is gone. */
export function bringSurface(
  s: Surface | undefined,
  { surface, ring }: Extract<SurfaceRow, { kind: 'surface' }>,
  place: (x: number, y: number, z: number) => number,
  join: (a: number, b: number, key: string) => void,
): number | null {
  if (!s) return null;
  const area = ring && Float64Array.from(ring);
  const at = new Int32Array(s.x.length).fill(-1);
  let count = 0;
  for (const v of s.triangles) {
    if (at[v] !== -1) continue;
    const in_ = !area || pointInRing(area, s.x[v], s.y[v]);
    at[v] = in_ ? place(s.x[v], s.y[v], s.z[v]) : -2;
    if (in_) count++;
  }
  for (let e = 0; e < s.triangles.length; e++) {
    if (!s.breakSides[e] || s.neighbours[e] > e) continue;
    const [a, b] = [at[s.triangles[e]], at[s.triangles[nextEdge(e)]]];
    if (a >= 0 && b >= 0) join(a, b, otherKey(surface));
  }
  return count;
}
