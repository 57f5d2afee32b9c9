import { distance } from '#core/kernel';
import {
  indexCodes,
  readDescription,
  UNKNOWN_LAYER,
  type Code,
  type CodeIndex,
  type CodeItem,
  type CodeList,
} from '#core/codes';
import { bulgesOfParts, bulgeThrough, type Place } from './arcs.ts';

/** What the builder needs of the points, as columns in the order of building. */
export interface CodedPoints {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  description: readonly string[];
  /** Points that take part in nothing. */
  off: (row: number) => boolean;
  /** Lines do not run on from one group into the next: a file, a day. Rows of a group stand together. */
  group: (row: number) => number;
}

/** A line that knows its points: `rows[i]` is a point, `bulges[i]` the arc (tan θ/4) of the side that leaves it. */
export interface Line {
  /** Code, line number and how many of that name came before: stable while the points before it are. */
  key: string;
  code: string;
  lineNumber: string;
  closed: boolean;
  rows: number[];
  bulges: number[];
}

export interface OpenCurve {
  line: string;
  beginRow: number;
  /** Where the course turns straight again: the shot that most likely lacks the word. */
  likelyEndRow: number;
}

export interface PointCode {
  row: number;
  code: string;
  known: boolean;
}

export interface Linework {
  lines: Line[];
  /** Codes that mark a point (a symbol), known ones and those that the list lacks. */
  pointCodes: PointCode[];
  openCurves: OpenCurve[];
  /** Lines of one point: a begin without anything after it. */
  single: { line: string; row: number }[];
}

interface OpenLine {
  line: Line;
  curveFrom: number | null;
  curves: [from: number, to: number][];
}

/** Builds lines from coded points in the order given. Deterministic; never throws. */
export function buildLines(points: CodedPoints, list: CodeList): Linework {
  const index = indexCodes(list);
  const open = new Map<string, OpenLine>();
  const named = new Map<string, number>();
  const out: Linework = { lines: [], pointCodes: [], openCurves: [], single: [] };
  const described = new Map<string, CodeItem[]>();

  let group = -1;
  for (let row = 0; row < points.x.length; row++) {
    if (points.group(row) !== group) {
      for (const line of [...open.values()]) finish(line, false);
      group = points.group(row);
    }
    if (points.off(row)) continue;
    for (const item of itemsOf(points.description[row], index, described)) {
      if (item.known?.kind === 'line') addToLine(item, row);
      else out.pointCodes.push({ row, code: item.code, known: item.known !== null });
    }
  }
  for (const line of [...open.values()]) finish(line, false);
  out.lines.sort((a, b) => a.rows[0] - b.rows[0] || (a.key < b.key ? -1 : 1));
  return out;

  function addToLine(item: CodeItem, row: number): void {
    const name = `${item.code}${item.lineNumber}`;
    let current = open.get(name);
    if (current && item.words.includes('begin')) {
      finish(current, false);
      current = undefined;
    }
    if (!current) {
      const times = (named.get(name) ?? 0) + 1;
      named.set(name, times);
      const key = times === 1 ? name : `${name}.${times}`;
      const line: Line = { key, code: item.code, lineNumber: item.lineNumber, closed: false, rows: [], bulges: [] };
      current = { line, curveFrom: null, curves: [] };
      open.set(name, current);
    }
    current.line.rows.push(row);
    const at = current.line.rows.length - 1;
    if (item.words.includes('curveEnd') && current.curveFrom !== null) {
      current.curves.push([current.curveFrom, at]);
      current.curveFrom = null;
    }
    if (item.words.includes('curveBegin') && current.curveFrom === null) current.curveFrom = at;
    if (item.words.includes('close')) finish(current, true);
    else if (item.words.includes('end')) finish(current, false);
  }

  function finish(current: OpenLine, closed: boolean): void {
    const { line } = current;
    open.delete(`${line.code}${line.lineNumber}`);
    const place = (i: number): Place => ({ x: points.x[line.rows[i]], y: points.y[line.rows[i]] });
    line.bulges = new Array<number>(line.rows.length).fill(0);
    for (const [from, to] of current.curves) bendBetween(line.bulges, place, from, to);
    if (current.curveFrom !== null) {
      // A curve that nobody ended is drawn straight: wrong by a sagitta, never wild.
      out.openCurves.push({
        line: line.key,
        beginRow: line.rows[current.curveFrom],
        likelyEndRow: line.rows[likelyEnd(place, current.curveFrom, line.rows.length)],
      });
    }
    if (line.rows.length === 1) {
      out.single.push({ line: line.key, row: line.rows[0] });
      return;
    }
    line.closed = closed && line.rows.length > 2;
    out.lines.push(line);
  }
}

function itemsOf(text: string, index: CodeIndex, seen: Map<string, CodeItem[]>): CodeItem[] {
  let items = seen.get(text);
  if (!items) {
    items = readDescription(text, index).items;
    if (seen.size < 50_000) seen.set(text, items);
  }
  return items;
}

/** Arcs through points from … to, three at a time; an even number left over ends with the arc of the last three. */
function bendBetween(bulges: number[], place: (i: number) => Place, from: number, to: number): void {
  let i = from;
  for (; i + 2 <= to; i += 2) [bulges[i], bulges[i + 1]] = bulgesOfParts(place(i), place(i + 1), place(i + 2));
  if (i + 1 === to && i - 1 >= from) bulges[i] = bulgesOfParts(place(i - 1), place(i), place(i + 1))[1];
}

/** Follows a curve while each further shot keeps about the curvature of its first three. */
function likelyEnd(place: (i: number) => Place, from: number, count: number): number {
  if (from + 2 >= count) return count - 1;
  // Bulge over length follows curvature closely enough to see where a course turns straight.
  const turnPerMetre = (i: number): number => {
    const [a, b, c] = [place(i), place(i + 1), place(i + 2)];
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

/** The layer that something of this code is drawn on. */
export const layerOf = (code: Code | undefined): string => code?.layer ?? UNKNOWN_LAYER;

/** Chainage of each of a line's points along its chords, from 0; in the unit of `x` and `y`. */
export function chordChainages(line: Pick<Line, 'rows'>, x: ArrayLike<number>, y: ArrayLike<number>): number[] {
  const out = [0];
  for (let i = 1; i < line.rows.length; i++) {
    const [a, b] = [line.rows[i - 1], line.rows[i]];
    out.push(out[i - 1] + distance(x[b] - x[a], y[b] - y[a]));
  }
  return out;
}

/** Length of a line in plan along its chords, the closing side of a closed one included; in the unit of `x` and `y`. */
export function chordLength(line: Pick<Line, 'rows' | 'closed'>, x: ArrayLike<number>, y: ArrayLike<number>): number {
  const n = line.rows.length;
  let sum = 0;
  for (let i = 0; i < (line.closed ? n : n - 1); i++) {
    const [a, b] = [line.rows[i], line.rows[(i + 1) % n]];
    sum += distance(x[b] - x[a], y[b] - y[a]);
  }
  return sum;
}
