import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { GivenSection } from './given-sections.ts';
import { namedColumns, numberIn } from './hand-table.ts';

const COLUMNS = ['chainage', 'cut', 'fill'] as const;

/** What heads a column of each kind. */
const HEADS: Record<(typeof COLUMNS)[number], RegExp> = { chainage: /chain|station|^ch\b|^sta\b/i, cut: /cut|excavat/i, fill: /fill|embank/i }; // prettier-ignore

export type SectionTable = { ok: true; sections: GivenSection[]; unit: FileUnit } | { ok: false; reason: string };

/**
 * A table of sections: chainage, cut area and fill area a row, in that order unless a heading says another, separated by tab,
 * semicolon, bar, comma or blanks; decimal comma where commas do not separate. A chainage may be written 1+250 or 12+50.
 * A row that cannot be read is a reason to read none: a section that is missing is a wrong volume.
 * @param unit of lengths, and squared of areas; a heading that says one goes first
 */
export function readSectionTable(text: string, unit: FileUnit | null): SectionTable {
  const table = namedColumns(text, COLUMNS, HEADS, unit);
  if ('reason' in table) return { ok: false, ...table };
  const { rows, at, unit: inUnit, heads } = table;
  const metre = METRES_IN_FILE[inUnit];
  const sections: GivenSection[] = [];
  for (const { fields, row } of rows) {
    if (heads && fields.length !== heads.length) return { ok: false, reason: `Row ${row} has ${fields.length} columns, the headings ${heads.length}. Separate them by tabs, semicolons or commas.` }; // prettier-ignore
    const chainage = readChainage(fields[at.chainage] ?? '');
    const [cut, fill] = [numberIn(fields[at.cut] ?? ''), numberIn(fields[at.fill] ?? '')];
    const wrong = Number.isNaN(chainage) ? 'chainage' : !(cut >= 0) ? 'cut' : !(fill >= 0) ? 'fill' : null;
    if (wrong) return { ok: false, reason: `Row ${row}: the ${wrong === 'chainage' ? wrong : `${wrong} area`} “${(fields[at[wrong]] ?? '').slice(0, 30)}” is not ${wrong === 'chainage' ? 'one' : 'an area'}. Nothing is computed: a section that is missing is a wrong volume.` }; // prettier-ignore
    sections.push({ chainage: chainage * metre, cut: cut * metre * metre, fill: fill * metre * metre, row });
  }
  return { ok: true, sections, unit: inUnit };
}

/** 1250, 1+250 by the thousand or 12+50 by the hundred, as many as its digits say; NaN of what is none. */
export function readChainage(text: string): number {
  const parted = /^(-?\d{1,9})\+(\d{2,3})([.,]\d{1,9})?$/.exec(text.trim());
  if (!parted) return numberIn(text);
  const [, before, whole, rest = ''] = parted;
  const behind = Number(`${whole}${rest.replace(',', '.')}`);
  const sign = before.startsWith('-') ? -1 : 1;
  return sign * (Math.abs(Number(before)) * 10 ** whole.length + behind);
}
