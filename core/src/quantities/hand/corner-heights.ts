import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { CutAndFill } from './given-sections.ts';
import { handRows, numberIn } from './hand-table.ts';

/** A grid of corner elevations as somebody typed it, the north row first: m, null where there is none. */
export type CornerHeights = { ok: true; rows: (number | null)[][] } | { ok: false; reason: string };

/** Corners at the most. */
const MOST_CORNERS = 250_000;
const NONE = new Set(['', '-', '–', '—', '.']);

/** Elevations by rows from north to south and columns from west to east; a dash, or nothing between two tabs, is no corner. */
export function readCornerHeights(text: string, unit: FileUnit): CornerHeights {
  const read = handRows(text, 2);
  if ('reason' in read) return { ok: false, ...read };
  const metre = METRES_IN_FILE[unit];
  const rows: (number | null)[][] = [];
  const width = Math.max(...read.map((r) => r.fields.length));
  if (width * read.length > MOST_CORNERS) return { ok: false, reason: `A grid of ${read.length} × ${width} corners is too large to go through by hand.` }; // prettier-ignore
  for (const { row, fields } of read) {
    const values = fields.map((f) => (NONE.has(f) ? null : numberIn(f) * metre));
    const wrong = values.findIndex((v) => v !== null && Number.isNaN(v));
    if (wrong >= 0) return { ok: false, reason: `Row ${row}, corner ${wrong + 1}: “${fields[wrong].slice(0, 30)}” is no elevation. Put a dash where there is no corner.` }; // prettier-ignore
    if (fields.length !== width) return { ok: false, reason: `Row ${row} has ${fields.length} corners, others ${width}. Put a dash where there is no corner.` }; // prettier-ignore
    rows.push(values);
  }
  if (rows.length < 2 || width < 2)
    return { ok: false, reason: 'A cell needs four corners: two rows of two at least.' };
  return { ok: true, rows };
}

/** One cell as it is worked by hand. */
export interface HandCell extends CutAndFill {
  /** Counted from the north-west, from 1. */
  row: number;
  column: number;
  /** Heights of its corners above the level, m: north-west, north-east, south-east, south-west. */
  depths: [number, number, number, number];
  /** Their mean, m. */
  mean: number;
}

/**
 * The cell method by hand (common practice): the mean of a cell's four corner heights above the level times its area; above is
 * cut, below is fill. Cells that lack a corner are left out, and counted.
 * @param cell side, m
 * @param level m
 */
export function cellsByHand(
  rows: readonly (readonly (number | null)[])[],
  cell: number,
  level: number,
): CutAndFill & { cells: HandCell[]; leftOut: number } {
  const cells: HandCell[] = [];
  let leftOut = 0;
  for (let r = 1; r < rows.length; r++)
    for (let c = 1; c < rows[r].length; c++) {
      const corners = [rows[r - 1][c - 1], rows[r - 1][c], rows[r][c], rows[r][c - 1]];
      if (corners.every((z) => z === null)) continue;
      if (corners.some((z) => z === null)) {
        leftOut++;
        continue;
      }
      const depths = corners.map((z) => z! - level) as HandCell['depths'];
      const mean = depths.reduce((a, b) => a + b, 0) / 4;
      const volume = mean * cell * cell;
      cells.push({ row: r, column: c, depths, mean, cut: Math.max(0, volume), fill: Math.max(0, -volume) });
    }
  const sum = (of: 'cut' | 'fill'): number => cells.reduce((all, one) => all + one[of], 0);
  return { cells, leftOut, cut: sum('cut'), fill: sum('fill') };
}
