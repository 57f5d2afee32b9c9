import type { ProjectDocument, SurfaceRecipe, SurfaceRole } from '#core/project';
import { clipToRing, NO_POINT, planSurface, raiseSurface, type Surface, type SurfacePlan } from '#core/terrain';
import type { Line } from '#core/linework';
import type { PointTable } from '../points/points.ts';
import type { SurfaceAccount } from './account.ts';
import { raiseReceived, type ReceivedPlan } from './received.ts';
import { elevationsOf, layOutSurface, type PlanInput, type SurfaceLayout } from './layout.ts';

/** A surface as its recipe makes it. */
export interface BuiltSurface {
  id: string;
  name: string;
  role: SurfaceRole;
  /** `point` of a vertex is a row of the point table, or NO_POINT on arcs and boundaries. */
  surface: Surface;
  account: SurfaceAccount;
}

/** Whoever keeps triangles from one time to the next: a surface whose heights alone changed has the same. */
export type KeepPlan = (name: string, input: PlanInput, make: (input: PlanInput) => SurfacePlan) => SurfacePlan;

/** @param layout what the recipe brings in, where it is known already */
export function buildSurface(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  points: PointTable,
  lines: readonly Line[],
  keep: KeepPlan = (_, input, make) => make(input),
  layout: SurfaceLayout = layOutSurface(doc, recipe, points, lines),
): BuiltSurface {
  const { rows, input, leftOut } = layout;
  const built = raiseSurface(keep(recipe.id, input, planSurface), elevationsOf(layout, points));
  const effect = { ...layout.effect };
  let surface = cutByBoundaries(recipe, built.surface, effect);
  surface = { ...surface, point: rowsOfVertices(surface.point, rows) };
  const { coincident, tooLong, crossings } = built.account;
  const pairs: [number, number][] = [];
  for (let i = 0; i < coincident.length; i += 2) {
    const [a, b] = [coincident[i], coincident[i + 1]];
    if (a < rows.length && b < rows.length) pairs.push([rows[a], rows[b]]);
  }
  const lineAt = crossings.length > 0 ? linesAtSegments(layout) : new Map<string, string>();
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface,
    account: {
      points: rows.length,
      lines: layout.lines,
      chordPoints: input.x.length - rows.length,
      leftOut,
      coincident: pairs,
      tooLong,
      crossings: crossings.map((c) => ({
        ...c,
        keptLine: lineAt.get(`${c.kept[0]} ${c.kept[1]}`) ?? '',
        leftOutLine: layout.segmentLine[c.segment] ?? '',
      })),
      rows: effect,
    },
  };
}

/** A surface inside the boundaries of its recipe; each says how many triangles it took. */
function cutByBoundaries(recipe: SurfaceRecipe, whole: Surface, effect: SurfaceAccount['rows']): Surface {
  let surface = whole;
  for (const row of recipe.rows) {
    if (row.kind !== 'boundary' || !row.on) continue;
    const before = surface.triangles.length;
    surface = clipToRing(surface, Float64Array.from(row.ring));
    effect[row.id] = (before - surface.triangles.length) / 3;
  }
  return surface;
}

/** A surface of triangles as received: what other rows bring has no part in it. */
export function buildReceived(
  recipe: SurfaceRecipe,
  row: string,
  plan: ReceivedPlan,
  points: PointTable,
): BuiltSurface {
  const effect: SurfaceAccount['rows'] = { [row]: plan.triangles.length / 3 };
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface: cutByBoundaries(recipe, raiseReceived(plan, points), effect),
    account: {
      points: plan.vertices - plan.leftOut.reduce((n, { count }) => n + count, 0),
      lines: 0,
      chordPoints: 0,
      leftOut: plan.leftOut,
      coincident: [],
      tooLong: 0,
      crossings: [],
      rows: effect,
    },
  };
}

/** Rows of the point table that vertices stand for; the same as long as plan and rows are. */
function rowsOfVertices(point: Uint32Array, rows: Uint32Array): Uint32Array {
  const before = rowsAt.get(point);
  if (before?.rows === rows) return before.made;
  const made = point.map((i) => (i === NO_POINT || i >= rows.length ? NO_POINT : rows[i]));
  rowsAt.set(point, { rows, made });
  return made;
}
const rowsAt = new WeakMap<Uint32Array, { rows: Uint32Array; made: Uint32Array }>();

/** The line of a segment by its two ends, either way round; found once for a layout. */
function linesAtSegments(layout: SurfaceLayout): Map<string, string> {
  const before = linesAt.get(layout);
  if (before) return before;
  const { input: { segments }, segmentLine } = layout; // prettier-ignore
  const lineAt = new Map<string, string>();
  segmentLine.forEach((line, i) => {
    lineAt.set(`${segments[2 * i]} ${segments[2 * i + 1]}`, line);
    lineAt.set(`${segments[2 * i + 1]} ${segments[2 * i]}`, line);
  });
  linesAt.set(layout, lineAt);
  return lineAt;
}
const linesAt = new WeakMap<SurfaceLayout, Map<string, string>>();
