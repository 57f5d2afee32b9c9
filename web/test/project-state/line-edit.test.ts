import { beforeEach, describe, expect, it, vi } from 'vitest';
import { applyChange, type Change } from '#core/project';
import type { Line } from '#core/linework';
import { projectOf, tablesOf } from '../tables.ts';

vi.mock('../../src/work/workers.ts', () => ({ chainWork: () => ({}), sheetWork: () => ({}), plotWork: () => ({}) }));
const { useProject } = await import('../../src/project-state/store.ts');
const edit = await import('../../src/project-state/line-edit.ts');

const project = projectOf({
  points: [
    ['1', 0, 0, 10, 'KT1 BEG'],
    ['2', 40, 0, 11, 'KT1'],
    ['3', 80, 0, 12, 'KT1'],
    ['4', 100, 0, 13, 'ED1 BEG'],
    ['5', 140, 0, 13, 'ED1'],
    ['6', 60, 50, 12, 'ED2 BEG'],
    ['7', 60, 20, 12, 'ED2'],
  ],
});
const { doc, tables } = project;
const line = (code: string, number: string): Line =>
  tables.linework.lines.find((l) => l.code === code && l.lineNumber === number)!;
const [kerb, fence, short] = [line('KT', '1'), line('ED', '1'), line('ED', '2')];

let proposed: { label: string; change: Change }[] = [];
let told: string[] = [];
beforeEach(() => {
  proposed = [];
  told = [];
  useProject.setState({
    state: { document: doc } as never,
    tables,
    propose: (label, change) => {
      proposed.push({ label, change });
      return Promise.resolve();
    },
    tell: (what) => what && told.push(what),
  });
});

/** The lines after what was proposed is done: key and places. */
function done(): Record<string, number[][]> {
  const applied = applyChange(doc, proposed[0].change);
  if (!applied.ok) throw new Error(applied.reason);
  const { linework } = tablesOf(applied.document, project.readOf);
  return Object.fromEntries(linework.lines.map((l) => [l.key, l.x.map((x, i) => [x, l.y[i]])]));
}
/** What the hand points at, one place after the other. */
function point(...places: [number, number][]): void {
  for (const [x, y] of places) {
    const { traced } = useProject.getState();
    traced!.course!.finish([{ x, y, by: 'free', row: -1 }]);
  }
}

describe('a line edited by hand, from the card to the drawing', () => {
  it('joins another, which is then no line of its own', () => {
    edit.proposeJoin(kerb, fence);
    const after = done();
    expect(after[kerb.key]).toEqual([[0, 0], [40, 0], [80, 0], [100, 0], [140, 0]]); // prettier-ignore
    expect(after[fence.key]).toBeUndefined();
    expect(proposed[0].label).toBe(`Join line ${fence.key} to ${kerb.key}`);
  });

  it('reaches another with the end that has the least to go', () => {
    edit.pickExtend(short);
    point([70, 0.5]);
    expect(done()[short.key]).toEqual([[60, 50], [60, 20], [60, 0]]); // prettier-ignore
    expect(told).toEqual([]);
  });

  it('is told in a sentence where no other line is near, or where none can be reached', () => {
    edit.pickExtend(short);
    point([2000, 2000]);
    expect(told).toEqual(['There is no other line near that place.']);
    edit.pickExtend(fence);
    point([10, 0]);
    expect(proposed).toEqual([]);
    expect(told).toHaveLength(2);
  });

  it('is taken out, drawn anew under a free name, and drawn from its codes again', () => {
    edit.proposeGone(fence);
    expect(done()[fence.key]).toBeUndefined();
    proposed = [];
    const key = edit.freeKey('KT', doc);
    edit.proposeNew('KT', { closed: false, vertices: [edit.vertexOf({ x: 1, y: 2, by: 'free', row: -1 }, doc, tables), edit.vertexOf({ x: 40, y: 0, by: 'point', row: 1 }, doc, tables)] }, 'a new line'); // prettier-ignore
    expect(done()[key]).toEqual([[1, 2], [40, 0]]); // prettier-ignore
    expect(edit.freeKey('KT', { ...doc, handLines: { [key]: {} as never } })).not.toBe(key);
    proposed = [];
    edit.proposeCodes(kerb);
    expect(proposed[0].change).toEqual({ op: 'lines.hand', set: { [kerb.key]: null }, what: `draw line ${kerb.key} from its codes again` }); // prettier-ignore
  });

  it('takes a place into the side that it lies on, or beyond the end that it lies past', () => {
    expect(edit.placeInCourse(kerb, { x: 20, y: 3 })).toBe(0);
    expect(edit.placeInCourse(kerb, { x: 60, y: -3 })).toBe(1);
    expect(edit.placeInCourse(kerb, { x: -5, y: 0 })).toBe(-1);
    expect(edit.placeInCourse(kerb, { x: 95, y: 1 })).toBe(2);
    expect(edit.nearestVertex(kerb, { x: 59, y: 0 })).toBe(1);
    expect(edit.nearestVertex(kerb, { x: 61, y: 0 })).toBe(2);
  });

  it('keeps the points it goes through: one that moves takes the joined line along', () => {
    edit.proposeJoin(kerb, fence);
    const joined = applyChange(doc, proposed[0].change);
    if (!joined.ok) throw new Error(joined.reason);
    const moved = applyChange(joined.document, { op: 'points.edit', edits: { 'day:5': { set: { y: 9 }, undo: [] } } });
    if (!moved.ok) throw new Error(moved.reason);
    const { lines } = tablesOf(moved.document, project.readOf).linework;
    expect(lines.find((l) => l.key === kerb.key)!.y).toEqual([0, 0, 0, 0, 9]);
  });
});
