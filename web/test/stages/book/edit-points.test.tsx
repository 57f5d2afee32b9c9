// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { ProjectDocument } from '#core/project';
import { EditPoints } from '../../../src/stages/book/edit-points.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// Control K1, K2 and two points 7; rows of the table: control first, then the day in its order.
const given = projectOf({
  control: [['K1', 100, 200, 10], ['K2', 110, 200, 10]], // prettier-ignore
  points: [['1', 0, 0, 1, 'GR'], ['2', 10, 0, 2, 'GR'], ['7', 5, 5, 3, 'GR'], ['7', 6, 5, NaN, 'GR'], ['K1', 100.01, 200, 10, 'CK']], // prettier-ignore
});
const rowOf = (at: number): number => at + 2;
let page: ReturnType<typeof opened>;
const done = vi.fn();

function marked(rows: number[], settings: Partial<ProjectDocument['settings']> = {}): void {
  const doc = { ...given.doc, settings: { ...given.doc.settings, ...settings } };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) });
  done.mockClear();
  draw(<EditPoints count={rows.length} rowsInOrder={() => rows} onDone={done} />);
}
async function become(what: string, values: Record<string, string> = {}): Promise<void> {
  await userEvent.selectOptions(screen.getByLabelText('what the points become'), what);
  for (const [field, value] of Object.entries(values)) await userEvent.type(screen.getByLabelText(field), value);
  await userEvent.click(screen.getByRole('button', { name: 'Show it' }));
}
/** What was proposed: its title, and what each record would have. */
const proposed = () => page.propose.mock.calls.map(([title, change]) => [title, change.op === 'points.edit' ? Object.fromEntries(Object.entries(change.edits).map(([key, e]) => [key, e.set])) : change]); // prettier-ignore
const said = (): string => screen.getByRole('alert').textContent;
const near = (n: number): number => expect.closeTo(n, 9) as number;

describe('marked points', () => {
  it('get one code, in one change', async () => {
    marked([rowOf(0), rowOf(1)]);
    await become('the same code', { code: ' KT1 ' });
    expect(proposed()).toEqual([['2 points the same code', { 'day:1': { description: 'KT1' }, 'day:2': { description: 'KT1' } }]]); // prettier-ignore
    expect(done).toHaveBeenCalled();
  });

  it('get numbers in a row, in the order in which they are marked', async () => {
    marked([rowOf(1), rowOf(0)]);
    await become('new numbers in a row', { 'first number': '500', step: '10' });
    expect(proposed()[0][1]).toEqual({ 'day:2': { number: '500' }, 'day:1': { number: '510' } });
  });

  it.each([
    ['new numbers in a row', {}],
    ['new numbers in a row', { 'first number': '  ' }],
    ['new numbers in a row', { 'first number': '1.5' }],
    ['new numbers in a row', { 'first number': '1', step: '0' }],
    ['a prefix to the number', {}],
    ['scaled about their centre', {}],
    ['scaled about their centre', { factor: '0' }],
    ['rotated about their centre', { clockwise: 'a bit' }],
    ['shifted', { 'east m': 'far' }],
    ['fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '1=K1' }],
    ['fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '1=K1 99=K2' }],
    ['as received', {}],
  ])('are not %s by %o: why is said, and nothing proposed', async (what, values) => {
    marked([rowOf(0), rowOf(1)]);
    await become(what, values);
    expect(said().length).toBeGreaterThan(15);
    expect(proposed()).toEqual([]);
    expect(done).not.toHaveBeenCalled();
  });

  it('are shifted in the project’s unit and order', async () => {
    marked([rowOf(0)], { unit: 'ft', order: 'NE' });
    await become('shifted', { 'north ft': '10', 'east ft': '-5', 'up ft': '1' });
    expect(proposed()[0][1]).toEqual({ 'day:1': { x: near(-1.524), y: near(3.048), z: near(1.3048) } });
  });

  it('without an elevation stay without one', async () => {
    marked([rowOf(3)]);
    await become('shifted', { 'up m': '1' });
    expect(proposed()[0][1]).toEqual({ 'day:4': { x: 6, y: 5 } });
  });

  it('are rotated clockwise about their centre', async () => {
    marked([rowOf(0), rowOf(1)], { angle: 'dms' });
    await become('rotated about their centre', { clockwise: '90' });
    // About 5, 0: what was west of it comes to the north of it.
    expect(proposed()[0][1]).toEqual({ 'day:1': { x: near(5), y: near(5) }, 'day:2': { x: near(5), y: near(-5) } });
  });

  it('are fitted where others stand, with the mean shift in height', async () => {
    marked([rowOf(0), rowOf(1)]);
    await become('fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '1=K1 2=K2' });
    expect(proposed()[0][1]).toEqual({ 'day:1': { x: near(100), y: near(200), z: near(9.5) }, 'day:2': { x: near(110), y: near(200), z: near(10.5) } }); // prettier-ignore
  });

  it('go to control where a shot has its number too', async () => {
    marked([rowOf(0), rowOf(1)]);
    await become('fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '2=K1 1=K2' });
    expect(proposed()[0][1]).toMatchObject({ 'day:2': { x: near(100), y: near(200) } });
  });

  it('are not fitted on a number that two points have; of two, the marked one moves', async () => {
    marked([rowOf(0), rowOf(1)]);
    await become('fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '7=K1 2=K2' });
    expect(said()).toBe('2 points have the number 7: which is meant cannot be told.');
    expect(proposed()).toEqual([]);
  });

  it('of one number are told apart by the mark', async () => {
    marked([rowOf(2), rowOf(1)]);
    await become('fitted on pairs of points', { 'pairs: 12=KB1 14=KB2': '7=K1 2=K2' });
    expect(proposed()[0][1]).toMatchObject({ 'day:3': { x: near(100), y: near(200) } });
  });

  it('are excluded, and used again by undoing just that', async () => {
    marked([rowOf(0)]);
    await become('excluded');
    await become('used again');
    expect(page.propose.mock.calls.map(([title, change]) => [title, change])).toEqual([
      ['One point excluded', { op: 'points.edit', edits: { 'day:1': { set: { off: true }, undo: [] } } }],
      ['One point used again', { op: 'points.edit', edits: { 'day:1': { set: {}, undo: ['off'] } } }],
    ]);
  });

  it('beyond what one change holds are refused before any of them is looked at', async () => {
    page = opened(given);
    const rows = vi.fn(() => []);
    draw(<EditPoints count={20_001} rowsInOrder={rows} onDone={done} />);
    await become('the same code', { code: 'X' });
    expect(said()).toContain('one change holds 20000');
    expect(rows).not.toHaveBeenCalled();
  });
});

it('a point that comes from readings is not moved by hand', async () => {
  const booked = projectOf({
    control: [['A', 0, 0, 10], ['B', 100, 0, 10]], // prettier-ignore
    book: ['setup A hi=1.5', 'back B circle=90 zenith=90 dist=100 th=1.5', 'shot 5 circle=0 zenith=90 dist=20 th=1.5 code=GR'], // prettier-ignore
  });
  page = opened(booked);
  const { number } = booked.tables.points;
  const row = booked.tables.points.x.findIndex((_, i) => number.get(i) === '5');
  draw(<EditPoints count={1} rowsInOrder={() => [row]} onDone={done} />);
  await become('shifted', { 'east m': '1' });
  expect(said()).toMatch(/^Point 5 comes from readings; what is computed is not moved by hand/);
  await become('the same code', { code: 'KT1' });
  expect(proposed()).toHaveLength(1);
});
