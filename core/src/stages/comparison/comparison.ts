import { volumeBetween, volumeToLevel, type VolumeResult } from '#core/quantities';
import { clipToRing, type Surface } from '#core/terrain';
import type { Comparison } from '#core/project';
import type { Ground } from '../surface/ground.ts';

export type ComparisonResult =
  { id: string; ok: true; volume: VolumeResult } | { id: string; ok: false; reason: string };

/** Quantities between a surface and another, or a level, inside a boundary; or why there are none. */
export function compare(c: Comparison, grounds: Ground[]): ComparisonResult {
  const { id } = c;
  const find = (name: string): Surface | undefined => grounds.find((g) => g.name === name)?.surface;
  const from = find(c.ground);
  if (!from) return { id, ok: false, reason: `The surface “${c.ground}” is no longer there.` };
  if (from.triangles.length === 0) return { id, ok: false, reason: `The surface “${c.ground}” has no triangles yet.` };
  const inside = c.within ? clipToRing(from, Float64Array.from(c.within)) : from;
  if (inside.triangles.length === 0)
    return { id, ok: false, reason: `Nothing of the surface “${c.ground}” lies inside the boundary.` };
  if ('level' in c.against) return { id, ok: true, volume: volumeToLevel(inside, c.against.level) };
  const to = find(c.against.surface);
  if (!to) return { id, ok: false, reason: `The surface “${c.against.surface}” is no longer there.` };
  const volume = volumeBetween(inside, to);
  if (volume.area === 0)
    return { id, ok: false, reason: `“${c.ground}” and “${c.against.surface}” do not overlap inside the boundary.` };
  return { id, ok: true, volume };
}
