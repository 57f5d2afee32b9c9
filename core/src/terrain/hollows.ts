import FlatQueue from 'flatqueue';
import { nextEdge } from './delaunay.ts';
import { trianglesAt } from './moved.ts';
import type { Surface } from './surface.ts';

/** A hollow: ground from which no water runs to the rim. */
export interface Hollow {
  /** Its lowest place, m. */
  x: number;
  y: number;
  bottom: number;
  /** Elevation at which it runs over, m. */
  spill: number;
  /** What it holds up to there: plan area, m², and volume, m³. */
  area: number;
  volume: number;
  /** Vertices under water when it is full. */
  vertices: number[];
}

/**
 * Hollows of a surface, the deepest first. Water rises from the rim inwards in the order of elevation (priority flood, after
 * Barnes, Lehman and Mulla 2014, from memory, over vertices instead of cells), and cannot leave through a void.
 * @param least depth from which a hollow is told, m
 */
export function findHollows(s: Surface, least = 0): Hollow[] {
  const level = waterLevels(s);
  const { start, triangle } = trianglesAt(s);
  const seen = new Uint8Array(level.length);
  const out: Hollow[] = [];
  for (let v = 0; v < level.length; v++) {
    if (seen[v] || !(level[v] > s.z[v])) continue;
    const vertices = [v];
    seen[v] = 1;
    for (let i = 0; i < vertices.length; i++)
      for (let k = start[vertices[i]]; k < start[vertices[i] + 1]; k++)
        for (let e = 3 * triangle[k]; e < 3 * triangle[k] + 3; e++) {
          const u = s.triangles[e];
          if (seen[u] || level[u] !== level[v] || !(level[u] > s.z[u])) continue;
          seen[u] = 1;
          vertices.push(u);
        }
    const lowest = vertices.reduce((a, b) => (s.z[b] < s.z[a] ? b : a));
    if (level[v] - s.z[lowest] <= least) continue;
    out.push({ x: s.x[lowest], y: s.y[lowest], bottom: s.z[lowest], spill: level[v], ...held(s, vertices, level[v]), vertices }); // prettier-ignore
  }
  return out.sort((a, b) => b.spill - b.bottom - (a.spill - a.bottom) || a.x - b.x || a.y - b.y);
}

/** Elevation to which water stands at each vertex when it rains long enough: its own where it runs off; NaN off the triangles. */
function waterLevels(s: Surface): Float64Array {
  const { start, triangle } = trianglesAt(s);
  const level = new Float64Array(s.x.length).fill(NaN);
  const queue = new FlatQueue<number>();
  const reach = (v: number, water: number): void => {
    if (!Number.isNaN(level[v])) return;
    level[v] = Math.max(s.z[v], water);
    queue.push(v, level[v]);
  };
  for (let e = 0; e < s.neighbours.length; e++)
    if (s.neighbours[e] < 0) {
      reach(s.triangles[e], -Infinity);
      reach(s.triangles[nextEdge(e)], -Infinity);
    }
  for (let v = queue.pop(); v !== undefined; v = queue.pop())
    for (let k = start[v]; k < start[v + 1]; k++)
      for (let e = 3 * triangle[k]; e < 3 * triangle[k] + 3; e++) reach(s.triangles[e], level[v]);
  return level;
}

/** Plan area and volume between the triangles about some vertices and a level above them. */
function held(s: Surface, vertices: readonly number[], spill: number): { area: number; volume: number } {
  let [area, volume] = [0, 0];
  const w = waterIn(s, { vertices, spill });
  for (let i = 0; i < w.length; i += 9) {
    const part = ((w[i + 3] - w[i]) * (w[i + 7] - w[i + 1]) - (w[i + 6] - w[i]) * (w[i + 4] - w[i + 1])) / 2;
    area += part;
    volume += (part * (w[i + 2] + w[i + 5] + w[i + 8])) / 3;
  }
  return { area, volume };
}

/** The water of a full hollow in pieces: x, y, depth, three corners a piece, m. */
export function waterIn(s: Surface, { vertices, spill }: { vertices: readonly number[]; spill: number }): number[] {
  const { start, triangle } = trianglesAt(s);
  const about = new Set(vertices.flatMap((v) => [...triangle.subarray(start[v], start[v + 1])]));
  const out: number[] = [];
  for (const t of about) {
    const corners = [...s.triangles.subarray(3 * t, 3 * t + 3)].map((v) => ({ x: s.x[v], y: s.y[v], d: spill - s.z[v] })); // prettier-ignore
    const wet = underWater(corners);
    for (let i = 2; i < wet.length; i++) for (const { x, y, d } of [wet[0], wet[i - 1], wet[i]]) out.push(x, y, d);
  }
  return out;
}

interface Corner {
  x: number;
  y: number;
  /** Depth under the level, m; below zero above it. */
  d: number;
}

/** The part of a triangle where the depth is above zero. */
function underWater(corners: readonly Corner[]): Corner[] {
  const out: Corner[] = [];
  corners.forEach((p, i) => {
    const q = corners[(i + 1) % corners.length];
    if (p.d > 0) out.push(p);
    if (p.d > 0 !== q.d > 0) {
      const f = p.d / (p.d - q.d);
      out.push({ x: p.x + f * (q.x - p.x), y: p.y + f * (q.y - p.y), d: 0 });
    }
  });
  return out;
}
