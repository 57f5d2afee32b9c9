import type { ReadPoints, RefusedRow } from '#core/exchange';
import { hashOnce, onceFor } from '#core/kernel';
import type { Linework } from '#core/linework';
import { measureSurface, type Surface, type SurfaceMeasures } from '#core/terrain';
import type { ProjectDocument, SurfaceRole } from '#core/project';
import type { Volume } from '#core/quantities';
import type { Query } from '#core/queries';
import {
  codedLinesStage,
  comparisonStage,
  contoursStage,
  each,
  editsKey,
  isSurvey,
  linesStage,
  one,
  ONE,
  pointsStage,
  readsOf,
  reductionStage,
  seriesStage,
  STATE,
  surfaceIds,
  surfaceStage,
  type Compared,
  type PointTable,
  type SeriesResult,
  type Stage,
  type StageContext,
  type SurfaceAccount,
} from '#core/stages';
import { askAll } from './asking.ts';

/** Figures of a revision for the run and the project list: small, whatever the size of the survey. */
export interface ChainSummary {
  control: number;
  /** Setups of books, and those that wait or could not be reduced. */
  setups: { all: number; waiting: number; failed: number };
  points: number;
  waiting: number;
  lines: number;
  linePoints: number;
  surfaces: (SurfaceMeasures & {
    id: string;
    name: string;
    role: SurfaceRole;
    account: SurfaceAccount;
    contours: number;
    contourProblem: string | null;
  })[];
  comparisons: ((Omit<Compared, 'volume'> & Volume) | { id: string; ok: false; reason: string })[];
  series: SeriesResult[];
  /** What was read of each file, in the order of the document. */
  files: FileAccount[];
  queries: Query[];
}

/** What became of a file's rows. */
export interface FileAccount {
  id: string;
  rows: number;
  /** Points, or records of a book. */
  read: number;
  blank: number;
  refused: number;
  /** The first rows that were not read, with why. */
  first: Pick<RefusedRow, 'row' | 'reason'>[];
  /** Why nothing could be read at all. */
  failure: string | null;
}

/** So many refused rows are told with their reasons. */
const MOST_REASONS = 5;

/** Figures of a revision, and all that is asked about it. */
export const summaryStage: Stage<ChainSummary> = {
  name: 'summary',
  doing: () => 'looking for slips',
  version: 27,
  subjects: () => ONE,
  inputs: (doc) => [
    ...readsOf(doc.intakes),
    ...[pointsStage, reductionStage, codedLinesStage, linesStage].map(one),
    ...[surfaceStage, contoursStage].flatMap((stage) => each(stage, surfaceIds(doc))),
    ...each(comparisonStage, doc.comparisons.map((c) => c.id)), // prettier-ignore
    ...each(seriesStage, doc.series.map((s) => s.id)), // prettier-ignore
  ],
  // Queries ask about anything.
  settings: ({ edits, drawing: _, pointSets: __, handVolumes: ___, ...doc }) => [
    editsKey({ edits }),
    Object.fromEntries(Object.entries(doc).map(([name, part]) => [name, hashOnce(part)])),
  ],
  run: summarise,
  pack: (summary) => new TextEncoder().encode(JSON.stringify(summary)),
};

function summarise(context: StageContext): ChainSummary {
  const { doc, result, memory } = context;
  const { points } = result(pointsStage);
  const linework = result(linesStage);
  const setups = result(reductionStage)?.reduction.setups ?? [];
  const purposes = doc.intakes.map((i) => i.purpose);
  const counts = memory.keep('counts', [points.state, points.intake, purposes], () => countPoints(doc, points));
  return {
    ...counts,
    setups: {
      all: setups.length,
      waiting: setups.filter((s) => s.waits).length,
      failed: setups.filter((s) => s.failed).length,
    },
    lines: linework.lines.length,
    linePoints: linePoints(linework),
    surfaces: doc.surfaces.map(({ id }) => {
      const { name, role, surface, account } = result(surfaceStage, id);
      const { list, problem } = result(contoursStage, id);
      return { id, name, role, ...measured(surface), account, contours: list.length, contourProblem: problem };
    }),
    comparisons: doc.comparisons.map(({ id }) => {
      const c = result(comparisonStage, id);
      if (!c.ok) return c;
      // Its pieces are kept as columns.
      const { volume, ...rest } = c;
      const { pieces: _, ...figures } = volume;
      return { ...rest, ...figures };
    }),
    series: doc.series.map(({ id }) => result(seriesStage, id)),
    files: doc.intakes.map((i) => accountOf(i.id, context.readOf(i))),
    queries: askAll(context),
  };
}

const accountOf = (id: string, read: ReadPoints): FileAccount => ({
  id,
  rows: read.rows,
  read: read.book?.records.length ?? read.x.length,
  blank: read.blank,
  refused: read.refusedCount,
  first: read.refused.slice(0, MOST_REASONS).map(({ row, reason }) => ({ row, reason })),
  failure: read.failure ?? null,
});

function countPoints(doc: ProjectDocument, points: PointTable): Pick<ChainSummary, 'control' | 'points' | 'waiting'> {
  let [control, waiting, used] = [0, 0, 0];
  for (let row = 0; row < points.x.length; row++) {
    if (doc.intakes[points.intake[row]].purpose === 'control') control++;
    else if (points.state[row] === STATE.waits) waiting++;
    else if (points.state[row] === STATE.used && isSurvey(doc, points, row)) used++;
  }
  return { control, points: used, waiting };
}

const measured = onceFor((surface: Surface) => measureSurface(surface));
const linePoints = onceFor(({ lines }: Linework) => new Set(lines.flatMap((l) => l.rows.filter((r) => r >= 0))).size);
