import type { CutAndFill } from '../hand/given-sections.ts';
import type { DifferencePieces } from '../volume.ts';

/** Levels at the most that one call makes. */
const MOST_LEVELS = 20_000;

/**
 * Volumes by the areas that depth contours enclose (common practice): between two contours the mean of their areas times the
 * interval, above the last one a frustum up to what is level at the greatest depth, a cone where nothing is. Areas are those of the surfaces themselves, exactly.
 * @param interval m
 * Throws RangeError beyond 20,000 contours.
 */
export function contourAreaVolume(pieces: DifferencePieces, interval: number): CutAndFill & { contours: number } {
  const [cut, fill] = [heap(pieces, interval, -1), heap(pieces, interval, 1)];
  return { cut: cut.volume, fill: fill.volume, contours: cut.contours + fill.contours };
}

/** One side of zero: its volume, and how many contours it has, the one at zero apart. */
function heap(pieces: DifferencePieces, interval: number, sign: 1 | -1): { volume: number; contours: number } {
  let top = 0;
  for (let i = 2; i < pieces.length; i += 3) top = Math.max(top, sign * pieces[i]);
  if (top === 0) return { volume: 0, contours: 0 };
  const count = Math.ceil(top / interval);
  if (!(count <= MOST_LEVELS)) throw new RangeError(`A depth of ${top.toFixed(2)} m has more than ${MOST_LEVELS} contours every ${interval} m.`); // prettier-ignore
  const areas = areasAbove(pieces, interval, sign, count);
  let volume = 0;
  for (let k = 1; k < count; k++) volume += (interval * (areas[k - 1] + areas[k])) / 2;
  const [last, level] = [areas[count - 1], levelAt(pieces, top, sign)];
  volume += ((last + level + Math.sqrt(last * level)) * (top - (count - 1) * interval)) / 3;
  return { volume, contours: count - 1 };
}

/** m by which a level part may be off the greatest depth. */
const LEVEL = 1e-6;

/** m² in plan that is level at the greatest depth. */
function levelAt(p: DifferencePieces, top: number, sign: 1 | -1): number {
  let area = 0;
  for (let i = 0; i < p.length; i += 9)
    if (Math.min(sign * p[i + 2], sign * p[i + 5], sign * p[i + 8]) > top - LEVEL) area += areaOf(p, i);
  return area;
}

const areaOf = (p: DifferencePieces, i: number): number => ((p[i + 3] - p[i]) * (p[i + 7] - p[i + 1]) - (p[i + 6] - p[i]) * (p[i + 4] - p[i + 1])) / 2; // prettier-ignore

/** m² in plan that is deeper than each multiple of the interval, from 0 on. */
function areasAbove(p: DifferencePieces, interval: number, sign: 1 | -1, count: number): Float64Array {
  // Whole triangles are counted where they end, and added up from the top.
  const whole = new Float64Array(count);
  const areas = new Float64Array(count);
  for (let i = 0; i < p.length; i += 9) {
    const area = areaOf(p, i);
    const [low, middle, high] = [sign * p[i + 2], sign * p[i + 5], sign * p[i + 8]].sort((a, b) => a - b);
    if (!(high > 0)) continue;
    let k = 0;
    if (low >= 0) {
      k = Math.min(Math.floor(low / interval), count - 1);
      whole[k++] += area;
    }
    for (; k < count && k * interval < high; k++) {
      const h = k * interval;
      const share = h >= middle ? (high - h) ** 2 / ((high - low) * (high - middle)) : 1 - (h - low) ** 2 / ((high - low) * (middle - low)); // prettier-ignore
      areas[k] += area * share;
    }
  }
  let above = 0;
  for (let k = count - 1; k >= 0; k--) areas[k] += above += whole[k];
  return areas;
}
