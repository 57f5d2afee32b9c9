import { dayOf } from '#core/book';
import { pointInRing } from '#core/kernel';
import { codeReader, type PointRule, type PointSet, type ProjectDocument } from '#core/project';
import { STATE, type PointTable } from './points.ts';

/** What a set is asked of: the point table, or the page's columns of it. */
export interface SetPoints {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  intake: ArrayLike<number>;
  fileRow: ArrayLike<number>;
  state: ArrayLike<number>;
  number: (row: number) => string;
  description: (row: number) => string;
  /** Day of the observation, year month day as one number; 0 where none was said. */
  date: ArrayLike<number>;
}

/** 1 for every row that belongs to the set; points that are left out belong to none. */
export function membersOf(set: PointSet, doc: ProjectDocument, points: SetPoints): Uint8Array {
  const out = new Uint8Array(points.x.length);
  const meets = meetsRule(set.rule, doc, points);
  const [more, without] = [new Set(set.more), new Set(set.without)];
  const byHand = more.size > 0 || without.size > 0;
  for (let row = 0; row < out.length; row++) {
    if (points.state[row] === STATE.off || points.state[row] === STATE.leftOut) continue;
    let is = !set.byHandOnly && meets(row);
    if (byHand) {
      const k = `${doc.intakes[points.intake[row]].id}:${points.fileRow[row]}`;
      is = (is || more.has(k)) && !without.has(k);
    }
    if (is) out[row] = 1;
  }
  return out;
}

/** Whether a row meets every part of a rule. */
export function meetsRule(rule: PointRule, doc: ProjectDocument, points: SetPoints): (row: number) => boolean {
  const { files, codes, numbers, area, elevations, dates } = rule;
  const parts: ((row: number) => boolean)[] = [];
  if (files?.length) {
    const on = doc.intakes.map((i) => files.includes(i.id));
    parts.push((row) => on[points.intake[row]]);
  }
  if (numbers) parts.push((row) => /^\d+$/.test(points.number(row)) && between(Number(points.number(row)), numbers));
  if (elevations) parts.push((row) => between(points.z[row], elevations));
  if (area) {
    const ring = Float64Array.from(area);
    parts.push((row) => pointInRing(ring, points.x[row], points.y[row]));
  }
  if (dates) {
    const [from, to] = dates.map(dayOf);
    parts.push((row) => points.date[row] > 0 && points.date[row] >= from && points.date[row] <= (to || Infinity));
  }
  if (codes?.length) parts.push(hasCode(codes, doc, points));
  return (row) => parts.every((part) => part(row));
}

const between = (v: number, [a, b]: readonly [number, number]): boolean => v >= Math.min(a, b) && v <= Math.max(a, b);

function hasCode(codes: readonly string[], doc: ProjectDocument, points: SetPoints): (row: number) => boolean {
  const itemsOf = codeReader(doc);
  const patterns = codes.map((c) => c.toUpperCase());
  return (row) =>
    itemsOf(points.description(row), points.intake[row]).some((i) => patterns.some((p) => matches(p, i.code)));
}

/** Whether a text is as a pattern says, * standing for any letters; in one pass, whatever the pattern. */
export function matches(pattern: string, text: string): boolean {
  let [p, t] = [0, 0];
  let star = -1;
  let from = 0;
  while (t < text.length) {
    if (p < pattern.length && pattern[p] === '*') {
      star = p++;
      from = t;
    } else if (p < pattern.length && pattern[p] === text[t]) {
      p++;
      t++;
    } else if (star >= 0) {
      p = star + 1;
      t = ++from;
    } else return false;
  }
  while (pattern[p] === '*') p++;
  return p === pattern.length;
}

export const setPointsOf = (points: PointTable): SetPoints => ({
  ...points,
  number: (row) => points.number[row],
  description: (row) => points.description[row],
});

/** A point as it stands best for one number: control before the mean of several measurements before a single one. */
export interface BestPoint {
  rows: number[];
  x: number;
  y: number;
  z: number;
  kind: 'control' | 'mean' | 'single';
}

/** One entry a number, in the order in which numbers first occur; points without a number stay as they are. */
export function bestOfEach(doc: ProjectDocument, points: SetPoints, rows: readonly number[]): BestPoint[] {
  const byNumber = new Map<string, number[]>();
  for (const row of rows) {
    const id = points.number(row) || `row ${row}`;
    const list = byNumber.get(id);
    if (list) list.push(row);
    else byNumber.set(id, [row]);
  }
  return [...byNumber.values()].map((list) => {
    const control = list.find((r) => doc.intakes[points.intake[r]].purpose === 'control');
    if (control !== undefined)
      return { rows: [control], x: points.x[control], y: points.y[control], z: points.z[control], kind: 'control' };
    const mean = (v: ArrayLike<number>): number => {
      const known = list.map((r) => v[r]).filter((n) => !Number.isNaN(n));
      return known.length ? known.reduce((a, b) => a + b, 0) / known.length : NaN;
    };
    return { rows: list, x: mean(points.x), y: mean(points.y), z: mean(points.z), kind: list.length > 1 ? 'mean' : 'single' }; // prettier-ignore
  });
}

/** Turning, scaling and shifting in plan about a place, with a shift in height: what a person does to points by figures. */
export interface MoveByFigures {
  about: { x: number; y: number };
  /** Radians, clockwise. */
  turn: number;
  scale: number;
  shift: { x: number; y: number; z: number };
}

export function movedByFigures(
  m: MoveByFigures,
  sinTurn: number,
  cosTurn: number,
  x: number,
  y: number,
  z: number,
): { x: number; y: number; z: number } {
  // prettier-ignore
  const [dx, dy] = [(x - m.about.x) * m.scale, (y - m.about.y) * m.scale];
  return {
    x: m.about.x + dx * cosTurn + dy * sinTurn + m.shift.x,
    y: m.about.y - dx * sinTurn + dy * cosTurn + m.shift.y,
    z: z + m.shift.z,
  };
}
