import { hashValue, before } from '#core/kernel';
import { indexCodes } from '#core/codes';
import { courseSlips, lineOfCourse, parallelOf, WHY, type Line, type Linework } from '#core/linework';
import type { HandLine, ProjectDocument } from '#core/project';
import { pointKey, STATE, type PointTable } from '../points/points.ts';

/** What a line by codes goes through, so that a line by hand knows when its codes say something else. */
export const courseKey = (
  doc: ProjectDocument,
  points: Pick<PointTable, 'intake' | 'fileRow'>,
  line: Pick<Line, 'rows' | 'closed'>,
): string => hashValue([line.closed, line.rows.map((r) => (r >= 0 ? pointKey(doc, points, r) : null))]).slice(0, 16);

/** Points that lines went through before these were tied to others. */
export const tiedFrom = (doc: Pick<ProjectDocument, 'handLines'>): string[] =>
  Object.values(doc.handLines)
    .flatMap((h) => h.insteadOf ?? [])
    .sort();

/** In an order of their own: a store gives an object's keys back in its own. */
export const handEntries = (doc: ProjectDocument): [string, ProjectDocument['handLines'][string]][] =>
  Object.entries(doc.handLines).sort(([a], [b]) => (a < b ? -1 : 1));

/** Lines by hand laid over those by codes: they stand in the place of the lines that they were made of. */
export function layHandLines(doc: ProjectDocument, points: PointTable, coded: Linework): Linework {
  const entries = handEntries(doc);
  if (entries.length === 0) return coded;
  const replaced = new Set(entries.flatMap(([, h]) => (h.replaces ? [h.replaces.key] : [])));
  const stays = (key: string): boolean => !replaced.has(key) && !replaced.has(before(key, '/'));
  const rowOf = rowFinder(doc, points);
  const { byCode } = indexCodes(doc.codeList);
  const lines = coded.lines.filter((l) => stays(l.key));
  const slips = coded.slips.filter((s) => !('line' in s) || stays(s.line));
  for (const [key, hand] of entries) {
    const line = lineOf(key, hand, fileOf(doc, hand), rowOf, points);
    if (line.x.length < 2) continue;
    lines.push(line);
    slips.push(...courseSlips(line));
    for (const o of byCode.get(hand.code)?.offsets ?? [])
      lines.push(parallelOf(line, o.across, o.height, { key: `${key}/${o.code}`, code: o.code.toUpperCase(), lineNumber: hand.lineNumber, why: WHY.codeOffset })); // prettier-ignore
  }
  return { ...coded, lines, slips };
}

const lineOf = (
  key: string,
  hand: HandLine,
  file: number,
  rowOf: (point: string) => number,
  points: PointTable,
): Line =>
  lineOfCourse(
    hand,
    { key, code: hand.code, lineNumber: hand.lineNumber, ...(file < 0 ? {} : { file }) },
    rowOf,
    (row) => ({ x: points.x[row], y: points.y[row] }),
  ).line;

/** The file that a line by hand says it belongs to, among the project's; −1 where it says none or it is gone. */
const fileOf = ({ intakes }: ProjectDocument, { file }: HandLine): number =>
  file === undefined ? -1 : intakes.findIndex((i) => i.id === file);

/** Rows of used points by their keys. */
export function rowFinder(doc: ProjectDocument, points: PointTable): (key: string) => number {
  const rows = new Map<string, number>();
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used) rows.set(pointKey(doc, points, row), row);
  return (key) => rows.get(key) ?? -1;
}
