import { onceFor } from '#core/kernel';
import type { Linework } from '#core/linework';
import { measureSurface, type Surface, type SurfaceMeasures } from '#core/terrain';
import type { ProjectDocument, SurfaceRole } from '#core/project';
import type { Query } from '#core/queries';
import { isSurvey, STATE, type SurfaceAccount } from '#core/stages';
import type { ChainResult } from './chain-run.ts';

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

export function summarise(doc: ProjectDocument, result: ChainResult): ChainSummary {
  let control = 0;
  let waiting = 0;
  let used = 0;
  for (let row = 0; row < result.points.x.length; row++) {
    if (doc.intakes[result.points.intake[row]].purpose === 'control') control++;
    else if (result.points.state[row] === STATE.waits) waiting++;
    else if (result.points.state[row] === STATE.used && isSurvey(doc, result.points, row)) used++;
  }
  return {
    control,
    setups: {
      all: result.reduction?.setups.length ?? 0,
      waiting: result.reduction?.setups.filter((s) => s.waits).length ?? 0,
      failed: result.reduction?.setups.filter((s) => s.failed).length ?? 0,
    },
    points: used,
    waiting,
    lines: result.linework.lines.length,
    linePoints: linePoints(result.linework),
    surfaces: result.surfaces.map(({ id, name, role, surface, account }) => {
      const contours = result.contours.get(id);
      return {
        id,
        name,
        role,
        ...measured(surface),
        account,
        contours: contours?.list.length ?? 0,
        contourProblem: contours?.problem ?? null,
      };
    }),
    comparisons: result.comparisons.map((c) => {
      if (!c.ok) return c;
      const { cut, fill, cutArea, fillArea, area } = c.volume;
      return { id: c.id, ok: true as const, cut, fill, cutArea, fillArea, area };
    }),
    queries: result.queries,
  };
}

const measured = onceFor((surface: Surface) => measureSurface(surface));
const linePoints = onceFor(({ lines }: Linework) => new Set(lines.flatMap((l) => l.rows.filter((r) => r >= 0))).size);
