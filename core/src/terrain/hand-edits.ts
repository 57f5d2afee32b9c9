import { distance, orientation, pointInRing } from '#core/kernel';
import type { Ring } from './boundary.ts';
import { nextEdge, previousEdge } from './delaunay.ts';
import { elevationIn } from './elevation-in.ts';
import { triangleWalk } from './locate.ts';
import { trianglesAt } from './moved.ts';
import { without } from './rim-loops.ts';
import { linkNeighbours, type Surface } from './surface.ts';

// What a person does to a surface by hand. Each edit finds its place by coordinates, so that it holds when the surface is
// made again from other points; one that finds it no more gives null. None alters the surface that it is given.

export interface Place {
  x: number;
  y: number;
}

/** A surface after an edit, and how many vertices or triangles the edit changed. */
export interface Edited {
  surface: Surface;
  count: number;
}

/** Vertices inside a ring that a triangle has, the western first. */
function verticesIn(s: Surface, ring: Ring): number[] {
  const used = new Uint8Array(s.x.length);
  for (const v of s.triangles) used[v] = 1;
  const out: number[] = [];
  for (let v = 0; v < used.length; v++) if (used[v] && pointInRing(ring, s.x[v], s.y[v])) out.push(v);
  return out;
}

/** Vertices inside a ring raised by a height, m, which may differ from place to place. */
export function raiseArea(s: Surface, ring: Ring, by: (x: number, y: number) => number): Edited | null {
  const inside = verticesIn(s, ring);
  if (inside.length === 0) return null;
  const z = s.z.slice();
  for (const v of inside) z[v] += by(s.x[v], s.y[v]);
  return { surface: { ...s, z }, count: inside.length };
}

/**
 * The correction that brings a surface onto three given heights: the plane through what it lacks at them. Null where one
 * of them is off the surface, or the three are in line.
 */
export function tiltOnto(
  s: Surface,
  given: readonly (Place & { z: number })[],
): ((x: number, y: number) => number) | null {
  const find = triangleWalk(s);
  const lacking = given.map(({ x, y, z }) => {
    const t = find(x, y);
    return t < 0 ? NaN : z - elevationIn(s, t, x, y);
  });
  const [a, b, c] = given;
  const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - a.x, c.y - a.y];
  const det = ux * vy - uy * vx;
  // Three places of which one is within a thousandth of the line through the others carry no plane.
  if (lacking.some(Number.isNaN) || Math.abs(det) < 1e-3 * (ux * ux + uy * uy + vx * vx + vy * vy)) return null;
  const [du, dv] = [lacking[1] - lacking[0], lacking[2] - lacking[0]];
  const gx = (du * vy - uy * dv) / det;
  const gy = (ux * dv - du * vx) / det;
  return (x, y) => lacking[0] + gx * (x - a.x) + gy * (y - a.y);
}

/**
 * Vertices inside a ring drawn towards the mean of their neighbours, weighted by one over their distance (a Laplacian),
 * by a strength of 0 to 1, so many times over. Vertices on breaklines and on the rim stay.
 */
export function evenOut(s: Surface, ring: Ring, strength: number, rounds: number): Edited | null {
  const fixed = new Uint8Array(s.x.length);
  for (let e = 0; e < s.triangles.length; e++)
    if (s.breakSides[e] || s.neighbours[e] < 0) fixed[s.triangles[e]] = fixed[s.triangles[nextEdge(e)]] = 1;
  const inside = verticesIn(s, ring).filter((v) => !fixed[v]);
  if (inside.length === 0) return null;
  const around = inside.map((v) => neighboursOf(s, v));
  let z = s.z.slice();
  for (let round = 0; round < rounds; round++) {
    const next = z.slice();
    inside.forEach((v, i) => {
      let [sum, weights] = [0, 0];
      for (const u of around[i]) {
        const weight = 1 / distance(s.x[u] - s.x[v], s.y[u] - s.y[v]);
        sum += weight * z[u];
        weights += weight;
      }
      next[v] = z[v] + strength * (sum / weights - z[v]);
    });
    z = next;
  }
  return { surface: { ...s, z }, count: inside.length };
}

function neighboursOf(s: Surface, v: number): number[] {
  const { start, triangle } = trianglesAt(s);
  const out = new Set<number>();
  for (let k = start[v]; k < start[v + 1]; k++)
    for (let e = 3 * triangle[k]; e < 3 * triangle[k] + 3; e++) if (s.triangles[e] !== v) out.add(s.triangles[e]);
  return [...out].sort((a, b) => s.x[a] - s.x[b] || s.y[a] - s.y[b]);
}

/** m; how near an end of a side must be to where it was. */
const ANCHOR = 0.05;

/** The side between two places swapped for the other diagonal of its two triangles; null where there is none to swap. */
export function swapSide(s: Surface, from: Place, to: Place): Edited | null {
  const e = sideBetween(s, from, to);
  if (e < 0) return null;
  const f = s.neighbours[e];
  if (f < 0 || s.breakSides[e]) return null;
  const [a, b] = [s.triangles[e], s.triangles[f]];
  const [p, d] = [s.triangles[previousEdge(e)], s.triangles[previousEdge(f)]];
  const turns = (u: number, v: number, w: number): boolean => orientation(s.x[u], s.y[u], s.x[v], s.y[v], s.x[w], s.y[w]) > 0; // prettier-ignore
  if (!turns(p, a, d) || !turns(d, b, p)) return null;
  const triangles = s.triangles.slice();
  triangles[e] = d;
  triangles[f] = p;
  return { surface: relinked(s, triangles), count: 2 };
}

function sideBetween(s: Surface, from: Place, to: Place): number {
  const near = (v: number, p: Place): boolean => distance(s.x[v] - p.x, s.y[v] - p.y) <= ANCHOR;
  for (let e = 0; e < s.triangles.length; e++) {
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    if ((near(a, from) && near(b, to)) || (near(a, to) && near(b, from))) return e;
  }
  return -1;
}

/** Triangles at places gone; null where no place lies in one. */
export function deleteTriangles(s: Surface, places: readonly Place[]): Edited | null {
  const find = triangleWalk(s);
  const at = new Set(places.map((p) => find(p.x, p.y)).filter((t) => t >= 0));
  if (at.size === 0) return null;
  const gone = new Uint8Array(s.triangles.length / 3);
  for (const t of at) gone[t] = 1;
  return { surface: without(s, gone), count: at.size };
}

/** A surface with other triangles over the same vertices; sides that were breaklines still are. */
function relinked(s: Surface, triangles: Uint32Array): Surface {
  const key = (a: number, b: number): number => Math.min(a, b) * s.x.length + Math.max(a, b);
  const breaks = new Set<number>();
  for (let e = 0; e < s.triangles.length; e++)
    if (s.breakSides[e]) breaks.add(key(s.triangles[e], s.triangles[nextEdge(e)]));
  const breakSides = new Uint8Array(triangles.length);
  for (let e = 0; e < triangles.length; e++)
    if (breaks.has(key(triangles[e], triangles[nextEdge(e)]))) breakSides[e] = 1;
  return { ...s, triangles, neighbours: linkNeighbours(triangles), breakSides };
}
