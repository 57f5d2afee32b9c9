import { formatAngle, formatLength, UNIT_SIGN, type AngleForm } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { column, type ReportCell, type ReportColumn } from './table.ts';

const TURN = 2 * Math.PI;

/** How a project writes lengths, bearings and differences of angle, and the columns that hold them. */
export function formsOf({ settings: s }: Pick<ProjectDocument, 'settings'>) {
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number, decimals = s.decimals): string => (Number.isNaN(m) ? '' : formatLength(m, s.unit, decimals)); // prettier-ignore
  /** A difference of angle, with its sign. */
  const angle = (a: number, decimals = s.angleDecimals): ReportCell =>
    Number.isNaN(a) ? { text: '' } : { text: formatAngle(a, s.angle, decimals), value: decimalAngle(a, s.angle) };
  return {
    sign,
    length,
    elevation: (m: number): string => length(m, s.elevationDecimals),
    /** A precision: never fewer decimals than tell anything. */
    precision: (m: number): string => length(m, 3),
    angle,
    /** A bearing or a circle reading: from nothing up to a full turn. */
    bearing: (a: number, decimals = s.angleDecimals): ReportCell => angle(((a % TURN) + TURN) % TURN, decimals),
    /** East and north in the project’s order. */
    plan: (x: number, y: number): string[] => (s.order === 'EN' ? [x, y] : [y, x]).map((v) => length(v)),
    planColumns: (share = 12): ReportColumn[] =>
      (s.order === 'EN' ? ['East', 'North'] : ['North', 'East']).map((name) => column(name, 'number', share, sign)),
    lengthColumn: (name: string, share = 10): ReportColumn => column(name, 'number', share, sign),
  };
}

export type Forms = ReturnType<typeof formsOf>;

/** An angle as a bare number: gons where the project has gons, else degrees; ten thousandths of a second are kept. */
function decimalAngle(radians: number, form: AngleForm): string {
  const value = form === 'gon' ? (radians / Math.PI) * 200 : (radians / Math.PI) * 180;
  return (Math.round(value * 1e8) / 1e8).toString();
}
