// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SavedLayout } from '#contract';
import type { ProjectDocument } from '#core/project';
import { api } from '../../../src/frame/api.ts';
import { saveFile, saveText } from '../../../src/frame/download.ts';
import { PointsOut } from '../../../src/stages/book/points-out.tsx';
import { pointsOut, type OutSettings, type PointsFile } from '../../../src/work/points-out.ts';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

vi.mock('../../../src/frame/download.ts', () => ({ saveText: vi.fn(), saveFile: vi.fn() }));
const given = projectOf({ control: [['K1', 5, 5, 10]], points: [['2', 1000, 2000, 50, 'KT1 BEG'], ['1', 1010, 2000, NaN, 'KT1 END']] }); // prettier-ignore

/** The same that the worker does, on this thread. */
const write = vi.fn((_: unknown, doc: ProjectDocument, __: unknown, s: OutSettings, most?: number): Promise<PointsFile> => {
  const { points } = given.tables;
  const texts = { number: (row: number) => points.number.get(row), description: (row: number) => points.description.get(row) }; // prettier-ignore
  return Promise.resolve(pointsOut(doc, { ...points, ...texts } as never, null, s, most));
}); // prettier-ignore
vi.mock('../../../src/work/workers.ts', () => ({ plotWork: () => ({ pointsOut: (...args: Parameters<typeof write>) => write(...args) }) })); // prettier-ignore

beforeEach(() => {
  vi.mocked(saveText).mockClear();
  vi.spyOn(api, 'layouts').mockResolvedValue([]);
});
afterEach(() => vi.restoreAllMocks());
async function page(settings: Partial<ProjectDocument['settings']> = {}, layouts: SavedLayout[] = []) {
  vi.mocked(api.layouts).mockResolvedValue(layouts);
  const doc = { ...given.doc, settings: { ...given.doc.settings, ...settings } };
  const page = opened({ doc, tables: given.tables });
  draw(<PointsOut />);
  await screen.findByLabelText('first rows');
  return page;
}
const shows = (text: string | RegExp) => waitFor(() => expect(screen.getByLabelText('first rows').textContent).toMatch(text)); // prettier-ignore
const writeFile = () => userEvent.click(screen.getByRole('button', { name: 'Write the file' }));
const choose = (label: string, option: string) => userEvent.selectOptions(screen.getByLabelText(label), option);

describe('points as a file for somebody else', () => {
  it('are shown as they will be written, in the project’s order and unit, control left out', async () => {
    await page({ order: 'NE', unit: 'ft', decimals: 2 });
    await shows(/^2,6561\.68,3280\.84,164\.04,KT1 BEG$/m);
    expect(screen.getByLabelText('first rows').textContent).not.toContain('K1');
    expect(screen.getByText(/^2 points; read back before/)).toBeTruthy();
  });

  it('follow what is chosen: order of rows, control, signs, decimals', async () => {
    await page();
    await choose('order of rows', 'by number');
    await userEvent.click(screen.getByLabelText('control too'));
    await choose('separated by', 'semicolon');
    await userEvent.click(screen.getByLabelText('a heading row'));
    await shows(/^1;1010\.000;2000\.000;.*\r\n2;1000\.000;2000\.000;50\.000;KT1 BEG\r\nK1;/);
  });

  it('leave under a name for project, content and revision, with any ending', async () => {
    await page();
    await userEvent.clear(screen.getByLabelText('file ending'));
    await userEvent.type(screen.getByLabelText('file ending'), 'p/t:s');
    await writeFile();
    await waitFor(() => expect(saveText).toHaveBeenCalled());
    const [name, text] = vi.mocked(saveText).mock.calls[0];
    expect(name).toBe('Test site-points-r1.pts');
    expect(text.trim().split(/\r?\n/)).toHaveLength(3);
  });

  it('do not leave where nothing was chosen, or where reading them again shows something else', async () => {
    const told = await page();
    write.mockResolvedValueOnce({ text: '', count: 2, readBack: { ok: false, problems: ['point 2 has no elevation'], notes: [] } as never }); // prettier-ignore
    await writeFile();
    await waitFor(() => expect(told.tell).toHaveBeenCalledWith('Nothing was written: read again, point 2 has no elevation.')); // prettier-ignore
    expect(saveText).not.toHaveBeenCalled();
  });

  it('leave as a drawing, with no columns to choose', async () => {
    await page();
    await choose('written as', 'a drawing: number and code as text alone');
    expect(screen.queryByLabelText('column 1')).toBeNull();
    await writeFile();
    await waitFor(() => expect(vi.mocked(saveText).mock.calls[0][0]).toBe('Test site-points-r1.dxf'));
  });

  it('leave as a spreadsheet, told which columns are numbers; why it failed is said', async () => {
    const told = await page();
    const sheet = vi.spyOn(api, 'spreadsheet').mockResolvedValueOnce(new Blob()).mockRejectedValueOnce(new Error('Too many rows.')); // prettier-ignore
    await choose('written as', 'a spreadsheet, a row a point');
    await writeFile();
    await waitFor(() => expect(saveFile).toHaveBeenCalled());
    expect(sheet.mock.calls[0][1]).toMatchObject({ name: 'Points', numeric: [false, true, true, true, false] });
    await writeFile();
    await waitFor(() => expect(told.tell).toHaveBeenCalledWith('Too many rows.'));
  });

  it('go as they went to a recipient before, the one that is meant of two of a name', async () => {
    const out = (decimals: number) => ({ what: 'text', order: ['P', 'Z'], separator: ' ', decimal: '.', none: '', design: false, decimals, unit: 'm', headings: false, system: 'grid', control: false, light: false, best: false, sorted: false, words: -1, ending: 'txt', sheet: false }) as const; // prettier-ignore
    const layouts = [1, 4].map((d) => ({ id: `l${d}`, name: 'Port', layout: { out: out(d) }, signature: 'out', team: d === 4 ? 'Harbour' : null })) as unknown as SavedLayout[]; // prettier-ignore
    await page({}, layouts);
    await userEvent.selectOptions(await screen.findByLabelText('as it was kept for'), 'Port, Harbour');
    await shows(/^2 50\.0000$/m);
  });
});
