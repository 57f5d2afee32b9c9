// @vitest-environment jsdom
import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import { useProject } from '../../../src/project-state/store.ts';
import { sheetHandle } from '../../../src/sheet/handle.ts';
import { Lines } from '../../../src/stages/lines/lines.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf, type Project } from '../../tables.ts';

const given = projectOf({
  points: [['1', 0, 0, 50, 'KT1 BEG'], ['2', 30, 40, 50, 'KT1 END'], ['3', 0, 9, 50, 'BT1 BEG'], ['4', 5, 9, 50, 'BT1 END'], ['5', 9, 9, 50, 'QQX']], // prettier-ignore
});
function lines(project: Project = given, role: 'surveyor' | 'viewer' = 'surveyor') {
  const page = opened(project, { role });
  draw(<MemoryRouter initialEntries={['/p/p/lines']}><Routes><Route path="/p/:project/:stage" element={<Lines />} /></Routes></MemoryRouter>); // prettier-ignore
  return page;
}
const rows = (): string[][] =>
  within(screen.getByRole('grid', { name: 'lines' })).getAllByRole('row').slice(1).map((r) => within(r).getAllByRole('gridcell').map((c) => c.textContent)); // prettier-ignore

describe('lines by code', () => {
  it('stand with their points, length and whether they are in the ground', () => {
    lines();
    expect(screen.getByText('2 lines; 1 unknown code on layer UNKNOWN')).toBeTruthy();
    const [batter, kerb] = rows();
    expect([batter[0], kerb[0]]).toEqual(['BT1', 'KT1']);
    expect(kerb.slice(3)).toEqual(['2', '1 – 2', '50.00', 'yes']);
  });

  it('of a drawing, whose vertices have no numbers, are told by their rows', () => {
    lines(projectOf({ points: [['', 0, 0, 50, 'KT1 BEG'], ['', 30, 40, 50, 'KT1 END'], ['7', 0, 9, 50, 'BT1 BEG'], ['', 5, 9, 50, 'BT1 END']] })); // prettier-ignore
    expect(rows().map((r) => r[4])).toEqual(['7 – row 4', 'rows 1 – 2']);
  });

  it('are found by their code or by what it means', async () => {
    lines();
    const { name } = given.doc.codeList.codes.find((c) => c.code === 'BT')!;
    await userEvent.type(screen.getByLabelText('filter the lines'), name.toUpperCase());
    expect(rows().map((r) => r[0])).toEqual(['BT1']);
    await userEvent.click(screen.getByRole('button', { name: 'All' }));
    expect(rows()).toHaveLength(2);
  });

  it('are selected in the table and shown on the drawing', async () => {
    const show = vi.fn();
    sheetHandle.current = { show } as unknown as typeof sheetHandle.current;
    lines();
    await userEvent.click(within(screen.getByRole('grid', { name: 'lines' })).getByText('KT1'));
    expect(useProject.getState().selection).toEqual({ kind: 'line', key: 'KT1' });
    expect(show).toHaveBeenCalledWith(0, 0);
    sheetHandle.current = null;
  });

  it('are drawn by hand from points and places, in a key of their own', async () => {
    const page = lines();
    await userEvent.selectOptions(screen.getByLabelText('code of the line to draw'), 'BT');
    await userEvent.click(screen.getByRole('button', { name: 'Draw a line' }));
    const { traced } = useProject.getState();
    act(() => useProject.setState({ traced: null }));
    traced!.course!.finish([{ x: 0, y: 0, row: 0, by: 'point' }, { x: 3, y: 4, row: -1, by: 'free' }]); // prettier-ignore
    const [title, change] = page.propose.mock.calls[0];
    expect(title).toBe('Draw a line BT by hand');
    expect(change).toMatchObject({ op: 'lines.hand', set: { 'BT~1': { code: 'BT', vertices: [{ point: 'day:1' }, { point: null, x: 3, y: 4 }] } } }); // prettier-ignore
  });

  it('are only read by a viewer', () => {
    lines(given, 'viewer');
    expect(rows()).toHaveLength(2);
    for (const name of ['Draw a line', 'Tie to points']) expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('that do not exist yet say how they come about, in the crew’s own words', () => {
    const none = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
    lines(none);
    expect(screen.getByText(/^Lines draw themselves from codes/).textContent).toContain(`the word ${none.doc.codeList.words.begin} on the first`); // prettier-ignore
  });
});
