import { groundFinder, ofTriangles } from '#core/terrain';
import { extentOfPieces } from './methods/methods.ts';
import type { DifferencePieces } from './volume.ts';

/** A difference thinned for looking at: square cells, m, as two pieces each, where all four corners are known. */
export function cellsOf(pieces: DifferencePieces, size: number): DifferencePieces {
  const [w, s, e, n] = extentOfPieces(pieces);
  const finder = groundFinder(ofTriangles(pieces));
  const [across, up] = [Math.ceil((e - w) / size), Math.ceil((n - s) / size)];
  const corners = Array.from({ length: (across + 1) * (up + 1) }, (_, i) => {
    const [x, y] = [w + (i % (across + 1)) * size, s + Math.floor(i / (across + 1)) * size];
    const d = finder.at(x, y)?.elevation;
    return d === undefined ? null : [x, y, d];
  });
  const out: number[] = [];
  for (let j = 0; j < up; j++)
    for (let i = 0; i < across; i++) {
      const at = j * (across + 1) + i;
      const [sw, se, nw, ne] = [corners[at], corners[at + 1], corners[at + across + 1], corners[at + across + 2]];
      if (sw && se && nw && ne) out.push(...sw, ...se, ...ne, ...sw, ...ne, ...nw);
    }
  return Float64Array.from(out);
}
