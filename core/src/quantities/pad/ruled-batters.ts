import { acos, distance, ringArea, sinCos } from '#core/kernel';
import { around, boxOf, upperParts, type Batters, type BatterTile, type PlanBox } from './batters.ts';
import type { Benches, PadCorners, PadShape } from './pad-shape.ts';

/** Where a batter has got to: so far out from the rim in plan, so far below it, m. */
interface Step {
  out: number;
  down: number;
}

/** Benches of a batter at the most. */
const MOST_BENCHES = 200;
/** Parts of a cone at the most. */
const MOST_PARTS = 64;
/** The arris of a corner sharper than this is cut: m of it a metre out. */
const MOST_MITRE = 8;
/** m, m² */
const NOTHING = 1e-9;

/**
 * Batters that fall outwards from a rim whose corners have any elevations, with or without benches. From a side they fall by their
 * slope square to it. Round a corner that points outwards they fall from its elevation, to an arris or in a cone; at one that points
 * inwards they meet along the line half way between the two sides, as far below the corner as they are below the sides. Wherever else
 * they lie over each other the higher one counts. What rises is got by turning elevations over.
 * @param reach of the ground about the pad's origin
 * @param lowest elevation of the ground: no batter goes on below it
 */
export function ruledBatters(
  rim: PadCorners,
  slope: number,
  { corners, sagitta, benches }: Pick<PadShape, 'corners' | 'sagitta' | 'benches'>,
  reach: Readonly<PlanBox>,
  lowest: number,
): Batters {
  const deepest = Math.max(0, Math.max(...rim.z) - lowest) + BELOW_ALL;
  const steps = stepsOf(slope, benches ?? null, deepest);
  if (!steps) return { ok: false, reason: `The batters would need more than ${MOST_BENCHES} benches to reach the ground. Set them farther apart in height.` }; // prettier-ignore
  const n = rim.x.length;
  const square = Array.from({ length: n }, (_, i) => squareTo(rim, i));
  const corner = square.map((after, i) => cornerBetween(square[(i + n - 1) % n], after));
  const farthest = steps.at(-1)!.out;
  const tiles: BatterTile[] = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const along = sideOf(rim, i, j);
    // Beside a corner that points inwards the batter leaves its plane, from twice as far back as it must: not in a step.
    const [begin, end] = [corner[i], corner[j]].map((c) => (c.inwards ? Math.min(along.length / 2, 2 * farthest * c.tangent) : 0)); // prettier-ignore
    const [first, last] = [along.at(begin), along.at(along.length - end)];
    if (begin > 0) addPart(tiles, [along.at(0), corner[i].middle], [first, square[i]], steps);
    if (along.length - begin - end > NOTHING) addPart(tiles, [first, square[i]], [last, square[i]], steps);
    if (end > 0) addPart(tiles, [last, square[i]], [along.at(along.length), corner[j].middle], steps);
    const fan = raysRound(square[(i + n - 1) % n], square[i], corner[i], corners, sagitta, farthest);
    for (let k = 0; k + 1 < fan.length; k++) addPart(tiles, [along.at(0), fan[k]], [along.at(0), fan[k + 1]], steps);
  }
  const pad = boxOf(rim.x.flatMap((x, i) => [x, rim.y[i]]));
  const [own, outer] = [around(pad, boxOf(tiles.flatMap((t) => t.area))), around(pad, reach)];
  const box: PlanBox = [Math.max(own[0], outer[0]), Math.max(own[1], outer[1]), Math.min(own[2], outer[2]), Math.min(own[3], outer[3])]; // prettier-ignore
  return { ok: true, tiles: upperParts(tiles, rim), box };
}

/** Batters end this far below all of the ground, m. */
const BELOW_ALL = 0.01;

/** Batter, bench, batter … down to a depth; null where there are too many. */
function stepsOf(slope: number, benches: Benches | null, deepest: number): Step[] | null {
  if (!benches || benches.every >= deepest) return [{ out: 0, down: 0 }, { out: slope * deepest, down: deepest }]; // prettier-ignore
  if (deepest / benches.every > MOST_BENCHES) return null;
  const steps: Step[] = [{ out: 0, down: 0 }];
  while (steps.at(-1)!.down < deepest) {
    const { out, down } = steps.at(-1)!;
    const foot = { out: out + slope * benches.every, down: down + benches.every };
    steps.push(foot);
    if (benches.width > 0 && foot.down < deepest) steps.push({ out: foot.out + benches.width, down: foot.down });
  }
  return steps;
}

/** What a metre outwards from a side is in plan. */
function squareTo({ x, y }: PadCorners, i: number): [number, number] {
  const j = (i + 1) % x.length;
  const [dx, dy] = [x[j] - x[i], y[j] - y[i]];
  const length = distance(dx, dy);
  return [dy / length, -dx / length];
}

/** A side of the rim: its length in plan, and the place on it so far from its beginning. */
function sideOf({ x, y, z }: PadCorners, i: number, j: number): { length: number; at: (d: number) => number[] } {
  const length = distance(x[j] - x[i], y[j] - y[i]);
  const at = (d: number): number[] => (d >= length ? [x[j], y[j], z[j]] : [x, y, z].map((of) => of[i] + ((of[j] - of[i]) * d) / length)); // prettier-ignore
  return { length, at };
}

interface Corner {
  outwards: boolean;
  inwards: boolean;
  /** Half way between its two sides: what a metre outwards from both is. */
  middle: readonly number[];
  /** How far along a side that is, a metre out. */
  tangent: number;
}

function cornerBetween(a: readonly number[], b: readonly number[]): Corner {
  const turn = a[0] * b[1] - a[1] * b[0];
  const cos = a[0] * b[0] + a[1] * b[1];
  const sum = [a[0] + b[0], a[1] + b[1]];
  const size = distance(sum[0], sum[1]);
  // Back the way it came: there is no half way.
  const length = size < NOTHING ? 1 : Math.min(MOST_MITRE, size / (1 + cos));
  const middle = size < NOTHING ? a : [(sum[0] / size) * length, (sum[1] / size) * length];
  return { outwards: turn > NOTHING, inwards: turn < -NOTHING, middle, tangent: Math.sqrt(Math.max(0, length * length - 1)) }; // prettier-ignore
}

/** What a metre outwards is round a corner, from the side before it to the one after; none where it does not point outwards. */
function raysRound(
  a: readonly number[],
  b: readonly number[],
  corner: Corner,
  corners: PadShape['corners'],
  sagitta: number,
  farthest: number,
): (readonly number[])[] {
  // prettier-ignore
  if (!corner.outwards) return [];
  if (corners === 'mitred') return [a, corner.middle, b];
  const angle = acos(Math.min(1, Math.max(-1, a[0] * b[0] + a[1] * b[1])));
  const chord = 2 * acos(Math.max(0.5, 1 - sagitta / Math.max(farthest, sagitta)));
  const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil(angle / chord)));
  return Array.from({ length: parts + 1 }, (_, k) => {
    if (k === parts) return b;
    const [s, c] = sinCos((angle * k) / parts);
    return [a[0] * c - a[1] * s, a[0] * s + a[1] * c];
  });
}

/** A place of the rim and what a metre outwards from it is. */
type Leaves = readonly [place: readonly number[], ray: readonly number[]];

/** What lies between two rays, step by step, as far as they do not cross. */
function addPart(tiles: BatterTile[], from: Leaves, to: Leaves, steps: readonly Step[]): void {
  const at = ([[x, y, z], ray]: Leaves, { out, down }: Step): number[] => [x + ray[0] * out, y + ray[1] * out, z - down]; // prettier-ignore
  const [dx, dy] = [to[0][0] - from[0][0], to[0][1] - from[0][1]];
  const length = distance(dx, dy);
  // How much longer the part is a metre out.
  const grows = length > 0 ? ((to[1][0] - from[1][0]) * dx + (to[1][1] - from[1][1]) * dy) / length : 0;
  const crossing = grows < 0 ? -length / grows : Infinity;
  for (let k = 0; k + 1 < steps.length && steps[k].out < crossing; k++) {
    const [inner, whole] = [steps[k], steps[k + 1]];
    const share = whole.out <= crossing ? 1 : (crossing - inner.out) / (whole.out - inner.out);
    const outer = share === 1 ? whole : { out: crossing, down: inner.down + share * (whole.down - inner.down) };
    addQuad(tiles, [at(from, inner), at(from, outer), at(to, outer), at(to, inner)]);
  }
}

/** A part as one plane, or as planes about its middle where its corners lie in none. */
function addQuad(tiles: BatterTile[], corners: readonly number[][]): void {
  const places = corners.filter((p, k) => {
    const q = corners[(k + corners.length - 1) % corners.length];
    return Math.abs(p[0] - q[0]) > NOTHING || Math.abs(p[1] - q[1]) > NOTHING;
  });
  if (places.length < 3) return;
  const plane = tileOf(places);
  if (plane && places.every(([x, y, z]) => Math.abs(plane.z + plane.gx * x + plane.gy * y - z) < IN_PLANE)) return void tiles.push(plane); // prettier-ignore
  const middle = [0, 1, 2].map((k) => places.reduce((sum, p) => sum + p[k], 0) / places.length);
  places.forEach((p, k) => {
    const tile = tileOf([middle, p, places[(k + 1) % places.length]]);
    if (tile) tiles.push(tile);
  });
}

/** m off a plane that are none. */
const IN_PLANE = 1e-7;

/** A convex area in the plane of its first three places, as a tile; null where it is none. */
function tileOf(places: readonly number[][]): BatterTile | null {
  const [a, b, c] = places;
  const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const [vx, vy, vz] = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
  const twice = ux * vy - uy * vx;
  const area = places.flatMap(([px, py]) => [px, py]);
  if (!(twice > NOTHING) || !(ringArea(area) > NOTHING)) return null;
  const [gx, gy] = [(uz * vy - vz * uy) / twice, (vz * ux - uz * vx) / twice];
  return { area, z: a[2] - gx * a[0] - gy * a[1], gx, gy };
}
