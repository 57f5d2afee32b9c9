// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { DrawingTable, FilePart } from '#core/exchange';
import { DrawingTablePick, tickedFirst } from '../../src/intake/drawing-table.tsx';
import type { Opened } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';

type Row = DrawingTable['rows'][number];
const row = (layer: string, kind: string, more: Partial<Row> = {}): Row => ({ layer, kind, count: 3, box: [0, 0, 9, 9], lowest: null, highest: null, flat: 0, far: 0, read: true, hidden: false, ...more }); // prettier-ignore
const ROWS = [
  row('KERB', 'POLYLINE', { lowest: 65.1, highest: 66.25, count: 6, far: 1 }),
  row('KERB', 'TEXT', { flat: 3 }),
  row('OLD', 'LINE', { hidden: true }),
  row('SIZES', 'DIMENSION', { read: false, box: null }),
  row('TREES', 'INSERT', { flat: 3 }),
];
const drawing: DrawingTable = { rows: ROWS, more: 0, symbols: 3, problems: ['block NEXT is kept in another file'] };
const opened = { drawing, claims: { unit: 'm', system: null, geoid: null } } as Opened & { drawing: DrawingTable };

function shown(part: FilePart = {}, of: typeof opened = opened) {
  const onChange = vi.fn();
  draw(<DrawingTablePick opened={of} part={part} onChange={onChange} />);
  return { onChange, told: () => onChange.mock.lastCall![0] as FilePart };
}
const rowOf = (text: string) => screen.getAllByRole('row').find((r) => r.textContent?.includes(text))!;

describe('the table of a drawing', () => {
  it('says of each row what it is, what it becomes, and what needs an eye', () => {
    shown();
    expect(rowOf('polylines').textContent).toBe('KERBpolylines665.10066.250lines1 far away');
    expect(rowOf('symbols').textContent).toBe('TREESsymbols3pointsno elevation');
    expect(rowOf('OLD').textContent).toContain('layer hidden');
    expect(within(rowOf('SIZES')).queryByRole('checkbox')).toBeNull();
    expect(screen.getByText('block NEXT is kept in another file')).toBeTruthy();
  });

  it('names the unit that the file says, and that it says none', () => {
    shown();
    expect(screen.getByText(/lowest \[m\]/)).toBeTruthy();
    shown({}, { ...opened, claims: { unit: null, system: null, geoid: null } });
    expect(screen.getByText(/lowest \[drawing units\]/)).toBeTruthy();
  });
});

describe('ticking', () => {
  it('begins with points, lines and faces, and goes by layer and kind', async () => {
    const { told } = shown();
    const boxes = screen.getAllByRole('checkbox', { name: 'KERB' });
    expect(boxes.map((b) => (b as HTMLInputElement).checked)).toEqual([true, false]);
    await userEvent.click(boxes[1]);
    expect(told().taken).toEqual([
      { layer: 'KERB', kind: 'POLYLINE' },
      { layer: 'OLD', kind: 'LINE' },
      { layer: 'KERB', kind: 'TEXT' },
    ]);
  });

  it('of all rows takes those that are listed, and none that is not read', async () => {
    const { told } = shown({ taken: [] });
    await userEvent.type(screen.getByLabelText('layers or kinds that are listed'), 'tree');
    await userEvent.click(screen.getByRole('button', { name: 'Tick these' }));
    expect(told().taken).toEqual([{ layer: 'TREES', kind: 'INSERT' }]);
    await userEvent.clear(screen.getByLabelText('layers or kinds that are listed'));
    await userEvent.click(screen.getByRole('button', { name: 'Tick all' }));
    expect(told().taken?.map((r) => r.kind)).toEqual(['POLYLINE', 'TEXT', 'LINE', 'INSERT']);
  });

  it('keeps what it is imported as, and asks for what blocks draw', async () => {
    const { told } = shown({ lines: true });
    await userEvent.click(screen.getByRole('checkbox', { name: 'with what its 3 blocks draw' }));
    expect(told()).toEqual({ lines: true, blocks: true });
  });

  it('begins without layers that the maker of the drawing does not see', () => {
    expect(tickedFirst(drawing)).toEqual([{ layer: 'KERB', kind: 'POLYLINE' }]);
    expect(tickedFirst({ ...drawing, rows: ROWS.filter((r) => !r.hidden) })).toBeNull();
    // Where hidden layers are all that it has, they are on offer.
    expect(tickedFirst({ ...drawing, rows: ROWS.filter((r) => r.hidden) })).toBeNull();
  });
});
