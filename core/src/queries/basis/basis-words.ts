import { formatLength, METRES_IN, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { Intake } from '#core/project';

/** A length with its unit, as sentences have it. */
export const lengthText = (metres: number, unit: LengthUnit, decimals = 2): string =>
  `${formatLength(metres, unit, decimals)} ${UNIT_SIGN[unit]}`;

/** East and north swapped. */
export const exchangedRoles = (roles: Intake['layout']['roles']): Intake['layout']['roles'] =>
  roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r));

/** By how much coordinates of a size differ between the international and the US survey foot, in feet. */
export const footDifference = (metres: number): number =>
  (Math.abs(metres) / METRES_IN.ft) * (METRES_IN.usft / METRES_IN.ft - 1);
