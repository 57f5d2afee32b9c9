import { CompensatedSum } from '#core/kernel';
import { cornersAt, eachTriangle, partWhere } from '../piece-parts.ts';
import type { DifferencePieces } from '../volume.ts';

/** What lies between two depths under where the ground is now, m and m³. */
export interface DepthSlice {
  from: number;
  to: number;
  cut: number;
  fill: number;
  /** m² in plan that is deeper than `from`. */
  cutArea: number;
  fillArea: number;
}

/** Slices at the most. */
const MOST_SLICES = 500;

/**
 * Cut and fill by depth, in slices of one thickness, m, as they are paid for: the slice from 2 to 4 m holds what is deeper than
 * 2 m down to 4 m, wherever that is. Exact; the slices add up to the whole.
 * Throws RangeError beyond 500 slices.
 */
export function depthSlices(pieces: DifferencePieces, thickness: number): DepthSlice[] {
  let deepest = 0;
  for (let i = 2; i < pieces.length; i += 3) deepest = Math.max(deepest, Math.abs(pieces[i]));
  const count = Math.ceil(deepest / thickness - 1e-9);
  if (!(count <= MOST_SLICES)) throw new RangeError(`Depths of up to ${deepest.toFixed(2)} m are more than ${MOST_SLICES} slices of ${thickness} m.`); // prettier-ignore
  const column = (): CompensatedSum[] => Array.from({ length: count + 1 }, () => new CompensatedSum());
  const deeper = { cut: column(), fill: column(), cutArea: column(), fillArea: column() };
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = cornersAt(pieces, i);
    for (const sign of [-1, 1]) {
      const highest = Math.max(...corners.map((c) => sign * c[2]));
      const [volume, area] = sign < 0 ? [deeper.cut, deeper.cutArea] : [deeper.fill, deeper.fillArea];
      for (let k = 0; k < count && k * thickness < highest; k++) {
        const below = (c: readonly number[]): number => sign * c[2] - k * thickness;
        eachTriangle(partWhere(corners, below), (plan, a, b, c) => {
          volume[k].add((plan * (below(a) + below(b) + below(c))) / 3);
          area[k].add(plan);
        });
      }
    }
  }
  return Array.from({ length: count }, (_, k) => ({
    from: k * thickness,
    to: (k + 1) * thickness,
    cut: deeper.cut[k].value() - deeper.cut[k + 1].value(),
    fill: deeper.fill[k].value() - deeper.fill[k + 1].value(),
    cutArea: deeper.cutArea[k].value(),
    fillArea: deeper.fillArea[k].value(),
  }));
}

/** Slices of two parts of one difference, added up; the deeper part has more of them. */
export function addSlices(a: readonly DepthSlice[], b: readonly DepthSlice[]): DepthSlice[] {
  const [long, short] = a.length >= b.length ? [a, b] : [b, a];
  return long.map((s, k) => {
    if (k >= short.length) return s;
    const other = short[k];
    return { ...s, cut: s.cut + other.cut, fill: s.fill + other.fill, cutArea: s.cutArea + other.cutArea, fillArea: s.fillArea + other.fillArea }; // prettier-ignore
  });
}
