import { ofTriangles, overlay, type Surface } from '#core/terrain';
import { differenceBetween, differenceToLevel } from '../difference/difference.ts';
import { Gathering, LEAST_PIECE, type DifferencePieces } from '../difference/gathered.ts';
import { Plane } from '../difference/plane.ts';
import { cornersAt, eachTriangle, partWhere, type PieceCorner } from '../piece-parts.ts';
import { measured, volumeBetween } from '../volume.ts';

/** A material of the ground lies from its top downwards: so deep under the ground, m, or under a surface. */
export interface MaterialBed {
  name: string;
  top: { depth: number } | { surface: Surface };
}

export interface MaterialVolume {
  name: string;
  /** m³ of the cut, down to the next material. */
  cut: number;
  /** m² in plan of the cut that reaches it. */
  area: number;
  /** m² of the cut where nobody knows its top: what is cut there counts to the material above. */
  unknown: number;
}

export interface MaterialVolumes {
  /** m³ of the cut above the first of them. */
  above: number;
  materials: MaterialVolume[];
}

/** Depth of a top under the ground, below 0, m: the same everywhere, or as triangles, where it is known. */
type Top = { level: number } | { surface: Surface };

/**
 * The cut by materials that lie one under the other, in this order: exact, by the planes of the triangles. A top that lies above
 * the one before it begins where that one does; above the ground, at the ground. `ground`: the compared surface; `pieces` of its
 * difference to what it is compared with.
 */
export function cutByMaterial(
  pieces: DifferencePieces,
  ground: Surface,
  beds: readonly MaterialBed[],
): MaterialVolumes {
  const cut = ofTriangles(cutOf(pieces));
  const whole = measured(differenceToLevel(cut, 0));
  let last: Top = { level: 0 };
  const under = beds.map(({ top }) => {
    last = lower(last, 'depth' in top ? { level: -top.depth } : { surface: depthUnder(ground, top.surface) });
    return cutUnder(cut, last);
  });
  return {
    above: whole.fill - (under[0]?.cut ?? 0),
    materials: beds.map(({ name }, i) => ({
      name,
      cut: under[i].cut - (under[i + 1]?.cut ?? 0),
      area: under[i].area,
      unknown: Math.max(0, whole.area - under[i].known),
    })),
  };
}

/** What of the cut lies under a top, m³ and m², and on how much of it the top is known, m². */
function cutUnder(cut: Surface, top: Top): { cut: number; area: number; known: number } {
  const deeper = 'level' in top ? differenceToLevel(cut, top.level) : differenceBetween(cut, top.surface);
  const { fill, fillArea, area } = measured(deeper);
  return { cut: fill, area: fill > 0 ? fillArea : 0, known: area };
}

/** How deep a surface lies under the ground, where both are known: nowhere above it. */
const depthUnder = (ground: Surface, below: Surface): Surface => clamped(volumeBetween(ground, below).pieces, 0);

/** The lower of two tops, where both are known. */
function lower(a: Top, b: Top): Top {
  if ('level' in a) return 'level' in b ? { level: Math.min(a.level, b.level) } : { surface: clampedTo(b.surface, a.level) }; // prettier-ignore
  return { surface: 'level' in b ? clampedTo(a.surface, b.level) : lowerOf(a.surface, b.surface) };
}

/** Triangles, nowhere above a level. */
const clampedTo = (s: Surface, level: number): Surface => clamped(piecesOf(s), level);

function clamped(pieces: DifferencePieces, level: number): Surface {
  const out = new Gathering();
  for (let i = 0; i < pieces.length; i += 9) {
    const corners = cornersAt(pieces, i);
    const add = addTo(out);
    eachTriangle(
      partWhere(corners, (c) => level - c[2]),
      add,
    );
    eachTriangle(
      partAbove(corners, (c) => c[2] - level).map(([x, y]) => [x, y, level]),
      add,
    );
  }
  return ofTriangles(out.rest());
}

/** The lower of two surfaces where both are known. */
function lowerOf(a: Surface, b: Surface): Surface {
  const out = new Gathering();
  const [one, other] = [new Plane(a), new Plane(b)];
  overlay(a, b, (t, u, piece, corners, ox, oy) => {
    if (!one.lay(t, ox, oy) || !other.lay(u, ox, oy)) return;
    const on = (plane: Plane, x: number, y: number): number => plane.z + plane.gx * x + plane.gy * y;
    // x, y and both elevations of each corner.
    const area = Array.from({ length: corners }, (_, i) => {
      const [x, y] = [piece[2 * i], piece[2 * i + 1]];
      return [x + ox, y + oy, on(one, x, y), on(other, x, y)];
    });
    eachTriangle(
      partWhere(area, (c) => c[3] - c[2]),
      addTo(out),
    );
    eachTriangle(partAbove(area, (c) => c[2] - c[3]).map(([x, y, , z]) => [x, y, z]), addTo(out)); // prettier-ignore
  });
  return ofTriangles(out.rest());
}

/** The part of an area where a value lies above 0; none where it is 0 at most, which is counted already. */
const partAbove = (area: readonly PieceCorner[], value: (corner: PieceCorner) => number): PieceCorner[] =>
  area.some((c) => value(c) > 0) ? partWhere(area, value) : [];

const addTo =
  (out: Gathering) =>
  (plan: number, a: PieceCorner, b: PieceCorner, c: PieceCorner): void => {
    if (plan > LEAST_PIECE) out.add(a[0], a[1], a[2], b[0], b[1], b[2], c[0], c[1], c[2]);
  };

/** The parts of a difference that are cut. */
function cutOf(pieces: DifferencePieces): DifferencePieces {
  const out = new Gathering();
  for (let i = 0; i < pieces.length; i += 9) eachTriangle(partWhere(cornersAt(pieces, i), (c) => -c[2]), addTo(out)); // prettier-ignore
  return out.rest();
}

/** A surface as triangles side by side: x, y, z of three corners each. */
function piecesOf({ x, y, z, triangles }: Surface): DifferencePieces {
  const out = new Float64Array(3 * triangles.length);
  triangles.forEach((v, i) => out.set([x[v], y[v], z[v]], 3 * i));
  return out;
}
