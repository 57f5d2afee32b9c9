import type { Surface } from '#core/terrain';
import type { SplitBase } from '../split/split-stages.ts';
import { differenceBetween, differenceToLevel } from '../difference/difference.ts';
import { measured } from '../volume.ts';

/** A surface as it was on a day, days since 1970-01-01. */
export interface Dated {
  day: number;
  surface: Surface;
}

/** A measurement of a heap or pit, and what came and went since the one before. */
export interface SeriesStep {
  day: number;
  /** Above the base and below it, m³, and the area that is measured, m². */
  above: number;
  below: number;
  area: number;
  /** Since the one before, where both are known: what came and what went, m³; null of the first. */
  came: number | null;
  went: number | null;
}

/** Volumes of one thing on several days above one base; the first surface is it where none is given. In the order of the days. */
export function volumesOverTime(dated: readonly Dated[], base: SplitBase | null): SeriesStep[] {
  const sorted = [...dated].sort((a, b) => a.day - b.day);
  return sorted.map(({ day, surface }, i) => {
    const down = base ?? { surface: sorted[0].surface };
    const { cut, fill, area } = measured(
      'level' in down ? differenceToLevel(surface, down.level) : differenceBetween(surface, down.surface),
    );
    const since = i > 0 ? measured(differenceBetween(sorted[i - 1].surface, surface)) : null;
    return { day, above: cut, below: fill, area, came: since && since.fill, went: since && since.cut };
  });
}
