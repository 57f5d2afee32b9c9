import { FILE_UNITS, plainNumber, type FileUnit } from '#core/measure';

/** Rows of a typed or pasted table at the most. */
const MOST_ROWS = 100_000;
const SEPARATORS = ['\t', ';', '|', ','] as const;

/** A unit in the brackets of a heading, of an area as of a length: m, ft, m², ft2 … */
const UNIT_IN = /[[(] ?(us ?ft|mm|cm|m|ft|in) ?[²2]? ?[\])]/i;

export interface HandRow {
  /** Counted from 1 in what was typed. */
  row: number;
  fields: string[];
}

/**
 * Rows of a table that somebody typed or pasted, in fields separated by tab, semicolon, bar or comma, where every row has at
 * least so many of them, else by blanks; empty rows apart.
 */
export function handRows(text: string, least: number): HandRow[] | { reason: string } {
  const lines = text.split(/\r?\n/).flatMap((line, i) => (line.trim() === '' ? [] : [{ line, row: i + 1 }]));
  if (lines.length === 0) return { reason: 'The table is empty.' };
  if (lines.length > MOST_ROWS) return { reason: `The table has ${lines.length} rows; at most ${MOST_ROWS} are read.` };
  const separator = SEPARATORS.find((s) => lines.every(({ line }) => parts(line, s, least))) ?? /\s+/;
  return lines.map(({ line, row }) => ({
    row,
    fields: (separator === '\t' ? line : line.trim()).split(separator).map((f) => f.trim().replace(/^"(.*)"$/, '$1')),
  }));
}

/** Whether a separator parts a row; a comma does not that stands within numbers which blanks part: `1,5 2,5`. */
function parts(line: string, separator: string, least: number): boolean {
  const fields = line.split(separator);
  return fields.length >= least && (separator !== ',' || !fields.some((f) => /\d\s+[\d–-]/.test(f)));
}

/** Whether a row has words instead of numbers; a unit in brackets is no number. */
const isHeading = ({ fields }: HandRow): boolean => !/\d/.test(fields.map((f) => f.replace(UNIT_IN, '')).join('')); // prettier-ignore

/** A number with a point or a comma; NaN of what is none. */
export const numberIn = (text: string): number => plainNumber(text.replace(',', '.'));

/** Units that headings say, each once. */
function unitsOf(heads: readonly string[]): FileUnit[] {
  const said = heads.flatMap((h) => UNIT_IN.exec(h)?.[1].toLowerCase().replace(' ', '') ?? []);
  return [...new Set(said)].filter((u): u is FileUnit => (FILE_UNITS as readonly string[]).includes(u));
}

/** The column that each heading names; the name of the first that none does. */
function columnsOf<C extends string>(heads: readonly string[], named: Record<C, RegExp>): Record<C, number> | C {
  const out = {} as Record<C, number>;
  for (const column of Object.keys(named) as C[]) {
    out[column] = heads.findIndex((h) => named[column].test(h));
    if (out[column] < 0) return column;
  }
  return out;
}

/** A table whose columns have names: its rows, where each column stands, its unit, and its headings where it has them. */
export interface NamedTable<C extends string> {
  rows: HandRow[];
  at: Record<C, number>;
  unit: FileUnit;
  heads: string[] | null;
}

/**
 * Reads a table with columns in the order given, unless headings say another.
 * @param unit of lengths; one that the headings say goes first
 */
export function namedColumns<C extends string>(
  text: string,
  columns: readonly C[],
  named: Record<C, RegExp>,
  unit: FileUnit | null,
): NamedTable<C> | { reason: string } {
  const rows = handRows(text, columns.length);
  if ('reason' in rows) return rows;
  const [first] = rows;
  const heads = isHeading(first) ? first.fields : null;
  const at = heads ? columnsOf(heads, named) : (Object.fromEntries(columns.map((c, i) => [c, i])) as Record<C, number>);
  if (typeof at === 'string') return { reason: `Row ${first.row}: no column is headed ${at}.` };
  const said = heads ? unitsOf(columns.map((c) => heads[at[c]])) : [];
  if (said.length > 1) return { reason: `Row ${first.row}: the headings say ${said.join(' and ')}; one unit is read.` };
  const inUnit = said[0] ?? unit;
  if (!inUnit) return { reason: 'The table does not say its unit. Give --unit m, ft or usft.' };
  return { rows: heads ? rows.slice(1) : rows, at, unit: inUnit, heads };
}
