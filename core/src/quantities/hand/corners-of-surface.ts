import { METRES_IN_FILE, type FileUnit } from '#core/measure';

/** Corner elevations read off a surface as somebody would type them, and where the north-west one is, m. */
export type CornersRead = { text: string; rows: number; columns: number; x: number; y: number } | { reason: string };

/** Corners that somebody goes through by hand. */
const MOST_CORNERS = 10_000;
const DECIMALS = 3;

/**
 * Elevations at the corners of square cells over a surface, the north row first, a dash where it has none. Between contours that
 * is what a straight line from one to the next gives. Corners stand at whole multiples of the cell's side.
 * @param at elevation at a place, m; null where there is none
 * @param extent of the surface, m
 * @param cell side, m
 */
export function cornersOfSurface(
  at: (x: number, y: number) => number | null,
  [west, south, east, north]: readonly [number, number, number, number],
  cell: number,
  unit: FileUnit,
): CornersRead {
  const first = (v: number): number => Math.ceil(v / cell - 1e-9);
  const last = (v: number): number => Math.floor(v / cell + 1e-9);
  const [c0, c1, r0, r1] = [first(west), last(east), first(south), last(north)];
  const [columns, rows] = [c1 - c0 + 1, r1 - r0 + 1];
  if (columns < 2 || rows < 2) return { reason: 'No cell of that size lies on the surface: its side is too long.' };
  if (columns * rows > MOST_CORNERS) return { reason: `${columns * rows} corners are more than ${MOST_CORNERS}, which is what goes through by hand: make the cells larger.` }; // prettier-ignore
  const metre = METRES_IN_FILE[unit];
  const lines = Array.from({ length: rows }, (_, r) =>
    Array.from({ length: columns }, (_, c) => {
      const z = at((c0 + c) * cell, (r1 - r) * cell);
      return z === null ? '-' : (z / metre).toFixed(DECIMALS);
    }).join('\t'),
  );
  return { text: lines.join('\n'), rows, columns, x: c0 * cell + 0, y: r1 * cell + 0 };
}
