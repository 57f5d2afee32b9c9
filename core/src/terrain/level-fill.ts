import FlatQueue from 'flatqueue';
import { distance } from '#core/kernel';
import { nextEdge, previousEdge } from './delaunay.ts';
import { LEVEL, levelTriangles } from './faults.ts';
import type { Surface, SurfaceInput } from './surface.ts';

// Between points of one contour triangles are level, though the ground goes on: up a ridge, down a valley, over a summit.
// Their middle line is given points whose elevations run from the contour to the next one that it opens to.

/** Places to be put in, m. */
export interface LevelFill {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
}

/**
 * Points along the middle line of level parts: in the middle of every side that two level triangles share, and of every side
 * beyond which the ground goes on to another elevation. From the contour to there they rise or fall evenly by the way along
 * the middle line; between two openings of one elevation they sink to half way (a saddle); where a part opens nowhere they
 * rise or fall to a share of the step outside (a summit or a hollow), away from where the ground outside lies. Linear
 * interpolation along the skeleton of level triangles is *common practice*.
 *
 * @param summit share of the step to the next contour outside that a summit rises, 0 to leave it level
 */
export function fillLevelParts(s: Surface, summit: number): LevelFill {
  const flat = levelTriangles(s);
  const seen = new Uint8Array(flat.length);
  const out: [x: number, y: number, z: number][] = [];
  for (let begin = 0; begin < flat.length; begin++) {
    if (!flat[begin] || seen[begin]) continue;
    const part = [begin];
    seen[begin] = 1;
    for (const t of part)
      for (let e = 3 * t; e < 3 * t + 3; e++) {
        const beside = acrossOf(s, e);
        if (beside < 0 || !flat[beside] || seen[beside]) continue;
        seen[beside] = 1;
        part.push(beside);
      }
    for (const point of pointsOf(s, part, flat, summit)) out.push(point);
  }
  // Where triangles begin to be counted says nothing of a place.
  out.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const column = (k: 0 | 1 | 2): Float64Array => Float64Array.from(out, (p) => p[k]);
  return { x: column(0), y: column(1), z: column(2) };
}

/** The triangle beyond a side that is no breakline; −1 for none. */
const acrossOf = (s: Surface, e: number): number =>
  s.neighbours[e] < 0 || s.breakSides[e] ? -1 : Math.floor(s.neighbours[e] / 3);

/** The middle of a side that the middle line passes. */
interface Gate {
  x: number;
  y: number;
  /** Gates that it is joined to, through a triangle. */
  to: number[];
  /** Ways out of the level part from here: to a vertex of the contour (its own elevation) or to one beyond the opening. */
  out: { z: number; along: number; opens: boolean }[];
}

/** What a surface is made from, with more places behind its own; they claim theirs last. */
export function withPlaces<T extends Omit<SurfaceInput, 'z'>>(input: T, { x, y }: LevelFill): T {
  const claim = input.claim && new Uint32Array(input.x.length + x.length).map((_, i) => input.claim![i] ?? i);
  return { ...input, x: oneAfterOther(input.x, x), y: oneAfterOther(input.y, y), claim };
}

export function oneAfterOther(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

function pointsOf(s: Surface, part: readonly number[], flat: Uint8Array, summit: number): [number, number, number][] {
  const level = s.z[s.triangles[3 * part[0]]];
  const gates: Gate[] = [];
  const gateAt = new Map<number, number>();
  const gateOf = (e: number): number => {
    const side = Math.min(e, s.neighbours[e]);
    let at = gateAt.get(side);
    if (at === undefined) {
      const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
      at = gates.push({ x: (s.x[a] + s.x[b]) / 2, y: (s.y[a] + s.y[b]) / 2, to: [], out: [] }) - 1;
      gateAt.set(side, at);
    }
    return at;
  };
  for (const t of part) {
    const through: number[] = [];
    for (let e = 3 * t; e < 3 * t + 3; e++) {
      const beside = acrossOf(s, e);
      if (beside < 0) continue;
      const gate = gateOf(e);
      through.push(gate);
      if (flat[beside]) continue;
      const apex = s.triangles[previousEdge(s.neighbours[e])];
      gates[gate].out.push({ z: s.z[apex], along: reach(gates[gate], s, apex), opens: true });
    }
    for (const g of through) gates[g].to.push(...through.filter((h) => h !== g));
    // A triangle with one way in ends at the corner opposite: there the middle line reaches the contour.
    if (through.length !== 1) continue;
    const inside = [3 * t, 3 * t + 1, 3 * t + 2].find((e) => acrossOf(s, e) >= 0)!;
    const tip = s.triangles[previousEdge(inside)];
    gates[through[0]].out.push({ z: level, along: reach(gates[through[0]], s, tip), opens: false });
  }
  if (gates.length === 0) return [];
  const openings = gates.flatMap((g, i) => g.out.filter((o) => o.opens).map((o) => ({ ...o, gate: i })));
  const ends = gates.flatMap((g, i) => g.out.filter((o) => !o.opens).map((o) => ({ ...o, gate: i })));
  const heights =
    openings.length > 0
      ? towardsOpenings(gates, openings, ends, level)
      : overSummit(s, part, gates, ends, level, summit);
  return gates.flatMap((g, i): [number, number, number][] =>
    heights && Number.isFinite(heights[i]) && Math.abs(heights[i] - level) >= LEVEL ? [[g.x, g.y, heights[i]]] : [],
  );
}

const reach = (g: Pick<Gate, 'x' | 'y'>, s: Surface, v: number): number => distance(s.x[v] - g.x, s.y[v] - g.y);

interface Way {
  z: number;
  along: number;
  gate: number;
}

/** From the contour to the elevation beyond the nearest opening; between openings from one to the other. */
function towardsOpenings(gates: readonly Gate[], openings: readonly Way[], ends: readonly Way[], level: number) {
  const toEnd = ends.length ? shortest(gates, ends) : null;
  const [up, down] = [openings.filter((o) => o.z > level), openings.filter((o) => o.z < level)];
  const [above, below] = [up, down].map((ways) => nearestTwo(gates, ways));
  return gates.map((_, i) => {
    const reached = [...above[i], ...below[i]].sort((a, b) => a.along - b.along || a.z - b.z);
    const [near, next] = reached;
    const end = toEnd ? toEnd[i] : Infinity;
    const other = (near.z > level ? below : above)[i][0];
    // The ground falls through: one opening is above the contour, the other below it.
    if (other && other.along < end) return between(near, other.z, other.along);
    const far = Math.min(end, next ? next.along : Infinity);
    return Number.isFinite(far) ? between(near, level, far) : (near.z + level) / 2;
  });
}

/** Elevation on the way from an opening to what is at another elevation, so far from here. */
const between = (near: Reached, z: number, along: number): number =>
  near.z + ((z - near.z) * near.along) / (near.along + along || 1);

/** A part that opens nowhere lies inside its contour: it goes on away from the ground outside. */
function overSummit(
  s: Surface,
  part: readonly number[],
  gates: readonly Gate[],
  ends: readonly Way[],
  level: number,
  summit: number,
) {
  const outside = beyondRim(s, part, level);
  if (outside === null || ends.length === 0) return null;
  const along = shortest(gates, ends);
  const most = along.reduce((m, v) => Math.max(m, v), 0);
  return gates.map((_, i) => level + ((level - outside) * summit * along[i]) / (most || 1));
}

/** Elevation of the ground just outside of a part's contour: that of most of its neighbours; null where none is, or the contour is left open at the rim. */
function beyondRim(s: Surface, part: readonly number[], level: number): number | null {
  const apexes: number[] = [];
  for (const t of part)
    for (let e = 3 * t; e < 3 * t + 3; e++) {
      if (s.neighbours[e] < 0 && !s.breakSides[e]) return null;
      if (s.neighbours[e] < 0 || !s.breakSides[e]) continue;
      const z = s.z[s.triangles[previousEdge(s.neighbours[e])]];
      if (Math.abs(z - level) >= LEVEL) apexes.push(z);
    }
  apexes.sort((a, b) => a - b);
  return apexes.length ? apexes[apexes.length >> 1] : null;
}

/** Way along the middle line from each gate to the nearest of some ways out, m. */
function shortest(gates: readonly Gate[], from: readonly Way[]): Float64Array {
  const along = new Float64Array(gates.length).fill(Infinity);
  const queue = new FlatQueue<number>();
  for (const { gate, along: first } of from) queue.push(gate, first);
  while (queue.length) {
    const way = queue.peekValue()!;
    const at = queue.pop()!;
    if (way >= along[at]) continue;
    along[at] = way;
    const { x, y, to } = gates[at];
    for (const next of to) if (along[next] === Infinity) queue.push(next, way + distance(gates[next].x - x, gates[next].y - y)); // prettier-ignore
  }
  return along;
}

/** A way out as it is seen from a gate: so far along the middle line, m. */
interface Reached {
  z: number;
  along: number;
}

/** The two nearest of some ways out of each gate, the nearest first: each gate is passed twice at most, however many there are. */
function nearestTwo(gates: readonly Gate[], from: readonly Way[]): Reached[][] {
  const reached: (Reached & { way: number })[][] = gates.map(() => []);
  const queue = new FlatQueue<{ gate: number; way: number }>();
  from.forEach(({ gate, along }, way) => queue.push({ gate, way }, along));
  while (queue.length) {
    const along = queue.peekValue()!;
    const { gate, way } = queue.pop()!;
    const known = reached[gate];
    if (known.length === 2 || known.some((r) => r.way === way)) continue;
    known.push({ z: from[way].z, along, way });
    const { x, y, to } = gates[gate];
    for (const next of to)
      if (reached[next].length < 2) queue.push({ gate: next, way }, along + distance(gates[next].x - x, gates[next].y - y)); // prettier-ignore
  }
  return reached;
}
