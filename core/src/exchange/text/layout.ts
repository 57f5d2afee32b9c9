import type { TakenRow } from '../taken.ts';
import type { WrittenWhere } from '../written-elevations.ts';
import { unmarked } from './cell.ts';
import { plainNumber, type FileUnit } from '#core/measure';

/** P number, N north, E east, Z elevation, D description, L line number, W line word, _ not read. */
export type Role = 'P' | 'N' | 'E' | 'Z' | 'D' | 'L' | 'W' | 'S' | '_';
export const ROLE_NAME: Record<Role, string> = {
  P: 'number',
  N: 'north',
  E: 'east',
  Z: 'elevation',
  D: 'description',
  L: 'line number',
  W: 'line word',
  S: 'standard deviation',
  _: 'not read',
};

export type Separator = ',' | ';' | '\t' | '|' | ' ';
export const SEPARATOR_NAME: Record<Separator, string> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
  ' ': 'spaces',
};

/** How a text file of points is to be read. */
export interface TextLayout {
  separator: Separator;
  decimal: '.' | ',';
  /** Rows before the first point: headings, titles. */
  skipRows: number;
  roles: Role[];
  unit: FileUnit;
  /** Plan columns hold degrees: longitude where it says east, latitude where it says north. */
  degrees?: boolean;
  /** The sheet of a spreadsheet by its name; absent: the first. */
  sheet?: string;
  /** The ready-made surface whose vertices the rows are, by its name; absent: the file's points. */
  surface?: string;
  /** Whether the rows are the vertices of its lines. */
  lines?: boolean;
  /** What is taken of a drawing; absent: all that are points, lines or faces. */
  taken?: TakenRow[];
  /** Contours of a drawing that have no elevation get the one that is written there. */
  written?: WrittenWhere;
  /** With what its blocks draw. */
  blocks?: boolean;
  /** Of a grid: every so many-th node of every so many-th row. */
  step?: number;
  /** With its lines cleaned for a small screen; lengths in m. */
  clean?: { join: number; straight: number; atZero: boolean };
  /** Of a drawing what reaches into this window alone: west, south, east, north in its own unit. */
  within?: [number, number, number, number];
  /** Of a drawing what reaches into this fence alone: corners x, y, x, y … in its own unit. */
  fence?: number[];
}

/** Why a layout cannot be used as it stands, or null. */
export function layoutProblem(layout: TextLayout): string | null {
  for (const role of ['E', 'N'] as const) {
    const count = layout.roles.filter((r) => r === role).length;
    if (count === 0) return `No column is taken as ${ROLE_NAME[role]}. Choose one.`;
    if (count > 1) return `${count} columns are taken as ${ROLE_NAME[role]}. Keep one.`;
  }
  for (const role of ['P', 'Z', 'L', 'S'] as const)
    if (layout.roles.filter((r) => r === role).length > 1)
      return `More than one column is taken as ${ROLE_NAME[role]}. Keep one.`;
  return null;
}

/** Parts a row at the separator, with "quoted" fields ("" for a quote inside). Spaces count in any number. */
export function splitRow(row: string, separator: Separator): string[] {
  if (separator === ' ') return splitAtSpaces(row);
  if (!row.includes('"')) return row.split(separator).map((f) => unmarked(f.trim()));
  const out: string[] = [];
  let field = '';
  let quoted = false;
  /** Nothing but blanks in the field so far: a quote here opens it. */
  let blank = true;
  for (let i = 0; i < row.length; i++) {
    const c = row[i];
    if (quoted) {
      if (c === '"' && row[i + 1] === '"') {
        field += '"';
        i++;
      } else if (c === '"') quoted = false;
      else field += c;
    } else if (c === '"' && blank) {
      quoted = true;
      blank = false;
      field = '';
    } else if (c === separator) {
      out.push(unmarked(field.trim()));
      field = '';
      blank = true;
    } else {
      field += c;
      blank &&= c.trim() === '';
    }
  }
  out.push(unmarked(field.trim()));
  return out;
}

/** Whether a row ends within a quoted field: it goes on in the next line. */
export function endsInQuotes(row: string, separator: Separator): boolean {
  if (separator === ' ' || !row.includes('"')) return false;
  let open = false;
  let empty = true;
  for (const c of row) {
    if (c === '"' && (open || empty)) open = !open;
    if (!open && c === separator) empty = true;
    else if (c !== ' ' && c !== '\t') empty = false;
  }
  return open;
}

function splitAtSpaces(row: string): string[] {
  if (!row.includes('"')) {
    const trimmed = row.trim();
    return trimmed === '' ? [''] : trimmed.split(/\s+/);
  }
  const out: string[] = [];
  for (const match of row.matchAll(/"((?:[^"]|"")*)"?|[^\s"]+/g))
    out.push((match[1] ?? match[0]).replaceAll('""', '"'));
  return out;
}

/** A number as files write it, or NaN. Nothing is guessed: `1,234.5` is not a number. */
export function readNumber(field: string, decimal: '.' | ','): number {
  return plainNumber(decimal === ',' ? field.replace(',', '.') : field);
}
