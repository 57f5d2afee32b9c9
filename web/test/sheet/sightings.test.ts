import { describe, expect, it, vi } from 'vitest';
import { applyChange } from '#core/project';
import { sightingsOf } from '../../src/sheet/sightings.ts';
import { projectOf, tablesOf } from '../tables.ts';

vi.mock('../../src/work/workers.ts', () => ({ chainWork: () => ({}), sheetWork: () => ({}), plotWork: () => ({}) }));
const shown: number[][] = [];
vi.mock('../../src/sheet/handle.ts', () => ({ sheetHandle: { current: { show: (x: number, y: number) => shown.push([x, y]) } } })); // prettier-ignore
const { useProject } = await import('../../src/project-state/store.ts');
const { alongSetup, alongLine } = await import('../../src/sheet/along.ts');

const project = projectOf({
  control: [
    ['A', 1000, 2000, 50],
    ['B', 1060, 2080, 50],
  ],
  book: [
    'setup A hi=1.5',
    'back B circle=0 zenith=90 dist=100 th=1.5',
    'shot 1 circle=0 zenith=90 dist=50 th=1.5 code="KT1 BEG"',
    'shot 2 circle=90 zenith=90 dist=80 th=1.5 code=KT1',
    'shot 3 circle=180 zenith=90 dist=20 th=1.5 code=KT1',
    'setup B hi=1.5',
    'back A circle=0 zenith=90 dist=100 th=1.5',
    'shot 4 circle=10 zenith=90 dist=30 th=1.5',
  ],
});
const { doc, tables } = project;
const rowOf = (number: string): number =>
  [...tables.points.x.keys()].find((row) => tables.points.number.get(row) === number)!;
const [one, two, four] = ['1', '2', '4'].map(rowOf);

describe('rays and ellipses', () => {
  it('of a setup go from the instrument to every point that it gave', () => {
    const { rays, ellipses } = sightingsOf({ kind: 'record', intake: 'book', row: 4 }, tables, doc, 0);
    expect(rays.map((r) => r.slice(0, 2))).toEqual([[1000, 2000], [1000, 2000], [1000, 2000]]); // prettier-ignore
    expect(ellipses).toHaveLength(3);
    const ends = rays.map((r) => Math.hypot(r[3] - r[0], r[4] - r[1]));
    // Laid flat and corrected for the earth they are as long as the sights, to the millimetre.
    expect(ends.map((d) => Math.round(d * 1000) / 1000)).toEqual([50, 80, 20]);
  });

  it('of a point are its own: as long along the ray and across it as its standard deviations say', () => {
    const { rays, ellipses, times } = sightingsOf({ kind: 'point', row: two }, tables, doc, 0);
    expect(rays).toHaveLength(1);
    const [ring] = ellipses;
    const [ax, ay, , px, py] = rays[0];
    const d = Math.hypot(px - ax, py - ay);
    const [ux, uy] = [(px - ax) / d, (py - ay) / d];
    let [along, across] = [0, 0];
    for (let i = 0; i < ring.length; i += 3) {
      const [dx, dy] = [ring[i] - px, ring[i + 1] - py];
      along = Math.max(along, Math.abs(dx * ux + dy * uy));
      across = Math.max(across, Math.abs(dx * uy - dy * ux));
    }
    const at = tables.reduction.pointAt.get('book', tables.points.fileRow[two])!;
    expect(across / times).toBeCloseTo(tables.reduction.sdAcross[at], 5);
    // The plan's standard deviation is the root of the mean of both squares.
    expect(Math.hypot(along, across) / times / Math.SQRT2).toBeCloseTo(tables.points.sdPlan[two], 5);
  });

  it('are none of control, of nothing selected, and of a setup that nobody knows', () => {
    for (const selection of [
      null,
      { kind: 'point' as const, row: rowOf('A') },
      { kind: 'record' as const, intake: 'book', row: 99 },
    ])
      // prettier-ignore
      expect(sightingsOf(selection, tables, doc, 0).rays).toEqual([]);
  });
});

describe('going along', () => {
  const begin = (selection: Parameters<ReturnType<typeof useProject.getState>['select']>[0]): void => {
    shown.length = 0;
    useProject.setState({ state: { document: doc } as never, tables, selection });
  };
  const selection = () => useProject.getState().selection;

  it('a setup goes from its record through its backsight to each shot and stops at both ends', () => {
    begin({ kind: 'record', intake: 'book', row: 4 });
    alongSetup(-1);
    expect(selection()).toEqual({ kind: 'record', intake: 'book', row: 4 });
    alongSetup(1);
    expect(selection()).toEqual({ kind: 'record', intake: 'book', row: 5 });
    alongSetup(1);
    expect(selection()).toEqual({ kind: 'point', row: one });
    expect(shown).toEqual([[tables.points.x[one], tables.points.y[one]]]);
    alongSetup(1);
    alongSetup(1);
    alongSetup(1);
    expect(selection()).toEqual({ kind: 'point', row: rowOf('3') });
    begin({ kind: 'point', row: four });
    alongSetup(1);
    expect(selection()).toEqual({ kind: 'point', row: four });
  });

  it('a line goes from point to point and stops at its ends, or goes round where it is closed', () => {
    begin({ kind: 'point', row: two });
    alongLine(-1);
    alongLine(-1);
    expect(selection()).toEqual({ kind: 'point', row: one });
    const closed = { ...tables, linework: { ...tables.linework, lines: tables.linework.lines.map((l) => ({ ...l, closed: true })) } }; // prettier-ignore
    useProject.setState({ tables: closed });
    alongLine(-1);
    expect(selection()).toEqual({ kind: 'point', row: rowOf('3') });
  });

  it('what was moved by an edit is where it is now', () => {
    const applied = applyChange(doc, { op: 'points.edit', edits: { 'book:6': { set: { distance: 60 }, undo: [] } } });
    if (!applied.ok) throw new Error(applied.reason);
    const later = tablesOf(applied.document, project.readOf);
    const [ray] = sightingsOf({ kind: 'point', row: one }, later, applied.document, 0).rays;
    expect(Math.hypot(ray[3] - ray[0], ray[4] - ray[1])).toBeCloseTo(60, 3);
  });
});
