import {
  findPairs,
  pairPlaces,
  runsOf,
  withLevels,
  type LevelPoints,
  type Line,
  type Pair,
  type Run,
} from '#core/linework';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { makeAnew, type Keep } from '#core/kernel';
import { type ProjectDocument, codeReader } from '#core/project';
import { settleQuery, type Query } from '../query.ts';
import { pointKey, STATE, type PointTable } from '#core/stages';

type Levels = Pick<PointTable, 'x' | 'y' | 'z' | 'description' | 'state' | 'intake'>;

function levelPoints(doc: ProjectDocument, points: Levels): LevelPoints {
  const itemsOf = codeReader(doc);
  return {
    x: points.x,
    y: points.y,
    z: points.z,
    off: (row) => points.state[row] !== STATE.used || doc.intakes[points.intake[row]]?.purpose === 'control',
    itemsOf: (row) => itemsOf(points.description[row], points.intake[row]),
  };
}

/** Two levels in one place, by the codes of the list. */
export const pairsOf = (doc: ProjectDocument, points: Levels): Pair[] =>
  findPairs(levelPoints(doc, points), doc.settings.pairReach);

/** Codes whose lines are pipes: they run from one chamber to the next. */
export const pipeCodes = (doc: ProjectDocument): Set<string> =>
  new Set(doc.codeList.codes.filter((c) => c.kind === 'line' && c.pipe).map((c) => c.code.toUpperCase()));

export const pipeRuns = (doc: ProjectDocument, points: Levels, lines: readonly Line[], pairs: readonly Pair[]): Run[] =>
  runsOf(lines, pipeCodes(doc), pairs, levelPoints(doc, points), doc.settings.pairReach);

/** Pairs whose lower point lies above its upper one. */
export function queryPairs(doc: ProjectDocument, points: PointTable, keep: Keep = makeAnew): Query[] {
  if (!doc.codeList.codes.some((c) => c.lower)) return [];
  const { x, y, z, description, intake, state } = points;
  const { pairReach } = doc.settings;
  const files = doc.intakes.map((i) => [i.purpose, i.words ?? null]);
  const places = keep('pairs of levels', [doc.codeList, files, pairReach, x, y, description, intake, state], () => pairPlaces(levelPoints(doc, points), pairReach)); // prettier-ignore
  const { unit } = doc.settings;
  const name = (row: number): string => points.number[row] || `in row ${points.fileRow[row]}`;
  return withLevels(places, z)
    .filter((p) => p.lower >= 0 && p.bottom > p.top)
    .slice(0, 100)
    .map((p) =>
      settleQuery(doc, {
        key: `pair-wrong:${pointKey(doc, points, p.lower)}`,
        kind: 'pair-wrong',
        stage: 'lines',
        weight: 'look',
        text: `${p.lowerCode} ${name(p.lower)} is ${formatLength(p.bottom - p.top, unit, 2)} ${UNIT_SIGN[unit]} above ${p.code} ${name(p.upper)}, under which it belongs. Were their codes swapped?`,
        evidence: [p.top, p.bottom],
        place: { x: points.x[p.lower], y: points.y[p.lower] },
        rows: [p.lower, p.upper],
        lines: [],
        remedies: [],
      }),
    );
}
