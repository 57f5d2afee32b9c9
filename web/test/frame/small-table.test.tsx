// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { SmallTable, type SmallColumn } from '../../src/frame/small-table.tsx';
import { draw } from '../drawn.tsx';

interface Run {
  name: string;
  /** NaN: open at its end. */
  misclosure: number;
}
const RUNS: Run[] = [
  { name: 'L10', misclosure: 0.004 },
  { name: 'L9', misclosure: Number.NaN },
  { name: 'L2', misclosure: -0.011 },
];
const COLUMNS: SmallColumn<Run>[] = [
  { id: 'run', head: 'Run', by: (r) => r.name, cell: (r) => r.name },
  {
    id: 'misclosure',
    head: 'Misclosure m',
    by: (r) => r.misclosure,
    cell: (r) => (Number.isNaN(r.misclosure) ? 'open' : r.misclosure.toFixed(3)),
  },
  { id: 'word', head: 'Word', words: true, cell: () => 'ok' },
];
const firstCells = (): (string | null)[] =>
  within(screen.getByRole('table'))
    .getAllByRole('row')
    .slice(1)
    .map((row) => within(row).getAllByRole('cell')[0].textContent);

describe('a small table', () => {
  it('keeps the order that it was given until a heading is pressed', () => {
    draw(<SmallTable label="runs" columns={COLUMNS} rows={RUNS} />);
    expect(firstCells()).toEqual(['L10', 'L9', 'L2']);
    expect(screen.queryByRole('button', { name: 'Word' })).toBeNull();
  });

  it('sorts names as their numbers go, up, down, and back', async () => {
    draw(<SmallTable label="runs" columns={COLUMNS} rows={RUNS} />);
    const heading = screen.getByRole('columnheader', { name: /Run/ });
    const press = (): Promise<void> => userEvent.click(within(heading).getByRole('button'));
    await press();
    expect(firstCells()).toEqual(['L2', 'L9', 'L10']);
    expect(heading.getAttribute('aria-sort')).toBe('ascending');
    await press();
    expect(firstCells()).toEqual(['L10', 'L9', 'L2']);
    expect(heading.getAttribute('aria-sort')).toBe('descending');
    await press();
    expect(heading.getAttribute('aria-sort')).toBeNull();
  });

  it('puts what has no figure last, whichever way it is sorted', async () => {
    draw(<SmallTable label="runs" columns={COLUMNS} rows={RUNS} />);
    const button = screen.getByRole('button', { name: 'Misclosure m' });
    await userEvent.click(button);
    expect(firstCells()).toEqual(['L2', 'L10', 'L9']);
    await userEvent.click(button);
    expect(firstCells()).toEqual(['L10', 'L2', 'L9']);
  });

  it('draws the first of the order in force and says how many more there are', async () => {
    draw(<SmallTable label="runs" columns={COLUMNS} rows={RUNS} most={2} />);
    expect(firstCells()).toEqual(['L10', 'L9', 'and 1 more']);
    await userEvent.click(screen.getByRole('button', { name: 'Run' }));
    expect(firstCells()).toEqual(['L2', 'L9', 'and 1 more']);
  });

  it('lets a sentence take the place of figures, and stand below its row', () => {
    const columns = COLUMNS.map((c) =>
      c.id === 'misclosure' ? { ...c, spans: (r: Run) => (Number.isNaN(r.misclosure) ? 2 : 1) } : c,
    );
    draw(
      <SmallTable
        label="runs"
        columns={columns}
        rows={RUNS}
        rowKey={(r) => r.name}
        below={(r) => (r.name === 'L2' ? 'beyond what is allowed' : null)}
      />,
    );
    const rows = within(screen.getByRole('table')).getAllByRole('row');
    expect(rows.map((row) => within(row).queryAllByRole('cell').length)).toEqual([0, 3, 2, 3, 1]);
    expect(rows[4].textContent).toBe('beyond what is allowed');
  });

  it('says which row was pressed', async () => {
    const onRow = vi.fn();
    draw(<SmallTable label="runs" columns={COLUMNS} rows={RUNS} onRow={onRow} />);
    await userEvent.click(screen.getByRole('cell', { name: 'L9' }));
    expect(onRow).toHaveBeenCalledExactlyOnceWith(RUNS[1]);
  });
});

describe('a table of rows with much in them', () => {
  it('is drawn so many rows at once until all are there, in the order in force; rows that stand are not drawn again', async () => {
    const drawn = new Map<string, number>();
    const rows = Array.from({ length: 30 }, (_, i) => ({ name: `row ${i + 1}` }));
    const cell = ({ name }: { name: string }): string => {
      drawn.set(name, (drawn.get(name) ?? 0) + 1);
      return name;
    };
    draw(<SmallTable label="layers" rows={rows} columns={[{ id: 'name', head: 'name', cell }]} rowKey={(r) => r.name} atOnce={12} most={28} />); // prettier-ignore
    const count = (): number => screen.getAllByRole('row').length - 1;
    expect(count()).toBeLessThan(28);
    await vi.waitFor(() => expect(screen.getByText('row 28')).toBeTruthy());
    expect(screen.getByText('and 2 more')).toBeTruthy();
    expect([...drawn.values()].every((times) => times === drawn.get('row 28'))).toBe(true);
  });
});
