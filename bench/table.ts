import {
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { orderRows } from '../web/src/frame/grid/order-rows.ts';
import type { Column } from '../web/src/frame/grid/column.ts';
import { mediansOf } from './timing.ts';

const ROWS = 100_000;

/** A table of 100,000 points sorted by a column of numbers and by one of texts, beside the table package's own sorting. */
export async function tableFigure(): Promise<void> {
  const x = Float64Array.from({ length: ROWS }, (_, i) => (i * 7919.137) % 5000);
  const numbers = Array.from({ length: ROWS }, (_, i) => `${['', 'A', 'KB'][i % 3]}${(i * 7907) % ROWS}`);
  const columns: Column[] = [
    { id: 'x', head: 'East m', text: (r) => x[r].toFixed(3), value: (r) => x[r] },
    { id: 'number', head: 'Point', text: (r) => numbers[r] },
  ];
  const ours = async (id: string): Promise<void> => {
    const order = await orderRows(columns, ROWS, {}, { id, down: false }, () => true);
    if (order?.length !== ROWS) throw new Error('not sorted');
  };
  const features = tableFeatures({
    rowSortingFeature,
    sortedRowModel: createSortedRowModel(),
    sortFns: { alphanumeric: sortFn_alphanumeric },
  });
  const theirs = (id: 'x' | 'number'): void => {
    const data = Array.from({ length: ROWS }, (_, i) => ({ x: x[i], number: numbers[i] }));
    const columns = [
      { id: 'x', accessorFn: (r: (typeof data)[number]) => r.x },
      { id: 'number', accessorFn: (r: (typeof data)[number]) => r.number, sortFn: 'alphanumeric' as const },
    ];
    const Table = (): string => {
      const table = useTable({ features, columns, data, state: { sorting: [{ id, desc: false }] } });
      return String(table.getRowModel().rows.length);
    };
    if (renderToStaticMarkup(createElement(Table)) !== String(ROWS)) throw new Error('not sorted');
  };
  const t = await mediansOf({
    value: () => ours('x'),
    text: () => ours('number'),
    theirValue: () => theirs('x'),
    theirText: () => theirs('number'),
  });
  console.log('A table of 100,000 rows sorted (wanted: under 150 ms of script; ours pauses every 4,000 rows)');
  console.log(`  by numbers ${t.value.toFixed(0)} ms, by texts with numbers ${t.text.toFixed(0)} ms; the table package ${t.theirValue.toFixed(0)} and ${t.theirText.toFixed(0)} ms (15 of each)`); // prettier-ignore
}
