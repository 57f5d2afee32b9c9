import { formatLength, UNIT_SIGN, type LengthUnit } from '#core/measure';

/** A length with its unit, as sentences have it. */
export const lengthText = (metres: number, unit: LengthUnit, decimals = 2): string =>
  `${formatLength(metres, unit, decimals)} ${UNIT_SIGN[unit]}`;
