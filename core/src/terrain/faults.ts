import { distance } from '#core/kernel';
import { nextEdge, previousEdge } from './delaunay.ts';
import { planeOf } from './heights.ts';
import { movedVertices, trianglesAt, trianglesBeside } from './moved.ts';
import type { Surface } from './surface.ts';

// What makes a surface unfit to use, found in its triangles alone.

/** Level triangles that touch each other: between points of one contour they hide how the ground falls. */
export interface FlatPart {
  triangles: number[];
  elevation: number;
  /** m² in plan. */
  area: number;
  /** A place in the largest of them. */
  x: number;
  y: number;
}

/** m; elevations that differ by less are one: below what any survey writes. */
export const LEVEL = 0.0005;

/**
 * Parts of level triangles, the largest first. A triangle of which a side is a breakline along which both ends are level as
 * well may be a floor or a kerb's top: only parts that take in at least `least` triangles are told.
 */
export function flatParts(s: Surface, least = 3): FlatPart[] {
  const count = s.triangles.length / 3;
  const flat = heightFacts(s).flat.slice();
  const out: FlatPart[] = [];
  for (let begin = 0; begin < count; begin++) {
    if (flat[begin] !== 1) continue;
    const part = [begin];
    flat[begin] = 2;
    for (const t of part)
      for (let e = 3 * t; e < 3 * t + 3; e++) {
        const beside = Math.floor(s.neighbours[e] / 3);
        if (s.neighbours[e] < 0 || flat[beside] !== 1) continue;
        flat[beside] = 2;
        part.push(beside);
      }
    if (part.length < least) continue;
    const areas = part.map((t) => areaOf(s, t));
    const largest = part[areas.indexOf(areas.reduce((a, b) => Math.max(a, b)))];
    out.push({
      triangles: part,
      elevation: s.z[s.triangles[3 * begin]],
      area: areas.reduce((sum, v) => sum + v, 0),
      ...middleOf(s, largest),
    });
  }
  return out.sort((a, b) => b.area - a.area || a.x - b.x || a.y - b.y);
}

/** Sine of 1°: a triangle with a smaller angle is a sliver. */
export const SLIVER_SINE = 0.01745;

export interface Sliver {
  triangle: number;
  /** Sine of its smallest angle. */
  sine: number;
  /** Whether one of its sides is at the rim. */
  atRim: boolean;
  x: number;
  y: number;
}

/** Triangles with an angle whose sine is below a limit, the thinnest first; those between breaklines have no other choice. */
export function slivers(s: Surface, limit: number): Sliver[] {
  const out: Sliver[] = [];
  for (let t = 0; t < s.triangles.length / 3; t++) {
    const sides = [3 * t, 3 * t + 1, 3 * t + 2];
    if (sides.filter((e) => s.breakSides[e]).length > 0) continue;
    const sine = smallestSine(s, t);
    if (sine < limit) out.push({ triangle: t, sine, atRim: sides.some((e) => s.neighbours[e] < 0), ...middleOf(s, t) });
  }
  return out.sort((a, b) => a.sine - b.sine || a.x - b.x || a.y - b.y);
}

export interface LonePeak {
  vertex: number;
  /** Above (+) or below (−) the nearest in height of its neighbours, m. */
  off: number;
  /** Contours that close around it alone. */
  contours: number;
}

/** Vertices around which alone at least so many contours close: tops and bottoms that no other shot bears out. */
export function lonePeaks(s: Surface, interval: number, least: number): LonePeak[] {
  const { off } = heightFacts(s);
  const out: LonePeak[] = [];
  for (let v = 0; v < off.length; v++) {
    if (Math.abs(off[v]) < interval * (least - 1)) continue;
    const [from, to] = off[v] > 0 ? [s.z[v] - off[v], s.z[v]] : [s.z[v], s.z[v] - off[v]];
    const contours = Math.floor(to / interval) - Math.floor(from / interval);
    if (contours >= least) out.push({ vertex: v, off: off[v], contours });
  }
  return out.sort((a, b) => Math.abs(b.off) - Math.abs(a.off) || s.x[a.vertex] - s.x[b.vertex]);
}

/** 1 for triangles whose corners have one elevation. Not to be altered. */
export const levelTriangles = (s: Surface): Uint8Array => heightFacts(s).flat;

/** What heights say of each vertex and triangle. */
interface HeightFacts {
  /** How far a vertex off the rim is above all its neighbours (+) or below all (−), m; 0 for others. */
  off: Float64Array;
  /** 1 for level triangles. */
  flat: Uint8Array;
}

const known = new WeakMap<Uint32Array, { z: Float64Array; facts: HeightFacts }>();

/** Of triangles that stand as before, only those are looked at again that have a corner with another elevation. */
function heightFacts(s: Surface): HeightFacts {
  const before = known.get(s.triangles);
  const moved = before ? movedVertices(before.z, s.z) : [];
  if (before && moved.length === 0) return before.facts;
  const count = s.triangles.length / 3;
  const facts = before
    ? { off: before.facts.off.slice(), flat: before.facts.flat.slice() }
    : { off: new Float64Array(s.x.length), flat: new Uint8Array(count) };
  if (before) {
    const beside = trianglesBeside(s, moved);
    const about = new Set<number>();
    for (const t of beside) {
      facts.flat[t] = isLevel(s, t);
      for (let e = 3 * t; e < 3 * t + 3; e++) about.add(s.triangles[e]);
    }
    for (const v of about) facts.off[v] = aboveAll(s, v);
  } else {
    for (let t = 0; t < count; t++) facts.flat[t] = isLevel(s, t);
    const { start } = trianglesAt(s);
    for (let v = 0; v + 1 < start.length; v++) facts.off[v] = aboveAll(s, v);
  }
  known.set(s.triangles, { z: s.z.slice(), facts });
  return facts;
}

function isLevel({ z, triangles }: Surface, t: number): 0 | 1 {
  const [a, b, c] = [z[triangles[3 * t]], z[triangles[3 * t + 1]], z[triangles[3 * t + 2]]];
  return Math.max(a, b, c) - Math.min(a, b, c) < LEVEL ? 1 : 0;
}

function aboveAll(s: Surface, v: number): number {
  const { start, triangle } = trianglesAt(s);
  if (start[v] === start[v + 1]) return 0;
  let [low, high] = [Infinity, -Infinity];
  for (let k = start[v]; k < start[v + 1]; k++)
    for (let e = 3 * triangle[k]; e < 3 * triangle[k] + 3; e++) {
      const u = s.triangles[e];
      if (u !== v) [low, high] = [Math.min(low, s.z[u]), Math.max(high, s.z[u])];
      if (s.neighbours[e] < 0 && (u === v || s.triangles[nextEdge(e)] === v)) return 0;
    }
  return s.z[v] > high ? s.z[v] - high : s.z[v] < low ? s.z[v] - low : 0;
}

function areaOf({ x, y, triangles }: Pick<Surface, 'x' | 'y' | 'triangles'>, t: number): number {
  const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
  return ((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2;
}

function middleOf({ x, y, triangles }: Surface, t: number): { x: number; y: number } {
  const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
  return { x: (x[a] + x[b] + x[c]) / 3, y: (y[a] + y[b] + y[c]) / 3 };
}

/** The angle over the shortest side: twice the area over the two longer ones is its sine. */
function smallestSine({ x, y, triangles }: Surface, t: number): number {
  const length = (e: number): number => {
    const [a, b] = [triangles[e], triangles[nextEdge(e)]];
    return distance(x[b] - x[a], y[b] - y[a]);
  };
  const sides = [3 * t, nextEdge(3 * t), previousEdge(3 * t)].map(length).sort((a, b) => a - b);
  return (2 * areaOf({ x, y, triangles }, t)) / (sides[1] * sides[2]);
}

/** How steep a surface is: plan area, m², of its triangles by slope, rise over run. */
export function areaBySlope(s: Surface, steps: readonly number[]): number[] {
  const out = new Array<number>(steps.length + 1).fill(0);
  for (let t = 0; t < s.triangles.length / 3; t++) {
    const area = areaOf(s, t);
    if (!(area > 0)) continue;
    const { dx, dy } = planeOf(s, t);
    const slope = distance(dx, dy);
    out[steps.filter((step) => slope >= step).length] += area;
  }
  return out;
}
