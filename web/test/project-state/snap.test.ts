import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { linesThrough, trianglesAt } from '../../src/project-state/used-by.ts';
import { heldAt, lineNear, snapAt } from '../../src/project-state/snap.ts';
import { projectOf } from '../tables.ts';

/** Two kerbs that cross at 10, 10, and a tree apart from both. */
const { tables } = projectOf({
  points: [
    ['1', 0, 0, 1, 'KT1 BEG'],
    ['2', 20, 20, 1, 'KT1'],
    ['3', 0, 20, 1, 'KT2 BEG'],
    ['4', 20, 0, 1, 'KT2'],
    ['5', 4, 14, 1, 'TR'],
  ],
});

describe('a place under the hand', () => {
  it('is held by a point, then a crossing, a middle, the nearest place of a line, or by nothing', () => {
    expect(tables.linework.lines.map((l) => l.key)).toHaveLength(2);
    expect(snapAt(tables, 20.4, 19.8, 1)).toEqual({ x: 20, y: 20, by: 'point', row: 1 });
    expect(snapAt(tables, 4.5, 14, 1)).toMatchObject({ by: 'point', row: 4 });
    expect(snapAt(tables, 10.3, 10.1, 1)).toMatchObject({
      by: 'crossing',
      row: -1,
      x: expect.closeTo(10, 9) as number,
    });
    const nearest = snapAt(tables, 6, 7, 1);
    expect(nearest).toMatchObject({ by: 'nearest', row: -1 });
    expect([nearest.x, nearest.y]).toEqual([expect.closeTo(6.5, 9), expect.closeTo(6.5, 9)]);
    expect(snapAt(tables, 16, 10, 1)).toEqual({ x: 16, y: 10, by: 'free', row: -1 });
  });

  it('never leaves the reach of the hand', () => {
    const at = fc.double({ min: -4, max: 24, noNaN: true });
    fc.assert(
      fc.property(at, at, fc.double({ min: 0.02, max: 4, noNaN: true }), (x, y, reach) => {
        const s = snapAt(tables, x, y, reach);
        expect(Math.hypot(s.x - x, s.y - y)).toBeLessThanOrEqual(reach * (1 + 1e-9));
        // Whoever finds nothing has no line and no used point within reach.
        if (s.by === 'free') expect(lineNear(tables, x, y, reach)).toBeNull();
      }),
    );
  });

  it('names the nearest line, other than one and those that are not to be touched', () => {
    const [one, two] = tables.linework.lines;
    expect(lineNear(tables, 4, 5, 3)).toBe(one);
    expect(lineNear(tables, 4, 5, 3, one.key)).toBeNull();
    expect(lineNear(tables, 9, 10.5, 3, one.key)).toBe(two);
    expect(lineNear(tables, 9, 10.5, 3, '', () => true)).toBeNull();
  });
});

describe('what depends on a point', () => {
  it('is every line through it and every triangle that has it as a corner', () => {
    for (let row = 0; row < 5; row++) {
      expect(linesThrough(tables.linework, row)).toEqual(tables.linework.lines.filter((l) => l.rows.includes(row)));
      const ground = tables.surfaces.get('ground')!;
      const counted = [...ground.triangles].filter((v) => ground.point[v] === row).length;
      expect(trianglesAt(ground, row)).toBe(counted);
      if (row < 4) expect(counted).toBeGreaterThan(0);
    }
    expect(linesThrough(tables.linework, 99)).toEqual([]);
  });
});

describe('what a course that is drawn is held by', () => {
  const at = (x: number, y: number) => ({ x, y });
  const places = [[0, 30], [5, 30], [5, 35]].map(([x, y]) => ({ x, y, by: 'free' as const, row: -1 })); // prettier-ignore

  it('is the nearest place that was traced before, and nothing else where it is free', () => {
    const also = (): number[] => [4, 14.5, 4, 15];
    expect(heldAt({ free: true, also }, [], tables, at(4, 14.7), 1)).toMatchObject({ x: 4, y: 14.5, by: 'end' });
    expect(heldAt({ free: true }, [], tables, at(4, 14.1), 1)).toEqual({ x: 4, y: 14.1, by: 'free', row: -1 });
    expect(heldAt({}, [], tables, at(4, 14.1), 1)).toMatchObject({ by: 'point', row: 4 });
  });

  it('is its own first place where it may close, once it has three', () => {
    const near = at(0.5, 30.2);
    expect(heldAt({ free: true, closes: true }, places, tables, near, 1)).toMatchObject({ x: 0, y: 30, by: 'end' });
    expect(heldAt({ free: true, closes: true }, places.slice(0, 2), tables, near, 1).by).toBe('free');
    expect(heldAt({ free: true }, places, tables, near, 1).by).toBe('free');
  });
});
