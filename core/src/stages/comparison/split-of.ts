import { heapBase, ONE_POINT, splitVolumes, toeOf, type SplitBase, type VolumeSplit } from '#core/quantities';
import type { Surface } from '#core/terrain';
import type { Comparison } from '#core/project';
import type { BuiltSurface } from '../surface/build.ts';
import { insideOf } from './inside-of.ts';

/** Why another party's measurement of a comparison has another volume. */
export function splitOf(
  c: Comparison,
  ours: { whole: Surface; part: Surface; to: Surface | null },
  surfaces: readonly BuiltSurface[],
): Omit<VolumeSplit, 'pieces'> | { reason: string } {
  const { surface, within, level } = c.theirs!;
  const built = surfaces.find((s) => s.id === surface);
  if (!built) return { reason: 'Their surface is no longer in the project.' };
  if (built.surface.triangles.length === 0) return { reason: `“${built.name}” has no triangles yet.` };
  if (c.neither) return { reason: 'What counts as neither cut nor fill hides part of the difference: set that depth to 0 first.' }; // prettier-ignore
  const lowered = (s: Surface): Surface => (c.strip ? { ...s, z: s.z.map((v) => v - c.strip!) } : s);
  const ring = within === 'whole' ? null : (within ?? c.within);
  const part = lowered(insideOf({ ...c, within: ring }, built.surface));
  if (part.triangles.length === 0) return { reason: `Nothing of “${built.name}” lies inside their boundary.` };
  const base = (of: Surface): SplitBase | null => {
    if ('level' in c.against) return { level: c.against.level };
    return 'base' in c.against ? heapBase(toeOf(of), c.against.base) : { surface: ours.to! };
  };
  const [ourBase, theirBase] = [base(ours.part), level === undefined ? base(part) : { level }];
  if (!ourBase || !theirBase) return { reason: 'The points of their toe lie in one line: no plane can be fitted to them.' }; // prettier-ignore
  const split = splitVolumes(
    { surface: lowered(ours.whole), part: ours.part, base: ourBase },
    { surface: lowered(built.surface), part, base: theirBase },
    ONE_POINT,
  );
  if ('reason' in split) return split;
  const { pieces: _, ...figures } = split;
  return figures;
}
