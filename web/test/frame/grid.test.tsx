// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Grid, type Column, type Sort } from '../../src/frame/grid/index.ts';
import { keepChoices, orderOf } from '../../src/frame/grid/choice.ts';
import { measureWidths } from '../../src/frame/grid/widths.ts';
import { draw } from '../drawn.tsx';

const numbers = ['101', '102', '103', '104'];
const heights = [1.5, 1.6, 1.55, 2];
const edit = vi.fn((_: number, typed: string) => (Number(typed) > 0 ? null : `“${typed}” is no height`));
const columns: Column[] = [
  { id: 'number', head: 'Number', text: (r) => numbers[r], pinned: true, sortable: true },
  { id: 'height', head: 'Height m', numeric: true, text: (r) => heights[r].toFixed(3), edit, sortable: true },
  { id: 'code', head: 'Code', text: () => 'KT1' },
  { id: 'sd', head: 'Precision', text: () => '0.002', hidden: true },
];

function Table({ onSelect = () => undefined, rows = 4 }: { onSelect?: (row: number) => void; rows?: number }) {
  const [selected, setSelected] = useState<number | null>(0);
  const [sort, setSort] = useState<Sort>(null);
  return (
    <>
      <p>sorted by {sort ? `${sort.id} ${sort.down ? 'down' : 'up'}` : 'nothing'}</p>
      <Grid
        table="test"
        label="shots"
        columns={columns}
        order={null}
        count={rows}
        selected={selected}
        onSelect={(row) => {
          setSelected(row);
          onSelect(row);
        }}
        sort={sort}
        onSort={setSort}
      />
    </>
  );
}
const headings = (): string[] => screen.getAllByRole('columnheader').map((h) => h.textContent);
const kept = vi.fn();

beforeEach(() => {
  keepChoices({}, kept);
  kept.mockClear();
  edit.mockClear();
});

describe('a table', () => {
  it('is stepped by arrows from end to end', async () => {
    const selected: number[] = [];
    draw(<Table onSelect={(row) => selected.push(row)} />);
    const grid = screen.getByRole('grid', { name: 'shots' });
    grid.focus();
    const stood: (string | null)[] = [];
    for (const key of ['ArrowDown', 'ArrowDown', 'ArrowUp', 'End', 'ArrowDown', 'Home']) {
      await userEvent.keyboard(`{${key}}`);
      // The row answers at once, whatever follows the selection.
      stood.push(grid.getAttribute('aria-activedescendant'));
      await waitFor(() => expect(selected).toHaveLength(stood.length));
    }
    expect(stood).toEqual(['row-1', 'row-2', 'row-1', 'row-3', 'row-3', 'row-0']);
    expect(selected).toEqual([1, 2, 1, 3, 3, 0]);
  });

  it('selects the last of several steps, and before anything else is done with the row', async () => {
    const selected: number[] = [];
    draw(<Table onSelect={(row) => selected.push(row)} />);
    const grid = screen.getByRole('grid', { name: 'shots' });
    grid.focus();
    fireEvent.keyDown(grid, { key: 'ArrowDown' });
    fireEvent.keyDown(grid, { key: 'ArrowDown' });
    expect(selected).toEqual([]);
    fireEvent.keyDown(grid, { key: 'Enter' });
    expect(selected).toEqual([2]);
    expect(screen.getByRole('textbox')).toHaveProperty('value', '1.550');
    await userEvent.keyboard('{Escape}');
    fireEvent.keyDown(grid, { key: 'ArrowUp' });
    fireEvent.click(screen.getByText('104'));
    expect(selected).toEqual([2, 1, 3]);
    expect(grid.getAttribute('aria-activedescendant')).toBe('row-3');
  });

  it('selects the row stepped to when it is left in the same moment', () => {
    const selected: number[] = [];
    const { unmount } = draw(<Table onSelect={(row) => selected.push(row)} />);
    fireEvent.keyDown(screen.getByRole('grid', { name: 'shots' }), { key: 'End' });
    unmount();
    expect(selected).toEqual([3]);
  });

  it('passes over rows that only head others, and stays where nothing else follows', async () => {
    const selected: number[] = [];
    const heads = (row: number): boolean => row === 0 || row === 2;
    draw(<Grid table="folded" label="folded" columns={columns} order={null} count={4} selected={1} onSelect={(row) => selected.push(row)} heads={heads} />); // prettier-ignore
    const grid = screen.getByRole('grid', { name: 'folded' });
    const stood = (key: string): string | null => {
      fireEvent.keyDown(grid, { key });
      return grid.getAttribute('aria-activedescendant');
    };
    expect(['ArrowDown', 'ArrowDown', 'ArrowUp', 'ArrowUp', 'End', 'Home'].map(stood)).toEqual(['row-3', 'row-3', 'row-1', 'row-1', 'row-3', 'row-1']); // prettier-ignore
    await waitFor(() => expect(selected).toEqual([1]));
  });

  it('draws only the rows anew that one leaves and comes to', () => {
    const text = vi.fn((r: number) => numbers[r]);
    const one: Column[] = [{ id: 'number', head: 'Number', text }];
    draw(<Grid table="one" label="one" columns={one} order={null} count={4} selected={0} onSelect={() => undefined} />);
    text.mockClear();
    fireEvent.keyDown(screen.getByRole('grid', { name: 'one' }), { key: 'ArrowDown' });
    const drawn = new Set(text.mock.calls.map(([r]) => r));
    // Row 0 is asked once more for the widths of columns.
    expect([...drawn].sort()).toEqual([0, 1]);
  });

  it('takes a typed value, says what it cannot read and keeps what was typed', async () => {
    draw(<Table />);
    screen.getByRole('grid', { name: 'shots' }).focus();
    await userEvent.keyboard('{Enter}');
    const cell = screen.getByRole('textbox', { name: 'height of row' });
    expect(cell).toHaveProperty('value', '1.500');
    await userEvent.clear(cell);
    await userEvent.type(cell, 'far{Enter}');
    expect(screen.getByRole('alert').textContent).toBe('“far” is no height');
    expect(cell).toHaveProperty('value', 'far');
    await userEvent.clear(cell);
    await userEvent.type(cell, '1.7{Enter}');
    expect(edit.mock.calls.filter(([, typed]) => typed === '1.7')).toEqual([[0, '1.7']]);
    expect(screen.queryByRole('textbox')).toBeNull();
  });

  it('edits nothing by a cell that is left as it stands, whose figure may be a rounded one', async () => {
    draw(<Table />);
    screen.getByRole('grid', { name: 'shots' }).focus();
    await userEvent.keyboard('{Enter}{Enter}');
    await userEvent.keyboard('{Enter}{Tab}');
    expect(screen.queryByRole('textbox')).toBeNull();
    expect(edit).not.toHaveBeenCalled();
  });

  it('is sorted by its headings, from the keyboard too: up, down, not', async () => {
    draw(<Table />);
    screen.getByRole('button', { name: 'Height m' }).focus();
    for (const says of ['height up', 'height down', 'nothing']) {
      await userEvent.keyboard('{Enter}');
      expect(screen.getByText(`sorted by ${says}`)).toBeTruthy();
    }
    expect(screen.queryByRole('textbox')).toBeNull();
  });

  it('draws of 100,000 rows only those in sight', () => {
    draw(<Table rows={4} />);
    expect(screen.getAllByRole('row')).toHaveLength(5);
    const many: Column[] = [{ id: 'n', head: 'n', text: String }];
    draw(<Grid table="many" label="many" columns={many} order={null} count={100_000} selected={null} onSelect={() => undefined} />); // prettier-ignore
    const grid = screen.getByRole('grid', { name: 'many' });
    expect(grid.getAttribute('aria-rowcount')).toBe('100000');
    expect(within(grid).getAllByRole('row').length).toBeLessThan(60);
  });
});

describe('the columns of a table', () => {
  it('are chosen, moved and put back by the keyboard, and kept', async () => {
    draw(<Table />);
    expect(headings()).toEqual(['Number', 'Height m', 'Code']);
    screen.getByRole('button', { name: 'columns of shots' }).focus();
    await userEvent.keyboard('{Enter}');
    const panel = screen.getByRole('dialog', { name: 'columns of shots' });
    await userEvent.click(within(panel).getByRole('checkbox', { name: 'Precision' }));
    expect(headings()).toEqual(['Number', 'Height m', 'Code', 'Precision']);
    await userEvent.click(within(panel).getByRole('button', { name: 'Precision earlier' }));
    await userEvent.click(within(panel).getByRole('checkbox', { name: 'Height m' }));
    expect(headings()).toEqual(['Number', 'Precision', 'Code']);
    expect(kept).toHaveBeenLastCalledWith({
      test: { order: ['number', 'height', 'sd', 'code'], shown: { sd: true, height: false } },
    });
    await userEvent.click(within(panel).getByRole('button', { name: 'pin Code' }));
    expect(headings()).toEqual(['Number', 'Code', 'Precision']);
    await userEvent.click(within(panel).getByRole('button', { name: 'As they were' }));
    expect(headings()).toEqual(['Number', 'Height m', 'Code']);
    expect(kept).toHaveBeenLastCalledWith({});
    await userEvent.keyboard('{Escape}');
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  it('never all go', async () => {
    keepChoices({ test: { shown: { height: false, code: false } } }, kept);
    draw(<Table />);
    await userEvent.click(screen.getByRole('button', { name: 'columns of shots' }));
    expect(screen.getByRole('checkbox', { name: 'Number' })).toHaveProperty('disabled', true);
  });

  it('that came since somebody chose stand behind the one they follow; those that are gone are forgotten', () => {
    expect(orderOf(columns, { order: ['code', 'gone', 'number'] })).toEqual(['code', 'sd', 'number', 'height']);
  });

  it('are as wide as their widest text or heading, within bounds', () => {
    const of = (text: string, more: Partial<Column> = {}): number =>
      measureWidths([{ id: 'a', head: 'Head', text: () => text, ...more }], 1000, (i) => i).a;
    expect(of('')).toBeLessThan(60);
    expect(of('123456.789')).toBeGreaterThan(10 * 7.8);
    expect(of('x'.repeat(200))).toBe(320);
    expect(of('x', { width: 44 })).toBe(44);
    expect(measureWidths([{ id: 'a', head: '', text: (r) => (r === 999 ? '1234567' : '1') }], 1000, (i) => i).a).toBeGreaterThan(70); // prettier-ignore
  });
});
