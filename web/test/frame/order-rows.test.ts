import { describe, expect, it } from 'vitest';
import { orderRows, testOf, type Column } from '../../src/frame/grid/index.ts';

const lengths = [3.5, NaN, 12.25, 0.5, 12.25];
const names = ['b', 'A', 'c10', 'c9', ''];
const columns: Column[] = [
  { id: 'name', head: '', width: 60, text: (r) => names[r] },
  {
    id: 'length',
    head: '',
    width: 60,
    text: (r) => (Number.isNaN(lengths[r]) ? '' : lengths[r].toFixed(2)),
    value: (r) => lengths[r],
  },
];
const always = (): boolean => true;
const ordered = async (filters: Record<string, string>, sort: { id: string; down: boolean } | null = null) =>
  Array.from((await orderRows(columns, 5, filters, sort, always)) ?? [0, 1, 2, 3, 4]);

describe('a table’s rows', () => {
  it('are found by comparing numbers as shown, and by parts of their text', async () => {
    expect(await ordered({ length: '>1' })).toEqual([0, 2, 4]);
    expect(await ordered({ length: '0,5..4' })).toEqual([0, 3]);
    expect(await ordered({ length: '=12.25' })).toEqual([2, 4]);
    expect(await ordered({ length: '-' })).toEqual([1]);
    expect(await ordered({ name: 'C', length: '<12' })).toEqual([3]);
    expect(await ordered({ name: '=a' })).toEqual([1]);
    expect(await ordered({})).toEqual([0, 1, 2, 3, 4]);
  });

  it('are sorted by value or by name with its numbers, those without last whichever way', async () => {
    expect(await ordered({}, { id: 'length', down: false })).toEqual([3, 0, 2, 4, 1]);
    expect(await ordered({}, { id: 'length', down: true })).toEqual([2, 4, 0, 3, 1]);
    expect(await ordered({}, { id: 'name', down: false })).toEqual([1, 0, 3, 2, 4]);
  });

  it('are sorted by the numbers inside their texts, letters as a person sorts them, chosen ones only', async () => {
    const texts = ['KT10 BEG', 'kt9', 'A7', '100', '9', 'Äcker 2', 'KT9.1', 'KT9 END', ''];
    const one: Column[] = [{ id: 't', head: '', text: (r) => texts[r] }];
    const sorted = async (down: boolean, among: ((r: number) => boolean) | null = null) =>
      Array.from((await orderRows(one, texts.length, {}, { id: 't', down }, always, among))!, (r) => texts[r]);
    expect(await sorted(false)).toEqual(['9', '100', 'A7', 'Äcker 2', 'kt9', 'KT9 END', 'KT9.1', 'KT10 BEG', '']);
    expect((await sorted(true)).at(-1)).toBe('');
    expect(await sorted(false, (r) => texts[r].startsWith('K'))).toEqual(['KT9 END', 'KT9.1', 'KT10 BEG']);
  });

  it('are not ordered any further once nobody waits for them', async () => {
    const many: Column[] = [{ id: 'n', head: '', width: 60, text: String, value: (r) => -r }];
    let asked = 0;
    const stopped = await orderRows(many, 100_000, {}, { id: 'n', down: false }, () => ++asked < 3);
    expect(stopped).toBeNull();
    expect(asked).toBe(3);
  });

  it('take what reads like a comparison and is none as text', () => {
    expect(testOf('>x')!('a >x', NaN)).toBe(true);
    expect(testOf('..')!('a..b', NaN)).toBe(true);
    expect(testOf('  ')).toBeNull();
  });
});
