// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { SurfaceRecipe } from '#core/project';
import { useShownStore } from '../../../src/sheet/surfaces-shown.tsx';
import { SurfaceList } from '../../../src/stages/ground/surface-list.tsx';
import { keepDated } from '../../../src/stages/ground/keep-dated.ts';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

vi.mock('../../../src/stages/ground/keep-dated.ts', () => ({ keepDated: vi.fn() }));

const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 51], ['3', 0, 20, 52], ['4', 20, 20, 53]] }); // prettier-ignore
const design: SurfaceRecipe = {
  ...given.doc.surfaces[0],
  id: 'pad',
  name: 'A pad',
  role: 'design',
  rows: [
    { id: 'a', on: true, kind: 'spot', x: 5, y: 5, z: 49 },
    { id: 'b', on: true, kind: 'spot', x: 25, y: 5, z: 49 },
    { id: 'c', on: true, kind: 'spot', x: 5, y: 25, z: 49 },
  ],
};
const doc = { ...given.doc, surfaces: [given.doc.surfaces[0], design] };
const project = { doc, tables: tablesOf(doc, given.readOf) };
let page: ReturnType<typeof opened>;
beforeEach(() => {
  useShownStore.setState({ shown: {}, current: {} });
  vi.mocked(keepDated).mockReset();
  page = opened(project);
});
const list = () => draw(<SurfaceList doc={doc} summary={project.tables.summary} onTrace={vi.fn()} />);
const rows = (): (string | null)[] =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((r) => r.textContent);
const shown = () => useShownStore.getState();

describe('the surfaces of a project', () => {
  it('stand with their use and their figures', () => {
    list();
    expect(rows()).toEqual([expect.stringMatching(/ground42.*m²$/), expect.stringMatching(/^A paddesign31200\.0 m²$/)]);
  });

  it('are drawn and hidden each on its own; the ground is drawn from the start', async () => {
    list();
    const ground = screen.getByRole<HTMLInputElement>('checkbox', { name: `draw ${doc.surfaces[0].name}` });
    expect(ground.checked).toBe(true);
    await userEvent.click(screen.getByRole('checkbox', { name: 'draw A pad' }));
    await userEvent.click(ground);
    expect(shown().shown).toEqual({ p: ['pad'] });
  });

  it('are read by choosing a row, which draws them too', async () => {
    list();
    await userEvent.click(screen.getByText('A pad'));
    expect(shown()).toMatchObject({ current: { p: 'pad' }, shown: { p: ['ground', 'pad'] } });
    expect(screen.getByRole('button', { name: 'Delete “A pad”' })).toBeTruthy();
  });

  it('sort by a figure', async () => {
    list();
    await userEvent.click(within(screen.getByRole('columnheader', { name: /Points/ })).getByRole('button'));
    expect(rows()[0]).toMatch(/^A pad/);
  });
});

describe('a surface', () => {
  it('that is new is what one reads next', async () => {
    list();
    await userEvent.click(screen.getByRole('button', { name: 'New surface' }));
    const [change] = written(page);
    expect(change.op).toBe('surface.add');
    await waitFor(() => expect(shown().current.p).toBe(change.op === 'surface.add' ? change.surface.id : ''));
  });

  it('that could not be added is not stood on', async () => {
    page.make.mockResolvedValue(false);
    list();
    await userEvent.click(screen.getByRole('button', { name: 'New surface' }));
    expect(shown().current).toEqual({});
  });

  it('is copied with its rows under a name and an id of its own', async () => {
    useShownStore.setState({ current: { p: 'pad' } });
    list();
    await userEvent.click(screen.getByRole('button', { name: 'Copy “A pad”' }));
    const [change] = written(page);
    expect(change).toMatchObject({ op: 'surface.add', surface: { rows: design.rows } });
    expect(change.op === 'surface.add' && [change.surface.id, change.surface.name]).not.toContain('pad');
    expect(change.op === 'surface.add' && change.surface.name).not.toBe('A pad');
  });

  it('is kept as it is at the revision of its triangles', async () => {
    vi.mocked(keepDated).mockResolvedValue('dated');
    list();
    await userEvent.click(screen.getByRole('button', { name: /^Keep as it is now/ }));
    await waitFor(() => expect(shown().current.p).toBe('dated'));
    const [id, , recipe, triangles, revision] = vi.mocked(keepDated).mock.calls[0];
    expect([id, recipe.id, triangles.x.length, revision]).toEqual(['p', 'ground', 4, 1]);
  });

  it('that could not be kept says why', async () => {
    vi.mocked(keepDated).mockRejectedValue(new Error('The server did not answer.'));
    list();
    await userEvent.click(screen.getByRole('button', { name: /^Keep as it is now/ }));
    await waitFor(() => expect(page.tell).toHaveBeenCalledWith('The server did not answer.'));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Keep as it is now/ }).disabled).toBe(false);
  });

  it('is deleted by its id', async () => {
    useShownStore.setState({ current: { p: 'pad' } });
    list();
    await userEvent.click(screen.getByRole('button', { name: 'Delete “A pad”' }));
    expect(written(page)).toEqual([{ op: 'surface.remove', id: 'pad' }]);
  });
});

it('a viewer sees the surfaces and no button that would refuse', () => {
  opened(project, { role: 'viewer' });
  list();
  expect(rows()).toHaveLength(2);
  for (const name of ['New surface', /^Copy/, /^Delete/, /^Keep/])
    expect(screen.queryByRole('button', { name })).toBeNull();
});
