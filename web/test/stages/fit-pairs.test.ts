import fc from 'fast-check';
import { describe, expect, it, vi } from 'vitest';
import { applyChange, type Intake, type Placement } from '#core/project';
import type { Snapped } from '../../src/project-state/snap.ts';
import { useProject } from '../../src/project-state/store.ts';
import { placesOf, pointAtPair } from '../../src/stages/basis/point-at-pair.ts';
import {
  commonPairs,
  fitPairsOf,
  hasHeights,
  origins,
  pickedOrigin,
  pickedTarget,
  targets,
  withTyped,
} from '../../src/stages/basis/fit-pairs.ts';
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

describe('a pair pointed at on the drawing', () => {
  const named = origins(project.doc, reads);
  const origin = { chosen: ['day'], reads, named };
  const { points } = project.tables;
  const rowOf = (x: number, y: number): number => points.x.findIndex((v, i) => v === x && points.y[i] === y);
  const at = (x: number, y: number): Snapped => ({ x, y, by: 'point', row: rowOf(x, y) });

  it('is called by its number where only one point of the files has it, else by its coordinates as received', () => {
    expect(pickedOrigin(at(50, 50), project.doc, project.tables, origin)).toEqual({ name: '77' });
    expect(pickedOrigin(at(300, 300), project.doc, project.tables, origin)).toEqual({
      name: '300.0000 300.0000 1.0000',
    });
    expect(pickedOrigin(at(60, 60), project.doc, project.tables, origin)).toEqual({ name: '60.0000 60.0000 1.0000' });
    expect(pickedOrigin(at(5000, 8000), project.doc, project.tables, origin)).toMatchObject({ problem: expect.stringContaining('stays where it is') as string }); // prettier-ignore
  });

  it('is a place of the file before it was transformed, whatever it was transformed by', () => {
    const end = (x: number, y: number): Snapped => ({ x, y, by: 'end', row: -1 });
    expect(pickedOrigin(end(12.5, 7), project.doc, project.tables, origin)).toEqual({ name: '12.5000 7.0000' });
    const settings = { unit: 'm', order: 'EN' } as const;
    const back = withTyped(new Map(), settings);
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        fc.integer({ min: -1000, max: 1000 }),
        fc.integer({ min: -1000, max: 1000 }),
        (turn, scale, x, y) => {
          const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
          const matrix = [c, -s, 0, 431_000, s, c, 0, 5_212_000, 0.001, 0.002, 1, 3];
          const placed = (intake: Intake): Intake => intake.id === 'day' ? { ...intake, placement: { kind: 'plan', scale: 'free', height: 'plane', matrix, pairs: [], sigmaPlan: null, sigmaHeight: null } } : intake; // prettier-ignore
          const doc = { ...project.doc, intakes: project.doc.intakes.map(placed) };
          const picked = pickedOrigin(
            end(c * x - s * y + 431_000, s * x + c * y + 5_212_000),
            doc,
            project.tables,
            origin,
          );
          const place = 'name' in picked ? back.get(picked.name)! : { x: NaN, y: NaN };
          // Typed to a tenth of a millimetre.
          expect(Math.abs(place.x - x)).toBeLessThan(1e-4);
          expect(Math.abs(place.y - y)).toBeLessThan(1e-4);
        },
      ),
    );
    const tilted = { ...project.doc, intakes: project.doc.intakes.map((i) => ({ ...i, placement: { matrix: [1, 0, 0.1, 0, 0, 1, 0, 0, 0, 0, 1, 0] } as Placement })) }; // prettier-ignore
    expect(pickedOrigin(end(1, 1), tilted, project.tables, origin)).toMatchObject({ problem: expect.stringContaining('in space') as string }); // prettier-ignore
  });

  it('goes to control by its number, and to anything else by its coordinates', () => {
    const to = targets(project.doc, project.tables, ['day']);
    expect(pickedTarget(at(5100, 8100), project.doc, project.tables, to)).toBe('11');
    // The 9 of the day has the number of control and is another point.
    expect(pickedTarget(at(100, 0), project.doc, project.tables, to)).toBe('100.0000 0.0000 1.0000');
    const north = { ...project.doc, settings: { ...project.doc.settings, order: 'NE' as const } };
    expect(pickedTarget({ x: 1, y: 2, by: 'free', row: -1 }, north, project.tables, to)).toBe('2.0000 1.0000');
  });

  it('asks for the place of the files first, then for where it is, and says why it cannot be one', () => {
    const then = vi.fn();
    const told: string[] = [];
    useProject.setState({ tell: (m: string) => told.push(m) } as never);
    const asked = (): string => useProject.getState().traced!.purpose;
    const pointed = (place: Snapped): void => useProject.getState().traced!.course!.finish([place]);
    const start = (): void => pointAtPair({ name: 'a place of day.csv', at: placesOf(points, project.doc, (i) => i === 'day'), is: (p) => pickedOrigin(p, project.doc, project.tables, origin) }, { at: [], is: () => '11' }, then); // prettier-ignore
    start();
    expect(asked()).toBe('a place of day.csv');
    pointed(at(50, 50));
    expect(asked()).toBe('where 77 is: a point, a line’s end, or its coordinates');
    pointed(at(5100, 8100));
    expect(then.mock.calls).toEqual([['77', '11']]);
    start();
    pointed(at(5000, 8000));
    expect([then.mock.calls.length, told.length]).toEqual([1, 1]);
  });
});
