import {
  heapBase,
  ONE_POINT,
  paintedCause,
  splitVolumes,
  toeOf,
  type DifferencePieces,
  type SplitBase,
  type SplitCause,
  type VolumeSplit,
} from '#core/quantities';
import type { Surface } from '#core/terrain';
import type { Comparison } from '#core/project';
import type { BuiltSurface } from '../surface/build.ts';
import { insideOf } from './inside-of.ts';

type Built = Pick<BuiltSurface, 'id' | 'name' | 'surface'>;
type Reason = { reason: string };

/** Why another party's measurement of a comparison has another volume. */
export function splitOf(c: Comparison, surfaces: readonly Built[]): Omit<VolumeSplit, 'pieces'> | Reason {
  const sides = sidesOf(c, surfaces);
  if ('reason' in sides) return sides;
  const split = splitVolumes(sides.ours, sides.theirs, ONE_POINT);
  if ('reason' in split) return split;
  const { pieces: _, ...figures } = split;
  return figures;
}

/** Where one cause of it acts, as pieces to paint. */
export function paintedSplit(c: Comparison, surfaces: readonly Built[], cause: SplitCause): DifferencePieces | Reason {
  const sides = sidesOf(c, surfaces);
  return 'reason' in sides ? sides : paintedCause(sides.ours, sides.theirs, ONE_POINT, cause);
}

type Sides = Record<'ours' | 'theirs', { surface: Surface; part: Surface; base: SplitBase }>;

function sidesOf(c: Comparison, surfaces: readonly Built[]): Sides | Reason {
  const { surface, within, level } = c.theirs!;
  const named = (id: string): Built | undefined => surfaces.find((s) => s.id === id);
  const [own, their] = [named(c.surface), named(surface)];
  const to = 'surface' in c.against ? named(c.against.surface) : null;
  if (!own || to === undefined) return { reason: 'A surface that is compared is no longer in the project.' };
  if (!their) return { reason: 'Their surface is no longer in the project.' };
  if (their.surface.triangles.length === 0) return { reason: `“${their.name}” has no triangles yet.` };
  if (c.neither) return { reason: 'What counts as neither cut nor fill hides part of the difference: set that depth to 0 first.' }; // prettier-ignore
  const lowered = (s: Surface): Surface => (c.strip ? { ...s, z: s.z.map((v) => v - c.strip!) } : s);
  const ring = within === 'whole' ? null : (within ?? c.within);
  const ourPart = lowered(insideOf(c, own.surface));
  const part = lowered(insideOf({ ...c, within: ring }, their.surface));
  if (part.triangles.length === 0) return { reason: `Nothing of “${their.name}” lies inside their boundary.` };
  const base = (of: Surface): SplitBase | null => {
    if ('level' in c.against) return { level: c.against.level };
    return 'base' in c.against ? heapBase(toeOf(of), c.against.base) : { surface: to!.surface };
  };
  const [ourBase, theirBase] = [base(ourPart), level === undefined ? base(part) : { level }];
  if (!ourBase || !theirBase) return { reason: 'The points of their toe lie in one line: no plane can be fitted to them.' }; // prettier-ignore
  return {
    ours: { surface: lowered(own.surface), part: ourPart, base: ourBase },
    theirs: { surface: lowered(their.surface), part, base: theirBase },
  };
}
