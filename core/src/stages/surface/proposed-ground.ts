import { atan2, distance } from '#core/kernel';
import {
  layPad,
  layStrip,
  levelledPad,
  levelledStrip,
  middleOfArea,
  type Levelled,
  type PadMade,
  type StripShape,
} from '#core/quantities';
import type { PadRow, ProjectDocument, ProposedRow, StripRow, SurfaceRecipe } from '#core/project';
import { clipToRing, fittedPlane, layIn, ofTriangles, type Surface } from '#core/terrain';
import type { PointTable } from '../points/points.ts';
import type { FittedPad, SurfaceAccount } from './account.ts';
import type { BuiltSurface } from './build.ts';
import { rowsOfKeys } from './edited-points.ts';

/** x, y, z of points by their keys; without those that are gone or have no elevation. */
export const placesOf = (doc: ProjectDocument, points: PointTable, keys: readonly string[]): number[][] =>
  rowsOfKeys(doc, points, keys)
    .map((r) => [points.x[r], points.y[r], points.z[r]])
    .filter(([, , z]) => !Number.isNaN(z));

/** Proposed ground: pads, strips and offsets, each laid into its ground as the ones before leave it. */
export function buildProposed(
  recipe: SurfaceRecipe,
  rows: readonly ProposedRow[],
  grounds: ReadonlyMap<string, Surface>,
  places: (keys: readonly string[]) => number[][],
): BuiltSurface {
  const effect: SurfaceAccount['rows'] = {};
  for (const r of recipe.rows) if (r.on) effect[r.id] = 0;
  const proposed: NonNullable<SurfaceAccount['proposed']> = [];
  const before = new Map<string, Surface>();
  let made: Surface | null = null;
  for (const row of rows) {
    const ground = before.get(row.surface) ?? grounds.get(row.surface);
    const laid = ground?.triangles.length ? lay(ground, row, places) : { ok: false as const, reason: 'There is no ground that it could be laid into.' }; // prettier-ignore
    if (!ground || !laid.ok) {
      effect[row.id] = null;
      proposed.push({ row: row.id, ok: false, reason: laid.ok ? '' : laid.reason });
      continue;
    }
    const { own, offSurvey, beyond, through } = laid;
    effect[row.id] = own.triangles.length / 3;
    proposed.push({ row: row.id, ok: true, offSurvey: offSurvey.slice(0, MOST_PLACES), beyond, ...(through ? { through } : {}) }); // prettier-ignore
    before.set(row.surface, layIn(ground, own, null)?.surface ?? ground);
    made = made ? (layIn(made, own, null)?.surface ?? besides(made, own)) : own;
  }
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface: made ?? ofTriangles(new Float64Array(0)),
    account: { points: 0, lines: 0, uneven: [], contourFaults: [], chordPoints: 0, filled: [], leftOut: [], coincident: [], tooLong: 0, thin: 0, meetings: [], joined: 0, checks: [], rows: effect, proposed }, // prettier-ignore
  };
}

/** The ground that a part is laid into, as the parts before it leave it; those on the plane of points with that plane as their own. */
export const groundBefore = (ground: Surface, before: readonly ProposedRow[]): Surface =>
  before.reduce((now, row) => {
    const laid = lay(now, row, () => []);
    return laid.ok ? (layIn(now, laid.own, null)?.surface ?? now) : now;
  }, ground);

/** A pad or a strip that can be laid at other levels than its own. */
export const levelledRow = (ground: Surface, row: PadRow | StripRow): Levelled =>
  row.kind === 'pad' ? levelledPad(ground, { ...row, ring: Float64Array.from(row.ring) }) : levelledStrip(ground, stripShape(row)); // prettier-ignore

const stripShape = (row: StripRow): StripShape => ({ ...row, course: row.course.map(({ x, y, z }) => [x, y, z]) });

/** Places off the survey that are told. */
const MOST_PLACES = 100;

type Laid = { ok: true; own: Surface; offSurvey: number[][]; beyond: number; through?: FittedPad } | { ok: false; reason: string }; // prettier-ignore

function lay(ground: Surface, row: ProposedRow, places: (keys: readonly string[]) => number[][]): Laid {
  if (row.kind === 'offset') {
    const part = row.ring ? clipToRing(ground, Float64Array.from(row.ring)) : ground;
    if (part.triangles.length === 0) return { ok: false, reason: 'There is no ground inside its area.' };
    return { ok: true, own: { ...part, z: part.z.map((z) => z + row.by) }, offSurvey: [], beyond: 0 };
  }
  if (row.kind === 'strip') return ofPad(layStrip(ground, stripShape(row))); // prettier-ignore
  const through = row.through ? fittedPad(row, places(row.through)) : undefined;
  if (through === null) return { ok: false, reason: 'The points that its plane goes through are gone, have no elevations, or lie in one line.' }; // prettier-ignore
  const shape = { ...row, ...(through ? { ...through, levelAt: 'centre' as const } : {}) };
  return ofPad(layPad(ground, { ...shape, ring: Float64Array.from(row.ring) }), through);
}

function ofPad(made: PadMade, through?: FittedPad): Laid {
  if (!made.ok) return made;
  const { surface, offSurvey, beyond } = made.pad;
  return { ok: true, own: surface(), offSurvey, beyond, through };
}

/** The plane of a pad by least squares through points, told by its level at the middle of the pad. */
function fittedPad({ ring }: PadRow, points: readonly number[][]): FittedPad | null {
  // About the pad, so that coordinates of a grid cost no digits.
  const [ox, oy] = ring;
  const plane = fittedPlane(points.map(([x, y, z]) => [x - ox, y - oy, z]));
  if (!plane) return null;
  const corners = Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i] - ox, ring[2 * i + 1] - oy]);
  const [cx, cy] = middleOfArea(corners);
  return {
    level: plane.at(cx, cy),
    gradient: distance(plane.dx, plane.dy),
    direction: atan2(plane.dx, plane.dy),
    points: points.length,
    off: Math.max(...points.map(([x, y, z]) => Math.abs(z - plane.at(x - ox, y - oy)))),
  };
}
/** Two surfaces that have nothing in common, as one. */
function besides(a: Surface, b: Surface): Surface {
  const [n, e] = [a.x.length, a.triangles.length];
  const both = (p: Float64Array, q: Float64Array): Float64Array => Float64Array.from([...p, ...q]);
  return {
    x: both(a.x, b.x),
    y: both(a.y, b.y),
    z: both(a.z, b.z),
    triangles: Uint32Array.from([...a.triangles, ...b.triangles.map((v) => v + n)]),
    neighbours: Int32Array.from([...a.neighbours, ...b.neighbours.map((v) => (v < 0 ? v : v + e))]),
    breakSides: Uint8Array.from([...a.breakSides, ...b.breakSides]),
    point: Uint32Array.from([...a.point, ...b.point]),
  };
}
