import { fromMetres, type LengthUnit } from '#core/measure';
import { cellText } from './cell.ts';
import type { NONE_SIGNS } from './none.ts';

export interface PointRow {
  number: string;
  x: number;
  y: number;
  z: number;
  description: string;
  /** The description in its parts: codes, line numbers, line words, attributes. */
  parts?: { code: string; line: string; words: string; attributes: string };
}

/** P number, N north, E east, Z elevation, D description as a whole; C codes, L line numbers, W line words, A attributes. */
export const OUT_COLUMNS = ['P', 'N', 'E', 'Z', 'D', 'C', 'L', 'W', 'A'] as const;
export type OutColumn = (typeof OUT_COLUMNS)[number];

export interface TextOutSettings {
  /** Columns in order. */
  order: OutColumn[];
  decimals: number;
  unit: LengthUnit;
  separator: ',' | ';' | '\t' | ' ';
  headings: boolean;
  /** The decimal sign; a point unless said. */
  decimal?: '.' | ',';
  /** What is written where there is nothing: an empty cell unless said, or a hyphen between blanks, which would else lose a column. */
  none?: (typeof NONE_SIGNS)[number];
  /** Plan coordinates are degrees already, longitude as x and latitude as y; written to a tenth of a millimetre. */
  degrees?: boolean;
}

/** The sign for nothing in a file. */
export const noneOf = ({
  none = '',
  separator,
}: Pick<TextOutSettings, 'none' | 'separator'>): (typeof NONE_SIGNS)[number] =>
  none === '' && separator === ' ' ? '-' : none;

/** Decimals of a degree that resolve a tenth of a millimetre on the earth. */
export const DEGREE_DECIMALS = 9;

const HEADING: Record<OutColumn, (unit: LengthUnit) => string> = {
  P: () => 'Number',
  N: (u) => `North [${u}]`,
  E: (u) => `East [${u}]`,
  Z: (u) => `Elevation [${u}]`,
  D: () => 'Description',
  C: () => 'Code',
  L: () => 'Line',
  W: () => 'Word',
  A: () => 'Attributes',
};

const PART: Partial<Record<OutColumn, keyof NonNullable<PointRow['parts']>>> = {
  C: 'code',
  L: 'line',
  W: 'words',
  A: 'attributes',
};

/** Writes points as delimited text. Rows end with CR LF, as devices expect; headings between blanks are one word each. */
export function writeText(points: Iterable<PointRow>, settings: TextOutSettings): string {
  if (settings.decimal === ',' && settings.separator === ',') throw new Error('A comma cannot be both.');
  const { order, decimals, unit, separator } = settings;
  const out: string[] = [];
  if (settings.headings)
    out.push(
      order
        .map((r) =>
          settings.degrees && r === 'E' ? 'Longitude' : settings.degrees && r === 'N' ? 'Latitude' : HEADING[r](unit),
        )
        .map((h) => (separator === ' ' ? h.replace(' ', '') : h))
        .join(separator),
    );
  const none = noneOf(settings);
  const text = (words: string): string => (words.trim() === '' ? none : quoted(words, separator));
  const figure = (v: number, digits: number): string => (settings.decimal === ',' ? v.toFixed(digits).replace('.', ',') : v.toFixed(digits)); // prettier-ignore
  const value = (p: PointRow, role: OutColumn): string => {
    if (role === 'P') return text(p.number);
    if (role === 'D') return text(p.description);
    const part = PART[role];
    if (part) return text(p.parts?.[part] ?? '');
    if (settings.degrees && role !== 'Z') return figure(role === 'E' ? p.x : p.y, DEGREE_DECIMALS);
    const metres = role === 'E' ? p.x : role === 'N' ? p.y : p.z;
    return Number.isNaN(metres) ? none : figure(fromMetres(metres, unit), decimals);
  };
  for (const p of points) out.push(order.map((r) => value(p, r)).join(separator));
  return out.join('\r\n') + '\r\n';
}

const quoted = (text: string, separator: TextOutSettings['separator']): string => {
  if (separator !== ' ') return cellText(text, separator);
  const line = text.replace(/[\r\n]+/g, ' ');
  return line.includes(' ') || line.includes('"') ? `"${line.replaceAll('"', '""')}"` : line;
};
