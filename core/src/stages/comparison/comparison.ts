import { volumeBetween, volumeToLevel, type VolumeResult } from '#core/quantities';
import { clipToRing } from '#core/terrain';
import type { Comparison } from '#core/project';
import type { BuiltSurface } from '../surface/build.ts';

export type ComparisonResult =
  { id: string; ok: true; volume: VolumeResult } | { id: string; ok: false; reason: string };

/** Quantities between a surface and another, or a level, inside a boundary; or why there are none. */
export function compare(c: Comparison, surfaces: readonly BuiltSurface[]): ComparisonResult {
  const no = (reason: string): ComparisonResult => ({ id: c.id, ok: false, reason });
  const from = surfaces.find((s) => s.id === c.surface);
  if (!from) return no('The surface that is compared is no longer in the project.');
  if (from.surface.triangles.length === 0) return no(`The surface “${from.name}” has no triangles yet.`);
  const inside = c.within ? clipToRing(from.surface, Float64Array.from(c.within)) : from.surface;
  if (inside.triangles.length === 0) return no(`Nothing of the surface “${from.name}” lies inside the boundary.`);
  const { against } = c;
  if ('level' in against) return { id: c.id, ok: true, volume: volumeToLevel(inside, against.level) };
  const to = surfaces.find((s) => s.id === against.surface);
  if (!to) return no(`The surface that “${from.name}” is compared with is no longer in the project.`);
  const volume = volumeBetween(inside, to.surface);
  if (volume.area === 0) return no(`“${from.name}” and “${to.name}” do not overlap inside the boundary.`);
  return { id: c.id, ok: true, volume };
}
