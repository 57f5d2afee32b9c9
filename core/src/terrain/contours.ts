import { nextEdge } from './delaunay.ts';
import { BLOCK, heightBlocks } from './height-blocks.ts';
import { movedVertices, trianglesBeside } from './moved.ts';
import { smoothed, type ContourCorner } from './smooth-contour.ts';
import type { Surface } from './surface.ts';

export interface Contour {
  elevation: number;
  /** Every n-th line is an index contour. */
  index: boolean;
  closed: boolean;
  /** x, y, x, y … ; a closed contour repeats its first place at the end. Higher ground is on the left. */
  line: Float64Array;
}

export interface ContourSettings {
  /** Vertical distance between contours, m, > 0. */
  interval: number;
  /** Every how many intervals an index contour stands; 0 for none. */
  indexEvery: number;
  /** Corners are cut, without crossing another contour or leaving the band between the neighbours. */
  smooth?: boolean;
}

/** Most contours that one call makes: beyond it the interval is meant for another surface. */
const MOST_LEVELS = 20_000;

/**
 * Contours of the piecewise linear surface, traced from triangle to triangle. A vertex exactly at a
 * level counts as above it, so that lines never branch and level ground carries none.
 * Throws RangeError for an interval that is not positive or would give more than 20,000 levels.
 */
export function contours(
  s: Surface,
  { interval, indexEvery, smooth = false }: ContourSettings,
  /** Which levels, as multiples of the interval; all without. */
  only: ReadonlySet<number> | null = null,
): Contour[] {
  if (!(interval > 0)) throw new RangeError('The contour interval must be greater than zero.');
  if (!only) needFewLevels(s, interval);
  const byLevel = trianglesByLevel(s, interval, only);
  const out: Contour[] = [];
  const visited = new Int32Array(s.triangles.length).fill(-1);
  let stamp = 0;
  for (const [level, triangles] of byLevel) {
    stamp++;
    const elevation = level * interval;
    const index = indexEvery > 0 && level % indexEvery === 0;
    const entries = triangles.map((t) => entrySide(s, t, elevation));
    // Lines that begin on the rim first, so that what is left is closed.
    const begin = (e: number): void => {
      const traced = trace(e, elevation);
      // A top exactly at the level is a place, not a line.
      if (traced.line.length >= 4) out.push({ ...traced, index });
    };
    for (const e of entries) if (s.neighbours[e] < 0 && visited[e] !== stamp) begin(e);
    for (const e of entries) if (visited[e] !== stamp) begin(e);
  }
  return out;

  function trace(start: number, elevation: number) {
    const line: number[] = [];
    // The side that each place lies on, where lines are smoothed.
    const sides: number[] = [];
    const push = (side: number): void => {
      const before = line.length;
      pushPlace(s, side, elevation, line);
      if (line.length > before) sides.push(side);
    };
    let e = start;
    let closed = false;
    for (;;) {
      visited[e] = stamp;
      push(e);
      const exit = exitSide(s, e, elevation);
      const next = s.neighbours[exit];
      if (next < 0) {
        push(exit);
        break;
      }
      if (visited[next] === stamp) {
        closed = next === start;
        push(exit);
        break;
      }
      e = next;
    }
    if (closed && line.length >= 4) {
      line[line.length - 2] = line[0];
      line[line.length - 1] = line[1];
    }
    if (smooth && line.length >= 6) return { elevation, closed, line: smoothed(s, cornersOf(line, sides, elevation, closed), closed, interval) }; // prettier-ignore
    return { elevation, closed, line: Float64Array.from(line) };
  }

  function cornersOf(
    line: readonly number[],
    sides: readonly number[],
    elevation: number,
    closed: boolean,
  ): ContourCorner[] {
    const atVertex = (side: number): boolean => s.z[s.triangles[side]] === elevation || s.z[s.triangles[nextEdge(side)]] === elevation; // prettier-ignore
    const all = sides.map((side, i) => ({ x: line[2 * i], y: line[2 * i + 1], side: atVertex(side) ? -1 : side }));
    return closed ? all.slice(0, line.length / 2 - 1) : all;
  }
}

/**
 * Contours of a surface of which heights alone changed, from those that it had before: only levels that pass through
 * a triangle with a changed corner, before or now, are drawn again. Exactly what drawing all of them would give.
 */
export function contoursAgain(
  before: Surface,
  drawn: readonly Contour[],
  now: Surface,
  settings: ContourSettings,
): { contours: Contour[]; levels: number } {
  const { interval } = settings;
  // Before they are counted one by one: a height that was typed wrong may pass through millions.
  needFewLevels(now, interval);
  const touched = new Set<number>();
  const touch = ({ z }: Surface, t: number): void => {
    const [a, b, c] = [0, 1, 2].map((k) => z[now.triangles[t * 3 + k]]);
    const high = Math.max(a, b, c);
    for (let k = Math.floor(Math.min(a, b, c) / interval); k * interval <= high; k++) touched.add(k);
  };
  for (const t of trianglesBeside(now, movedVertices(before.z, now.z))) {
    touch(before, t);
    touch(now, t);
  }
  const level = (c: Contour): number => Math.round(c.elevation / interval);
  const stays = drawn.filter((c) => !touched.has(level(c)));
  const anew = touched.size ? contours(now, settings, touched) : [];
  const all = [...stays, ...anew].sort((a, b) => a.elevation - b.elevation);
  return { contours: all, levels: touched.size };
}

/** Throws RangeError where an interval is meant for another surface. */
function needFewLevels(s: Surface, interval: number): void {
  // Mostly known without asking which vertices triangles stand on.
  if (!(levelsBetween(s.z, s.z, interval) > MOST_LEVELS)) return;
  const { low, high } = heightBlocks(s);
  if (!(levelsBetween(low, high, interval) > MOST_LEVELS)) return;
  const [lowest, highest] = [least(low), most(high)];
  throw new RangeError(
    `An interval of ${interval} m gives more than ${MOST_LEVELS} contours between ${lowest} m and ${highest} m; choose a larger one.`,
  );
}

const least = (values: Float64Array): number => values.reduce((low, v) => Math.min(low, v), Infinity);
const most = (values: Float64Array): number => values.reduce((high, v) => Math.max(high, v), -Infinity);
const levelsBetween = (low: Float64Array, high: Float64Array, interval: number): number =>
  (most(high) - least(low)) / interval;

function trianglesByLevel(s: Surface, interval: number, only: ReadonlySet<number> | null): Map<number, number[]> {
  const levels = new Map<number, number[]>();
  const count = s.triangles.length / 3;
  if (only) {
    const elevations = [...only].map((k) => k * interval);
    const { low, high } = heightBlocks(s);
    for (let b = 0; b < low.length; b++)
      if (elevations.some((e) => e > low[b] && e <= high[b]))
        collect(s, b * BLOCK, Math.min(count, (b + 1) * BLOCK), interval, only, levels);
  } else collect(s, 0, count, interval, null, levels);
  return new Map([...levels].sort((a, b) => a[0] - b[0]));
}

/** Adds triangles of a stretch to the levels that pass through them. */
function collect(
  { triangles, z }: Surface,
  from: number,
  to: number,
  interval: number,
  only: ReadonlySet<number> | null,
  levels: Map<number, number[]>,
): void {
  for (let t = from; t < to; t++) {
    const z0 = z[triangles[t * 3]];
    const z1 = z[triangles[t * 3 + 1]];
    const z2 = z[triangles[t * 3 + 2]];
    const low = Math.min(z0, z1, z2);
    const high = Math.max(z0, z1, z2);
    for (let k = Math.floor(low / interval); k * interval <= high; k++) {
      if (k * interval <= low || (only && !only.has(k))) continue;
      const list = levels.get(k);
      if (list) list.push(t);
      else levels.set(k, [t]);
    }
  }
}

/** The side through which a contour enters triangle t: from at-or-above to below, so that higher ground stays on the left. */
function entrySide(s: Surface, t: number, elevation: number): number {
  for (let e = t * 3; e < t * 3 + 3; e++)
    if (s.z[s.triangles[e]] >= elevation && s.z[s.triangles[nextEdge(e)]] < elevation) return e;
  return t * 3;
}

function exitSide(s: Surface, entry: number, elevation: number): number {
  const t = Math.floor(entry / 3) * 3;
  for (let e = t; e < t + 3; e++)
    if (s.z[s.triangles[e]] < elevation && s.z[s.triangles[nextEdge(e)]] >= elevation) return e;
  return entry;
}

/** Appends where the elevation lies on side e, computed from its lower corner so that both neighbours agree; a repeated place is skipped. */
function pushPlace(s: Surface, e: number, elevation: number, line: number[]): void {
  let a = s.triangles[e];
  let b = s.triangles[nextEdge(e)];
  if (s.z[a] > s.z[b]) [a, b] = [b, a];
  const f = (elevation - s.z[a]) / (s.z[b] - s.z[a]);
  const x = s.x[a] + f * (s.x[b] - s.x[a]);
  const y = s.y[a] + f * (s.y[b] - s.y[a]);
  const n = line.length;
  if (n < 2 || line[n - 2] !== x || line[n - 1] !== y) line.push(x, y);
}
