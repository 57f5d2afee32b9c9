import { describe, expect, it } from 'vitest';
import { stringColumn } from '#core/kernel';
import { LazyText, type PointColumns } from '../../src/work/columns.ts';
import { filterRows } from '../../src/stages/book/rows.ts';

const points = (rows: [string, string, number][]): PointColumns => ({
  number: new LazyText(stringColumn(rows.map((r) => r[0]))),
  description: new LazyText(stringColumn(rows.map((r) => r[1]))),
  x: Float64Array.from(rows, (r) => r[2]),
  y: new Float64Array(rows.length),
  z: Float64Array.from(rows, (r) => (r[2] > 5 ? NaN : r[2])),
  intake: new Uint32Array(rows.length),
  fileRow: Uint32Array.from(rows, (_, i) => i + 1),
  state: new Uint8Array(rows.length),
  sdPlan: new Float32Array(),
  sdHeight: new Float32Array(),
  date: new Uint32Array(rows.length),
  light: new Uint8Array(0),
  edited: new Uint8Array(rows.length),
});
const list = points([
  ['10', 'KT1 BEG', 3],
  ['9', 'GR', 1],
  ['A7', 'TR größer', 9],
  ['100', 'kt1', 2],
]);
const always = (): boolean => true;

describe('rows of the book', () => {
  it('are found by number or code, capitals or not', async () => {
    expect([...(await filterRows(list, 'kt', always))]).toEqual([0, 3]);
    expect([...(await filterRows(list, '10', always))]).toEqual([0, 3]);
    expect([...(await filterRows(list, 'GRÖSSER', always))]).toEqual([2]);
    expect([...(await filterRows(list, 'nothing', always))]).toEqual([]);
  });

  it('give way when nobody wants them any more', async () => {
    const many = points(Array.from({ length: 30_000 }, (_, i) => [String(i), 'GR', i]));
    expect((await filterRows(many, 'GR', () => false)).length).toBeLessThan(30_000);
  });
});
