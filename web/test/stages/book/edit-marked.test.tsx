// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { EditMarked } from '../../../src/stages/book/edit-marked.tsx';
import { recordItems } from '../../../src/stages/book/record-items.ts';
import { draw } from '../../drawn.tsx';
import { editsProposed, opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const project = projectOf({
  control: [['A', 0, 0, 10], ['B', 100, 0, 10]], // prettier-ignore
  book: [
    'setup A hi=1.5',
    'back B circle=90 zenith=90 dist=100 th=1.5',
    'shot 5 circle=0 zenith=90 dist=20 th=1.5 code=GR',
    'shot 6 circle=10 zenith=270 dist=20 th=1.6 code=GR',
    'remark the pole was bent',
  ],
});
const items = recordItems(project.doc, project.tables, { fold: 'none', shown: 'all', find: '', closed: new Set() });
const at = (number: string) => items.filter((it) => it.book.number.get(it.at) === number && it.book.kind(it.at) === 'sighting'); // prettier-ignore
const keyOf = (number: string): string => `book:${at(number)[0].book.row[at(number)[0].at]}`;
const done = vi.fn();
let page: ReturnType<typeof opened>;
beforeEach(() => {
  page = opened(project);
});

async function change(marked: typeof items, what: string, value: string | null, why = ''): Promise<void> {
  draw(<EditMarked items={marked} onDone={done} />);
  await userEvent.selectOptions(screen.getByLabelText('what to change'), what);
  const field = screen.queryByLabelText('new value');
  if (value && field?.tagName === 'SELECT') await userEvent.selectOptions(field, value);
  else if (value) await userEvent.type(field!, value);
  if (why) await userEvent.type(screen.getByLabelText('why'), why);
  await userEvent.click(screen.getByRole('button', { name: 'Preview' }));
}
const proposed = () => editsProposed(page).map(({ title, edits, why }) => [title, edits, why] as const);

describe('marked records', () => {
  it('get one height, those that have it already left alone, with why', async () => {
    await change([...at('5'), ...at('6')], 'target or instrument height', '1,6', 'the pole was read again');
    expect(proposed()).toEqual([['target or instrument height of 1 records: 1,6', { [keyOf('5')]: { set: { height: 1.6 }, undo: [] } }, 'the pole was read again']]); // prettier-ignore
  });

  it('without a reading of that kind are passed over', async () => {
    const setup = items.filter((it) => it.book.kind(it.at) === 'setup');
    const remarks = items.filter((it) => it.book.kind(it.at) === 'remark');
    await change([...setup, ...remarks, ...at('5')], 'slope distance', '21.5');
    expect(proposed()[0][1]).toEqual({ [keyOf('5')]: { set: { distance: 21.5 }, undo: [] } });
  });

  it('keep the face on which a vertical angle was read', async () => {
    await change(at('6'), 'vertical angle', '271-00-00');
    const [[, edits]] = proposed();
    expect(edits[keyOf('6')].set.zenith).toBeCloseTo((271 * Math.PI) / 180, 12);
  });

  it('that are none of them otherwise are told so', async () => {
    await change(at('5'), 'code', 'GR');
    expect(screen.getByRole('alert').textContent).toMatch(/^None of the marked records has that/);
    expect(proposed()).toEqual([]);
  });

  it.each([
    ['target or instrument height', 'high'],
    ['circle', 'north'],
    ['slope distance', '-3m'],
    ['number', ''],
  ])('are not given the %s “%s”', async (what, value) => {
    await change(at('5'), what, value);
    expect(screen.getByRole('alert').textContent.length).toBeGreaterThan(10);
    expect(proposed()).toEqual([]);
  });

  it('become checks or backsights, and are excluded', async () => {
    await change(at('5'), 'what it is sighted for', 'a check');
    expect(proposed()[0][1]).toEqual({ [keyOf('5')]: { set: { role: 'check' }, undo: [] } });
  });

  it('are excluded as a choice that stands there at once', async () => {
    await change([...at('5'), ...at('6')], 'used or not', null);
    expect(Object.values(proposed()[0][1]).map((e) => e.set)).toEqual([{ off: true }, { off: true }]);
  });

  it('nobody changed have nothing to go back to', async () => {
    await change(at('5'), 'everything, as received', null);
    expect(screen.getByRole('alert')).toBeTruthy();
  });
});
