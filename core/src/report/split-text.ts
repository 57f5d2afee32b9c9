import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import type { SplitStep, VolumeSplit } from '#core/quantities';

const points = (n: number | null): string => (n === 1 ? '1 point' : `${n ?? 0} points`);

/** A cause for which two parties have different volumes, in words. */
export function splitText(
  { settings: { unit, areaUnit } }: Pick<ProjectDocument, 'settings'>,
  { cause, area, points: n }: SplitStep,
  { shift, common }: Pick<VolumeSplit, 'shift' | 'common'>,
): string {
  const m2 = formatArea(Math.max(0, area ?? 0), areaUnit, unit);
  switch (cause) {
    case 'our-area':
      return `${m2} that we alone measure`;
    case 'their-area':
      return `${m2} that they alone measure`;
    case 'shift':
      return common < 3 ? `No common height: ${points(common)} in common` : `Theirs ${formatLength(Math.abs(shift), unit, 3)} ${UNIT_SIGN[unit]} ${shift < 0 ? 'lower' : 'higher'} all over`; // prettier-ignore
    case 'elevations':
      return `Other elevations at ${points(n)} in common`;
    case 'our-breaklines':
      return 'Without our breaklines';
    case 'their-breaklines':
      return 'With their breaklines';
    case 'their-points':
      return `With ${points(n)} that only they have`;
    case 'our-points':
      return `Without ${points(n)} that only we have`;
    case 'base':
      return 'Their level or base';
  }
}
