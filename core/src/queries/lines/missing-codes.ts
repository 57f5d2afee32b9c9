import { distance } from '#core/kernel';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Linework } from '#core/linework';
import { type ProjectDocument } from '#core/project';
import { settleQuery, MOST_OF_A_KIND, type Query } from '../query.ts';
import { editOne } from '../remedies.ts';
import { pointKey, STATE, type PointTable } from '#core/stages';
import { typedName } from './slip-queries.ts';

/** A shot beside a side by this part of its length still lies on its course. */
const ON_COURSE = 0.1;
const LEAST = 0.05;

/**
 * Shots without a code, taken between two that follow each other on one line and lying on its course: the code was
 * forgotten, and the line goes by.
 */
export function queryMissingCodes(doc: ProjectDocument, points: PointTable, work: Linework): Query[] {
  const { description, intake, state } = points;
  const isCandidate = (row: number): boolean =>
    description[row].trim() === '' &&
    state[row] === STATE.used &&
    points.light[row] === 0 &&
    doc.intakes[intake[row]].purpose !== 'control' &&
    row > 0 &&
    row + 1 < description.length &&
    intake[row - 1] === intake[row] &&
    intake[row + 1] === intake[row];
  const candidates: number[] = [];
  for (let row = 0; row < description.length; row++) if (isCandidate(row)) candidates.push(row);
  if (candidates.length === 0) return [];
  const sides = new Map<string, Linework['lines'][number]>();
  for (const line of work.lines)
    for (let i = 0; i + 1 < line.rows.length; i++)
      if (line.rows[i] >= 0 && line.rows[i + 1] >= 0) sides.set(`${line.rows[i]} ${line.rows[i + 1]}`, line);
  const { unit } = doc.settings;
  return candidates.flatMap((row) => {
    const line = sides.get(`${row - 1} ${row + 1}`) ?? sides.get(`${row + 1} ${row - 1}`);
    if (!line) return [];
    const off = besideSide(points, row, row - 1, row + 1);
    const length = distance(points.x[row + 1] - points.x[row - 1], points.y[row + 1] - points.y[row - 1]);
    if (!(off <= Math.max(LEAST, ON_COURSE * length))) return [];
    const name = typedName(line.key);
    return [
      settleQuery(doc, {
        key: `code-missing:${pointKey(doc, points, row)}`,
        kind: 'code-missing' as const,
        stage: 'lines' as const,
        weight: 'look' as const,
        text: `Point ${points.number[row] || `in row ${points.fileRow[row]}`} has no code. It was taken between two shots of line ${line.key} and is ${formatLength(off, unit, 2)} ${UNIT_SIGN[unit]} from its course: was the code forgotten?`,
        evidence: [points.x[row], points.y[row], line.key],
        place: { x: points.x[row], y: points.y[row] },
        rows: [row],
        lines: [line.key],
        remedies: [
          { label: `Its code is ${name}`, change: editOne(pointKey(doc, points, row), { description: name }) },
        ],
      }),
    ];
  }).slice(0, MOST_OF_A_KIND); // prettier-ignore
}

function besideSide(p: PointTable, row: number, from: number, to: number): number {
  const [dx, dy] = [p.x[to] - p.x[from], p.y[to] - p.y[from]];
  const square = dx * dx + dy * dy;
  const [px, py] = [p.x[row] - p.x[from], p.y[row] - p.y[from]];
  const t = square > 0 ? (px * dx + py * dy) / square : -1;
  // Before the first or behind the second it is not between them.
  return t < 0 || t > 1 ? Infinity : distance(px - t * dx, py - t * dy);
}
