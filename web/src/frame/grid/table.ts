import {
  columnFilteringFeature,
  columnOrderingFeature,
  columnPinningFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/react-table';
import { useMemo } from 'react';
import type { ColumnChoice } from '#contract';
import { isPinned, isShown, orderOf, useColumnChoices } from './choice.ts';
import { nameOf, type Column, type Sort } from './column.ts';

// A row of the table is the index of a row of ours, and only rows in sight become rows of the table; sorting and
// filtering go over indices (order-rows.ts), so that 100,000 rows cost what thirty do.

const features = tableFeatures({
  columnVisibilityFeature,
  columnOrderingFeature,
  columnPinningFeature,
  columnSizingFeature,
  columnResizingFeature,
  columnFilteringFeature,
  rowSortingFeature,
});
const NARROWEST = 32;

interface RowOf {
  index: number;
}

export interface Laid {
  column: Column;
  width: number;
  /** How far from the left edge it stays, px; undefined where it scrolls. */
  stays?: number;
  resize: (event: unknown) => void;
  resizing: boolean;
  toggleSort: () => void;
}

interface TableOf {
  name: string;
  columns: readonly Column[];
  /** Measured, by id. */
  widths: Readonly<Record<string, number>>;
  /** Rows in sight. */
  rows: readonly number[];
  sort: Sort | undefined;
  onSort: ((sort: Sort) => void) | undefined;
}

/** The columns of a table as a person chose them, and how to choose others. */
export function useGridTable({ name, columns, widths, rows, sort, onSort }: TableOf) {
  const choice = useColumnChoices((s) => s.choices[name]) as ColumnChoice | undefined;
  const choose = useColumnChoices((s) => s.choose);
  const ids = columns.map((c) => `${c.id}:${nameOf(c)}:${c.sortable ?? false}:${widths[c.id]}`).join('|');
  const defs = useMemo(
    () =>
      columns.map((c): ColumnDef<typeof features, RowOf> => ({
        id: c.id,
        header: nameOf(c),
        accessorFn: (row) => row.index,
        size: widths[c.id],
        minSize: NARROWEST,
        enableSorting: c.sortable ?? false,
      })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- all that a definition holds of its column is in `ids`
    [ids],
  );
  const order = orderOf(columns, choice);
  const byId = new Map(columns.map((c) => [c.id, c]));
  const pinned = order.filter((id) => isPinned(byId.get(id)!, choice));
  const data = useMemo(() => rows.map((index): RowOf => ({ index })), [rows]);
  const table = useTable({
    features,
    columns: defs,
    data,
    getRowId: (row) => String(row.index),
    manualSorting: true,
    manualFiltering: true,
    enableSortingRemoval: true,
    sortDescFirst: false,
    enableMultiSort: false,
    columnResizeMode: 'onChange',
    state: {
      columnOrder: order,
      columnVisibility: Object.fromEntries(columns.map((c) => [c.id, isShown(c, choice)])),
      columnPinning: { start: pinned, end: [] },
      columnSizing: choice?.widths ?? NO_WIDTHS,
      sorting: sort ? [{ id: sort.id, desc: sort.down }] : NO_SORT,
    },
    onColumnOrderChange: (to) => choose(name, { ...choice, order: valueOf(to, order) }),
    onColumnSizingChange: (to) => choose(name, { ...choice, widths: valueOf(to, choice?.widths ?? {}) }),
    onSortingChange: (to) => {
      const [next] = valueOf(to, sort ? [{ id: sort.id, desc: sort.down }] : []);
      onSort?.(next ? { id: next.id, down: next.desc } : null);
    },
  });
  const [group] = table.getHeaderGroups();
  const headers = new Map(group.headers.map((h) => [h.column.id, h]));
  const laid = [...table.getPinnedVisibleLeafColumns('start'), ...table.getPinnedVisibleLeafColumns('center')].map(
    (c): Laid => {
      const header = headers.get(c.id)!;
      return {
        column: byId.get(c.id)!,
        width: c.getSize(),
        stays: c.getIsPinned() === 'start' ? c.getStart('start') : undefined,
        resize: header.getResizeHandler(),
        resizing: c.getIsResizing(),
        toggleSort: () => c.toggleSorting(),
      };
    },
  );
  return { table, laid, rows: table.getRowModel().rows.map((r) => r.original.index) };
}

const NO_WIDTHS = {};
const NO_SORT: { id: string; desc: boolean }[] = [];
const valueOf = <T>(to: T | ((before: T) => T), before: T): T =>
  typeof to === 'function' ? (to as (before: T) => T)(before) : to;

/** Width of each column of the grid that is drawn: one that a person widened keeps that, one that grows takes its share. */
export const templateOf = (laid: readonly Laid[], widths: Readonly<Record<string, number>> = {}): string =>
  laid
    .map(({ column: c, width, stays }) =>
      c.grow && widths[c.id] === undefined && stays === undefined ? `minmax(${width}px, ${c.grow}fr)` : `${width}px`,
    )
    .join(' ');
