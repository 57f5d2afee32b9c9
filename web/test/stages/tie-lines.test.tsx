// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProjectState } from '#contract';
import { placeVertex } from '#core/linework';
import type { Change, HandLine } from '#core/project';
import { useProject } from '../../src/project-state/store.ts';
import { TieLines } from '../../src/stages/lines/tie-lines.tsx';
import { draw } from '../drawn.tsx';
import { projectOf, tablesOf } from '../tables.ts';

const loose: HandLine = { code: 'KT', lineNumber: '', closed: false, vertices: [placeVertex(0.02, 0, 5), placeVertex(10, 0.04, 6), placeVertex(14, 0, 7)], replaces: null }; // prettier-ignore
const given = projectOf({ points: [['1', 0, 0, 50], ['2', 10, 0.02, 51], ['2A', 10.025, 0.04, 51.5]] }); // prettier-ignore
const doc = { ...given.doc, handLines: { 'KT~1': loose } };
const tables = tablesOf(doc, given.readOf);
const propose = vi.fn((_: string, __: Change) => Promise.resolve());
const close = vi.fn();

beforeEach(() => {
  propose.mockClear();
  close.mockClear();
  useProject.setState({ state: { document: doc, project: { id: 'p', role: 'surveyor' } } as unknown as ProjectState, tables, busy: false, propose }); // prettier-ignore
});

const panel = () => draw(<TieLines tables={tables} lines={tables.linework.lines} close={close} />);

describe('tying loose lines to points', () => {
  it('tells what lies on a point and what needs an eye before anything is proposed', async () => {
    panel();
    expect(await screen.findByText(/1 of 3 loose vertices lie on a point; farthest 0\.020 m\. 2 to look at/)).toBeTruthy(); // prettier-ignore
    const rows = screen.getAllByRole('row').map((r) => r.textContent);
    expect(rows.slice(1)).toEqual(['KT~12several points within reach2, 2Ano', 'KT~13no point within reachno']);
    expect(propose).not.toHaveBeenCalled();
  });

  it('is proposed by what was chosen: the nearest of several, elevations of the line', async () => {
    panel();
    await userEvent.selectOptions(screen.getByLabelText('several points within reach'), 'nearest');
    await userEvent.selectOptions(screen.getByLabelText('elevations of tied vertices'), 'own');
    await screen.findByText(/2 of 3 loose vertices/);
    await userEvent.click(screen.getByRole('button', { name: 'Show' }));
    const [title, change] = propose.mock.calls[0];
    expect(title).toBe('Tie 2 vertices of line KT~1 to points');
    expect(change).toMatchObject({ op: 'lines.hand', set: { 'KT~1': { vertices: [{ point: 'day:1', z: 5, plan: true }, { point: 'day:2', z: 6 }, { point: null, z: 7 }] } } }); // prettier-ignore
    expect(close).toHaveBeenCalled();
  });

  it('proposes nothing by a length that cannot be read or of 0', async () => {
    panel();
    const reach = screen.getByLabelText('how far a vertex may be from its point m');
    for (const typed of ['near', '0', '-1']) {
      await userEvent.clear(reach);
      await userEvent.type(reach, typed);
      expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Show' }).disabled).toBe(true);
    }
    expect(screen.getByRole('status').textContent).toBe('A vertex is tied to a point within a length greater than 0.');
  });
});
