import type { Surface } from '#core/terrain';
import type { CutAndFill } from '../hand/given-sections.ts';
import { differenceBetween, differenceToLevel } from '../difference/difference.ts';
import { measured, type DifferencePieces, type Volume } from '../volume.ts';
import { stagesOf, type SplitBase, type SplitCause, type SplitSide } from './split-stages.ts';

export interface SplitStep {
  cause: SplitCause;
  /** What it adds to cut and to fill, m³. */
  cut: number;
  fill: number;
  /** m² that one has and the other lacks; points that it is about; null where it is about neither. */
  area: number | null;
  points: number | null;
}

export interface VolumeSplit {
  ours: CutAndFill;
  theirs: CutAndFill;
  /** They add up to theirs − ours. */
  steps: SplitStep[];
  /** m² that both measure. */
  commonArea: number;
  /** m by which theirs stands higher than ours, the median of the points that both have; 0 where fewer than three are. */
  shift: number;
  /** Points that both have, m in plan within which two are one. */
  common: number;
  within: number;
  /** Theirs − ours where both measure, x, y, m. */
  pieces: DifferencePieces;
}

/** Share of the common area that slivers at a rim may lack. */
const SAME_AREA = 1e-4;

/**
 * Splits the difference of two parties' volumes into its causes. Ours is made into theirs one step at a time, each step's share
 * being what it changes, so that they add up exactly: what ours alone covers goes; all of ours is shifted in height by the
 * median of the points that both have; those points take their elevations; our breaklines go (the same points, triangulated
 * without them); the points that they alone have come in; those that we alone have go; their breaklines come in; their base
 * takes the place of ours; what theirs alone covers comes in. In another order steps that act on one place would share it otherwise.
 * @param within m in plan within which two points are one
 */
export function splitVolumes(ours: SplitSide, theirs: SplitSide, within: number): VolumeSplit | { reason: string } {
  const all = stagesOf(ours, theirs, within);
  if ('reason' in all) return all;
  const { pieces, commonArea: common, same, shift, stages } = all;
  const [whole, theirWhole] = [volumeOver(ours.part, ours.base), volumeOver(theirs.part, theirs.base)];
  const steps: SplitStep[] = [];
  let now: CutAndFill & { area: number } = whole;
  const step = (cause: SplitCause, to: Volume, area: number | null, points: number | null): void => {
    steps.push({ cause, cut: to.cut - now.cut, fill: to.fill - now.fill, area, points });
    now = to;
  };
  for (const { cause, surface, base, points } of stages) {
    const to = measured(differenceBetween(surface, base));
    // Shares add up whatever they are of: of another area they would be of something else.
    if (!(Math.abs(to.area - common) <= SAME_AREA * common)) return { reason: `The ${cause.replace('-', ' ')} could not be held against the others over one area: ${to.area.toFixed(1)} m² of ${common.toFixed(1)} m².` }; // prettier-ignore
    step(cause, to, cause === 'our-area' ? whole.area - to.area : null, points);
  }
  step('their-area', theirWhole, theirWhole.area - now.area, null);
  const { cut, fill } = whole;
  return {
    ours: { cut, fill },
    theirs: { cut: theirWhole.cut, fill: theirWhole.fill },
    steps,
    commonArea: common,
    shift,
    common: same.both.length,
    within,
    pieces,
  };
}

const volumeOver = (s: Surface, base: SplitBase): Volume =>
  measured('level' in base ? differenceToLevel(s, base.level) : differenceBetween(s, base.surface));
