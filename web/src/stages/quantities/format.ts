import { CUBIC_METRES_IN_CUBIC_YARD, formatFixed } from '#core/measure';

export const VOLUME_SIGN = { m3: 'm³', yd3: 'yd³' } as const;

/** A volume held in cubic metres, in the chosen unit, to a tenth: what a survey of centimetres can promise. */
export const formatVolume = (cubicMetres: number, unit: 'm3' | 'yd3'): string =>
  formatFixed(unit === 'm3' ? cubicMetres : cubicMetres / CUBIC_METRES_IN_CUBIC_YARD, 1);
