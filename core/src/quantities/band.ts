import { cornersAt, eachTriangle, partWhere } from './piece-parts.ts';
import { Tally, type VolumeResult } from './volume.ts';

/**
 * A difference without what is no deeper than a band, m, on either side: there it counts as neither cut nor fill. Where it is
 * deeper all of its depth counts. The area stays that of all that is compared.
 */
export function withoutBand({ pieces, area }: VolumeResult, band: number): VolumeResult {
  const tally = new Tally();
  for (let i = 0; i < pieces.length; i += 9) {
    for (const sign of [1, -1])
      eachTriangle(
        partWhere(cornersAt(pieces, i), (c) => sign * c[2] - band),
        (plan, a, b, c) => {
          tally.add(plan, a[2], b[2], c[2]);
          tally.pieces.push(...a, ...b, ...c);
        },
      );
  }
  return { ...tally.result(), area, pieces: Float64Array.from(tally.pieces) };
}
