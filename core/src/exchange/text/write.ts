import { fromMetres, type LengthUnit } from '#core/measure';
import { cellText } from './cell.ts';

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
  /** Plan coordinates are degrees already, longitude as x and latitude as y; written to a tenth of a millimetre. */
  degrees?: boolean;
}

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

/** Writes points as delimited text; what is missing stays empty, or is a hyphen where blanks separate. Rows end with CR LF, as devices expect. */
export function writeText(points: Iterable<PointRow>, settings: TextOutSettings): string {
  const { order, decimals, unit, separator } = settings;
  const out: string[] = [];
  if (settings.headings)
    out.push(
      order
        .map((r) =>
          settings.degrees && r === 'E' ? 'Longitude' : settings.degrees && r === 'N' ? 'Latitude' : HEADING[r](unit),
        )
        .join(separator),
    );
  const value = (p: PointRow, role: OutColumn): string => {
    if (role === 'P') return quoted(p.number, separator);
    if (role === 'D') return quoted(p.description, separator);
    const part = PART[role];
    if (part) return quoted(p.parts?.[part] ?? '', separator);
    if (settings.degrees && role !== 'Z') return (role === 'E' ? p.x : p.y).toFixed(DEGREE_DECIMALS);
    const metres = role === 'E' ? p.x : role === 'N' ? p.y : p.z;
    return Number.isNaN(metres) ? quoted('', separator) : fromMetres(metres, unit).toFixed(decimals);
  };
  for (const p of points) out.push(order.map((r) => value(p, r)).join(separator));
  return out.join('\r\n') + '\r\n';
}

const quoted = (text: string, separator: TextOutSettings['separator']): string => {
  if (separator !== ' ') return cellText(text, separator);
  const line = text.replace(/[\r\n]+/g, ' ');
  // Between blanks an empty field would be none.
  if (line === '') return '-';
  return line.includes(' ') || line.includes('"') ? `"${line.replaceAll('"', '""')}"` : line;
};
