import { FILE_UNITS, METRES_IN_FILE, plainNumber, type FileUnit } from '#core/measure';
import type { GivenSection } from './given-sections.ts';

/** Rows of a table of sections at the most. */
const MOST_ROWS = 100_000;
const SEPARATORS = ['\t', ';', '|', ','] as const;
const COLUMNS = ['chainage', 'cut', 'fill'] as const;
type Column = (typeof COLUMNS)[number];

/** What heads a column of each kind. */
const HEADS: Record<Column, RegExp> = { chainage: /chain|station|^ch\b|^sta\b/i, cut: /cut|excavat/i, fill: /fill|embank/i }; // prettier-ignore

/** A unit in the brackets of a heading, of an area as of a length: m, ft, m², ft2 … */
const UNIT_IN = /[[(] ?(us ?ft|mm|cm|m|ft|in) ?[²2]? ?[\])]/i;

export type SectionTable = { ok: true; sections: GivenSection[]; unit: FileUnit } | { ok: false; reason: string };

/**
 * A table of sections: chainage, cut area and fill area a row, in that order unless a heading says another, separated by tab,
 * semicolon, bar, comma or blanks; decimal comma where commas do not separate. A chainage may be written 1+250 or 12+50.
 * A row that cannot be read is a reason to read none: a section that is missing is a wrong volume.
 * @param unit of lengths, and squared of areas; a heading that says one goes first
 */
export function readSectionTable(text: string, unit: FileUnit | null): SectionTable {
  const lines = text
    .split(/\r?\n/)
    .flatMap((line, i) => (line.trim() === '' ? [] : [{ line: line.trim(), row: i + 1 }]));
  if (lines.length === 0) return { ok: false, reason: 'The table is empty.' };
  if (lines.length > MOST_ROWS) return { ok: false, reason: `The table has ${lines.length} rows; at most ${MOST_ROWS} are read.` }; // prettier-ignore
  const separator = SEPARATORS.find((s) => lines.every(({ line }) => line.split(s).length >= COLUMNS.length)) ?? /\s+/;
  const fieldsOf = (line: string): string[] => line.split(separator).map((f) => f.trim().replace(/^"(.*)"$/, '$1'));
  const first = fieldsOf(lines[0].line);
  const headed = !/\d/.test(first.map((f) => f.replace(UNIT_IN, '')).join(''));
  const at = headed ? columnsOf(first) : { chainage: 0, cut: 1, fill: 2 };
  if (typeof at === 'string') return { ok: false, reason: `Row ${lines[0].row}: no column is headed ${at}.` };
  const said = headed ? unitsOf(first, at) : [];
  if (said.length > 1) return { ok: false, reason: `Row ${lines[0].row}: the headings say ${said.join(' and ')}; one unit is read.` }; // prettier-ignore
  const inUnit = said[0] ?? unit;
  if (!inUnit) return { ok: false, reason: 'The table does not say its unit. Give --unit m, ft or usft.' };
  const metre = METRES_IN_FILE[inUnit];
  const sections: GivenSection[] = [];
  for (const { line, row } of lines.slice(headed ? 1 : 0)) {
    const fields = fieldsOf(line);
    if (headed && fields.length !== first.length) return { ok: false, reason: `Row ${row} has ${fields.length} columns, the headings ${first.length}. Separate them by tabs, semicolons or commas.` }; // prettier-ignore
    const chainage = readChainage(fields[at.chainage] ?? '');
    const [cut, fill] = [numberIn(fields[at.cut] ?? ''), numberIn(fields[at.fill] ?? '')];
    const wrong = Number.isNaN(chainage) ? 'chainage' : !(cut >= 0) ? 'cut' : !(fill >= 0) ? 'fill' : null;
    if (wrong) return { ok: false, reason: `Row ${row}: the ${wrong === 'chainage' ? wrong : `${wrong} area`} “${(fields[at[wrong]] ?? '').slice(0, 30)}” is not ${wrong === 'chainage' ? 'one' : 'an area'}. Nothing is computed: a section that is missing is a wrong volume.` }; // prettier-ignore
    sections.push({ chainage: chainage * metre, cut: cut * metre * metre, fill: fill * metre * metre, row });
  }
  return { ok: true, sections, unit: inUnit };
}

const numberIn = (text: string): number => plainNumber(text.replace(',', '.'));

/** 1250, 1+250 by the thousand or 12+50 by the hundred, as many as its digits say; NaN of what is none. */
export function readChainage(text: string): number {
  const parted = /^(-?\d{1,9})\+(\d{2,3})([.,]\d{1,9})?$/.exec(text.trim());
  if (!parted) return numberIn(text);
  const [, before, whole, rest = ''] = parted;
  const behind = Number(`${whole}${rest.replace(',', '.')}`);
  const sign = before.startsWith('-') ? -1 : 1;
  return sign * (Math.abs(Number(before)) * 10 ** whole.length + behind);
}

function columnsOf(heads: readonly string[]): Record<Column, number> | string {
  const out = {} as Record<Column, number>;
  for (const column of COLUMNS) {
    out[column] = heads.findIndex((h) => HEADS[column].test(h));
    if (out[column] < 0) return column;
  }
  return out;
}

/** Units that the headings of the columns say, each once. */
function unitsOf(heads: readonly string[], at: Record<Column, number>): FileUnit[] {
  const said = COLUMNS.flatMap((c) => UNIT_IN.exec(heads[at[c]])?.[1].toLowerCase().replace(' ', '') ?? []);
  return [...new Set(said)].filter((u): u is FileUnit => (FILE_UNITS as readonly string[]).includes(u));
}
