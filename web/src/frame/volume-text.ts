import type { Settings } from '#core/project';
import { CUBIC_METRES_IN_CUBIC_YARD, formatFixed } from '#core/measure';

export const VOLUME_SIGN = { m3: 'm³', yd3: 'yd³' } as const;

/** A volume held in cubic metres, in the project’s unit and decimals; `unit` for the other one beside it. */
export const formatVolume = (
  cubicMetres: number,
  settings: Pick<Settings, 'volumeUnit' | 'volumeDecimals'>,
  unit = settings.volumeUnit,
): string =>
  formatFixed(unit === 'm3' ? cubicMetres : cubicMetres / CUBIC_METRES_IN_CUBIC_YARD, settings.volumeDecimals);
