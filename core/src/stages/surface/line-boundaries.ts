import { drawnPieces, fileOfLine, type Line } from '#core/linework';
import { pointInRing, ringArea } from '#core/kernel';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import type { PointTable } from '../points/points.ts';

/** The rim and the voids that closed lines make, as rings in plan. */
export interface LineBoundary {
  rim: Float64Array;
  voids: Float64Array[];
  /** Closed lines that are neither: they lie outside the rim. */
  outside: number;
}

type Row = Extract<SurfaceRow, { kind: 'line-boundary' }>;

/** What each row of a recipe that bounds by lines finds; a row whose codes have no closed line finds none. */
export function lineBoundaries(
  doc: Pick<ProjectDocument, 'intakes' | 'settings'>,
  recipe: SurfaceRecipe,
  points: Pick<PointTable, 'intake'>,
  lines: readonly Line[],
): ReadonlyMap<string, LineBoundary> {
  const out = new Map<string, LineBoundary>();
  for (const row of recipe.rows) {
    if (row.kind !== 'line-boundary' || !row.on) continue;
    const found = boundaryBy(ringsFor(doc, row, points, lines));
    if (found) out.set(row.id, found);
  }
  return out;
}

function ringsFor(
  { intakes, settings: { sagitta } }: Pick<ProjectDocument, 'intakes' | 'settings'>,
  { codes, files }: Row,
  points: Pick<PointTable, 'intake'>,
  lines: readonly Line[],
): Float64Array[] {
  const wanted = new Set(codes.map((c) => c.toUpperCase()));
  const from = files && new Set(files);
  const isFrom = (line: Line): boolean => {
    const file = fileOfLine(line, points.intake);
    return !from || (file >= 0 && from.has(intakes[file].id));
  };
  return lines
    .filter((l) => l.closed && wanted.has(l.code.toUpperCase()) && isFrom(l))
    .flatMap((l) =>
      drawnPieces(l, l.x, sagitta, 'with').flatMap(({ places, closed }) => (closed ? [inPlan(places)] : [])),
    )
    .filter((ring) => ring.length >= 6 && Math.abs(ringArea(ring)) > 0);
}

const inPlan = (spatial: readonly number[]): Float64Array => Float64Array.from(spatial.filter((_, i) => i % 3 !== 2));

function boundaryBy(rings: readonly Float64Array[]): LineBoundary | null {
  // Of two as large, the one whose first place is further west, then south: what is stored first decides nothing.
  const [rim, ...others] = [...rings].sort((a, b) => Math.abs(ringArea(b)) - Math.abs(ringArea(a)) || a[0] - b[0] || a[1] - b[1]); // prettier-ignore
  if (!rim) return null;
  const voids = others.filter((r) => pointInRing(rim, r[0], r[1]));
  return { rim, voids, outside: others.length - voids.length };
}
