import type { ProjectDocument, SurfaceRecipe, SurfaceRole } from '#core/project';
import {
  claimOrder,
  fillLevelParts,
  oneAfterOther,
  withPlaces,
  NO_POINT,
  offAt,
  planSurface,
  raiseSurface,
  verticalAccuracy,
  type LevelFill,
  type Surface,
  type SurfacePlan,
} from '#core/terrain';
import type { Line } from '#core/linework';
import type { PointTable } from '../points/points.ts';
import type { CheckShots, SurfaceAccount } from './account.ts';
import { raiseReceived, type ReceivedPlan } from './received.ts';
import { elevationsOf, layOutSurface, type PlanInput, type SurfaceLayout } from './layout.ts';
import { editByHand } from './by-hand.ts';
import { lineBoundaries } from './line-boundaries.ts';
import { lineMeeting, meetingChoice } from './line-meetings.ts';
import { thinned, type KeepThinned } from './thinned.ts';

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
  keepThin: KeepThinned = (_, make) => make(),
  /** Other surfaces that the recipe is made from, by their ids. */
  others: ReadonlyMap<string, Surface> = new Map(),
): BuiltSurface {
  const effect = { ...layout.effect };
  const { layout: laid, elevations } = thinned(recipe, layout, elevationsOf(layout, points), effect, keepThin);
  const { rows, leftOut } = laid;
  const { x, y } = laid.input;
  const input = { ...laid.input, claim: claimOrder(recipe.keep ?? 'first', x, y, elevations) };
  const choice = meetingChoice(doc, recipe, laid, effect);
  const level = raiseSurface(keep(recipe.id, input, planSurface), elevations, choice);
  const filling = recipe.rows.find((r) => r.kind === 'fill-level' && r.on);
  const fill = filling?.kind === 'fill-level' ? fillLevelParts(level.surface, filling.summit) : null;
  if (fill) effect[filling!.id] = fill.x.length;
  const built = fill?.x.length
    ? raiseSurface(
        keep(`${recipe.id} filled`, withPlaces(input, fill), planSurface),
        oneAfterOther(elevations, fill.z),
        choice,
      )
    : level;
  const surface = { ...built.surface, point: rowsOfVertices(built.surface.point, rows) };
  const { coincident, tooLong, thin, meetings, joined } = built.account;
  const pairs: [number, number][] = [];
  for (let i = 0; i < coincident.length; i += 2) {
    const [a, b] = [coincident[i], coincident[i + 1]];
    if (a < rows.length && b < rows.length) pairs.push([rows[a], rows[b]]);
  }
  const edited = editByHand(recipe, surface, effect, others, lineBoundaries(doc, recipe, points, lines));
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface: edited,
    account: {
      checks: checked(recipe, edited, points, layout.checks),
      points: rows.length,
      lines: layout.lines,
      uneven: layout.uneven,
      contourFaults: layout.contourFaults,
      chordPoints: x.length - rows.length - laid.placed.length,
      filled: fill ? firstPlaces(fill) : [],
      leftOut,
      coincident: pairs,
      tooLong,
      thin,
      meetings: meetings.filter((m) => m.kind !== 'place').map((m) => lineMeeting(m, laid)),
      joined,
      rows: effect,
    },
  };
}

/** So many places are told one by one. */
const MOST_PLACES = 2000;
const firstPlaces = ({ x, y }: LevelFill): number[] =>
  Array.from(x.subarray(0, MOST_PLACES)).flatMap((v, i) => [v, y[i]]);

/** So many check shots are told one by one. */
const MOST_CHECKS = 500;

/** How far check shots are from a surface. */
function checked(recipe: SurfaceRecipe, s: Surface, p: PointTable, checks: SurfaceLayout['checks']): CheckShots[] {
  return [...checks].map(([id, rows]) => {
    const [x, y, z] = [p.x, p.y, p.z].map((column) => rows.map((r) => column[r]));
    const off = offAt(s, x, y, z);
    const on = rows.map((_, i) => i).filter((i) => !Number.isNaN(off[i]));
    const worst = [...on].sort((a, b) => Math.abs(off[b]) - Math.abs(off[a]) || rows[a] - rows[b]).slice(0, MOST_CHECKS); // prettier-ignore
    const row = recipe.rows.find((r) => r.id === id);
    return {
      row: id,
      within: row?.kind === 'checks' ? row.within : null,
      accuracy: on.length ? verticalAccuracy(on.map((i) => off[i])) : null,
      rows: worst.map((i) => rows[i]),
      off: worst.map((i) => off[i]),
      outside: rows.length - on.length,
    };
  });
}

/** A surface of triangles as received: what other rows bring has no part in it. */
export function buildReceived(
  recipe: SurfaceRecipe,
  row: string,
  plan: ReceivedPlan,
  points: PointTable,
  others: ReadonlyMap<string, Surface> = new Map(),
): BuiltSurface {
  const effect: SurfaceAccount['rows'] = { [row]: plan.triangles.length / 3 };
  // What is received is not triangulated again: rows that choose points or settle meetings do nothing to it.
  for (const r of recipe.rows) if (r.on && r.id !== row && !('ring' in r && r.kind !== 'surface')) effect[r.id] ??= 0;
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface: editByHand(recipe, raiseReceived(plan, points), effect, others),
    account: {
      checks: [],
      points: plan.vertices - plan.leftOut.reduce((n, { count }) => n + count, 0),
      lines: 0,
      uneven: [],
      contourFaults: [],
      chordPoints: 0,
      filled: [],
      leftOut: plan.leftOut,
      coincident: [],
      tooLong: 0,
      thin: 0,
      meetings: [],
      joined: 0,
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
