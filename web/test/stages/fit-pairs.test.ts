import { describe, expect, it } from 'vitest';
import { applyChange } from '#core/project';
import { commonPairs, fitPairsOf, hasHeights, origins, targets, withTyped } from '../../src/stages/basis/fit-pairs.ts';
import { projectOf, tablesOf } from '../tables.ts';

const project = projectOf({
  control: [
    ['10', 5000, 8000, 40],
    ['9', 5100, 8000, 41],
    ['11', 5100, 8100, 42],
  ],
  points: [
    ['10', 0, 0, 0],
    ['9', 100, 0, 1],
    ['9', 300, 300, 1],
    ['77', 50, 50, 1],
    ['', 60, 60, 1],
  ],
});
const reads = new Map([['day', project.readOf(project.doc.intakes[1])]]);

describe('common points of a fit', () => {
  it('are those of one number in the file and in control; one that stands twice is none', () => {
    const from = origins(project.doc, reads);
    expect([...from.keys()]).toEqual(['10', '77']);
    const pairs = commonPairs(project.doc, project.tables, from);
    expect(pairs).toEqual([{ from: '10', to: '10', plan: true, height: true }]);
    const to = targets(project.doc, project.tables, ['day']);
    expect([...to.keys()].sort()).toEqual(['10', '11', '9']);
    expect(fitPairsOf(pairs, from, to)).toEqual([
      { name: '10', from: { x: 0, y: 0, z: 0 }, to: { x: 5000, y: 8000, z: 40 }, plan: true, height: true },
    ]);
  });

  it('follow what was edited: a number mended, a point left out, counted as people count', () => {
    const change = { op: 'points.edit' as const, edits: { 'day:3': { set: { number: '11' }, undo: [] }, 'day:4': { set: { off: true }, undo: [] } } }; // prettier-ignore
    const applied = applyChange(project.doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    const tables = tablesOf(applied.document, project.readOf);
    const from = origins(applied.document, reads);
    expect([...from.keys()].sort()).toEqual(['10', '11', '9']);
    expect(commonPairs(applied.document, tables, from).map((p) => p.to)).toEqual(['9', '10', '11']);
  });

  it('may be named otherwise on both sides, and are none where either is missing', () => {
    const from = origins(project.doc, reads);
    const to = targets(project.doc, project.tables, ['day']);
    const pair = { plan: true, height: false };
    const pairs = [{ from: '77', to: '11', ...pair }, { from: '78', to: '11', ...pair }, { from: '77', to: 'none', ...pair }]; // prettier-ignore
    expect(fitPairsOf(pairs, from, to).map((p) => p.name)).toEqual(['77 → 11']);
  });

  it('go to control first, and never to a file that is carried over itself', () => {
    const others = targets(project.doc, project.tables, []);
    expect(others.get('10')).toEqual({ x: 5000, y: 8000, z: 40 });
    expect(others.get('77')).toEqual({ x: 50, y: 50, z: 1 });
    expect(targets(project.doc, project.tables, ['day']).has('77')).toBe(false);
  });

  it('may be typed as coordinates, in the unit and order of the project: corners of a drawing have no number', () => {
    const settings = { unit: 'ft', order: 'NE' } as const;
    const from = withTyped(origins(project.doc, reads), settings);
    const to = withTyped(targets(project.doc, project.tables, ['day']), settings);
    const pair = { from: '200 100', to: '11', plan: true, height: true };
    expect(from.get('200 100')).toEqual({ x: expect.closeTo(30.48, 9) as number, y: expect.closeTo(60.96, 9) as number, z: NaN }); // prettier-ignore
    expect(hasHeights(pair, from, to)).toBe(false);
    expect(hasHeights({ from: '200; 100; 12.5m', to: '11' }, from, to)).toBe(true);
    expect(fitPairsOf([pair], from, to).map((p) => [p.name, p.to.x])).toEqual([['200 100 → 11', 5100]]);
    // A number that is there is meant first; what is no two lengths is no place.
    expect(withTyped(new Map([['1 2', { x: 9, y: 9, z: 9 }]]), settings).get('1 2')!.x).toBe(9);
    for (const no of ['', '5', 'a b', '1 2 3 4', '1e400 2']) expect(from.has(no)).toBe(false);
  });
});
