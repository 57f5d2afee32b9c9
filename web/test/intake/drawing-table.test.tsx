// @vitest-environment jsdom
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { DrawingTable, FilePart } from '#core/exchange';
import { DrawingTablePick } from '../../src/intake/drawing-table.tsx';
import type { Opened } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';

type Row = DrawingTable['rows'][number];
const row = (layer: string, kind: string, more: Partial<Row> = {}): Row => ({ layer, kind, count: 3, box: [0, 0, 9, 9], lowest: null, highest: null, flat: 0, far: 0, read: true, hidden: false, colour: null, ...more }); // prettier-ignore
const ROWS = [
  row('KERB', 'POLYLINE', { lowest: 65.1, highest: 66.25, count: 6, far: 1 }),
  row('KERB', 'TEXT', { flat: 3 }),
  row('OLD', 'LINE', { hidden: true }),
  row('SIZES', 'DIMENSION', { read: false, box: null }),
  row('TREES', 'INSERT', { flat: 3 }),
];
const drawing: DrawingTable = {
  rows: ROWS,
  more: 0,
  symbols: 3,
  problems: ['block NEXT is kept in another file'],
  ours: { ours: 0, sent: null },
};
const opened = { drawing, claims: { unit: 'm', system: null, geoid: null } } as Opened & { drawing: DrawingTable };

const CODES = [{ code: 'KB', layer: 'KERB' }, { code: 'TR', layer: 'PLANTING', pointLayer: 'TREES' }]; // prettier-ignore
const KERBS: FilePart = { taken: [{ layer: 'KERB', kind: 'POLYLINE', as: 'lines', code: 'KB' }] };

function shown(part: FilePart = KERBS, of: typeof opened = opened, seen?: () => FilePart['within'] | null) {
  const onChange = vi.fn();
  draw(<DrawingTablePick opened={of} part={part} codes={CODES} seen={seen} onChange={onChange} />);
  return { onChange, told: () => onChange.mock.lastCall![0] as FilePart };
}
const rowOf = (text: string) => screen.getAllByRole('row').find((r) => r.textContent?.includes(text))!;

describe('the table of a drawing', () => {
  it('says of each row what it is, what it becomes, and what needs an eye', () => {
    shown();
    expect(rowOf('polylines').textContent).toContain('KERB6 polylines');
    expect(rowOf('polylines').textContent).toContain('65.10 to 66.259.0 × 9.01 far away');
    expect(rowOf('symbols').textContent).toBe('TREES3 symbols9.0 × 9.0no elevation');
    expect(rowOf('OLD').textContent).toContain('layer hidden');
    expect(within(rowOf('SIZES')).queryByRole('checkbox')).toBeNull();
    expect(rowOf('SIZES').textContent).toContain('is not read');
    expect(screen.getByText('block NEXT is kept in another file')).toBeTruthy();
  });

  it('says how far each row reaches, shows it on the drawing, and names the layers that are empty', async () => {
    const show = vi.fn();
    const part = row('KERB', 'POLYLINE', { box: [4311.6, 7708.7, 4372.1, 7750.2] });
    const of = { ...opened, drawing: { ...drawing, rows: [part, row('ONE', 'POINT', { box: [1, 2, 1, 2] })], empty: { names: ['SPARE', 'XREF'], count: 2 } } }; // prettier-ignore
    draw(<DrawingTablePick opened={of} part={{}} codes={CODES} show={show} onChange={vi.fn()} />);
    expect(rowOf('KERB').textContent).toContain('60.5 × 41.5');
    expect(rowOf('ONE').textContent).toContain('one place');
    await userEvent.click(screen.getByRole('button', { name: 'KERB, polylines: E 4311.6 to 4372.1, N 7708.7 to 7750.2; show on the drawing' })); // prettier-ignore
    expect(show).toHaveBeenCalledWith(part.box);
    expect(screen.getByText('2 layers are empty: SPARE, XREF')).toBeTruthy();
  });

  it('lists what a layer has in several colours by them, found by their names, ticked each on its own', async () => {
    const several = [1, 256, 0x1123456].map((drawnIn) => row('KERB', 'LINE', { drawnIn }));
    const { told } = shown({ taken: [] }, { ...opened, drawing: { ...drawing, rows: several } });
    expect(screen.getAllByRole('row').slice(1).map((r) => r.textContent)).toEqual(['red', 'by layer', '#123456'].map((c) => `KERB3 lines ${c}9.0 × 9.0`)); // prettier-ignore
    await userEvent.type(screen.getByLabelText('layers, kinds, blocks or colours that are listed'), 'red');
    await userEvent.click(screen.getByRole('checkbox', { name: 'KERB, lines red' }));
    expect(told().taken).toEqual([{ layer: 'KERB', kind: 'LINE', drawnIn: 1, as: 'lines', code: 'KB' }]);
  });

  it('offers where elevations of contours are written, and says what came of it', async () => {
    const contours = { without: 9, given: 0, unclear: [], from: { texts: 7, layers: 0 } };
    const { told } = shown(KERBS, { ...opened, drawing: { ...drawing, contours } });
    const where = screen.getByLabelText('where elevations of contours are written');
    expect(within(where).getByRole('option', { name: 'in texts on them or beside them (7)' })).toBeTruthy();
    await userEvent.selectOptions(where, 'texts');
    expect(told()).toEqual({ ...KERBS, written: 'texts' });
    cleanup();
    const after = shown({ ...KERBS, written: 'texts' }, { ...opened, drawing: { ...drawing, contours: { ...contours, given: 7, unclear: [{ x: 0, y: 0, elevations: [61, 62] }] } } }); // prettier-ignore
    expect(screen.getByRole('status').textContent).toBe('7 have one now; 2 stay without. Two elevations are written beside 1 of them: 61 and 62.'); // prettier-ignore
    await userEvent.selectOptions(screen.getByLabelText('where elevations of contours are written'), '');
    expect(after.told()).toEqual(KERBS);
  });

  it('takes a typed elevation for contours that have none, in the unit of the project or one typed with it', async () => {
    const contours: FilePart = { taken: [{ layer: 'KERB', kind: 'POLYLINE', as: 'contours', code: 'CT' }] };
    const flat = { ...opened, drawing: { ...drawing, rows: [row('KERB', 'POLYLINE', { flat: 3 })] } };
    const { told } = shown(contours, flat);
    const field = screen.getByLabelText('KERB, polylines: elevation m');
    await userEvent.type(field, '61.5{Enter}');
    expect(told().taken).toEqual([{ layer: 'KERB', kind: 'POLYLINE', as: 'contours', code: 'CT', elevation: 61.5 }]);
    await userEvent.clear(field);
    await userEvent.type(field, '10ft{Enter}');
    expect(told().taken![0].elevation).toBeCloseTo(3.048, 9);
    await userEvent.clear(field);
    await userEvent.type(field, 'high{Enter}');
    expect(field.getAttribute('aria-invalid')).toBe('true');
    expect(told().taken![0].elevation).toBeCloseTo(3.048, 9);
    cleanup();
    // Emptied, they have none again; contours with elevations of their own are not asked.
    const given = shown({ taken: [{ ...contours.taken![0], elevation: 61.5 }] }, flat);
    await userEvent.clear(screen.getByLabelText('KERB, polylines: elevation m'));
    await userEvent.tab();
    expect(given.told().taken![0]).not.toHaveProperty('elevation');
    cleanup();
    shown(contours);
    expect(screen.queryByLabelText('KERB, polylines: elevation m')).toBeNull();
  });

  it('names the unit that the file says, and that it says none', () => {
    shown();
    expect(screen.getByText(/elevations \[m\]/)).toBeTruthy();
    shown(KERBS, { ...opened, claims: { unit: null, system: null, geoid: null } });
    expect(screen.getByText(/elevations \[no unit\]/)).toBeTruthy();
    // Or the one that somebody chose for it.
    cleanup();
    draw(<DrawingTablePick opened={{ ...opened, claims: { unit: null, system: null, geoid: null } }} part={KERBS} codes={CODES} readIn="mm" onChange={vi.fn()} />); // prettier-ignore
    expect(screen.getByText(/elevations \[mm\]/)).toBeTruthy();
  });

  it('says whose ticks are proposed', () => {
    shown(KERBS, { ...opened, tickedAs: { id: 'a', name: 'design-a.dxf' } });
    expect(screen.getByText('Ticked as for design-a.dxf, whose layers are the same.')).toBeTruthy();
  });
});

describe('ticking', () => {
  it('goes by layer and kind, and gives the code that has this layer', async () => {
    const { told } = shown();
    const boxes = screen.getAllByRole('checkbox', { name: 'KERB' });
    expect(boxes.map((b) => (b as HTMLInputElement).checked)).toEqual([true, false]);
    await userEvent.click(screen.getByRole('checkbox', { name: 'TREES' }));
    expect(told().taken).toEqual([
      { layer: 'KERB', kind: 'POLYLINE', as: 'lines', code: 'KB' },
      { layer: 'TREES', kind: 'INSERT', as: 'points', code: 'TR' },
    ]);
  });

  it('of all rows takes those that are listed, and none that is not read', async () => {
    const { told } = shown({ taken: [] });
    await userEvent.type(screen.getByLabelText('layers, kinds, blocks or colours that are listed'), 'tree');
    await userEvent.click(screen.getByRole('button', { name: 'Tick these' }));
    expect(told().taken).toEqual([{ layer: 'TREES', kind: 'INSERT', as: 'points', code: 'TR' }]);
    await userEvent.clear(screen.getByLabelText('layers, kinds, blocks or colours that are listed'));
    await userEvent.click(screen.getByRole('button', { name: 'Tick all' }));
    expect(told().taken?.map((r) => r.kind)).toEqual(['POLYLINE', 'TEXT', 'LINE', 'INSERT']);
  });

  it('lists symbols by their block where there are several, found and ticked one by one', async () => {
    const blocks = { ...opened, drawing: { ...drawing, rows: ['LAMP', 'TREE'].map((block) => row('GARDEN', 'INSERT', { block })) } }; // prettier-ignore
    const { told } = shown({ taken: [] }, blocks);
    expect(rowOf('TREE').textContent).toContain('3 symbols TREE');
    await userEvent.type(screen.getByLabelText('layers, kinds, blocks or colours that are listed'), 'lamp');
    expect(screen.getAllByRole('row')).toHaveLength(2);
    await userEvent.click(screen.getByRole('checkbox', { name: 'GARDEN, symbols LAMP' }));
    expect(told().taken).toEqual([{ layer: 'GARDEN', kind: 'INSERT', block: 'LAMP', as: 'points' }]);
  });

  it('keeps what is ticked, and asks for what blocks draw', async () => {
    const { told } = shown();
    await userEvent.click(screen.getByRole('checkbox', { name: 'with what its 3 blocks draw' }));
    expect(told()).toEqual({ ...KERBS, blocks: true });
  });
});

describe('a window', () => {
  it('is what is in view when it is ticked, and goes again', async () => {
    const { told } = shown(KERBS, opened, () => [1, 2, 3, 4]);
    await userEvent.click(screen.getByRole('checkbox', { name: 'only what is in view' }));
    expect(told()).toEqual({ ...KERBS, within: [1, 2, 3, 4] });
    cleanup();
    const again = shown({ ...KERBS, within: [1, 2, 3, 4] }, opened, () => [5, 6, 7, 8]);
    await userEvent.click(screen.getByRole('checkbox', { name: 'only what is in view' }));
    expect(again.told()).toEqual(KERBS);
  });

  it('is not on offer where nothing is said of what is seen, and changes nothing in 3D', async () => {
    shown();
    expect(screen.queryByRole('checkbox', { name: 'only what is in view' })).toBeNull();
    cleanup();
    const { told } = shown(KERBS, opened, () => null);
    await userEvent.click(screen.getByRole('checkbox', { name: 'only what is in view' }));
    expect(told()).toEqual(KERBS);
  });
});

describe('a fence', () => {
  it('is drawn, kept with what was ticked meanwhile, and goes again', async () => {
    const onChange = vi.fn();
    let drawn: (fence: number[]) => void = () => undefined;
    const table = (part: FilePart) => <DrawingTablePick opened={opened} part={part} codes={CODES} fenced={(then) => (drawn = then)} onChange={onChange} />; // prettier-ignore
    const { rerender } = draw(table(KERBS));
    await userEvent.click(screen.getByRole('button', { name: 'Draw a fence …' }));
    rerender(table({ ...KERBS, blocks: true }));
    drawn([0, 0, 5, 0, 5, 5]);
    expect(onChange).toHaveBeenLastCalledWith({ ...KERBS, blocks: true, fence: [0, 0, 5, 0, 5, 5] });
    rerender(table({ ...KERBS, fence: [0, 0, 5, 0, 5, 5] }));
    await userEvent.click(screen.getByRole('checkbox', { name: 'only what reaches into the fence of 3 corners' }));
    expect(onChange).toHaveBeenLastCalledWith(KERBS);
  });
});

describe('what a row becomes', () => {
  it('is chosen by row, from what its kind can be', async () => {
    const { told } = shown();
    const as = screen.getByLabelText('KERB, polylines: as');
    expect(within(as).getAllByRole('option').map((o) => o.textContent)).toEqual(['lines', 'breaklines', 'contours', 'boundary', 'footprints', 'underlay']); // prettier-ignore
    await userEvent.selectOptions(as, 'breaklines');
    expect(told().taken).toEqual([{ layer: 'KERB', kind: 'POLYLINE', as: 'breaklines', code: 'KB' }]);
    // What is not ticked has nothing to choose.
    expect(screen.queryByLabelText('OLD, lines: as')).toBeNull();
  });

  it('is chosen for all lines that are listed at once, points left as they are', async () => {
    const taken = [...KERBS.taken!, { layer: 'OLD', kind: 'LINE', as: 'lines' as const }, { layer: 'TREES', kind: 'INSERT', as: 'points' as const }]; // prettier-ignore
    const { told } = shown({ taken });
    await userEvent.selectOptions(screen.getByLabelText('all listed rows as'), 'contours');
    expect(told().taken?.map((t) => t.as)).toEqual(['contours', 'contours', 'points']);
    // An underlay is of everything, without codes.
    await userEvent.selectOptions(screen.getByLabelText('all listed rows as'), 'underlay');
    expect(told().taken?.map((t) => t.as)).toEqual(['underlay', 'underlay', 'underlay']);
  });

  it('has no code under the drawing', () => {
    shown({ taken: [{ layer: 'TREES', kind: 'INSERT', as: 'underlay' }] });
    expect(screen.getByLabelText<HTMLSelectElement>('TREES, symbols: as').value).toBe('underlay');
    expect(screen.queryByLabelText('TREES, symbols: code')).toBeNull();
  });

  it('is asked about where one code means two things', () => {
    shown({ taken: [...KERBS.taken!, { layer: 'OLD', kind: 'LINE', as: 'breaklines', code: 'KB' }] });
    expect(screen.getByText(/^KB is the code of rows that are taken as different things/)).toBeTruthy();
  });

  it('gets the code that is typed, as codes are written, and its own name again when it is emptied', async () => {
    const { told } = shown();
    const code = screen.getByLabelText('KERB, polylines: code');
    await userEvent.clear(code);
    await userEvent.type(code, 'top of kerb{Enter}');
    expect(told().taken?.[0].code).toBe('TOP_OF_KERB');
    await userEvent.clear(code);
    await userEvent.tab();
    expect(told().taken?.[0]).toEqual({ layer: 'KERB', kind: 'POLYLINE', as: 'lines' });
  });
});

describe('lines that are cleaned', () => {
  const CLEAN = { join: 0.01, straight: 0.005, atZero: true };

  it('are asked for with usual lengths, and typed ones are taken when the field is left', async () => {
    const { told } = shown();
    await userEvent.click(screen.getByLabelText('clean its lines'));
    expect(told()).toEqual({ ...KERBS, clean: CLEAN });
    cleanup();
    const again = shown({ ...KERBS, clean: CLEAN });
    const field = screen.getByLabelText('join ends within m');
    await userEvent.clear(field);
    await userEvent.type(field, '0.05');
    expect(again.onChange).not.toHaveBeenCalled();
    await userEvent.tab();
    expect(again.told().clean).toEqual({ ...CLEAN, join: 0.05 });
    await userEvent.clear(field);
    await userEvent.type(field, 'wide{Enter}');
    expect(again.onChange).toHaveBeenCalledTimes(1);
    expect(field.getAttribute('aria-invalid')).toBe('true');
    await userEvent.click(screen.getByLabelText('clean its lines'));
    expect(again.told()).toEqual(KERBS);
  });

  it('are told before and after, in figures', () => {
    const cleaned = { before: { lines: 12, vertices: 60 }, after: { lines: 7, vertices: 41 }, doubled: 2, noLength: 0, atZero: 1, joined: 2 }; // prettier-ignore
    shown({ ...KERBS, clean: CLEAN }, { ...opened, drawing: { ...drawing, cleaned } });
    expect(screen.getByText('12 lines with 60 vertices became 7 lines with 41: 2 doubled, 1 at elevation 0, 2 ends joined.')).toBeTruthy(); // prettier-ignore
  });
});
