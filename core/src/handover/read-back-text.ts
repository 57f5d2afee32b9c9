import { noneOf, readPoints, splitRow, type PointRow, type Role, type TextOutSettings } from '#core/exchange';
import { Comparison, rounding, type ReadBack } from './comparison.ts';

const PART_COLUMN: Record<string, keyof NonNullable<PointRow['parts']>> = {
  C: 'code',
  L: 'line',
  W: 'words',
  A: 'attributes',
};

export function readBackText(text: string, meant: PointRow[], settings: TextOutSettings): ReadBack {
  const c = new Comparison(1, Math.max(rounding(settings.decimals, settings.unit), settings.degrees ? 1e-4 : 0));
  const read = readPoints(text, {
    separator: settings.separator,
    decimal: settings.decimal ?? '.',
    skipRows: settings.headings ? 1 : 0,
    // Columns that hold one part of the description are compared by themselves.
    roles: settings.order.map((r) => (r in PART_COLUMN ? '_' : (r as Role))),
    unit: settings.unit,
    ...(settings.degrees ? { degrees: true } : {}),
  });
  // A degree of latitude in metres: what a deviation in degrees comes to on the ground.
  const size = settings.degrees ? 111_320 : 1;
  const rows = settings.order.some((r) => r in PART_COLUMN)
    ? text
        .split(/\r?\n/)
        .slice(settings.headings ? 1 : 0)
        .map((row) => splitRow(row, settings.separator))
    : null;
  if (!read) throw new Error('Reading was stopped.');
  if (read.refusedCount > 0) c.problem(`${read.refusedCount} rows cannot be read: ${read.refused[0].reason}`);
  if (!c.count('points', meant.length, read.x.length)) return c.result();
  meant.forEach((p, i) => {
    const what = (): string => `row ${i + 1}, point ${p.number}`;
    c.value(p.x * size, read.x[i] * size, what);
    c.value(p.y * size, read.y[i] * size, what);
    if (settings.order.includes('Z')) {
      if (Number.isNaN(p.z) !== Number.isNaN(read.z[i])) c.problem(`${what()}: elevation lost or made up`);
      else if (!Number.isNaN(p.z)) c.value(p.z, read.z[i], what);
    }
    if (settings.order.includes('P')) c.text(words(p.number), read.number[i], () => `${what()}: the number`);
    if (settings.order.includes('D')) c.text(words(p.description), read.description[i], () => `${what()}: the description`); // prettier-ignore
    if (p.parts && rows)
      settings.order.forEach((r, k) => {
        const part = PART_COLUMN[r];
        if (part === undefined) return;
        const got = rows[i]?.[k] ?? '';
        c.text(words(p.parts![part]), got === noneOf(settings) ? '' : got, () => `${what()}: ${part}`);
      });
  });
  const without = meant.filter((p) => Number.isNaN(p.z)).length;
  if (without && settings.order.includes('Z'))
    c.notes.push(
      `${without} ${without === 1 ? 'point has' : 'points have'} no elevation, written as ${noneOf(settings) === '' ? 'an empty cell' : `“${noneOf(settings)}”`}`,
    );
  return c.result();
}

/** A text as a row can hold it: in one line, without blanks about it. */
const words = (text: string): string => text.replace(/[\r\n]+/g, ' ').trim();
