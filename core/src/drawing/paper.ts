import type { PAPERS } from '#core/project';
import { METRES_IN, type LengthUnit } from '#core/measure';

const inches = (short: number, long: number): readonly [number, number] => [short * 25.4, long * 25.4];

/** Sheets upright, mm: ISO 216; ANSI/ASME Y14.1 and the architectural sizes in whole inches. */
export const PAPER_SIZE: Record<(typeof PAPERS)[number], readonly [number, number]> = {
  A4: [210, 297],
  A3: [297, 420],
  A2: [420, 594],
  A1: [594, 841],
  A0: [841, 1189],
  'ANSI A': inches(8.5, 11),
  'ANSI B': inches(11, 17),
  'ANSI C': inches(17, 22),
  'ANSI D': inches(22, 34),
  'ANSI E': inches(34, 44),
  'ARCH A': inches(9, 12),
  'ARCH B': inches(12, 18),
  'ARCH C': inches(18, 24),
  'ARCH D': inches(24, 36),
  'ARCH E': inches(36, 48),
};

/** The sheet that a new plot begins on. */
export const usualPaper = (unit: LengthUnit): (typeof PAPERS)[number] => (unit === 'm' ? 'A3' : 'ANSI B');

export const METRIC_SCALES = [50, 100, 200, 250, 500, 1000, 1250, 2000, 2500, 5000, 10_000] as const;
/** Feet of the ground on one inch of paper. */
export const FEET_PER_INCH = [5, 10, 20, 30, 40, 50, 60, 100, 200, 400] as const;

/** A scale as people say it: 1 : 500, or 1 inch to 20 feet. */
export function scaleName(scale: number, unit: LengthUnit): string {
  const feet = scale / 12;
  return unit !== 'm' && Math.abs(feet - Math.round(feet)) < 1e-9
    ? `1 in = ${Math.round(feet)} ft`
    : `1 : ${Number.isInteger(scale) ? String(scale) : scale.toFixed(1)}`;
}

/** Spacing of a coordinate grid that suits a scale: about a tenth of a metre on paper, in round numbers of the unit, m. */
export function gridSpacing(scale: number, unit: LengthUnit): number {
  const wanted = (0.1 * scale) / METRES_IN[unit];
  const power = 10 ** Math.floor(Math.log10(wanted));
  const step = [1, 2, 5, 10].find((s) => s * power >= wanted * 0.7) ?? 10;
  return step * power * METRES_IN[unit];
}

/** The smallest usual scale at which something of a size, m, goes onto a space, mm. */
export function fittingScale(
  width: number,
  height: number,
  space: readonly [number, number],
  unit: LengthUnit,
): number {
  const needed = Math.max((width * 1000) / space[0], (height * 1000) / space[1]);
  const scales = unit === 'm' ? [...METRIC_SCALES] : FEET_PER_INCH.map((f) => f * 12);
  // Beyond the usual ones: whole thousands, or whole hundreds of feet on an inch.
  const step = unit === 'm' ? 1000 : 1200;
  return scales.find((s) => s >= needed) ?? Math.ceil(needed / step) * step;
}

/** The size at which each face is set so that its capitals are as high as a mark’s size says: their height in the em. */
export const EM = { text: 1 / 0.668, bold: 1 / 0.668, mono: 1 / 0.698 } as const;
