import { Tally, type DifferencePieces, type VolumeResult } from './volume.ts';

/**
 * A difference without what is no deeper than a band, m, on either side: there it counts as neither cut nor fill. Where it is
 * deeper all of its depth counts. The area stays that of all that is compared.
 */
export function withoutBand({ pieces, area }: VolumeResult, band: number): VolumeResult {
  const tally = new Tally();
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = [0, 3, 6].map((k) => [pieces[i + k], pieces[i + k + 1], pieces[i + k + 2]]);
    for (const sign of [1, -1]) {
      const deep = deeper(corners, sign, band);
      for (let k = 1; k + 1 < deep.length; k++) {
        const [a, b, c] = [deep[0], deep[k], deep[k + 1]];
        const plan = ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2;
        if (!(plan > 0)) continue;
        tally.add(plan, a[2], b[2], c[2]);
        tally.pieces.push(...a, ...b, ...c);
      }
    }
  }
  return { ...tally.result(), area, pieces: Float64Array.from(tally.pieces) satisfies DifferencePieces };
}

/** What of a triangle is deeper than the band on one side. */
function deeper(area: readonly number[][], sign: number, band: number): number[][] {
  return area.flatMap((here, i) => {
    const next = area[(i + 1) % area.length];
    const [a, b] = [sign * here[2] - band, sign * next[2] - band];
    const out = a >= 0 ? [here] : [];
    if ((a > 0 && b < 0) || (a < 0 && b > 0)) {
      const f = a / (a - b);
      out.push([here[0] + f * (next[0] - here[0]), here[1] + f * (next[1] - here[1]), sign * band]);
    }
    return out;
  });
}
