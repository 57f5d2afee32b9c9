import { elevationIn, groundFinder, ofTriangles, triangleWalk, type Surface } from '#core/terrain';
import { extentOfPieces } from '../methods/methods.ts';
import type { DifferencePieces } from './gathered.ts';

type At = (x: number, y: number) => number | undefined;

/** A difference thinned for looking at: square cells, m, as two pieces each, where all four corners are known. */
export function cellsOf(pieces: DifferencePieces, size: number): DifferencePieces {
  const finder = groundFinder(ofTriangles(pieces));
  return cellsOver(extentOfPieces(pieces), size, (x, y) => finder.at(x, y)?.elevation);
}

/** What lies between a surface and another, or a level, in about so many square cells to look at, and how large they are, m. */
export function cellsBetween(
  ground: Surface,
  to: Surface | { level: number },
  about: number,
): { pieces: DifferencePieces; size: number } {
  const { x, y, triangles } = ground;
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of triangles) {
    box[0] = Math.min(box[0], x[v]);
    box[1] = Math.min(box[1], y[v]);
    box[2] = Math.max(box[2], x[v]);
    box[3] = Math.max(box[3], y[v]);
  }
  const size = roundSize(Math.sqrt(((box[2] - box[0]) * (box[3] - box[1])) / about));
  const under = elevationOn(ground);
  const over = 'level' in to ? () => to.level : elevationOn(to);
  const pieces = cellsOver(box, size, (px, py) => {
    const [z, d] = [under(px, py), over(px, py)];
    return z === undefined || d === undefined ? undefined : d - z;
  });
  return { pieces, size };
}

function elevationOn(s: Surface): At {
  const walk = triangleWalk(s);
  return (x, y) => {
    const t = walk(x, y);
    return t < 0 ? undefined : elevationIn(s, t, x, y);
  };
}

/** The next larger of 1, 2, 5, 10 … */
function roundSize(size: number): number {
  const ten = 10 ** Math.floor(Math.log10(size));
  return ten * ([1, 2, 5].find((k) => k * ten >= size) ?? 10);
}

function cellsOver([w, s, e, n]: readonly number[], size: number, value: At): DifferencePieces {
  const [across, up] = [Math.ceil((e - w) / size), Math.ceil((n - s) / size)];
  const out: number[] = [];
  const rowAt = (j: number) =>
    Array.from({ length: across + 1 }, (_, i) => {
      const [x, y] = [w + i * size, s + j * size];
      const d = value(x, y);
      return d === undefined ? null : [x, y, d];
    });
  let south = rowAt(0);
  for (let j = 1; j <= up; j++) {
    const north = rowAt(j);
    for (let i = 0; i < across; i++) {
      const [sw, se, nw, ne] = [south[i], south[i + 1], north[i], north[i + 1]];
      if (sw && se && nw && ne) out.push(...sw, ...se, ...ne, ...sw, ...ne, ...nw);
    }
    south = north;
  }
  return Float64Array.from(out);
}
