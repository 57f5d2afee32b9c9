// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { packColumns, stringColumn } from '#core/kernel';
import { api } from '../../../src/frame/api.ts';
import { useProject } from '../../../src/project-state/store.ts';
import { Files } from '../../../src/stages/book/files.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const base = projectOf({ control: [['K1', 9, 9, 10]], points: [['1', 0, 0, 50], ['2', 10, 0, 51]] }); // prettier-ignore
const intakes = base.doc.intakes.map((i) => ({ ...i, fileName: `${i.id}.csv` }));
const given = { ...base, doc: { ...base.doc, intakes }, tables: { ...base.tables, stages: { ...base.tables.stages, reads: { day: 'h' } } } }; // prettier-ignore
const account = { rows: 4, blank: 1, refusedCount: 1, refused: [{ row: 3, text: '3,x,0,1', reason: 'the east “x” is not a number' }] }; // prettier-ignore
afterEach(() => vi.restoreAllMocks());

async function files(role: 'surveyor' | 'viewer' = 'surveyor', fails = false) {
  const packed = packColumns({ account: stringColumn([JSON.stringify(account)]) });
  const result = vi.spyOn(api, 'result').mockResolvedValue(packed as never);
  if (fails) result.mockRejectedValue(new Error('No answer from the server.'));
  const page = opened(given, { role });
  draw(<Files tables={given.tables} />);
  await userEvent.click(screen.getByRole('button', { name: /^day\.csv/ }));
  return page;
}

describe('a received file', () => {
  it('says what was read of it, and why not all', async () => {
    await files();
    expect(await screen.findByText(/; 4 rows, 1 not read, 1 blank$/)).toBeTruthy();
    expect(screen.getByText(/^row 3: the east “x” is not a number/).textContent).toContain('3,x,0,1');
    expect(screen.getByRole('link').getAttribute('href')).toMatch(/^\/api\/projects\/p\/files\//);
  });

  it('shows its points on the drawing while it stands open', async () => {
    await files();
    expect(useProject.getState().sketch?.places).toEqual(Float64Array.of(0, 0, 10, 0));
    await userEvent.click(screen.getByRole('button', { name: /^day\.csv/ }));
    expect(useProject.getState().sketch).toBeNull();
  });

  it('whose account cannot be fetched says so', async () => {
    await files('surveyor', true);
    expect((await screen.findByRole('alert')).textContent).toBe('Its account could not be fetched: No answer from the server.'); // prettier-ignore
  });

  it('is switched off, made ground-only, given a prefix and another meaning of its numbers', async () => {
    const page = await files();
    await userEvent.click(screen.getByLabelText('use day.csv'));
    await userEvent.click(screen.getByLabelText('ground-only points'));
    await userEvent.type(screen.getByLabelText('before the numbers of day.csv'), ' T- {Enter}');
    await userEvent.selectOptions(screen.getByLabelText(/^numbers that exist already/), 'give new numbers');
    expect(written(page)).toMatchObject([
      { op: 'intake.switch', id: 'day', on: false },
      { op: 'intake.light', id: 'day', light: true },
      { op: 'intake.prefix', id: 'day', prefix: 'T-' },
      { op: 'intake.numbers', id: 'day', numbers: { all: 'renumber' } },
    ]);
  });

  it('becomes control, or a design whose surface is named first', async () => {
    const page = await files();
    const kind = screen.getByLabelText('what the points of day.csv are');
    await userEvent.selectOptions(kind, 'points of a new surface');
    expect(written(page)).toEqual([]);
    await userEvent.type(screen.getByLabelText('name of the surface of day.csv'), 'Pad{Enter}');
    await userEvent.selectOptions(kind, 'control');
    const said = JSON.stringify(written(page));
    expect(said).toContain('"Pad"');
    expect(said).toContain('"purpose":"control"');
  });

  it('is only looked at by a viewer', async () => {
    await files('viewer');
    expect(screen.getByLabelText<HTMLInputElement>('use day.csv').disabled).toBe(true);
    expect(screen.queryByRole('button', { name: 'Delete it from the project' })).toBeNull();
    expect(screen.queryByLabelText('ground-only points')).toBeNull();
  });
});
