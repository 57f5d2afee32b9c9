// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { saveText } from '../../../src/frame/download.ts';
import { Control } from '../../../src/stages/basis/control.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, type Project } from '../../tables.ts';

vi.mock('../../../src/frame/download.ts', () => ({ saveText: vi.fn(), saveFile: vi.fn() }));

// What was typed at the instrument for K1 is half a metre off; K2 was typed as control has it.
const given = projectOf({
  control: [['K1', 100, 200, 10], ['K2', 150, 200, 11]], // prettier-ignore
  points: [['K1', 100.5, 200, 10], ['K2', 150, 200, 11], ['3', 110, 210, 10.5]], // prettier-ignore
});
const takeIn = vi.fn();
function control(project: Project = given, role: 'surveyor' | 'viewer' = 'surveyor') {
  const page = opened(project, { role });
  draw(<Control onTakeIn={takeIn} />);
  return page;
}
const cells = (): (string | null)[][] =>
  screen.getAllByRole('row').slice(1).map((r) => within(r).getAllByRole('gridcell').map((c) => c.textContent)); // prettier-ignore

describe('control', () => {
  it('stands with coordinates in the project’s order, and its standing', () => {
    control({ ...given, doc: { ...given.doc, settings: { ...given.doc.settings, order: 'NE' } } });
    const heads = screen.getAllByRole('columnheader').map((h) => h.textContent);
    expect(heads.slice(0, 4)).toEqual(['Control', 'North m', 'East m', 'Elev m']);
    expect(cells()[0].slice(0, 4)).toEqual(['K1', '200.000', '100.000', '10.000']);
    expect(screen.getByLabelText<HTMLSelectElement>('standing of K1').value).toBe('fixed');
  });

  it('gets another standing, point by point', async () => {
    const page = control();
    await userEvent.selectOptions(screen.getByLabelText('standing of K2'), 'check');
    expect(written(page)).toEqual([{ op: 'points.edit', edits: { 'control:2': { set: { standing: 'check' }, undo: [] } } }]); // prettier-ignore
  });

  it('takes the place of what was typed under its numbers, those that differ, all at once', async () => {
    const page = control();
    expect(screen.getByText(/^One point of the survey carries the number of control with other coordinates: K1\./)).toBeTruthy(); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Use control’s coordinates …' }));
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'points.edit', edits: { 'day:1': { set: { x: 100, y: 200, z: 10 }, undo: [] } } }); // prettier-ignore
  });

  it('that has a number twice takes nothing’s place by it', () => {
    control(projectOf({ control: [['K1', 100, 200, 10], ['K1', 300, 200, 10]], points: [['K1', 100.5, 200, 10]] })); // prettier-ignore
    expect(screen.queryByText(/other coordinates/)).toBeNull();
  });

  it('goes out as text in the project’s order and unit, what is excluded left out', async () => {
    control();
    await userEvent.click(screen.getByRole('button', { name: 'As CSV' }));
    const [name, text] = vi.mocked(saveText).mock.calls[0];
    expect(name).toBe('Test site-control-r1.csv');
    expect(text.trim().split(/\r?\n/).slice(1)).toEqual(['K1,100.0000,200.0000,10.0000,', 'K2,150.0000,200.0000,11.0000,']); // prettier-ignore
  });

  it('that is missing is asked for', async () => {
    control(projectOf({ points: [['1', 0, 0, 1]] })); // prettier-ignore
    expect(screen.getByText(/^No control yet\./)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Import files …' }));
    expect(takeIn).toHaveBeenCalled();
  });

  it('is typed where the file forgot it', async () => {
    control();
    await userEvent.click(screen.getByRole('button', { name: 'Type it …' }));
    expect(screen.getByRole('button', { name: 'Type it …' }).getAttribute('aria-expanded')).toBe('true');
  });

  it('is read by a viewer, its standing as a word', () => {
    control(given, 'viewer');
    expect(screen.queryByLabelText('standing of K1')).toBeNull();
    expect(cells()[0]).toContain('fixed');
    expect(screen.queryByRole('button', { name: 'Import files …' })).toBeNull();
    expect(screen.queryByText(/other coordinates/)).toBeNull();
  });
});
