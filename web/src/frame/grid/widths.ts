import { nameOf, type Column } from './column.ts';

/** Rows whose texts are measured: evenly over the table, first and last among them. */
const LOOKED_AT = 300;
/** Widths of a letter, px: 13 px figures of IBM Plex Mono, and words of the text face as wide as they come on average. */
const MONO = 7.82;
const WORDS = 6.9;
const HEAD = 7.2;
const PADDING = 17;
/** The arrow of a sorted column. */
const ARROW = 16;

/**
 * The width that each column without one of its own asks for, px: its heading, with an arrow where it is the one sorted by,
 * and the widest of its texts.
 */
export function measureWidths(
  columns: readonly Column[],
  count: number,
  rowAt: (i: number) => number,
  sortedBy: string | null = null,
): Record<string, number> {
  const step = Math.max(1, Math.floor(count / LOOKED_AT));
  const widths: Record<string, number> = {};
  for (const c of columns) {
    if (c.width !== undefined) {
      widths[c.id] = c.width;
      continue;
    }
    let letters = 0;
    for (let i = 0; i < count; i += step) letters = Math.max(letters, c.text(rowAt(i)).length);
    if (count) letters = Math.max(letters, c.text(rowAt(count - 1)).length);
    const head = nameOf(c).length * HEAD + (c.id === sortedBy ? ARROW : 0);
    const wanted = Math.ceil(Math.max(letters * (c.words ? WORDS : MONO), head)) + PADDING;
    widths[c.id] = Math.min(c.max ?? 320, Math.max(c.min ?? 40, wanted));
  }
  return widths;
}
