import type { PointColumns } from '../../work/columns.ts';

const SLICE = 4000;
const breathe = (): Promise<void> => new Promise((r) => setTimeout(r));

/** Rows whose number or code holds a text, a slice at a time so that the page answers meanwhile. */
export async function filterRows(points: PointColumns, text: string, wanted: () => boolean): Promise<Uint32Array> {
  const sought = text.toUpperCase();
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    if (row % SLICE === SLICE - 1) {
      await breathe();
      if (!wanted()) break;
    }
    if (
      points.number.get(row).toUpperCase().includes(sought) ||
      points.description.get(row).toUpperCase().includes(sought)
    )
      rows.push(row);
  }
  return Uint32Array.from(rows);
}

/** Rows in the order of a column; numbers by value, points without a value last. */
export async function sortRows(
  points: PointColumns,
  rows: Uint32Array | null,
  sort: { id: string; down: boolean },
  wanted: () => boolean,
): Promise<Uint32Array> {
  const order = rows ? rows.slice() : Uint32Array.from(points.x, (_, i) => i);
  let values: Float64Array;
  if (sort.id === 'number') {
    values = new Float64Array(points.x.length);
    for (let row = 0; row < values.length; row++) {
      if (row % SLICE === SLICE - 1) {
        await breathe();
        if (!wanted()) return order;
      }
      const match = /\d+/.exec(points.number.get(row));
      values[row] = match ? Number(match[0]) : Infinity;
    }
  } else values = points[sort.id as 'x' | 'y' | 'z'];
  const key = (row: number): number => (Number.isNaN(values[row]) ? Infinity : values[row]);
  const sign = sort.down ? -1 : 1;
  return order.sort((a, b) => sign * (key(a) - key(b)) || a - b);
}
