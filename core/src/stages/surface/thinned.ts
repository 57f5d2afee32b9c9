import type { SurfaceRecipe } from '#core/project';
import { claimOrder, onlyKept, thinPoints, type Thinned } from '#core/terrain';
import type { SurfaceAccount } from './account.ts';
import type { SurfaceLayout } from './layout.ts';

/** Whoever keeps which points stay from one time to the next; what it depends on is compared by what it holds. */
export type KeepThinned = (inputs: readonly unknown[], make: () => Thinned) => Thinned;

/** A layout without the points that its surface does not need, and the elevations of those that are left. */
export function thinned(
  recipe: SurfaceRecipe,
  layout: SurfaceLayout,
  elevations: Float64Array,
  effect: SurfaceAccount['rows'],
  keep: KeepThinned,
): { layout: SurfaceLayout; elevations: Float64Array } {
  const row = recipe.rows.find((r) => r.kind === 'thin' && r.on);
  if (row?.kind !== 'thin') return { layout, elevations };
  const { input, rows, placed, leftOut } = layout;
  const claim = claimOrder(recipe.keep ?? 'first', input.x, input.y, elevations);
  const inputs = [input.x, input.y, elevations, input.segments, input.coincidence, claim, input.mean, row.error];
  const kept = keep(inputs, () => thinPoints({ ...input, z: elevations, claim }, row.error)).kept.slice();
  // What was put in by hand was put there on purpose; points that lines add are of breaklines, which all stay.
  for (let i = 0; i < placed.length; i++) kept[rows.length + i] = 1;
  const { x, y, z, segments } = onlyKept({ ...input, z: elevations }, kept);
  const gone = rows.filter((_, i) => !kept[i]);
  effect[row.id] = gone.length;
  return {
    elevations: z,
    layout: {
      ...layout,
      rows: rows.filter((_, i) => kept[i] === 1),
      input: { ...input, x, y, segments },
      leftOut: gone.length ? [...leftOut, { why: THINNED, count: gone.length, rows: [...gone.subarray(0, SHOWN_ROWS)] }] : leftOut, // prettier-ignore
    },
  };
}

const THINNED = 'thinned: the surface is within the stated height of them';
const SHOWN_ROWS = 2000;
