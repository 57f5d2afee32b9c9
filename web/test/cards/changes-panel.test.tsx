// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ChangeEntry } from '#contract';
import { ChangesPanel } from '../../src/cards/changes-panel.tsx';
import { api } from '../../src/frame/api.ts';
import { useProject, type PendingChange } from '../../src/project-state/store.ts';
import { draw } from '../drawn.tsx';
import { opened, stateOf } from '../opened.ts';
import { projectOf } from '../tables.ts';

const hashes = vi.fn();
vi.mock('../../src/work/workers.ts', () => ({ chainWork: () => ({ hashes }) }));
afterEach(() => vi.restoreAllMocks());

const given = projectOf({ points: [['101', 0, 0, 1], ['102', 5, 0, 1], ['103', 0, 5, 1]] }); // prettier-ignore
const entry = (over: Partial<ChangeEntry>): ChangeEntry => ({ revision: 1, at: '2026-06-05T08:00:00Z', by: 'Ada Quill', kind: 'do', about: null, what: 'imported day.csv', ...over }); // prettier-ignore
const HEIGHT = entry({ revision: 3, by: 'Ben Oak', stage: 'book', mine: true, why: 'read again', details: [{ key: 'day:2', field: 'elevation', name: 'z', before: '1.000', after: '1.250' } as never] }); // prettier-ignore
const LIST = [entry({ revision: 4, kind: 'undo', what: 'undid 2' }), HEIGHT, entry({ revision: 2, stage: 'ground', what: 'drew a void' }), entry({})]; // prettier-ignore
const close = vi.fn();

async function panel(list = LIST, more: Parameters<typeof opened>[1] = {}) {
  vi.spyOn(api, 'changes').mockResolvedValue(list);
  close.mockClear();
  const page = opened(given, { state: { ...stateOf(given.doc), undo: 'the elevation of 102' }, ...more });
  draw(<ChangesPanel onClose={close} />);
  await screen.findByText(list.length ? 'imported day.csv' : /^Nothing has been changed yet/);
  return page;
}
const shown = (): string[] => screen.getAllByRole('listitem').map((li) => li.firstElementChild!.textContent);

describe('the changes of a project', () => {
  it('say who, what, from what to what, and why', async () => {
    await panel();
    const item = screen.getAllByRole('listitem')[1].textContent;
    expect(item).toContain('elevation of 102: ');
    expect(item).toMatch(/1\.000.*1\.250/);
    expect(item).toContain('because read again');
    expect(item).toMatch(/Ben Oak, /);
  });

  it('lead to the point that they speak of, and close', async () => {
    await panel();
    await userEvent.click(screen.getByRole('button', { name: /^elevation of 102/ }));
    expect(useProject.getState().selection).toEqual({ kind: 'point', row: 1 });
    expect(close).toHaveBeenCalled();
  });

  it('are chosen by person, stage and words, each with the others', async () => {
    await panel();
    await userEvent.selectOptions(screen.getByLabelText('by whom'), 'Ada Quill');
    expect(shown()).toEqual(['4', '2', '1']);
    await userEvent.selectOptions(screen.getByLabelText('of which stage'), 'ground');
    expect(shown()).toEqual(['2']);
    await userEvent.selectOptions(screen.getByLabelText('by whom'), 'everybody');
    await userEvent.selectOptions(screen.getByLabelText('of which stage'), 'every stage');
    await userEvent.type(screen.getByLabelText('changes with'), 'READ again');
    expect(shown()).toEqual(['3']);
  });

  it('are undone: the newest, or one of one’s own from the list', async () => {
    const page = await panel();
    expect(screen.getByText('would be undone: the elevation of 102')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'undo change 3' }));
    await userEvent.click(screen.getByRole('button', { name: /^Undo Ctrl Z/ }));
    expect(page.takeBack.mock.calls).toEqual([['undo', { about: 3 }], ['undo']]);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Redo/ }).disabled).toBe(true);
    expect(screen.queryByRole('button', { name: 'undo change 2' })).toBeNull();
  });

  it('close by Escape, except where that first leaves a preview', async () => {
    await panel(LIST, { pending: { label: 'x' } as PendingChange });
    await userEvent.keyboard('{Escape}');
    expect(close).not.toHaveBeenCalled();
    useProject.setState({ pending: null });
    await userEvent.keyboard('{Escape}');
    expect(close).toHaveBeenCalledOnce();
  });

  it('that are none say how to begin', async () => {
    await panel([]);
    expect(within(screen.getByLabelText('changes')).getByText(/Drop a file anywhere/)).toBeTruthy();
  });
});

describe('computing here what the server keeps', () => {
  const stages = { ...given.tables.stages, points: 'a', lines: 'b', surfaces: { ground: 'c' } };
  const compare = async (mine: Record<string, string> | Error): Promise<string> => {
    if (mine instanceof Error) hashes.mockRejectedValueOnce(mine);
    else hashes.mockResolvedValueOnce(mine);
    await panel(LIST, { tables: { ...given.tables, stages } });
    await userEvent.click(screen.getByRole('button', { name: 'Compute here too and compare' }));
    return (await screen.findByText(/^(The same|Different|No answer)/)).textContent;
  };
  const same = { points: 'a', lines: 'b', reduction: '', summary: '', 'surfaces ground': 'c' };

  it('says that it is the same, and of what', async () => {
    expect(await compare(same)).toBe(`The same to the last bit: points, reduction, lines, summary, surface ${given.doc.surfaces[0].name}.`); // prettier-ignore
  });

  it('names what is different', async () => {
    expect(await compare({ ...same, lines: 'x' })).toBe('Different: lines.');
  });

  it('says why it could not', async () => {
    expect(await compare(new Error('No answer from the server.'))).toBe('No answer from the server.');
  });
});
