import { describe, expect, it, vi } from 'vitest';
import { findPoints, findsOf, type Doing } from '../../src/workspace/finds.ts';
import { projectOf } from '../tables.ts';

const { doc, tables } = projectOf({
  points: [
    ['10', 0, 0, 1, 'KT1 BEG'],
    ['101', 5, 0, 1, 'KT1'],
    ['102', 9, 0, 1, 'KT1 END'],
    ['110', 9, 4, 1, 'TR species=oak'],
    ['A10', 9, 6, 1, 'GR'],
  ],
});
doc.intakes[0].fileName = 'harbour-friday.csv';
doc.drawing.plots = [{ id: 'p1', title: 'Harbour wall', paper: 'A3', scale: 250, number: '7' } as (typeof doc.drawing.plots)[0]]; // prettier-ignore
const query = { key: 'q', kind: 'spike', stage: 'ground', weight: 'look', text: 'Point 110 is 1.2 m above its neighbours.', rows: [3], lines: [], place: null, remedies: [] }; // prettier-ignore
(tables as unknown as { summary: unknown }).summary = { queries: [query] };
const doings: Doing[] = [
  { name: 'import a file', key: 'I', run: () => undefined },
  { name: 'undo', run: () => undefined, enabled: false },
];
const go = vi.fn();
const names = (typed: string): string[] => findsOf(doc, tables, doings, go, typed).map((f) => `${f.kind} ${f.name}`);
const numbers = async (typed: string): Promise<string[]> =>
  (await findPoints(tables, typed, () => true)).map((r) => tables.points.number.get(r));

describe('what is inside a project is found', () => {
  it('points by number first, then by any word of theirs', async () => {
    expect(await numbers('10')).toEqual(['10', '101', '102', '110', 'A10']);
    expect(await numbers('oak')).toEqual(['110']);
    expect(await numbers('kt1 end')).toEqual(['102']);
    expect(await numbers('nothing like it')).toEqual([]);
    expect(await numbers('  ')).toEqual([]);
  });

  it('lines, codes, files, plots, queries, leaves and commands by any word of theirs, in any order', () => {
    expect(names('kt1')).toContain('line KT1');
    expect(names('kerb top')).toContain('code KT');
    expect(names('top kerb')).toContain('code KT');
    expect(names('friday')).toEqual(['file harbour-friday.csv']);
    expect(names('harbour')).toEqual(expect.arrayContaining(['file harbour-friday.csv', 'plot Harbour wall']));
    expect(names('neighbours')).toEqual([`query ${query.text}`]);
    expect(names('line words')).toContain('Lines Line words');
    expect(names('import')).toContain('I import a file');
    expect(names('undo')).toEqual([]);
    expect(names('plot 250')).toEqual(['plot Harbour wall']);
  });

  it('brings one to its place', () => {
    findsOf(doc, tables, doings, go, 'friday')[0].run();
    expect(go).toHaveBeenLastCalledWith('basis', 'originals', 'day');
    findsOf(doc, tables, doings, go, 'harbour wall')[0].run();
    expect(go).toHaveBeenLastCalledWith('lines', 'plots', 'p1');
  });

  it('with nothing typed, what can be done', () => {
    expect(names('')).toEqual(['I import a file']);
  });
});
