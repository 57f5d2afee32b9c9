import { elevationsAt } from './locate.ts';
import { measureSurface } from './measures.ts';
import type { Surface } from './surface.ts';

/** Most cells of a grid that is made at once. */
export const MOST_CELLS = 25_000_000;

/**
 * Elevations of a surface at the middles of cells, rows from north to south; NaN off it. The corners of the grid are whole
 * multiples of the cell. Throws RangeError for a cell that gives too many.
 */
export function gridOf(s: Surface, cell: number) {
  if (!(cell > 0)) throw new RangeError('The cell must be larger than zero.');
  const [minX, minY, maxX, maxY] = measureSurface(s).extent;
  if (!(maxX > minX)) throw new RangeError('The surface has no triangles.');
  const west = Math.floor(minX / cell) * cell;
  const north = Math.ceil(maxY / cell) * cell;
  const columns = Math.max(1, Math.ceil((maxX - west) / cell));
  const rows = Math.max(1, Math.ceil((north - minY) / cell));
  if (columns * rows > MOST_CELLS) throw new RangeError(`A cell of ${cell} m gives ${columns} × ${rows} cells; at most ${MOST_CELLS} are written. Choose a larger one.`); // prettier-ignore
  const [x, y] = [new Float64Array(columns * rows), new Float64Array(columns * rows)];
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      x[r * columns + c] = west + (c + 0.5) * cell;
      y[r * columns + c] = north - (r + 0.5) * cell;
    }
  return { west, north, cell, columns, rows, values: Float32Array.from(elevationsAt(s, x, y).z) };
}
