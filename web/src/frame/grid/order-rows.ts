import type { Column, Sort } from './column.ts';

// Sorting and filtering of any table by its own columns, over the indices of its rows: no row becomes an object, and a
// slice at a time so that the page answers meanwhile.

const SLICE = 4000;
const breathe = (): Promise<void> => new Promise((r) => setTimeout(r));

/** Whether a cell passes what was typed over its column; `value` is NaN where the column has none. */
export type Test = (text: string, value: number) => boolean;

/** `>1.5`, `<2`, `=1.5`, `1.5..2` compare numbers in the unit shown, `-` is empty; anything else is part of the text. */
export function testOf(typed: string): Test | null {
  const sought = typed.trim();
  if (sought === '') return null;
  if (sought === '-') return (text) => text.trim() === '' || text === '–';
  const number = (t: string): number => (t.trim() === '' ? NaN : Number(t.trim().replace(',', '.')));
  const dots = sought.indexOf('..', 1);
  if (dots > 0 && dots + 2 < sought.length) {
    const range = ['', sought.slice(0, dots), sought.slice(dots + 2)];
    const [low, high] = [number(range[1]), number(range[2])];
    if (Number.isFinite(low + high)) return (_, value) => value >= low && value <= high;
  }
  const than = /^(<=|>=|<|>|=)(.+)$/s.exec(sought);
  if (than) {
    const limit = number(than[2]);
    if (Number.isFinite(limit))
      return (_, value) => {
        switch (than[1]) {
          case '<':
            return value < limit;
          case '>':
            return value > limit;
          case '<=':
            return value <= limit;
          case '>=':
            return value >= limit;
          default:
            return Math.abs(value - limit) < 5e-7;
        }
      };
    if (than[1] === '=') return (text) => text.toUpperCase() === than[2].trim().toUpperCase();
  }
  const upper = sought.toUpperCase();
  return (text) => text.toUpperCase().includes(upper);
}

/** Rows that pass every filter, in the order of a column; null when all of them stand as they are, or nobody wants it any more. */
export async function orderRows(
  columns: readonly Column[],
  count: number,
  filters: Readonly<Record<string, string>>,
  sort: Sort,
  wanted: () => boolean,
  among: ((row: number) => boolean) | null = null,
): Promise<Uint32Array | null> {
  const tests = columns.flatMap((c) => {
    const test = testOf(filters[c.id] ?? '');
    return test ? [[c, test] as const] : [];
  });
  const by = sort ? columns.find((c) => c.id === sort.id) : undefined;
  if (tests.length === 0 && !by) return null;
  const rows = new Uint32Array(count);
  const values = by?.value ? new Float64Array(count) : null;
  const texts: string[] | null = by && !by.value ? new Array<string>(count) : null;
  let kept = 0;
  for (let row = 0; row < count; row++) {
    if (row % SLICE === SLICE - 1) {
      await breathe();
      if (!wanted()) return null;
    }
    if (among && !among(row)) continue;
    if (!tests.every(([c, test]) => test(c.text(row), c.value ? c.value(row) : NaN))) continue;
    rows[kept++] = row;
    if (values) values[row] = by!.value!(row);
    else if (texts) texts[row] = by!.text(row);
  }
  const found = rows.slice(0, kept);
  if (!by) return found;
  if (values) return sortedBy(found, [values], sort!.down);
  await breathe();
  return wanted() ? sortedBy(found, textKeys(texts!, found), sort!.down) : null;
}

/** Rows by several keys, one after the other; what has no value (NaN) stands last whichever way, equals as they stood. */
function sortedBy(rows: Uint32Array, keys: Float64Array[], down: boolean): Uint32Array {
  const sign = down ? -1 : 1;
  const [first, ...rest] = keys;
  return rows.sort((a, b) => {
    const [p, q] = [first[a], first[b]];
    if (p < q) return -sign;
    if (p > q) return sign;
    if (p !== p || q !== q) return Number(p !== p) - Number(q !== q) || a - b;
    for (const k of rest) {
      if (k[a] < k[b]) return -sign;
      if (k[a] > k[b]) return sign;
    }
    return a - b;
  });
}

const collator = new Intl.Collator(undefined, { numeric: true });

/**
 * Keys of texts, by row: the rank of what stands before the first number, the number, the rank of what stands behind.
 * Of many texts few beginnings and ends differ, so that letters are compared seldom and numbers as numbers.
 */
function textKeys(texts: readonly string[], rows: Uint32Array): Float64Array[] {
  const [before, numbers, behind] = [0, 0, 0].map(() => new Float64Array(texts.length));
  const [heads, tails] = [new Map<string, number[]>(), new Map<string, number[]>()];
  for (const row of rows) {
    const text = texts[row];
    const [digits] = /\d{1,15}/.exec(text) ?? [''];
    const at = digits ? text.indexOf(digits) : text.length;
    numbers[row] = digits ? Number(digits) : -1;
    if (text.trim() === '') before[row] = NaN;
    else push(heads, text.slice(0, at), row);
    push(tails, text.slice(at + digits.length), row);
  }
  rank(heads, before);
  rank(tails, behind);
  return [before, numbers, behind];
}

const push = (lists: Map<string, number[]>, text: string, row: number): void => {
  const list = lists.get(text);
  if (list) list.push(row);
  else lists.set(text, [row]);
};

function rank(lists: ReadonlyMap<string, readonly number[]>, into: Float64Array): void {
  [...lists.keys()].sort(collator.compare).forEach((text, i) => {
    for (const row of lists.get(text)!) into[row] = i;
  });
}
