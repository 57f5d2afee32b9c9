import { atan2, difference, distance } from '#core/kernel';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Linework } from '#core/linework';
import type { ProjectDocument } from '#core/project';
import { settleQuery, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';
import { pointKey, type PointTable } from '#core/stages';

/** Turns, radians: a course that goes on, and one that leaves and comes back. */
const GOES_ON = 0.3;
const LEAVES = 0.7;
const LEAST = 0.3;
const MOST = 100;

type Line = Linework['lines'][number];

/**
 * Shots that stand beside their line's course: with them it leaves and comes back, without them it goes on. A bend is
 * none, since its course turns without the bend's point too. Where another line passes through the shot, its code is
 * the likely one.
 */
export function queryCourses(doc: ProjectDocument, points: PointTable, work: Linework): Query[] {
  const out: Query[] = [];
  for (const line of work.lines)
    for (const found of offCourse(points, line)) {
      if (out.length >= MOST) return out;
      out.push(ask(doc, points, work, line, found));
    }
  return out;
}

interface OffCourse {
  row: number;
  off: number;
}

function offCourse(points: PointTable, line: Line): OffCourse[] {
  const { rows, bulges } = line;
  // A corner that was made stands where its line wants it.
  if (rows.length < 6 || rows.some((r) => r < 0)) return [];
  const offs = rows.map((_, i) => (i === 0 || i === rows.length - 1 ? 0 : beside(points, rows, i)));
  const out: OffCourse[] = [];
  for (let i = 2; i + 2 < rows.length; i++) {
    // Arcs bend on purpose.
    if ([i - 2, i - 1, i, i + 1].some((k) => bulges[k])) continue;
    const [before, a, p, c, after] = [i - 2, i - 1, i, i + 1, i + 2].map((k) => rows[k]);
    if (Math.abs(turn(points, before, a, c)) > GOES_ON || Math.abs(turn(points, a, c, after)) > GOES_ON) continue;
    if (Math.abs(turn(points, a, p, c)) < LEAVES) continue;
    const others = offs.filter((_, k) => k > 0 && k < rows.length - 1 && Math.abs(k - i) > 1).sort((x, y) => x - y);
    const usual = others[others.length >> 1] ?? 0;
    if (offs[i] > Math.max(LEAST, 4 * usual)) out.push({ row: p, off: offs[i] });
  }
  return out;
}

const direction = (p: PointTable, from: number, to: number): number => atan2(p.x[to] - p.x[from], p.y[to] - p.y[from]);
const turn = (p: PointTable, a: number, b: number, c: number): number =>
  difference(direction(p, b, c) - direction(p, a, b));

/** How far a vertex stands beside the straight between its neighbours. */
const beside = (p: PointTable, rows: ArrayLike<number>, i: number): number =>
  besideChord(p, rows[i], rows[i - 1], rows[i + 1]);

function besideChord(p: PointTable, row: number, from: number, to: number): number {
  const [dx, dy] = [p.x[to] - p.x[from], p.y[to] - p.y[from]];
  const square = dx * dx + dy * dy;
  const [px, py] = [p.x[row] - p.x[from], p.y[row] - p.y[from]];
  const t = square > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / square)) : 0;
  return distance(px - t * dx, py - t * dy);
}

function ask(doc: ProjectDocument, points: PointTable, work: Linework, line: Line, { row, off }: OffCourse): Query {
  const key = pointKey(doc, points, row);
  const { unit } = doc.settings;
  const other = passing(points, work, line, row, off);
  const name = points.number[row] || `in row ${points.fileRow[row]}`;
  const code = (l: Line): string => l.key.replace(/\.\d+$/, '');
  const remedies: Remedy[] = [{ label: 'Exclude the shot', change: editOne(key, { off: true }) }];
  if (other)
    remedies.unshift({
      label: `Its code is ${code(other)}`,
      change: editOne(key, { description: recoded(points.description[row], code(line), code(other)) }),
    });
  return settleQuery(doc, {
    key: `off-course:${key}`,
    kind: 'off-course',
    stage: 'lines',
    weight: 'look',
    text: `Point ${name} “${points.description[row]}” is ${formatLength(off, unit, 2)} ${UNIT_SIGN[unit]} off line ${line.key}, which continues without it.${other ? ` Line ${other.key} passes through it: is its code ${code(other)}?` : ''}`,
    evidence: [points.x[row], points.y[row], points.description[row], other?.key ?? null],
    place: { x: points.x[row], y: points.y[row] },
    rows: [row],
    lines: [line.key, ...(other ? [other.key] : [])],
    remedies,
  });
}

/** A line that passes near the shot, by a tenth of how far it stands beside its own. */
function passing(points: PointTable, work: Linework, own: Line, row: number, off: number): Line | null {
  let best: Line | null = null;
  let nearest = Math.max(LEAST / 2, off / 10);
  for (const line of work.lines) {
    if (line === own || line.code === own.code) continue;
    for (let i = 0; i + 1 < line.rows.length; i++) {
      if (line.rows[i] < 0 || line.rows[i + 1] < 0) continue;
      const d = besideChord(points, row, line.rows[i], line.rows[i + 1]);
      if (d < nearest) [best, nearest] = [line, d];
    }
  }
  return best;
}

/** The code of one line put in the place of another's, whatever else the description holds. */
const recoded = (description: string, from: string, to: string): string => {
  const tokens = description.split(/(\s+)/);
  const at = tokens.findIndex((t) => t.toUpperCase() === from);
  if (at < 0) return to;
  tokens[at] = to;
  return tokens.join('');
};
