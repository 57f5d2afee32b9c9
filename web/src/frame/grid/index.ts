export { Grid } from './grid.tsx';
export type { Column, Sort } from './column.ts';
export { orderRows, testOf } from './order-rows.ts';
export { useKeptColumns } from './kept.ts';
