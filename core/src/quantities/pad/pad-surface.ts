import { pointInRing } from '#core/kernel';
import { buildSurface, groundFinder, NO_POINT, ofTriangles, without, type Surface } from '#core/terrain';
import type { BatterTile } from './batters.ts';
import { placeOn, type FoundBatters } from './daylight.ts';
import { PlaceNumbers } from '../place-numbers.ts';

/** Batters as they were found; sign −1: their elevations are turned over. */
export interface OneSide {
  sign: 1 | -1;
  tiles: readonly BatterTile[];
  found: FoundBatters;
}

/** Places within a triangle by their weights: the middle of half a parallelogram lies on its other diagonal, where two parts of a batter may miss each other by rounding. */
const WITHIN = [
  [1 / 3, 1 / 3, 1 / 3],
  [0.52, 0.29, 0.19],
];

/** Pad and batters as one surface, with breaklines along the pad, the arrises and the daylight line. About the pad's origin. */
export function surfaceOfPad(plane: Surface, ring: Float64Array, sides: readonly OneSide[]): Surface {
  const numbers = new PlaceNumbers();
  const z: number[] = [];
  const segments: number[] = [];
  const place = ([x, y, elevation]: readonly number[]): number => {
    const number = numbers.of(x, y);
    z[number] ??= elevation;
    return number;
  };
  for (let t = 0; t < plane.triangles.length; t++) {
    const v = plane.triangles[t];
    place([plane.x[v], plane.y[v], plane.z[v]]);
    const w = plane.triangles[t % 3 === 2 ? t - 2 : t + 1];
    if (plane.neighbours[t] < 0 || plane.breakSides[t]) segments.push(place([plane.x[v], plane.y[v], plane.z[v]]), place([plane.x[w], plane.y[w], plane.z[w]])); // prettier-ignore
  }
  const fans: number[] = [];
  for (const { sign, tiles, found } of sides) {
    // A side that two parts of one plane share is none of the surface.
    const rims = new Map<number, Map<string, [number, number]>>();
    for (const { tile, area } of found.parts) {
      const rim = rims.get(tile) ?? new Map<string, [number, number]>();
      rims.set(tile, rim);
      const corners = Array.from({ length: area.length / 2 }, (_, k) => {
        const [x, y, up] = placeOn(tiles[tile], area[2 * k], area[2 * k + 1]);
        return [x, y, sign * up];
      });
      const at = corners.map(place);
      at.forEach((a, k) => {
        const b = at[(k + 1) % at.length];
        if (a === b) return;
        if (!rim.delete(`${b} ${a}`)) rim.set(`${a} ${b}`, [a, b]);
      });
      for (let k = 1; k + 1 < corners.length; k++) fans.push(...corners[0], ...corners[k], ...corners[k + 1]);
    }
    for (const rim of rims.values()) for (const ends of rim.values()) segments.push(...ends);
  }
  const { surface } = buildSurface({
    x: Float64Array.from(numbers.x),
    y: Float64Array.from(numbers.y),
    z: Float64Array.from(z),
    segments: Uint32Array.from(segments),
    longestSide: null,
    coincidence: 0,
  });
  const batters = fans.length ? groundFinder(ofTriangles(Float64Array.from(fans))) : null;
  const gone = new Uint8Array(surface.triangles.length / 3);
  for (let t = 0; t < gone.length; t++) {
    const corners = [0, 1, 2].map((k) => surface.triangles[3 * t + k]);
    const isOwn = WITHIN.some((weights) => {
      const [x, y] = [surface.x, surface.y].map((of) => weights.reduce((sum, w, k) => sum + w * of[corners[k]], 0));
      return pointInRing(ring, x, y) || batters?.at(x, y);
    });
    if (!isOwn) gone[t] = 1;
  }
  // Its vertices are nobody's points.
  return { ...without(surface, gone), point: new Uint32Array(surface.x.length).fill(NO_POINT) };
}

/** The lines that pairs of places make, x, y, z …; a closed one says its first place again. */
export function joinedLines(pairs: readonly (readonly number[])[]): number[][] {
  const numbers = new PlaceNumbers();
  const z: number[] = [];
  const beside: number[][] = [];
  const place = (x: number, y: number, elevation: number): number => {
    const number = numbers.of(x, y);
    z[number] ??= elevation;
    beside[number] ??= [];
    return number;
  };
  for (const [ax, ay, az, bx, by, bz] of pairs) {
    const [a, b] = [place(ax, ay, az), place(bx, by, bz)];
    if (a === b) continue;
    beside[a].push(b);
    beside[b].push(a);
  }
  const lines: number[][] = [];
  const follow = (start: number): void => {
    const line = [start];
    for (let at = start; beside[at].length;) {
      const next = beside[at].shift()!;
      beside[next].splice(beside[next].indexOf(at), 1);
      line.push((at = next));
      if (at === start) break;
    }
    if (line.length > 1) lines.push(line.flatMap((v) => [numbers.x[v], numbers.y[v], z[v]]));
  };
  // Open lines first, so that what is left is closed.
  beside.forEach((list, v) => {
    while (list.length % 2) follow(v);
  });
  beside.forEach((list, v) => {
    while (list.length) follow(v);
  });
  return lines;
}
