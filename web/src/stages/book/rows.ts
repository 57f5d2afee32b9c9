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
