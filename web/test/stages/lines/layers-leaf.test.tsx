// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Layer } from '#core/drawing';
import type { ProjectDocument } from '#core/project';
import { LayersLeaf } from '../../../src/stages/lines/layers-leaf.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

const layers = vi.fn<() => Promise<Layer[]>>();
vi.mock('../../../src/work/workers.ts', () => ({ plotWork: () => ({ layers }) }));

const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const KERB = { name: 'KERB', points: 12, lines: 3, labels: false, visible: true, locked: false, ink: null, width: 0.25 } as unknown as Layer; // prettier-ignore
let page: ReturnType<typeof opened>;
async function leaf(
  part: Partial<ProjectDocument['drawing']> = {},
  settings: Partial<ProjectDocument['settings']> = {},
  role: 'surveyor' | 'viewer' = 'surveyor',
) {
  // prettier-ignore
  const doc = { ...given.doc, drawing: { ...given.doc.drawing, ...part }, settings: { ...given.doc.settings, ...settings } }; // prettier-ignore
  page = opened({ doc, tables: given.tables }, { role });
  draw(<LayersLeaf tables={given.tables} />);
  await screen.findByText('KERB');
}
async function retype(label: string, text: string): Promise<void> {
  await userEvent.clear(screen.getByLabelText(label));
  await userEvent.type(screen.getByLabelText(label), text);
  await userEvent.tab();
}
beforeEach(() => layers.mockResolvedValue([KERB, { ...KERB, name: 'NUMBERS', labels: true, points: 0, lines: 0 }]));

describe('the layers of a drawing', () => {
  it('say what is on them; nothing is no nought', async () => {
    await leaf();
    const rows = within(screen.getByRole('table', { name: 'layers' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => within(r).getAllByRole('cell').slice(0, 3).map((c) => c.textContent))).toEqual([['KERB', '12', '3'], ['NUMBERS labels', '', '']]); // prettier-ignore
  });

  it('are hidden, locked, inked and set in width, and keep only what differs', async () => {
    await leaf({ layers: { KERB: { locked: true } } });
    await userEvent.click(screen.getByLabelText('KERB is visible'));
    await userEvent.selectOptions(screen.getByLabelText('ink of layer KERB'), screen.getAllByRole('option', { name: 'lake' })[0]); // prettier-ignore
    await retype('width of lines on KERB, mm', '0,5');
    expect(written(page)).toEqual([
      { op: 'drawing.layer', layer: 'KERB', look: { locked: true, visible: false } },
      { op: 'drawing.layer', layer: 'KERB', look: { locked: true, ink: 'lake' } },
      { op: 'drawing.layer', layer: 'KERB', look: { locked: true, width: 0.5 } },
    ]);
  });

  it('that are again as all others keep nothing', async () => {
    layers.mockResolvedValue([{ ...KERB, locked: true }]);
    await leaf({ layers: { KERB: { locked: true } } });
    await userEvent.click(screen.getByLabelText('KERB is locked'));
    expect(written(page)).toEqual([{ op: 'drawing.layer', layer: 'KERB', look: null }]);
  });

  it('are read by a viewer', async () => {
    await leaf({}, {}, 'viewer');
    expect(screen.getByLabelText<HTMLInputElement>('KERB is visible').disabled).toBe(true);
    expect(screen.getByLabelText<HTMLSelectElement>('plot scale').disabled).toBe(true);
  });
});

describe('how all is drawn', () => {
  it('goes by the plot scale, in the words of the unit', async () => {
    await leaf({}, { unit: 'ft', plotScale: 480 });
    const scale = screen.getByLabelText<HTMLSelectElement>('plot scale');
    expect(scale.selectedOptions[0].textContent).toBe('1 in = 40 ft');
    await userEvent.selectOptions(scale, '1 in = 20 ft');
    expect(written(page)).toEqual([{ op: 'settings.set', settings: { plotScale: 240 } }]);
  });

  it('has sizes in millimetres, and none that no pen could draw', async () => {
    await leaf();
    await retype('symbols mm', '2,5');
    await retype('lines mm', '0.01');
    await retype('lines mm', 'thin');
    expect(written(page)).toEqual([{ op: 'drawing.set', drawing: { symbolSize: 2.5 } }]);
    expect(screen.getByLabelText<HTMLInputElement>('lines mm').value).toBe(String(given.doc.drawing.lineWidth));
  });

  it('labels points with what is ticked, where and how large', async () => {
    await leaf();
    const { labels } = given.doc.drawing;
    await userEvent.click(screen.getByRole('checkbox', { name: 'code' }));
    await userEvent.selectOptions(screen.getByLabelText('place of number labels'), 'below, left');
    await retype('layer of elevation labels', 'heights');
    const set = written(page).map((c) => (c.op === 'drawing.set' ? c.drawing.labels : null));
    expect(set).toEqual([
      { ...labels, code: { ...labels.code, on: !labels.code.on } },
      { ...labels, number: { ...labels.number, corner: 'down-left' } },
      { ...labels, elevation: { ...labels.elevation, layer: 'HEIGHTS' } },
    ]);
  });
});
