import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  columnsOf,
  emptyRecord,
  fileRowOf,
  readByLayout,
  type BookLayout,
  type BookRecord,
  recordIn,
  recordsOfSetup,
  replaceRecords,
  runOfHeight,
  sightingsOfHeight,
  targetHeightsOf,
} from '#core/book';
import { applyChange, newDocument, type Intake } from '#core/project';
import { packRead, unpackRead } from '#core/sources';
import { editedRecords } from '#core/stages';
import { failedRead } from '#core/exchange';
import { STATION_TABLE } from './station-table.ts';

const LAYOUT: BookLayout = { ...STATION_TABLE, decimal: '.', skipRows: 0 };
const table = fc.array(fc.record({ station: fc.constantFrom('A', 'B', 'C'), hi: fc.constantFrom('1.5', '1.6', 'x'), number: fc.constantFrom('B', '1', '2') }), { minLength: 1, maxLength: 12 }); // prettier-ignore
const textOf = (rows: { station: string; hi: string; number: string }[]): string =>
  rows.map((r) => `${r.station};${r.hi};${r.number};50;99.5;12.345;1.5`).join('\n');

describe('records of a table that names its station in every row', () => {
  it('have rows of their own each, in the order of the file, and count as the file does', () => {
    fc.assert(
      fc.property(table, (rows) => {
        const { records, problems } = readByLayout(textOf(rows), LAYOUT)!;
        const all = records.map((r) => r.row);
        expect(new Set(all).size).toBe(all.length);
        expect([...all].sort((a, b) => a - b)).toEqual(all);
        for (const r of records) expect(rows[fileRowOf(r.row) - 1][r.kind === 'setup' ? 'station' : 'number']).toBe(r.number); // prettier-ignore
        // An instrument height that cannot be read takes no sighting with it.
        expect(records.filter((r) => r.kind === 'sighting')).toHaveLength(rows.length);
        for (const p of problems) expect(rows[p.row - 1].hi).toBe('x');
      }),
    );
  });

  it('are edited one by one: a setup’s height is not the target height of what was sighted first', () => {
    const book = readByLayout('A;1.5;B;0;100;50;1.3\nA;1.5;1;50;99.5;12.3;1.3', LAYOUT)!;
    const intake = { id: 'b' } as Intake;
    const doc = { ...newDocument(), intakes: [intake] };
    const [setup, back] = book.records;
    const edit = (r: BookRecord, height: number): BookRecord[] => {
      const change = { op: 'points.edit' as const, edits: { [`b:${r.row}`]: { set: { height }, undo: [] } } };
      const applied = applyChange(doc, change);
      if (!applied.ok) throw new Error(applied.reason);
      return editedRecords(applied.document, 'b', book.records);
    };
    expect(edit(setup, 1.72).map((r) => r.height)).toEqual([1.72, 1.3, 1.3]);
    expect(edit(back, 1.6).map((r) => r.height)).toEqual([1.5, 1.6, 1.3]);
  });

  it('come out of the store as they went in, the rows of their setups too', () => {
    const book = readByLayout('A;1.5;B;0;100;50;1.3\nC;1.4;1;50;99.5;12.3;1.3', LAYOUT)!;
    const kept = unpackRead(packRead({ ...failedRead(''), failure: undefined, rows: book.rows, book })).book!;
    expect(kept).toEqual(book);
    expect(kept.records.map((r) => r.row)).toEqual([0.5, 1, 1.5, 2]);
  });
});

const record = fc.record({ kind: fc.constantFrom('setup' as const, 'sighting' as const, 'azimuth' as const, 'remark' as const), height: fc.constantFrom(1.3, 1.5, 2.7, NaN), deleted: fc.boolean() }); // prettier-ignore
const records = fc
  .array(record, { minLength: 1, maxLength: 30 })
  .map((list) => list.map((r, i): BookRecord => ({ ...emptyRecord(r.kind, 2 * i + 3), ...r })));

describe('lookups into a book’s records', () => {
  it('find what going through all of them finds', () => {
    fc.assert(
      fc.property(records, (list) => {
        for (const r of list) expect(recordIn(list, r.row)).toBe(r);
        expect(recordIn(list, 2)).toBeUndefined();
        const heights = list.filter((r) => r.kind === 'sighting' && !Number.isNaN(r.height)).map((r) => r.height);
        expect(targetHeightsOf(list)).toEqual([...new Set(heights)].sort((a, b) => a - b));
        for (const s of list) {
          const from = list.indexOf(s) + 1;
          const next = list.findIndex((r, i) => i >= from && r.kind === 'setup');
          const own = s.kind === 'setup' ? list.slice(from, next < 0 ? undefined : next) : [];
          expect(recordsOfSetup(list, s.row)).toEqual(own.filter((r) => r.kind === 'sighting' && !r.deleted));
          expect(recordsOfSetup(list, s.row, 'azimuth')).toEqual(own.filter((r) => r.kind === 'azimuth' && !r.deleted));
        }
      }),
    );
  });

  it('find in a list of which some were replaced what they find in one made so', () => {
    fc.assert(
      fc.property(records, fc.array(fc.tuple(fc.nat(29), record)), (list, replaced) => {
        columnsOf(list);
        targetHeightsOf(list);
        const by = new Map(replaced.map(([i, r]) => [list[i % list.length].row, r]));
        const made = replaceRecords(list, by.keys(), (r) => ({ ...r, ...by.get(r.row) }));
        const anew = made.map((r) => ({ ...r }));
        expect(columnsOf(made)).toEqual(columnsOf(anew));
        expect(targetHeightsOf(made)).toEqual(targetHeightsOf(anew));
        for (const h of targetHeightsOf(anew)) expect(sightingsOfHeight(made, h)).toBe(sightingsOfHeight(anew, h));
        // A change of what was changed before.
        const again = replaceRecords(made, [made[0].row], (r) => ({ ...r, height: 9 }));
        expect(columnsOf(again)).toEqual(columnsOf(again.map((r) => ({ ...r }))));
      }),
    );
  });

  it('give the run of sightings that carry one height, and stop where asked', () => {
    fc.assert(
      fc.property(records, fc.integer({ min: 1, max: 6 }), (list, most) => {
        const sightings = list.filter((r) => r.kind === 'sighting' && !r.deleted);
        for (const r of sightings.filter((s) => !Number.isNaN(s.height))) {
          const at = sightings.indexOf(r);
          let [from, to] = [at, at];
          while (from > 0 && sightings[from - 1].height === r.height) from--;
          while (to + 1 < sightings.length && sightings[to + 1].height === r.height) to++;
          const whole = sightings.slice(from, to + 1);
          expect(runOfHeight(list, r, 100)).toEqual(whole);
          expect(runOfHeight(list, r, most)).toHaveLength(Math.min(most, whole.length));
        }
      }),
    );
  });
});
