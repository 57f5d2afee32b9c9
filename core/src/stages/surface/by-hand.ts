import type { SurfaceRecipe, SurfaceRow } from '#core/project';
import {
  clipToRing,
  cutVoid,
  deleteTriangles,
  evenOut,
  foundRim,
  layIn,
  measureSurface,
  peelRim,
  raiseArea,
  swapSide,
  tiltOnto,
  type Surface,
} from '#core/terrain';
import type { SurfaceAccount } from './account.ts';
import type { LineBoundary } from './line-boundaries.ts';

/** What an edit of a surface gives, and how much it changed; null where it found its place no more. */
type Done = { surface: Surface; count: number } | null;

/**
 * A surface with the edits, boundaries and voids of its recipe, in the order of the rows. Each says how many vertices or
 * triangles it changed, or what area it cut off; one that lost its place changes nothing, and its effect is null.
 */
export function editByHand(
  recipe: SurfaceRecipe,
  whole: Surface,
  effect: SurfaceAccount['rows'],
  others: ReadonlyMap<string, Surface>,
  bounds: ReadonlyMap<string, LineBoundary> = new Map(),
): Surface {
  const islands = recipe.rows.flatMap((r) => (r.kind === 'island' && r.on ? [Float64Array.from(r.ring)] : []));
  let surface = whole;
  for (const row of recipe.rows) {
    if (!row.on) continue;
    const done = row.kind === 'line-boundary' ? boundedBy(surface, bounds.get(row.id), islands) : edited(surface, row, islands, others); // prettier-ignore
    if (done === undefined) continue;
    if (done) surface = done.surface;
    effect[row.id] = done?.count ?? null;
  }
  return surface;
}

/** Cut along lines; null where there is none of its codes that is closed. */
const boundedBy = (s: Surface, by: LineBoundary | undefined, islands: readonly Float64Array[]): Done =>
  by
    ? less(
        s,
        by.voids.reduce((left, ring) => cutVoid(left, ring, islands), clipToRing(s, by.rim)),
      )
    : null;

/** Undefined for rows that are no edit of a surface that is there. */
function edited(
  s: Surface,
  row: SurfaceRow,
  islands: readonly Float64Array[],
  others: ReadonlyMap<string, Surface>,
): Done | undefined {
  switch (row.kind) {
    case 'lay-in': {
      const laid = others.get(row.surface);
      return laid ? layIn(s, laid, row.ring && Float64Array.from(row.ring)) : null;
    }
    case 'found-boundary':
      return row.longest === 'auto' ? foundRim(s) : peelRim(s, row.longest);
    case 'boundary':
      return less(s, clipToRing(s, Float64Array.from(row.ring)));
    case 'void':
      return less(s, cutVoid(s, Float64Array.from(row.ring), islands));
    case 'raise':
      return raiseArea(s, Float64Array.from(row.ring), () => row.by);
    case 'tilt': {
      const by = tiltOnto(s, row.onto);
      return by && raiseArea(s, Float64Array.from(row.ring), by);
    }
    case 'even-out':
      return evenOut(s, Float64Array.from(row.ring), row.strength, row.rounds);
    case 'swap': {
      const [ax, ay, bx, by] = row.ends;
      return swapSide(s, { x: ax, y: ay }, { x: bx, y: by });
    }
    case 'delete-triangles':
      return deleteTriangles(s, pairs(row.places));
    default:
      return undefined;
  }
}

/** Triangles that a ring cuts come back as more: what is less by it is area, m² in plan. */
const less = (before: Surface, surface: Surface): Done => ({
  surface,
  count: Math.max(0, measureSurface(before).planArea - measureSurface(surface).planArea),
});

const pairs = (xy: readonly number[]): { x: number; y: number }[] =>
  Array.from({ length: xy.length / 2 }, (_, i) => ({ x: xy[2 * i], y: xy[2 * i + 1] }));
