// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { withEdits, type PointEdit, type ProjectDocument } from '#core/project';
import { Card } from '../../src/cards/card.tsx';
import { api } from '../../src/frame/api.ts';
import { useProject, type Selection } from '../../src/project-state/store.ts';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf, tablesOf, type Project } from '../tables.ts';

// Pairs of levels are found beside the page; here none stand in one place.
vi.mock('../../src/work/workers.ts', () => ({ plotWork: () => ({ levels: () => Promise.resolve({ pairs: [], runs: [] }) }) })); // prettier-ignore
afterEach(() => vi.restoreAllMocks());

const text = projectOf({ points: [['1', 0, 0, 50, 'KT1'], ['2', 10, 0, 51, 'KT1'], ['3', 0, 10, 52, 'GR'], ['4', 10, 10, NaN, 'GR']] }); // prettier-ignore
const booked = projectOf({
  control: [['A', 0, 0, 10], ['B', 100, 0, 10]], // prettier-ignore
  book: [
    'setup A hi=1.5',
    'back B circle=90 zenith=90 dist=100.4 th=1.5',
    'shot 5 circle=0 zenith=90 dist=20 th=1.5 code=GR',
    'remark the pole was bent',
  ],
});
const rowOf = ({ tables }: Project, number: string): number =>
  [...tables.points.x].findIndex((_, row) => tables.points.number.get(row) === number);

function card(
  project: Project,
  selection: Selection,
  more: {
    edits?: Record<string, PointEdit>;
    settings?: Partial<ProjectDocument['settings']>;
    role?: 'surveyor' | 'viewer';
  } = {},
) {
  // prettier-ignore
  const doc = { ...project.doc, edits: withEdits({}, Object.entries(more.edits ?? {})), settings: { ...project.doc.settings, ...more.settings } }; // prettier-ignore
  const page = opened({ doc, tables: tablesOf(doc, project.readOf) }, { role: more.role, selection });
  draw(<Card left={false} />);
  return page;
}
const point = (project: Project, number: string, more = {}) => card(project, { kind: 'point', row: rowOf(project, number) }, more); // prettier-ignore
const value = (label: string): string => screen.getByLabelText<HTMLInputElement>(label).value;
const proposed = (page: ReturnType<typeof opened>) => page.propose.mock.calls.map(([title, change]) => [title, change.op === 'points.edit' ? Object.values(change.edits)[0] : change]); // prettier-ignore

describe('the card of a point from text', () => {
  it('says what it is, where it comes from and what uses it', async () => {
    point(text, '1');
    expect([value('number'), value('code'), value('east m'), value('north m'), value('elevation m')]).toEqual(['1', 'KT1', '0.000', '0.000', '50.000']); // prettier-ignore
    expect(screen.getByText(/^row 1 of /)).toBeTruthy();
    expect(screen.getByText(/1 triangle$/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'line KT1' }));
    expect(useProject.getState().selection).toEqual({ kind: 'line', key: 'KT1' });
  });

  it('is typed over in the project’s unit and order, and previewed', async () => {
    const page = point(text, '2', { settings: { unit: 'ft', order: 'NE' } });
    const labels = screen.getAllByRole('textbox').map((f) => f.getAttribute('aria-label'));
    expect(labels.slice(2, 5)).toEqual(['north ft', 'east ft', 'elevation ft']);
    await userEvent.clear(screen.getByLabelText('elevation ft'));
    await userEvent.type(screen.getByLabelText('elevation ft'), '100{Enter}');
    expect(proposed(page)[0][1]).toEqual({ set: { z: expect.closeTo(30.48, 9) as number }, undo: [] });
  });

  it('does not take what cannot be read, and says why beside the field', async () => {
    const page = point(text, '2');
    await userEvent.clear(screen.getByLabelText('east m'));
    await userEvent.type(screen.getByLabelText('east m'), 'ten{Enter}');
    expect(screen.getByRole('alert').textContent).toContain('ten');
    expect(value('east m')).toBe('ten');
    await userEvent.keyboard('{Escape}');
    expect(value('east m')).toBe('10.000');
    expect(page.propose).not.toHaveBeenCalled();
  });

  it('without an elevation shows none, not 0', () => {
    point(text, '4');
    expect(value('elevation m')).toBe('');
  });

  it('that was changed says what, and goes back to what was received', async () => {
    const page = point(text, '3', { edits: { 'day:3': { z: 53, off: true } } });
    expect(screen.getByText(/^changed by hand: elevation,/)).toBeTruthy();
    expect(screen.getByText('excluded by hand')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Use it again' }));
    await userEvent.click(screen.getByRole('button', { name: 'As received' }));
    expect(proposed(page)).toEqual([
      ['Point 3 used again', { set: {}, undo: ['off'] }],
      ['Point 3 as received', { set: {}, undo: ['z', 'off'] }],
    ]);
  });

  it('fetches its history when it is asked for, and says why it could not', async () => {
    vi.spyOn(api, 'history').mockRejectedValueOnce(new Error('No answer from the server.'));
    point(text, '1');
    expect(vi.mocked(api.history)).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'its history …' }));
    expect(await screen.findByText('No answer from the server.')).toBeTruthy();
  });

  it('is read by a viewer, and has no field or button that changes it', () => {
    point(text, '1', { role: 'viewer' });
    expect(screen.queryAllByRole('textbox')).toEqual([]);
    expect(screen.queryByRole('button', { name: 'Exclude it' })).toBeNull();
  });
});

describe('the card of a shot', () => {
  it('has its readings to type over; what is computed from them is not typed', () => {
    point(booked, '5', { settings: { angle: 'dms' } });
    expect(screen.queryByLabelText('east m')).toBeNull();
    expect(screen.queryByLabelText('elevation m')).toBeNull();
    expect([value('circle'), value('zenith'), value('distance m'), value('target height m')]).toEqual(['0°00′00.0″', '90°00′00.0″', '20.000', '1.500']); // prettier-ignore
  });

  it('says from which setup, with bearing, distance and rise, and leads there', async () => {
    point(booked, '5');
    expect(screen.getByTitle('bearing, horizontal distance on the grid, rise').textContent).toMatch(/20\.000/);
    await userEvent.click(screen.getByRole('button', { name: 'setup at A' }));
    expect(useProject.getState().selection).toMatchObject({ kind: 'record', intake: 'book' });
    expect(screen.getByLabelText('selected record')).toBeTruthy();
  });

  it('with another target height is previewed as an edit of that reading', async () => {
    const page = point(booked, '5');
    await userEvent.clear(screen.getByLabelText('target height m'));
    await userEvent.type(screen.getByLabelText('target height m'), '1,8{Enter}');
    expect(proposed(page)).toEqual([[expect.stringMatching(/^target height of 5: 1\.8/), { set: { height: 1.8 }, undo: [] }]]); // prettier-ignore
  });
});

describe('the card of a record', () => {
  const record = (is: 'setup' | 'sighting' | 'remark', more = {}) => {
    const book = booked.tables.books.get('book')!;
    const at = [...book.row].findIndex((_, i) => book.kind(i) === is);
    return card(booked, { kind: 'record', intake: 'book', row: book.row[at] }, more);
  };

  it('of a backsight tells observed less computed, and what was done with it', () => {
    record('sighting');
    const said = screen.getByLabelText('selected record').textContent.replace(/[\u2009\u00a0]/g, ' ');
    expect(said).toContain('Backsight B');
    // 100.4 m were measured where the coordinates are 100 m apart, with 0.03 m allowed.
    expect(said).toMatch(/▲ 0\.400 of 0\.0/);
    expect(said).toMatch(/undecided|set aside/);
  });

  it('of a setup has its height, and lets its points be used though its backsight is off', async () => {
    const page = record('setup');
    expect(value('instrument height m')).toBe('1.500');
    expect(screen.getByText(/^its points wait:/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Use its points' }));
    expect(page.propose.mock.calls[0][1]).toMatchObject({ op: 'record.decide', decision: 'used' });
  });

  it('of a remark shows its words, and no reading', () => {
    record('remark');
    expect(screen.getByText('the pole was bent')).toBeTruthy();
    expect(screen.queryByLabelText('circle')).toBeNull();
  });

  it('of a sighting can be one for another purpose, in another face, after a turn of the circle', async () => {
    const page = record('sighting');
    await userEvent.selectOptions(screen.getByLabelText('what it is sighted for'), 'a check');
    await userEvent.selectOptions(screen.getByLabelText('face'), 'two');
    await userEvent.click(screen.getByRole('button', { name: 'The circle was turned before it' }));
    await userEvent.click(screen.getByRole('button', { name: 'Exclude it' }));
    expect(proposed(page)).toMatchObject([
      ['B is a check', { set: { role: 'check' } }],
      ['face of B', { set: { face: 2 } }],
      ['the circle was turned before it', { op: 'record.decide', decision: 'turned' }],
      ['exclude the record', { set: { off: true } }],
    ]);
  });

  it('that is gone shows nothing', () => {
    card(booked, { kind: 'record', intake: 'book', row: 99_999 });
    expect(screen.queryByLabelText('selected record')).toBeNull();
  });
});
