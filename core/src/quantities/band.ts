import { cornersAt, eachTriangle, partWhere } from './piece-parts.ts';
import { Gathering } from './difference/gathered.ts';
import { Tally } from './tally.ts';
import type { VolumeResult } from './volume.ts';

/**
 * A difference without what is no deeper than a band, m, on either side: there it counts as neither cut nor fill. Where it is
 * deeper all of its depth counts. The area stays that of all that is compared.
 */
export function withoutBand({ pieces, area }: Pick<VolumeResult, 'pieces' | 'area'>, band: number): VolumeResult {
  const tally = new Tally();
  const deep = new Gathering();
  for (let i = 0; i < pieces.length; i += 9) {
    for (const sign of [1, -1])
      eachTriangle(
        partWhere(cornersAt(pieces, i), (c) => sign * c[2] - band),
        (plan, a, b, c) => {
          tally.add(plan, a[2], b[2], c[2]);
          deep.add(a[0], a[1], a[2], b[0], b[1], b[2], c[0], c[1], c[2]);
        },
      );
  }
  return { ...tally.result(), area, pieces: deep.rest().slice() };
}
