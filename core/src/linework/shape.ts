import { distance } from '#core/kernel';
import { says, type Code, type SaidWord } from '#core/codes';
import {
  bulgeLeaving,
  bulgesOfParts,
  bulgeThrough,
  directionAt,
  directionOf,
  directionThrough,
  mirrored,
  twoArcs,
  type Direction,
  type Place,
} from './arcs.ts';
import { SIDE, vertex, WHY, type Line } from './line.ts';
import { parallelOf } from './parallel.ts';
import { courseSlips, type Slip } from './slips.ts';
import type { Course } from './thread.ts';

/** What came of one course: its line, the lines beside it, and what is to be looked at. */
export interface Shaped {
  lines: Line[];
  slips: Slip[];
}

type CurveKind = 'through' | 'tangent' | 'smooth';
interface Curve {
  kind: CurveKind;
  from: number;
  to: number;
}

/** Works out corners, curves and rectangles of a course, and the lines beside it. Deterministic; never throws. */
export function shapeCourse(course: Course, x: ArrayLike<number>, y: ArrayLike<number>, code: Code | null): Shaped {
  return new Shaper(course, x, y, code).shape();
}

class Shaper {
  private readonly slips: Slip[] = [];
  private readonly curves: Curve[] = [];
  private readonly line: Line;

  constructor(
    private readonly course: Course,
    private readonly px: ArrayLike<number>,
    private readonly py: ArrayLike<number>,
    private readonly code: Code | null,
  ) {
    const { key, lineNumber } = course;
    this.line = { key, code: course.code, lineNumber, closed: false, rows: [], x: [], y: [], bulges: [], why: [], sides: [], made: [] }; // prettier-ignore
  }

  shape(): Shaped {
    const { course, line } = this;
    const last = course.steps.at(-1)!;
    if (course.steps.length === 1 && last.join < 0) {
      this.slips.push({ kind: 'single-point-line', line: line.key, row: last.row });
      return { lines: [], slips: this.slips };
    }
    this.walk();
    line.closed = course.closed && line.x.length > 2;
    if (course.rectangle) this.rectangle();
    for (const curve of this.curves) this.bend(curve);
    this.smooth();
    this.slips.push(...courseSlips(line));
    return { lines: [line, ...this.beside()], slips: this.slips };
  }

  private add(place: Place, row: number, why: number): number {
    const { line } = this;
    line.x.push(place.x);
    line.y.push(place.y);
    line.rows.push(row);
    line.why.push(why);
    line.bulges.push(0);
    line.sides.push(SIDE.drawn);
    return line.x.length - 1;
  }

  private place = (row: number): Place => ({ x: this.px[row], y: this.py[row] });

  private walk(): void {
    const { course, line } = this;
    let open: { kind: CurveKind; at: number; row: number } | null = null;
    let square: number | null = null;
    const threes: number[] = [];
    for (const step of course.steps) {
      if (square !== null) this.squareCorner(square, step.row);
      const at = this.add(this.place(step.row), step.row, WHY.code);
      square = says(step, 'square') ? at : null;
      if (says(step, 'curveEnd')) {
        if (open) this.curves.push({ kind: open.kind, from: open.at, to: at });
        else if (!threes.some((t) => at - t <= 2)) this.cannot(step.row, 'a curve ends here that was never begun');
        open = null;
      }
      const kind = beginOf(step.words);
      if (kind) {
        if (open) this.cannot(step.row, 'a curve begins inside another that has not ended');
        else open = { kind, at, row: step.row };
      }
      if (says(step, 'threePoint')) {
        if (open) this.cannot(step.row, 'one arc begins inside a curve that has not ended');
        else threes.push(at);
      }
      if (says(step, 'gap')) line.sides[at] = SIDE.gap;
      else if (says(step, 'notDrawn')) line.sides[at] = SIDE.hidden;
      if (step.join >= 0 && step.join !== step.row) this.add(this.place(step.join), step.join, WHY.joined);
    }
    if (square !== null && !course.closed) this.cannot(course.steps.at(-1)!.row, 'no shot follows the square corner');
    if (square !== null && course.closed && line.x.length > 2) this.squareCorner(square, line.rows[0]);
    for (const at of threes) {
      if (at + 2 < line.x.length) this.curves.push({ kind: 'through', from: at, to: at + 2 });
      else this.cannot(line.rows[at], 'one arc needs two more shots');
    }
    this.endAtBegin();
    // A curve that nobody ended is drawn straight: wrong by a sagitta, never wild.
    if (open)
      this.slips.push({
        kind: 'curve-not-ended',
        line: line.key,
        beginRow: open.row,
        likelyEndRow: line.rows[this.likelyEnd(open.at)],
        rows: line.rows.filter((r) => r >= 0),
      });
  }

  /** A closed course that comes back to its first place by an arc ends there: the place is told once. */
  private endAtBegin(): void {
    const { line, course } = this;
    const last = line.x.length - 1;
    const arrives = this.curves.some((c) => c.kind === 'through' && c.to === last);
    if (!course.closed || !arrives || last < 3 || line.x[last] !== line.x[0] || line.y[last] !== line.y[0]) return;
    for (const column of [line.x, line.y, line.rows, line.why, line.bulges, line.sides]) column.pop();
  }

  private cannot(row: number, reason: string): void {
    this.slips.push({ kind: 'no-such-shape', line: this.course.key, row, reason });
  }

  /** A corner that could not be seen: the course goes straight on, then at right angles to the next shot. */
  private squareCorner(at: number, nextRow: number): void {
    const { line } = this;
    const course = at > 0 ? directionOf(vertex(line, at - 1), vertex(line, at)) : null;
    if (!course) return this.cannot(line.rows[at], 'a square corner needs a course: a shot before it');
    const [from, next] = [vertex(line, at), this.place(nextRow)];
    const along = (next.x - from.x) * course.x + (next.y - from.y) * course.y;
    const corner = { x: from.x + along * course.x, y: from.y + along * course.y };
    const rest = distance(next.x - corner.x, next.y - corner.y);
    if (Math.abs(along) < 1e-6 || rest < 1e-6) return;
    const made = this.add(corner, -1, WHY.square);
    const share = Math.abs(along) / (Math.abs(along) + rest);
    line.made.push({ at: made, from: line.rows[at], to: nextRow, share, rise: 0 });
  }

  private rectangle(): void {
    const { line, course } = this;
    const { width } = course.rectangle!;
    const needed = width === null ? 3 : 2;
    const row = course.steps.at(-1)!.row;
    if (line.x.length !== needed || line.rows.some((r) => r < 0))
      return this.cannot(row, `a rectangle goes through ${needed} shots${width === null ? '' : ' and a width'}`);
    const [a, b] = [vertex(line, 0), vertex(line, 1)];
    const course1 = directionOf(a, b);
    if (!course1) return this.cannot(row, 'the two shots of the rectangle are in one place');
    // To the right of the course.
    let across = width ?? 0;
    if (width === null) {
      const c = vertex(line, 2);
      across = (c.x - b.x) * course1.y - (c.y - b.y) * course1.x;
      for (const column of [line.x, line.y, line.rows, line.why, line.bulges, line.sides]) column.pop();
    }
    if (Math.abs(across) < 1e-4) return this.cannot(row, 'the rectangle has no width');
    const [dx, dy] = [across * course1.y, -across * course1.x];
    const third = this.add({ x: b.x + dx, y: b.y + dy }, -1, WHY.rectangle);
    line.made.push({ at: third, from: row, to: row, share: 0, rise: 0 });
    const fourth = this.add({ x: a.x + dx, y: a.y + dy }, -1, WHY.rectangle);
    line.made.push({ at: fourth, from: line.rows[0], to: line.rows[0], share: 0, rise: 0 });
    line.closed = true;
  }

  private bend({ kind, from, to }: Curve): void {
    if (kind === 'through') this.bendThrough(from, to);
    if (kind === 'tangent') this.bendSmoothlyFrom(from, to);
  }

  /** Arcs through vertices from … to, three at a time; an even number left over ends with the arc of the last three. */
  private bendThrough(from: number, to: number): void {
    const { bulges } = this.line;
    const at = (i: number): Place => vertex(this.line, i % this.line.x.length);
    let i = from;
    for (; i + 2 <= to; i += 2) [bulges[i], bulges[i + 1]] = bulgesOfParts(at(i), at(i + 1), at(i + 2));
    if (i + 1 === to && i - 1 >= from) bulges[i] = bulgesOfParts(at(i - 1), at(i), at(i + 1))[1];
  }

  /** Each arc leaves along the course that the side before it ends with. */
  private bendSmoothlyFrom(from: number, to: number): void {
    const { line } = this;
    let course: Direction | null =
      from > 0 ? directionAt(vertex(line, from - 1), vertex(line, from), line.bulges[from - 1], 'end') : null;
    if (!course) return this.bendThrough(from, to);
    for (let i = from; i < to; i++) {
      const bulge: number | null = bulgeLeaving(vertex(line, i), vertex(line, i + 1), course);
      if (bulge === null) {
        this.cannot(line.rows[i] >= 0 ? line.rows[i] : this.course.steps[0].row, 'the arc would turn by more than three quarters of a circle; it is drawn straight'); // prettier-ignore
        return;
      }
      line.bulges[i] = bulge;
      const chord = directionOf(vertex(line, i), vertex(line, i + 1));
      if (chord) course = mirrored(course, chord);
    }
  }

  /** Smooth curves: two arcs a side, whose joints become vertices. Worked out together, since vertices come in between. */
  private smooth(): void {
    const smooth = this.curves.filter((c) => c.kind === 'smooth' && c.to - c.from >= 2);
    if (smooth.length === 0) return;
    const { line } = this;
    const joints: { behind: number; place: Place; bulges: [number, number] }[] = [];
    for (const { from, to } of smooth) {
      const courses = this.smoothCourses(from, to);
      for (let i = from; i < to; i++) {
        const [d, e] = [courses[i - from], courses[i + 1 - from]];
        const arcs = d && e ? twoArcs(vertex(line, i), vertex(line, i + 1), d, e) : null;
        if (arcs) joints.push({ behind: i, place: arcs.joint, bulges: arcs.bulges });
      }
    }
    for (const { behind, place, bulges } of joints.sort((a, b) => b.behind - a.behind))
      this.insert(behind, place, bulges);
    line.made.sort((a, b) => a.at - b.at);
  }

  private smoothCourses(from: number, to: number): (Direction | null)[] {
    const at = (i: number): Place => vertex(this.line, i);
    const out: (Direction | null)[] = [];
    for (let i = from; i <= to; i++) {
      if (i > from && i < to) out.push(directionThrough(at(i - 1), at(i), at(i + 1)));
      else {
        const [a, b, c] = i === from ? [i, i + 1, i + 2] : [i - 2, i - 1, i];
        const middle = directionThrough(at(a), at(b), at(c));
        const chord = i === from ? directionOf(at(a), at(b)) : directionOf(at(b), at(c));
        out.push(middle && chord ? mirrored(middle, chord) : null);
      }
    }
    return out;
  }

  private insert(behind: number, place: Place, bulges: [number, number]): void {
    const { line } = this;
    const at = behind + 1;
    for (const m of line.made) if (m.at >= at) m.at++;
    const [p, q] = [vertex(line, behind), vertex(line, at)];
    const before = distance(place.x - p.x, place.y - p.y);
    const share = before / (before + distance(q.x - place.x, q.y - place.y));
    const [from, to] = [line.rows[behind], line.rows[at]];
    line.x.splice(at, 0, place.x);
    line.y.splice(at, 0, place.y);
    line.rows.splice(at, 0, -1);
    line.why.splice(at, 0, WHY.joint);
    line.sides.splice(at, 0, line.sides[behind]);
    line.bulges.splice(behind, 1, bulges[0], bulges[1]);
    if (from >= 0 && to >= 0) line.made.push({ at, from, to, share, rise: 0 });
  }

  private beside(): Line[] {
    const { line, code, course } = this;
    const out: Line[] = [];
    const said = course.steps.flatMap((s) => s.words.filter((w) => w.meaning === 'offset' && w.lengths.length));
    said.slice(0, 20).forEach(
      (w, i) =>
      out.push(parallelOf(line, w.lengths[0], w.lengths[1] ?? 0, { key: `${line.key}/${i + 1}`, code: line.code, lineNumber: line.lineNumber, why: WHY.offset })), // prettier-ignore
    );
    for (const o of code?.offsets ?? [])
      out.push(parallelOf(line, o.across, o.height, { key: `${line.key}/${o.code}`, code: o.code.toUpperCase(), lineNumber: line.lineNumber, why: WHY.codeOffset })); // prettier-ignore
    return out;
  }

  /** Follows a curve while each further shot keeps about the curvature of its first three. */
  private likelyEnd(from: number): number {
    const count = this.line.x.length;
    const at = (i: number): Place => vertex(this.line, i);
    if (from + 2 >= count) return count - 1;
    // Bulge over length follows curvature closely enough to see where a course turns straight.
    const turnPerMetre = (i: number): number => {
      const [a, b, c] = [at(i), at(i + 1), at(i + 2)];
      const length = distance(b.x - a.x, b.y - a.y) + distance(c.x - b.x, c.y - b.y);
      return length > 0 ? bulgeThrough(a, b, c) / length : 0;
    };
    const first = turnPerMetre(from);
    let end = from + 2;
    while (end + 1 < count) {
      const next = turnPerMetre(end - 1);
      if (Math.sign(next) !== Math.sign(first) || Math.abs(next) < Math.abs(first) / 2) break;
      end++;
    }
    return end;
  }
}

function beginOf(words: readonly SaidWord[]): CurveKind | null {
  for (const { meaning } of words) {
    if (meaning === 'curveBegin') return 'through';
    if (meaning === 'tangentBegin') return 'tangent';
    if (meaning === 'smoothBegin') return 'smooth';
  }
  return null;
}
