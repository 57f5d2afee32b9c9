// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { plotFrames } from '#core/drawing';
import type { Plot, ProjectDocument } from '#core/project';
import { sheetHandle } from '../../../src/sheet/handle.ts';
import { PlotForm } from '../../../src/stages/lines/plot-form.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50], ['2', 90, 0, 51], ['3', 0, 60, 52]] }); // prettier-ignore
const PLOT: Plot = { id: 'a', title: 'Yard', client: '', drawnBy: '', checkedBy: '', number: '', note: '', paper: 'A3', upright: false, scale: 500, x: 0, y: 0, turn: 0, grid: null, contours: true, legend: true, stamp: '', logo: null } as unknown as Plot; // prettier-ignore

let page: ReturnType<typeof opened>;
function form(plot: Partial<Plot> = {}, settings: Partial<ProjectDocument['settings']> = {}): void {
  const doc = { ...given.doc, settings: { ...given.doc.settings, ...settings } };
  page = opened({ doc, tables: given.tables });
  draw(<PlotForm plot={{ ...PLOT, ...plot }} tables={given.tables} disabled={false} />);
}
async function retype(label: string, text: string): Promise<void> {
  await userEvent.clear(screen.getByLabelText(label));
  if (text) await userEvent.type(screen.getByLabelText(label), text);
  await userEvent.tab();
}
const set = () => written(page).map((c) => (c.op === 'drawing.plot' ? c.plot : null));

describe('a plot', () => {
  it('is set on paper, at a scale and with words, one change each', async () => {
    form();
    await userEvent.selectOptions(screen.getByLabelText('paper'), 'A1');
    await userEvent.selectOptions(screen.getByLabelText('which way'), 'portrait');
    await userEvent.selectOptions(screen.getByLabelText('scale of the plot'), '1 : 200');
    await retype('client', ' Harbour board ');
    expect(set()).toMatchObject([{ paper: 'A1' }, { upright: true }, { scale: 200 }, { client: 'Harbour board', title: 'Yard' }]); // prettier-ignore
  });

  it('keeps its title where it is emptied', async () => {
    form();
    await retype('title', '');
    expect(set()).toEqual([]);
  });

  it('has north turned by an angle as people type it', async () => {
    form({}, { angle: 'gon' });
    await retype('north rotated by', '350');
    expect(set()[0]!.turn).toBeCloseTo((-50 / 200) * Math.PI, 12);
    await retype('north rotated by', 'a bit');
    expect(page.tell).toHaveBeenCalledOnce();
    expect(set()).toHaveLength(1);
  });

  it('has a grid in the project’s unit, none, or one to suit its scale', async () => {
    form({}, { unit: 'ft' });
    await retype('grid spacing', '100');
    await retype('grid spacing', '0');
    await retype('grid spacing', 'wide');
    expect(set().map((p) => p!.grid)).toEqual([expect.closeTo(30.48, 9), 0]);
    expect(page.tell).toHaveBeenCalledWith('A grid’s spacing is a length, or 0 for none.');
  });

  it('is not changed by passing through its fields, whose figures are rounded', async () => {
    form({ turn: 0.123456789, grid: 7.123456789 }, { unit: 'ft', angle: 'dms' });
    for (const field of screen.getAllByRole('textbox')) {
      await userEvent.click(field);
      await userEvent.tab();
    }
    expect(set()).toEqual([]);
  });

  it('is fitted to all points, or to the middle of what the drawing shows', async () => {
    form();
    await userEvent.click(screen.getByRole('button', { name: 'Fit all' }));
    // 90 m and a little round them are wider at 1 : 250 than the window of this paper; the next scale holds them.
    expect(93_600 / 250).toBeGreaterThan(plotFrames(PLOT).window.width);
    expect(set()[0]).toMatchObject({ x: 45, y: 30, scale: 500 });
    await userEvent.click(screen.getByRole('button', { name: 'Of the view' }));
    expect(page.tell).toHaveBeenCalledWith('Show the plan on the drawing first.');
    sheetHandle.current = { middle: () => ({ x: 7, y: 8 }) } as unknown as typeof sheetHandle.current;
    await userEvent.click(screen.getByRole('button', { name: 'Of the view' }));
    sheetHandle.current = null;
    expect(set()[1]).toMatchObject({ x: 7, y: 8, scale: 500 });
  });
});
