import { findHeap } from '#core/quantities';
import { clipToRing, cutVoid, type Surface } from '#core/terrain';
import { isHeap, type Comparison } from '#core/project';

/** The surface inside the boundary; of a heap without one, the heap that is found. */
export function insideOf(
  { within, voids = [], against }: Pick<Comparison, 'within' | 'voids' | 'against'>,
  surface: Surface,
): Surface {
  const inside = within ? clipToRing(surface, Float64Array.from(within)) : isHeap({ against }) ? findHeap(surface).surface : surface; // prettier-ignore
  return voids.reduce((left, ring) => cutVoid(left, Float64Array.from(ring)), inside);
}
