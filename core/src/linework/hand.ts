import { distance } from '#core/kernel';
import { bulgesOfParts, circleOf, directionOf, type Place } from './arcs.ts';
import { SIDE, sideCount, WHY, type Line, type MadeHeight } from './line.ts';
import { meetingBeyond, meetingsOf } from './meetings.ts';
import { parallelOf } from './parallel.ts';

/** A vertex of a line that a person edits: a point that it follows, or a place; and the side that leaves it. */
export interface HandVertex {
  /** Key of the point that the vertex follows. */
  point: string | null;
  x: number;
  y: number;
  /** Elevation of a place, m, or null; a point has its own. */
  z: number | null;
  bulge: number;
  side: number;
  /** It follows its point in plan alone: its elevation is `z`, and none where that is null. */
  plan?: boolean;
}

export interface HandCourse {
  vertices: HandVertex[];
  closed: boolean;
}

export type Edited<T = HandCourse> = { ok: true; course: T } | { ok: false; reason: string };
const no = (reason: string): { ok: false; reason: string } => ({ ok: false, reason });
const yes = (course: HandCourse): Edited => ({ ok: true, course });

export const placeVertex = (x: number, y: number, z: number | null = null): HandVertex => ({
  point: null,
  x,
  y,
  z,
  bulge: 0,
  side: SIDE.drawn,
});

/** A built line as a course to edit; `keyOf` names the point of a row, `z` the elevations of its vertices. */
export function courseToEdit(line: Line, keyOf: (row: number) => string, z: ArrayLike<number>): HandCourse {
  const own = new Map(line.made.map((m) => [m.at, m.rise]));
  return {
    closed: line.closed,
    vertices: line.rows.map((row, i) => {
      const plan = row >= 0 && own.has(i);
      const elevation = plan ? own.get(i)! : row >= 0 ? NaN : z[i];
      return {
        point: row >= 0 ? keyOf(row) : null,
        x: line.x[i],
        y: line.y[i],
        z: Number.isNaN(elevation) ? null : elevation,
        bulge: line.bulges[i],
        side: line.sides[i],
        ...(plan ? { plan } : {}),
      };
    }),
  };
}

/** A course as a line; `rowOf` gives the row of a point, or −1 where it is no longer there: its vertex is left out. */
export function lineOfCourse(
  course: HandCourse,
  as: Pick<Line, 'key' | 'code' | 'lineNumber' | 'file'>,
  rowOf: (point: string) => number,
  at: (row: number) => Place,
): { line: Line; lost: string[] } {
  const lost: string[] = [];
  const line: Line = { ...as, closed: course.closed, rows: [], x: [], y: [], bulges: [], why: [], sides: [], made: [] };
  for (const v of course.vertices) {
    const row = v.point === null ? -1 : rowOf(v.point);
    if (v.point !== null && row < 0) {
      lost.push(v.point);
      // The side before a vertex that is gone runs straight on to the next.
      if (line.bulges.length) line.bulges[line.bulges.length - 1] = 0;
      continue;
    }
    const place = row >= 0 ? at(row) : v;
    if (row < 0 || v.plan) line.made.push(freeHeight(line.x.length, v.z));
    line.x.push(place.x);
    line.y.push(place.y);
    line.rows.push(row);
    line.bulges.push(v.bulge);
    line.why.push(row < 0 ? WHY.hand : WHY.follows);
    line.sides.push(v.side);
  }
  line.closed &&= line.x.length > 2;
  return { line, lost };
}

const freeHeight = (at: number, z: number | null): MadeHeight => ({ at, from: -1, to: -1, share: 0, rise: z ?? NaN });

/** A vertex put into a side, or before the first (−1) or behind the last one. An arc that is parted stays that arc. */
export function addVertex(course: HandCourse, behind: number, vertex: HandVertex): Edited {
  const vertices = course.vertices.map((v) => ({ ...v }));
  const before = vertices[behind];
  const after = vertices[behind + 1] ?? (course.closed ? vertices[0] : undefined);
  const added = { ...vertex, bulge: 0, side: before?.side ?? SIDE.drawn };
  if (before && after && before.bulge !== 0) [before.bulge, added.bulge] = bulgesOfParts(before, vertex, after);
  vertices.splice(behind + 1, 0, added);
  return yes({ ...course, vertices });
}

export function removeVertex(course: HandCourse, at: number): Edited {
  if (course.vertices.length <= 2) return no('A line keeps at least two vertices. Delete the line instead.');
  const vertices = course.vertices.filter((_, i) => i !== at).map((v) => ({ ...v }));
  const before = vertices[at - 1] ?? (course.closed ? vertices.at(-1) : undefined);
  if (before) before.bulge = 0;
  return yes({ vertices, closed: course.closed && vertices.length > 2 });
}

/** The same course in the other direction; arcs bend the other way round. */
export function reversed(course: HandCourse): HandCourse {
  const n = course.vertices.length;
  const vertices = course.vertices.map((_, i) => {
    const v = course.vertices[n - 1 - i];
    // The side that leaves a vertex is the one that came to it before.
    const side = course.vertices[(2 * n - 2 - i) % n];
    return { ...v, bulge: side.bulge === 0 ? 0 : -side.bulge, side: side.side };
  });
  if (!course.closed && n) vertices[n - 1] = { ...vertices[n - 1], bulge: 0, side: SIDE.drawn };
  return { ...course, vertices };
}

/** Two lines that share the vertex; a closed line opens there instead. */
export function splitAt(course: HandCourse, at: number): Edited<HandCourse[]> {
  const { vertices, closed } = course;
  if (closed) {
    const turned = [...vertices.slice(at), ...vertices.slice(0, at)];
    return { ok: true, course: [{ closed: false, vertices: [...turned, { ...vertices[at], bulge: 0 }] }] };
  }
  if (at <= 0 || at >= vertices.length - 1) return no('A line is split at a vertex between its ends.');
  return {
    ok: true,
    course: [
      { closed: false, vertices: [...vertices.slice(0, at), { ...vertices[at], bulge: 0 }] },
      { closed: false, vertices: vertices.slice(at) },
    ],
  };
}

/** One line of two, joined where their ends lie nearest; ends in one place become one vertex. */
export function joined(a: HandCourse, b: HandCourse): Edited {
  if (a.closed || b.closed) return no('A closed line has no end to join.');
  const end = (c: HandCourse, last: boolean): HandVertex => c.vertices[last ? c.vertices.length - 1 : 0];
  let best: { first: HandCourse; second: HandCourse; apart: number } | null = null;
  for (const turnA of [false, true])
    for (const turnB of [false, true]) {
      const [p, q] = [end(a, !turnA), end(b, turnB)];
      const apart = distance(p.x - q.x, p.y - q.y);
      if (!best || apart < best.apart)
        best = { first: turnA ? reversed(a) : a, second: turnB ? reversed(b) : b, apart };
    }
  const { first, second, apart } = best!;
  const same = apart < 1e-6 || (first.vertices.at(-1)!.point !== null && first.vertices.at(-1)!.point === second.vertices[0].point); // prettier-ignore
  return yes({
    closed: false,
    vertices: [...(same ? first.vertices.slice(0, -1) : first.vertices), ...second.vertices],
  });
}

export function setClosed(course: HandCourse, closed: boolean): Edited {
  if (closed && course.vertices.length < 3) return no('Three vertices at least make a closed line.');
  return yes({ ...course, closed });
}

/** A line beside: to the right by `across` m (left where negative), higher by `height` m; free of the points. */
export function besideCourse(course: HandCourse, across: number, height: number): Edited {
  const { line } = lineOfCourse(
    freed(course),
    { key: '', code: '', lineNumber: '' },
    () => -1,
    () => ({ x: 0, y: 0 }),
  );
  const out = parallelOf(line, across, 0, { key: '', code: '', lineNumber: '', why: WHY.hand });
  const z = new Map(out.made.map((m) => [m.at, m.rise]));
  return yes({
    closed: out.closed,
    vertices: out.x.map((x, i) => {
      const own = z.get(i) ?? NaN;
      return { point: null, x, y: out.y[i], z: Number.isNaN(own) ? null : own + height, bulge: out.bulges[i], side: out.sides[i] }; // prettier-ignore
    }),
  });
}

/** The same course at places, with no point to follow. Elevations must stand in `z` before. */
export const freed = (course: HandCourse): HandCourse => ({
  ...course,
  vertices: course.vertices.map(({ plan: _, ...v }) => ({ ...v, point: null })),
});

/** Cuts a line where it meets another, and keeps the part on which `keep` lies nearest. */
export function trimmed(course: HandCourse, other: HandCourse, keep: Place): Edited {
  if (course.closed) return no('A closed line is opened before it is trimmed.');
  const [a, b] = [columnsOf(course), columnsOf(other)];
  const meetings = meetingsOf(a, b).sort((p, q) => p.side - q.side || fromStart(course, p) - fromStart(course, q));
  if (meetings.length === 0) return no('The two lines do not meet.');
  const near = nearestSide(a, keep);
  const place = fromStartOf(course, near.side, near.place);
  const before = meetings.filter((m) => fromStartOf(course, m.side, m) < place).at(-1);
  const after = meetings.find((m) => fromStartOf(course, m.side, m) > place);
  let out = course;
  if (after) out = cutBehind(out, after.side, after);
  if (before) out = cutBefore(out, before.side, before);
  return out.vertices.length < 2 ? no('Nothing of the line would be left.') : yes(out);
}

/** Lengthens the first or last side, straight, to where it meets another line. */
export function extended(course: HandCourse, end: 'first' | 'last', other: HandCourse): Edited {
  if (course.closed) return no('A closed line has no end to extend.');
  const turned = end === 'first' ? reversed(course) : course;
  const [from, to] = turned.vertices.slice(-2);
  if (turned.vertices.at(-2)!.bulge !== 0) return no('An arc is not extended; add a straight side first.');
  const place = meetingBeyond(from, to, columnsOf(other));
  if (!place) return no('The side never meets the other line in that direction.');
  const grown = { ...turned, vertices: [...turned.vertices, placeVertex(place.x, place.y, null)] };
  return yes(end === 'first' ? reversed(grown) : grown);
}

/** Rounds a corner of two straight sides with an arc of a radius, m. */
export function filleted(course: HandCourse, at: number, radius: number): Edited {
  const { vertices, closed } = course;
  const n = vertices.length;
  const before = vertices[at - 1] ?? (closed ? vertices[n - 1] : undefined);
  const after = vertices[at + 1] ?? (closed ? vertices[0] : undefined);
  const corner = vertices[at];
  if (!before || !after) return no('A corner lies between two sides.');
  if (before.bulge !== 0 || corner.bulge !== 0) return no('A corner is rounded between straight sides.');
  const [d, e] = [directionOf(corner, before), directionOf(corner, after)];
  if (!d || !e || !(radius > 0)) return no('There is no corner to round.');
  const cosine = d.x * e.x + d.y * e.y;
  const sine = d.x * e.y - d.y * e.x;
  if (Math.abs(sine) < 1e-9) return no('The sides are in line; there is no corner to round.');
  // Half the angle between the sides: tan(α/2) = |sin α| / (1 + cos α); the arc begins r / tan(α/2) from the corner.
  const length = (radius * (1 + cosine)) / Math.abs(sine);
  const room = Math.min(distance(corner.x - before.x, corner.y - before.y), distance(corner.x - after.x, corner.y - after.y)); // prettier-ignore
  if (length > room * (1 + 1e-9)) return no(`The sides are too short: they leave room for a radius of ${((radius * room) / length).toFixed(2)} m.`); // prettier-ignore
  const start = placeVertex(corner.x + length * d.x, corner.y + length * d.y, corner.z);
  const end = placeVertex(corner.x + length * e.x, corner.y + length * e.y, corner.z);
  // From the side that comes in to the one that goes out: a turn to the left where `sine` is negative.
  start.bulge = sine > 0 ? -tangentOf(length, radius) : tangentOf(length, radius);
  const out = [...vertices];
  out.splice(at, 1, start, end);
  return yes({ closed, vertices: out });
}

/** tan(θ/4) of the arc whose tangents have a length: tan(θ/2) = length / radius. */
const tangentOf = (length: number, radius: number): number => {
  const t = length / radius;
  return t / (1 + Math.sqrt(1 + t * t));
};

const columnsOf = (course: HandCourse) => ({
  x: course.vertices.map((v) => v.x),
  y: course.vertices.map((v) => v.y),
  bulges: course.vertices.map((v) => v.bulge),
  closed: course.closed,
});

const fromStart = (course: HandCourse, p: Place & { side: number }): number => fromStartOf(course, p.side, p);
function fromStartOf(course: HandCourse, side: number, p: Place): number {
  const v = course.vertices[side];
  return side * 1e9 + distance(p.x - v.x, p.y - v.y);
}

function cutBehind(course: HandCourse, side: number, p: Place): HandCourse {
  const vertices = course.vertices.slice(0, side + 1).map((v) => ({ ...v }));
  const [from, to] = [course.vertices[side], course.vertices[side + 1]];
  if (from.bulge !== 0) vertices[side].bulge = bulgesOfParts(from, p, to)[0];
  if (distance(p.x - from.x, p.y - from.y) > 1e-6) vertices.push(placeVertex(p.x, p.y, between(from, to, p)));
  return { closed: false, vertices };
}

function cutBefore(course: HandCourse, side: number, p: Place): HandCourse {
  const [from, to] = [course.vertices[side], course.vertices[side + 1]];
  const start = placeVertex(p.x, p.y, between(from, to, p));
  if (from.bulge !== 0) start.bulge = bulgesOfParts(from, p, to)[1];
  return { closed: false, vertices: [start, ...course.vertices.slice(side + 1)] };
}

function between(a: HandVertex, b: HandVertex, p: Place): number | null {
  if (a.z === null || b.z === null) return null;
  const before = distance(p.x - a.x, p.y - a.y);
  const share = before / (before + distance(b.x - p.x, b.y - p.y) || 1);
  return a.z + share * (b.z - a.z);
}

/** The side of a line that lies nearest to a place, and the place on it. */
export function nearestSide(
  line: { x: number[]; y: number[]; bulges: number[]; closed: boolean },
  p: Place,
): { side: number; place: Place; off: number } {
  let best = { side: 0, place: { x: line.x[0], y: line.y[0] }, off: Infinity };
  for (let i = 0; i < sideCount(line); i++) {
    const j = (i + 1) % line.x.length;
    const [a, b] = [
      { x: line.x[i], y: line.y[i] },
      { x: line.x[j], y: line.y[j] },
    ];
    const place = line.bulges[i] === 0 ? onStraight(a, b, p) : onCircle(a, b, line.bulges[i], p);
    const off = distance(place.x - p.x, place.y - p.y);
    if (off < best.off) best = { side: i, place, off };
  }
  return best;
}

function onStraight(a: Place, b: Place, p: Place): Place {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  const t = square > 0 ? Math.max(0, Math.min(1, ((p.x - a.x) * dx + (p.y - a.y) * dy) / square)) : 0;
  return { x: a.x + t * dx, y: a.y + t * dy };
}

function onCircle(a: Place, b: Place, bulge: number, p: Place): Place {
  const circle = circleOf(a, b, bulge);
  const d = directionOf(circle, p);
  const place = d ? { x: circle.x + circle.radius * d.x, y: circle.y + circle.radius * d.y } : a;
  const cross = (b.x - a.x) * (place.y - a.y) - (b.y - a.y) * (place.x - a.x);
  if (bulge > 0 ? cross <= 0 : cross >= 0) return place;
  return distance(p.x - a.x, p.y - a.y) < distance(p.x - b.x, p.y - b.y) ? a : b;
}
