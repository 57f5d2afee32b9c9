import { FILE_UNITS, plainNumber, type FileUnit } from '#core/measure';

/** Rows of a typed or pasted table at the most. */
const MOST_ROWS = 100_000;
const SEPARATORS = ['\t', ';', '|', ','] as const;

/** A unit in the brackets of a heading, of an area as of a length: m, ft, m², ft2 … */
export const UNIT_IN = /[[(] ?(us ?ft|mm|cm|m|ft|in) ?[²2]? ?[\])]/i;

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
export const isHeading = ({ fields }: HandRow): boolean => !/\d/.test(fields.map((f) => f.replace(UNIT_IN, '')).join('')); // prettier-ignore

/** A number with a point or a comma; NaN of what is none. */
export const numberIn = (text: string): number => plainNumber(text.replace(',', '.'));

/** Units that headings say, each once. */
export function unitsOf(heads: readonly string[]): FileUnit[] {
  const said = heads.flatMap((h) => UNIT_IN.exec(h)?.[1].toLowerCase().replace(' ', '') ?? []);
  return [...new Set(said)].filter((u): u is FileUnit => (FILE_UNITS as readonly string[]).includes(u));
}

/** The column that each heading names; the name of the first that none does. */
export function columnsOf<C extends string>(heads: readonly string[], named: Record<C, RegExp>): Record<C, number> | C {
  const out = {} as Record<C, number>;
  for (const column of Object.keys(named) as C[]) {
    out[column] = heads.findIndex((h) => named[column].test(h));
    if (out[column] < 0) return column;
  }
  return out;
}
