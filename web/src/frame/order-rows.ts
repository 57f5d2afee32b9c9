import type { Column } from './grid.tsx';

// Sorting and filtering of any table by its own columns, a slice at a time so that the page answers meanwhile.

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
  sort: { id: string; down: boolean } | null,
  wanted: () => boolean,
  among: (row: number) => boolean = () => true,
): Promise<Uint32Array | null> {
  const tests = columns.flatMap((c) => {
    const test = testOf(filters[c.id] ?? '');
    return test ? [[c, test] as const] : [];
  });
  const by = sort ? columns.find((c) => c.id === sort.id) : undefined;
  if (tests.length === 0 && !by) return null;
  const rows: number[] = [];
  const keys: (number | string)[] = [];
  for (let row = 0; row < count; row++) {
    if (row % SLICE === SLICE - 1) {
      await breathe();
      if (!wanted()) return null;
    }
    if (!among(row)) continue;
    if (!tests.every(([c, test]) => test(c.text(row), c.value ? c.value(row) : NaN))) continue;
    rows.push(row);
    if (by) keys[row] = by.value ? by.value(row) : by.text(row);
  }
  if (by) {
    const sign = sort!.down ? -1 : 1;
    const collator = new Intl.Collator(undefined, { numeric: true });
    rows.sort((a, b) => {
      const [p, q] = [keys[a], keys[b]];
      // What has no value stands last, whichever way.
      const [pNone, qNone] = [p === '' || Number.isNaN(p), q === '' || Number.isNaN(q)];
      if (pNone || qNone) return Number(pNone) - Number(qNone) || a - b;
      const order = typeof p === 'number' && typeof q === 'number' ? p - q : collator.compare(String(p), String(q));
      return sign * order || a - b;
    });
  }
  return Uint32Array.from(rows);
}
