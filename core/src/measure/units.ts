import { plainNumber } from './plain-number.ts';

export type LengthUnit = 'm' | 'ft' | 'usft';

/** Metres in one unit. International foot 0.3048 m exactly; US survey foot 1200/3937 m (US Federal Register, 1959 and 2020). */
export const METRES_IN: Record<LengthUnit, number> = { m: 1, ft: 0.3048, usft: 1200 / 3937 };

/** Units that files are written in besides those that a project can have. */
export type FileUnit = LengthUnit | 'mm' | 'cm' | 'in';
export const METRES_IN_FILE: Record<FileUnit, number> = { ...METRES_IN, mm: 0.001, cm: 0.01, in: 0.0254 };
export const FILE_UNITS: readonly FileUnit[] = ['m', 'ft', 'usft', 'mm', 'cm', 'in'];

export const LENGTH_UNITS: readonly LengthUnit[] = ['m', 'ft', 'usft'];

export const UNIT_NAME: Record<FileUnit, string> = {
  m: 'metres',
  ft: 'international feet',
  usft: 'US survey feet',
  mm: 'millimetres',
  cm: 'centimetres',
  in: 'inches',
};

/** Sign of a unit in headings and beside numbers. */
export const UNIT_SIGN: Record<FileUnit, string> = { m: 'm', ft: 'ft', usft: 'US ft', mm: 'mm', cm: 'cm', in: 'in' };

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
  const head = whole.length % 3 || 3;
  const grouped = [whole.slice(0, head), ...(whole.slice(head).match(/.{3}/g) ?? [])].join(DIGIT_SPACE);
  const sign = value < 0 && Number(text) !== 0 ? '−' : '';
  return sign + grouped + (fraction ? `.${fraction}` : '');
}

/** A length held in metres, in a unit, without the unit's sign. */
export const formatLength = (metres: number, unit: LengthUnit, decimals = 3): string =>
  formatFixed(fromMetres(metres, unit), decimals);

/** `m2ha`: square metres, and hectares from one hectare on. */
export type AreaUnit = 'm2ha' | 'm2' | 'ha' | 'ft2' | 'ac';
export const AREA_UNITS: readonly AreaUnit[] = ['m2ha', 'm2', 'ha', 'ft2', 'ac'];
/** Square metres in one unit. The acre is 43 560 square feet; the foot is the project's own. */
export const squareMetresIn = (area: AreaUnit, unit: LengthUnit): number => {
  const foot = unit === 'usft' ? METRES_IN.usft : METRES_IN.ft;
  return area === 'm2' || area === 'm2ha'
    ? 1
    : area === 'ha'
      ? 10_000
      : area === 'ft2'
        ? foot * foot
        : 43_560 * foot * foot;
};
export const AREA_SIGN: Record<AreaUnit, string> = { m2ha: 'm²', m2: 'm²', ha: 'ha', ft2: 'ft²', ac: 'ac' };
export const AREA_NAME: Record<AreaUnit, string> = {
  m2ha: 'square metres, hectares from one on',
  m2: 'square metres',
  ha: 'hectares',
  ft2: 'square feet',
  ac: 'acres',
};

/** An area with its unit's sign. Hectares and acres have three decimals, their small sisters one. */
export function formatArea(squareMetres: number, area: AreaUnit = 'm2ha', unit: LengthUnit = 'm'): string {
  const as = area === 'm2ha' && squareMetres >= 10_000 ? 'ha' : area;
  return `${formatFixed(squareMetres / squareMetresIn(as, unit), as === 'ha' || as === 'ac' ? 3 : 1)} ${AREA_SIGN[as]}`;
}

/** A distance along a line as it is read out: plain, in thousands (`1+234.500`), or in hundreds (`12+34.50`). */
export type ChainageForm = 'plain' | 'thousands' | 'hundreds';
export function formatChainage(metres: number, unit: LengthUnit, form: ChainageForm, decimals = 3): string {
  const value = fromMetres(metres, unit);
  if (form === 'plain' || !Number.isFinite(value)) return formatFixed(value, decimals);
  const digits = form === 'thousands' ? 3 : 2;
  const size = 10 ** digits;
  const text = Math.abs(value).toFixed(decimals);
  const whole = Math.floor(Number(text) / size);
  const rest = (Number(text) - whole * size).toFixed(decimals).padStart(digits + (decimals ? decimals + 1 : 0), '0');
  return `${value < 0 && Number(text) !== 0 ? '−' : ''}${whole}+${rest}`;
}

export type ReadLength = { ok: true; metres: number; echo: string } | { ok: false; reason: string };

/** Longest first: feet end in those of the US. */
const UNITS_TYPED: [string, LengthUnit][] = [['us ft', 'usft'], ['usft', 'usft'], ['ft', 'ft'], ['m', 'm']]; // prettier-ignore
const LONGEST = 60;

/**
 * Reads a length as people type it (`1.5`, `1,5`, `4.92ft`, `3 m`); without a unit of its own it is in
 * `unit`. The echo says how it was understood.
 */
export function readLength(text: string, unit: LengthUnit): ReadLength {
  const typed = text.trim().toLowerCase();
  const unitTyped = UNITS_TYPED.find(([word]) => typed.endsWith(word));
  const [whole, ...fraction] = (unitTyped ? typed.slice(0, -unitTyped[0].length) : typed).split(/[.,]/);
  // Blanks group the digits before the sign of decimals, and nothing behind it.
  const digits = whole.replace(/[\s\u2009]/g, '').replace('−', '-');
  const plain = [digits, ...fraction.map((f) => f.trimEnd())].join('.');
  const value = typed.length > LONGEST || /^[+-]?\.?$/.test(plain) || /e/.test(plain) ? NaN : plainNumber(plain);
  if (Number.isNaN(value))
    return {
      ok: false,
      reason: `“${text.slice(0, 40)}” is not a length. Type a number, with m, ft or usft after it if need be.`,
    };
  const named = unitTyped?.[1];
  const metres = toMetres(value, named ?? unit);
  return { ok: true, metres, echo: `${formatLength(metres, unit)} ${UNIT_SIGN[unit]}` };
}
