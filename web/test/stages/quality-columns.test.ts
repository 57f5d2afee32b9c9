import { isValidElement } from 'react';
import { describe, expect, it } from 'vitest';
import { orderRows } from '../../src/frame/grid/index.ts';
import { haveQuality, qualityColumns } from '../../src/stages/book/quality-columns.tsx';
import { recordItems } from '../../src/stages/book/record-items.ts';
import { projectOf } from '../tables.ts';

const { doc, tables } = projectOf({
  book: [
    'gnss G1 100 200 5 ah=1.8 sp=0.012 sh=0.021 sats=14 pdop=1.6 fix=fixed tilt=2',
    'gnss G2 104 200 5 ah=1.8 sp=0.061 sh=0.120 sats=4 pdop=7.5 fix=float tilt=20',
    'remark a gate',
    'gnss G3 108 200 5 ah=1.8',
  ],
});
const items = recordItems(doc, tables, { fold: 'none', shown: 'all', find: '', closed: new Set() });
const columns = qualityColumns(items, doc.settings);
const of = (id: string) => columns.find((c) => c.id === id)!;
const texts = (id: string): string[] => items.map((_, i) => of(id).text(i));
const isBeyond = (id: string, i: number): boolean => isValidElement(of(id).cell!(i));

describe('how good shots by satellite are', () => {
  it('stands in columns beside what the project asks for', () => {
    expect(columns.map((c) => c.head)).toEqual(['Fix', '± plan m (0.030)', '± h m (0.050)', 'Sat. (5)', 'PDOP (6)', 'Tilt (15.0°)']); // prettier-ignore
    expect(texts('gnss-plan')).toEqual(['0.012', '0.061', '', '']);
    expect(texts('gnss-satellites')).toEqual(['14', '4', '', '']);
    expect(texts('gnss-fix')).toEqual(['fixed', 'float', '', '']);
    expect(haveQuality(items)).toBe(true);
  });

  it('is marked where it is beyond that, and only there', () => {
    for (const id of ['gnss-plan', 'gnss-height', 'gnss-satellites', 'gnss-pdop', 'gnss-tilt'])
      expect([0, 1, 2, 3].map((i) => isBeyond(id, i))).toEqual([false, true, false, false]);
  });

  it('sorts and chooses records: what nobody said stands last', async () => {
    const rows = async (filters: Record<string, string>, sort: { id: string; down: boolean } | null) =>
      Array.from((await orderRows(columns, items.length, filters, sort, () => true)) ?? []);
    expect(await rows({}, { id: 'gnss-pdop', down: true })).toEqual([1, 0, 2, 3]);
    expect(await rows({ 'gnss-plan': '>0.03' }, null)).toEqual([1]);
    expect(await rows({ 'gnss-fix': 'float' }, null)).toEqual([1]);
  });
});
