import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText } from '#core/book';
import { newDocument, withEdits, type Intake, type PointEdit } from '#core/project';
import { packRead } from '#core/sources';
import { failedRead } from '#core/exchange';
import type { LineColumns } from '#core/stages';
import { bookColumnsOf, type BookColumns } from '../../src/work/book-columns.ts';
import { foldKeys, keyOfItem, recordItems, type Item, type Shown } from '../../src/stages/book/record-items.ts';

const ROWS = [
  'book 1',
  'unit m',
  'angle deg',
  'setup A hi=1.5 time=2026-07-20T08:10',
  'back B circle=0 zenith=90 dist=50 th=1.5 time=2026-07-20T08:12',
  'shot 1 circle=10 zenith=90 dist=10 th=1.5 code=KT1 time=2026-07-20T08:50',
  'shot 2 circle=20 zenith=90 dist=11 th=1.5 code=ÄCKER time=2026-07-20T09:01',
  'deleted shot 3 circle=30 zenith=90 dist=12 th=1.5 code=KT1',
  'setup B hi=1.6 time=2026-07-20T10:00',
  'back A circle=0 zenith=90 dist=50 th=1.5',
  'shot 4 circle=40 zenith=90 dist=13 th=1.5 code=KT1',
  'end',
];
const book = readBookText(ROWS.join('\n'))!;
const columns = (): BookColumns =>
  bookColumnsOf(packRead({ ...failedRead(''), failure: undefined, rows: book.rows, book }))!;
const intakes = [
  { id: 'b:1', form: 'book' },
  { id: 'b', form: 'book' },
] as Intake[];
const doc = (edits: Record<string, PointEdit> = {}) => ({
  ...newDocument(),
  intakes,
  edits: withEdits({}, Object.entries(edits)),
});

/** One line through shots 4, 1 and a place of no point; points stand in the table as 4, 1, 2 of the second book. */
const tables = {
  books: new Map([['b:1', columns()], ['b', columns()]]), // prettier-ignore
  linework: { lines: [{ key: 'KT1', rows: [0, -1, 1] }] } as unknown as LineColumns,
  points: { intake: Uint32Array.of(1, 1, 1), fileRow: Uint32Array.of(11, 6, 7) } as never,
};
const how = { fold: 'none' as const, shown: 'all' as Shown, find: '', closed: new Set<string>() };
const names = (items: Item[]): string[] =>
  items.map((it) => (it.head ? `${it.head.title} (${it.head.count})` : `${it.intake} ${it.book.number.get(it.at)}`));
const numbers = (items: Item[]): string[] => names(items).filter((n) => n.startsWith('b ')).map((n) => n.slice(2)); // prettier-ignore

describe('the ledger of the book', () => {
  it('holds every record of every book in the order observed', () => {
    const items = recordItems(doc(), tables, how);
    expect(items).toHaveLength(2 * book.records.length);
    expect(numbers(items)).toEqual(['A', 'B', '1', '2', '3', 'B', 'A', '4']);
  });

  it('finds by part of a number or a code, as edited, in any case and any alphabet', () => {
    const edits = { 'b:11': { number: 'X77', description: 'wall' } };
    const found = (find: string): string[] => names(recordItems(doc(edits), tables, { ...how, find }));
    expect(found('äck')).toEqual(['b:1 2', 'b 2']);
    expect(found('x7')).toEqual(['b 4']);
    expect(found('WAL')).toEqual(['b 4']);
    expect(found('4')).toEqual(['b:1 4']);
  });

  it('shows what was changed, what is left out, and what is known, each by the book it is of', () => {
    const edits = { 'b:6': { off: true }, 'b:8': { off: false }, 'b:7': { height: 1.8 }, 'b:1:5': { role: 'shot' as const } }; // prettier-ignore
    const shown = (which: Shown): string[] => names(recordItems(doc(edits), tables, { ...how, shown: which }));
    expect(shown('changed')).toEqual(['b:1 B', 'b 1', 'b 2', 'b 3']);
    expect(shown('off')).toEqual(['b:1 3', 'b 1']);
    expect(shown('known')).toEqual(['b:1 A', 'b:1 B', 'b:1 A', 'b A', 'b B', 'b B', 'b A']);
  });

  it('goes along lines as they run, and puts what is in none last', () => {
    const items = recordItems(doc(), tables, { ...how, fold: 'line' });
    expect(names(items).slice(0, 4)).toEqual(['line KT1 (2)', 'b 4', 'b 1', `in no line (${2 * book.records.length - 2})`]); // prettier-ignore
    expect(items).toHaveLength(2 * book.records.length + 2);
  });

  it('folds by the hour, a record without a time with the one before it', () => {
    const one = { ...tables, books: new Map([['b', columns()]]) };
    expect(names(recordItems(doc(), one, { ...how, fold: 'time' }))).toEqual([
      '2026-07-20 08 h (3)', 'b A', 'b B', 'b 1', '2026-07-20 09 h (2)', 'b 2', 'b 3', '2026-07-20 10 h (3)', 'b B', 'b A', 'b 4',
    ]); // prettier-ignore
  });

  it('hides in closed folds all but their heads, however many are closed', () => {
    fc.assert(
      fc.property(fc.constantFrom('setup' as const, 'line' as const, 'time' as const), fc.nat(), (fold, seed) => {
        const keys = foldKeys(doc(), tables, fold);
        const closed = new Set(keys.filter((_, i) => (seed >> (i % 30)) & 1));
        const all = recordItems(doc(), tables, { ...how, fold });
        const open = recordItems(doc(), tables, { ...how, fold, closed });
        expect(recordItems(doc(), tables, { ...how, fold, closed: new Set(keys) })).toHaveLength(keys.length);
        const text = (it: Item): string => `${keyOfItem(it)} ${it.head?.key ?? ''}`;
        const every = all.map(text);
        for (const it of open) expect(every).toContain(text(it));
        if (closed.size === 0) expect(open.map(text)).toEqual(every);
      }),
    );
  });
});
