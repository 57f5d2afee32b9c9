import { layPad } from '#core/quantities';
import type { PadRow, SurfaceRecipe } from '#core/project';
import { layIn, ofTriangles, type Surface } from '#core/terrain';
import type { SurfaceAccount } from './account.ts';
import type { BuiltSurface } from './build.ts';

/** A surface of pads with their batters, each laid into its ground as the ones before leave it. */
export function buildPads(
  recipe: SurfaceRecipe,
  rows: readonly PadRow[],
  grounds: ReadonlyMap<string, Surface>,
): BuiltSurface {
  const effect: SurfaceAccount['rows'] = {};
  for (const r of recipe.rows) if (r.on) effect[r.id] = 0;
  const pads: NonNullable<SurfaceAccount['pads']> = [];
  const before = new Map<string, Surface>();
  let made: Surface | null = null;
  for (const row of rows) {
    const ground = before.get(row.surface) ?? grounds.get(row.surface);
    const laid = ground?.triangles.length ? layPad(ground, { ...row, ring: Float64Array.from(row.ring) }) : null;
    if (!ground || !laid?.ok) {
      effect[row.id] = null;
      pads.push({ row: row.id, ok: false, reason: laid?.ok === false ? laid.reason : 'There is no ground that it could be laid into.' }); // prettier-ignore
      continue;
    }
    const { surface, offSurvey, beyond } = laid.pad;
    const own = surface();
    effect[row.id] = own.triangles.length / 3;
    pads.push({ row: row.id, ok: true, offSurvey: offSurvey.slice(0, MOST_PLACES), beyond });
    before.set(row.surface, layIn(ground, own, null)?.surface ?? ground);
    made = made ? (layIn(made, own, null)?.surface ?? besides(made, own)) : own;
  }
  return {
    id: recipe.id,
    name: recipe.name,
    role: recipe.role,
    surface: made ?? ofTriangles(new Float64Array(0)),
    account: { points: 0, lines: 0, uneven: [], contourFaults: [], chordPoints: 0, filled: [], leftOut: [], coincident: [], tooLong: 0, thin: 0, meetings: [], joined: 0, checks: [], rows: effect, pads }, // prettier-ignore
  };
}

/** Places off the survey that are told. */
const MOST_PLACES = 100;

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
