import { onceFor } from '#core/kernel';
import type { Surface } from './surface.ts';

// What a few heights that are others touch: a surface whose triangles stand is looked at again there alone.

/** Vertices whose elevation is another. */
export function movedVertices(was: Float64Array, is: Float64Array): number[] {
  const out: number[] = [];
  for (let v = 0; v < is.length; v++) if (was[v] !== is[v]) out.push(v);
  return out;
}

/** Triangles at each vertex: those of v stand in `triangle` from start[v] to start[v + 1]. */
export interface TrianglesAt {
  start: Uint32Array;
  triangle: Uint32Array;
}

const byTriangles = onceFor((triangles: Uint32Array): TrianglesAt => {
  let last = -1;
  for (let e = 0; e < triangles.length; e++) if (triangles[e] > last) last = triangles[e];
  const start = new Uint32Array(last + 2);
  for (let e = 0; e < triangles.length; e++) start[triangles[e] + 1]++;
  for (let v = 0; v <= last; v++) start[v + 1] += start[v];
  const next = start.slice();
  const triangle = new Uint32Array(triangles.length);
  for (let e = 0; e < triangles.length; e++) triangle[next[triangles[e]]++] = (e / 3) | 0;
  return { start, triangle };
});

/** Found once for as long as the triangles stand. */
export const trianglesAt = ({ triangles }: Pick<Surface, 'triangles'>): TrianglesAt => byTriangles(triangles);

/** Triangles that have one of some vertices as a corner, each once. */
export function trianglesBeside(s: Pick<Surface, 'triangles'>, vertices: readonly number[]): Set<number> {
  const { start, triangle } = trianglesAt(s);
  const out = new Set<number>();
  for (const v of vertices) for (let k = start[v]; k < start[v + 1]; k++) out.add(triangle[k]);
  return out;
}
