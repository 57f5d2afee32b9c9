import type { CutAndFill } from '../hand/given-sections.ts';
import { cutInParts } from './parts.ts';

/** Height difference design − ground at a place, m; null where either is not known. */
export type DifferenceAt = (x: number, y: number) => number | null;

export type Extent = [minX: number, minY: number, maxX: number, maxY: number];

export interface GridVolume extends CutAndFill {
  /** Cells with all four corners known. */
  cells: number;
  /** Their area in plan, m². */
  area: number;
}

/** Cells at the most. */
const MOST_CELLS = 20_000_000;

/**
 * Grid cells, common practice: the mean of a cell's four corner differences times its area. Cells with a corner off the
 * surfaces are left out; those at the east and north sides are as narrow as what is left there. `cell` in m.
 * Throws RangeError beyond 20 million cells.
 */
export function gridVolume(at: DifferenceAt, [minX, minY, maxX, maxY]: Extent, cell: number): GridVolume {
  const across = cutInParts(minX, maxX, cell);
  const up = cutInParts(minY, maxY, cell);
  if (across.length * up.length > MOST_CELLS) throw new RangeError(`Cells of ${cell} m would be more than ${MOST_CELLS} over ${(maxX - minX).toFixed(0)} × ${(maxY - minY).toFixed(0)} m.`); // prettier-ignore
  const sum: GridVolume = { cut: 0, fill: 0, cells: 0, area: 0 };
  const corners = (x: number): (number | null)[] => up.map((y) => at(x, y));
  let west = corners(minX);
  for (let i = 1; i < across.length; i++) {
    const east = corners(across[i]);
    for (let j = 1; j < up.length; j++) {
      const [sw, se, ne, nw] = [west[j - 1], east[j - 1], east[j], west[j]];
      if (sw === null || se === null || ne === null || nw === null) continue;
      const area = (across[i] - across[i - 1]) * (up[j] - up[j - 1]);
      const volume = ((sw + se + ne + nw) / 4) * area;
      if (volume > 0) sum.fill += volume;
      else sum.cut -= volume;
      sum.cells++;
      sum.area += area;
    }
    west = east;
  }
  return sum;
}

/** As often a cell is halved at the most. */
const MOST_HALVINGS = 8;

/** The grid refined until halving its cells changes cut + fill by no more than a share of it; `reached`: whether it came so far. */
export function refinedGrid(
  at: DifferenceAt,
  extent: Extent,
  cell: number,
  share: number,
): GridVolume & { cell: number; change: number; reached: boolean } {
  // prettier-ignore
  let size = cell;
  let before = gridVolume(at, extent, size);
  let change = Infinity;
  for (let k = 0; k < MOST_HALVINGS; k++) {
    const half = size / 2;
    if (((extent[2] - extent[0]) / half) * ((extent[3] - extent[1]) / half) > MOST_REFINED) break;
    const now = gridVolume(at, extent, half);
    const total = now.cut + now.fill;
    change = total === 0 ? 0 : (Math.abs(now.cut - before.cut) + Math.abs(now.fill - before.fill)) / total;
    [before, size] = [now, half];
    if (change <= share) break;
  }
  return { ...before, cell: size, change, reached: change <= share };
}
const MOST_REFINED = 4_000_000;
