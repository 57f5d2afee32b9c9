import { CompensatedSum, distanceToSide } from '#core/kernel';
import { PlaceNumbers, TOGETHER } from '../place-numbers.ts';
import { ofTriangles, overlay, type PieceVisit, type Surface, type triangleIndex } from '#core/terrain';
import { Plane } from '../difference/plane.ts';
import { cutBy } from './convex.ts';
import type { BatterTile } from './batters.ts';
import type { PadCorners } from './pad-shape.ts';

/** A part of a batter above one triangle of the ground: x, y of its corners about the pad's origin, and how far above it is there. */
export interface BatterPart {
  tile: number;
  area: number[];
  above: number[];
}

export interface FoundBatters {
  parts: BatterPart[];
  /** m³ between batters and ground, and their area in plan, m². */
  volume: number;
  planArea: number;
  /** Where the batters meet the ground: pairs of places x, y, z, x, y, z. */
  daylight: number[][];
  /** Places at the rim of the ground that they run off. */
  offSurvey: number[][];
}

/** m above the ground that is none. */
const ON_GROUND = 1e-9;

/**
 * Where batters that fall outwards lie above the ground and hang together with the pad: cut exactly where they meet it. What
 * would lie above the ground again farther out is no part of them.
 * @param ground about the pad's origin
 * @param index of its triangles, where it is there already
 */
export function battersToGround(
  ground: Surface,
  tiles: readonly BatterTile[],
  pad: PadCorners,
  index: ReturnType<typeof triangleIndex> = null,
): FoundBatters {
  const all: BatterPart[] = [];
  const rim: number[][] = [];
  const fans: number[] = [];
  const tileOf: number[] = [];
  tiles.forEach(({ area, z, gx, gy }, k) => {
    const place = (i: number): number[] => [area[i], area[i + 1], z + gx * area[i] + gy * area[i + 1]];
    for (let i = 2; i + 3 < area.length; i += 2) {
      fans.push(...place(0), ...place(i), ...place(i + 2));
      tileOf.push(k);
    }
  });
  const under = new Plane(ground);
  const visit: PieceVisit = (u, t, piece, corners, ox, oy) => {
    const tile = tiles[tileOf[u]];
    if (!under.lay(t, ox, oy)) return;
    const gx = tile.gx - under.gx;
    const gy = tile.gy - under.gy;
    const base = tile.z + tile.gx * ox + tile.gy * oy - under.z;
    // Most of what lies below the ground is left before anything is made of it.
    let highest = -Infinity;
    for (let i = 0; i < 2 * corners; i += 2) highest = Math.max(highest, base + gx * piece[i] + gy * piece[i + 1]);
    if (highest <= ON_GROUND) return;
    const own = Array.from(piece.subarray(0, 2 * corners));
    const kept = cutBy(own, base, gx, gy);
    if (kept.length === 0) return;
    const above: number[] = [];
    for (let i = 0; i < kept.length; i += 2) above.push(Math.max(0, base + gx * kept[i] + gy * kept[i + 1]));
    if (above.every((d) => d <= ON_GROUND)) return;
    all.push({ tile: tileOf[u], area: kept.map((v, i) => v + (i % 2 ? oy : ox)), above });
    for (let e = 3 * t; e < 3 * t + 3; e++) if (ground.neighbours[e] < 0) noteRim(rim, ground, e, all.at(-1)!, all.length - 1); // prettier-ignore
  };
  overlay(ofTriangles(Float64Array.from(fans)), ground, visit, index);
  const hangs = hangingTogether(all, pad);
  const parts = all.filter((_, i) => hangs[i]);
  const [volume, planArea] = [new CompensatedSum(), new CompensatedSum()];
  const daylight: number[][] = [];
  for (const { tile, area, above } of parts) {
    for (let i = 2; i + 3 < area.length; i += 2) {
      const a = ((area[i] - area[0]) * (area[i + 3] - area[1]) - (area[i + 2] - area[0]) * (area[i + 1] - area[1])) / 2;
      planArea.add(a);
      volume.add((a * (above[0] + above[i / 2] + above[i / 2 + 1])) / 3);
    }
    for (let i = 0; i < above.length; i++) {
      const j = (i + 1) % above.length;
      if (above[i] <= ON_GROUND && above[j] <= ON_GROUND) daylight.push([i, j].flatMap((k) => placeOn(tiles[tile], area[2 * k], area[2 * k + 1]))); // prettier-ignore
    }
  }
  const offSurvey = rim.filter(([part]) => hangs[part]).map(([, x, y]) => [x, y]);
  return { parts, volume: volume.value(), planArea: planArea.value(), daylight, offSurvey };
}

/** A place of a batter, with its elevation. */
export const placeOn = ({ z, gx, gy }: BatterTile, x: number, y: number): number[] => [x, y, z + gx * x + gy * y];

/** m above the ground at its rim from which a batter has not met it there. */
const STILL_ABOVE = 1e-4;

/** Corners of a part that lie on a side at the rim of the ground and are still above it. */
function noteRim(rim: number[][], s: Surface, e: number, { area, above }: BatterPart, part: number): void {
  const [a, b] = [s.triangles[e], s.triangles[e % 3 === 2 ? e - 2 : e + 1]];
  above.forEach((d, i) => {
    if (d > STILL_ABOVE && distanceToSide([area[2 * i], area[2 * i + 1]], [s.x[a], s.y[a]], [s.x[b], s.y[b]]) < TOGETHER) rim.push([part, area[2 * i], area[2 * i + 1]]); // prettier-ignore
  });
}

/** Which parts hang together with the pad: those with a side on its rim, and what touches them. */
function hangingTogether(parts: readonly BatterPart[], pad: PadCorners): boolean[] {
  const leader = Int32Array.from({ length: parts.length }, (_, i) => i);
  const lead = (i: number): number => {
    while (leader[i] !== i) i = leader[i] = leader[leader[i]];
    return i;
  };
  const numbers = new PlaceNumbers();
  const first: number[] = [];
  const begins: number[] = [];
  parts.forEach(({ area }, i) => {
    const onRim: boolean[] = [];
    for (let k = 0; k < area.length; k += 2) {
      const place = numbers.of(area[k], area[k + 1]);
      if (first[place] === undefined) first[place] = i;
      else leader[lead(i)] = lead(first[place]);
      onRim.push(isOnRim(pad, area[k], area[k + 1]));
    }
    if (onRim.some((on, k) => on && onRim[(k + 1) % onRim.length])) begins.push(i);
  });
  const begun = new Set(begins.map(lead));
  return parts.map((_, i) => begun.has(lead(i)));
}

function isOnRim({ x, y }: PadCorners, px: number, py: number): boolean {
  for (let i = 0; i < x.length; i++) {
    const j = (i + 1) % x.length;
    if (distanceToSide([px, py], [x[i], y[i]], [x[j], y[j]]) < TOGETHER) return true;
  }
  return false;
}
