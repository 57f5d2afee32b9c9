export type LengthUnit = 'm' | 'ft' | 'usft';

/** Metres in one unit. International foot 0.3048 m exactly; US survey foot 1200/3937 m (US Federal Register, 1959 and 2020). */
export const METRES_IN: Record<LengthUnit, number> = { m: 1, ft: 0.3048, usft: 1200 / 3937 };

export const LENGTH_UNITS: readonly LengthUnit[] = ['m', 'ft', 'usft'];

export const UNIT_NAME: Record<LengthUnit, string> = {
  m: 'metres',
  ft: 'international feet',
  usft: 'US survey feet',
};

/** Sign of a unit in headings and beside numbers. */
export const UNIT_SIGN: Record<LengthUnit, string> = { m: 'm', ft: 'ft', usft: 'US ft' };

export const toMetres = (value: number, unit: LengthUnit): number => value * METRES_IN[unit];
export const fromMetres = (metres: number, unit: LengthUnit): number => metres / METRES_IN[unit];

/** Cubic metres in one cubic yard: (3 × 0.3048)³, exactly 0.764554857984. */
export const CUBIC_METRES_IN_CUBIC_YARD = 0.764554857984;

const DIGIT_SPACE = '\u2009';

/** A fixed number of decimals with thin spaces between thousands: 7 727.918. A value that is not a number gives a dash. */
export function formatFixed(value: number, decimals: number): string {
  if (!Number.isFinite(value)) return '–';
  const text = Math.abs(value).toFixed(decimals);
  const [whole, fraction] = text.split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, DIGIT_SPACE);
  const sign = value < 0 && Number(text) !== 0 ? '−' : '';
  return sign + grouped + (fraction ? `.${fraction}` : '');
}

/** A length held in metres, in a unit, without the unit's sign. */
export const formatLength = (metres: number, unit: LengthUnit, decimals = 3): string =>
  formatFixed(fromMetres(metres, unit), decimals);

/** m² as hectares from one hectare on, else as m². */
export function formatArea(squareMetres: number): string {
  return squareMetres >= 10_000 ? `${formatFixed(squareMetres / 10_000, 3)} ha` : `${formatFixed(squareMetres, 1)} m²`;
}

export type ReadLength = { ok: true; metres: number; echo: string } | { ok: false; reason: string };

/**
 * Reads a length as people type it (`1.5`, `1,5`, `4.92ft`, `3 m`); without a unit of its own it is in
 * `unit`. The echo says how it was understood.
 */
export function readLength(text: string, unit: LengthUnit): ReadLength {
  const match = /^\s*([+\-−]?)\s*(\d[\d\s\u2009]*(?:[.,]\d*)?|[.,]\d+)\s*(m|ft|usft|us ft)?\s*$/i.exec(text);
  if (!match)
    return {
      ok: false,
      reason: `“${text.slice(0, 40)}” is not a length. Type a number, with m, ft or usft after it if need be.`,
    };
  const sign = match[1] === '-' || match[1] === '−' ? -1 : 1;
  const value = sign * Number(match[2].replace(/[\s\u2009]/g, '').replace(',', '.'));
  const named = match[3]?.toLowerCase().replace(' ', '') as LengthUnit | undefined;
  const metres = toMetres(value, named ?? unit);
  return { ok: true, metres, echo: `${formatLength(metres, unit)} ${UNIT_SIGN[unit]}` };
}
