import { bulgeThrough, directionAt, type Direction, type Place } from './arcs.ts';
import { SIDE, sideCount, vertex, type Line, type MadeHeight } from './line.ts';

/** A corner is carried outward by no more than so many times the offset; sharper ones are cut. */
const SHARPEST = 4;

/**
 * A line beside another: `across` metres to the right of its course (left where negative) and `height` metres above it.
 * Straight sides stay parallel and arcs keep their centre; corners are carried to where the sides beside them meet.
 */
export function parallelOf(
  line: Line,
  across: number,
  height: number,
  as: { key: string; code: string; lineNumber: string; why: number },
): Line {
  const { key, code, lineNumber, why } = as;
  const n = line.x.length;
  const sides = sideCount(line);
  const out: Line = {
    key,
    code,
    lineNumber,
    closed: line.closed,
    rows: [],
    x: [],
    y: [],
    bulges: [],
    why: [],
    sides: [],
    made: [],
    ...(line.file === undefined ? {} : { file: line.file }),
  };
  const madeAt = new Map(line.made.map((m) => [m.at, m]));
  const first: number[] = [];
  for (let i = 0; i < n; i++) {
    const comesIn = i > 0 || line.closed ? courseAt(line, (i - 1 + n) % n, 'end') : null;
    const goesOut = i < sides ? courseAt(line, i, 'start') : null;
    first.push(out.x.length);
    for (const place of corner(vertex(line, i), comesIn, goesOut, across)) {
      out.made.push(above(out.x.length, line.rows[i], madeAt.get(i), height));
      out.x.push(place.x);
      out.y.push(place.y);
      out.rows.push(-1);
      out.why.push(why);
      out.bulges.push(0);
      out.sides.push(SIDE.drawn);
    }
    out.sides[out.sides.length - 1] = line.sides[i];
  }
  for (let i = 0; i < sides; i++) {
    if (line.bulges[i] === 0) continue;
    const from = (i + 1 < n ? first[i + 1] : out.x.length) - 1;
    const to = first[(i + 1) % n];
    const middle = middleBeside(line, i, across);
    out.bulges[from] = middle ? bulgeThrough(vertex(out, from), middle, vertex(out, to)) : 0;
  }
  return out;
}

const courseAt = (line: Line, i: number, end: 'start' | 'end'): Direction | null =>
  directionAt(vertex(line, i), vertex(line, (i + 1) % line.x.length), line.bulges[i], end);

/** Where the vertex of a corner comes to lie: one place, or two where the corner is too sharp to be carried. */
function corner(p: Place, comesIn: Direction | null, goesOut: Direction | null, across: number): Place[] {
  const a = comesIn ?? goesOut;
  const b = goesOut ?? comesIn;
  if (!a || !b) return [{ x: p.x, y: p.y }];
  const beside = (d: Direction): Place => ({ x: p.x + across * d.y, y: p.y - across * d.x });
  const cosine = a.x * b.x + a.y * b.y;
  // Normals of both sides, added, point along the corner's bisector; 1 + cos makes it as long as it must be.
  const lengthened = 2 / (1 + cosine);
  if (!(lengthened <= SHARPEST * SHARPEST)) return [beside(a), beside(b)];
  return [{ x: p.x + (across * (a.y + b.y)) / (1 + cosine), y: p.y - (across * (a.x + b.x)) / (1 + cosine) }];
}

/** The middle of an arc, carried beside it: there its course is that of its chord. */
function middleBeside(line: Line, i: number, across: number): Place | null {
  const [p, q] = [vertex(line, i), vertex(line, (i + 1) % line.x.length)];
  const chord = directionAt(p, q, 0, 'start');
  if (!chord) return null;
  const b = line.bulges[i];
  return {
    x: (p.x + q.x + b * (q.y - p.y)) / 2 + across * chord.y,
    y: (p.y + q.y - b * (q.x - p.x)) / 2 - across * chord.x,
  };
}

const above = (at: number, row: number, made: MadeHeight | undefined, height: number): MadeHeight =>
  made ? { ...made, at, rise: made.rise + height } : { at, from: row, to: row, share: 0, rise: height };
