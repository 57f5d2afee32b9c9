import { hashOnce, onceFor } from '#core/kernel';
import type { Linework } from '#core/linework';
import { measureSurface, type Surface, type SurfaceMeasures } from '#core/terrain';
import type { ProjectDocument, SurfaceRole } from '#core/project';
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
  STATE,
  surfaceIds,
  surfaceStage,
  type PointTable,
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
  comparisons: ({ id: string } & (
    | { ok: true; cut: number; fill: number; cutArea: number; fillArea: number; area: number }
    | { ok: false; reason: string }
  ))[];
  queries: Query[];
}

/** Figures of a revision, and all that is asked about it. */
export const summaryStage: Stage<ChainSummary> = {
  name: 'summary',
  doing: () => 'looking for slips',
  version: 17,
  subjects: () => ONE,
  inputs: (doc) => [
    ...readsOf(doc.intakes),
    ...[pointsStage, reductionStage, codedLinesStage, linesStage].map(one),
    ...[surfaceStage, contoursStage].flatMap((stage) => each(stage, surfaceIds(doc))),
    ...each(comparisonStage, doc.comparisons.map((c) => c.id)), // prettier-ignore
  ],
  // Queries ask about anything.
  settings: ({ edits, drawing: _, pointSets: __, ...doc }) => [
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
      const { cut, fill, cutArea, fillArea, area } = c.volume;
      return { id, ok: true as const, cut, fill, cutArea, fillArea, area };
    }),
    queries: askAll(context),
  };
}

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
