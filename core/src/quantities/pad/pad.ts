import { clipToRing, measureSurface, type Surface } from '#core/terrain';
import { baseFromToe } from '../heap/heap.ts';
import { differenceBetween } from '../difference/difference.ts';
import { measured } from '../volume.ts';
import { around, fallingBatters, type PlanBox } from './batters.ts';
import { battersToGround } from './daylight.ts';
import { joinedLines, surfaceOfPad, type OneSide } from './pad-surface.ts';
import { padCorners, type PadCorners, type PadShape } from './pad-shape.ts';
import { ruledBatters } from './ruled-batters.ts';
import { formedStrip, type StripShape } from './strip.ts';

/** A pad, or a bank or ditch along a line, with its batters in the ground. */
export interface Pad {
  /** Of a pad its level, of a strip the elevation where its line begins, m. */
  level: number;
  /** m³ */
  cut: number;
  fill: number;
  /** m² in plan: of the pad that has ground under it, and of the batters. */
  padArea: number;
  /** m² of the pad beyond the ground. */
  beyond: number;
  cutArea: number;
  fillArea: number;
  /** Where batters meet the ground, lines of x, y, z …; a closed one says its first place again. */
  daylight: number[][];
  /** Places at the rim of the survey that batters run off before they meet the ground. */
  offSurvey: number[][];
  /** Pad and batters, made when it is asked for. */
  surface: () => Surface;
}

export type PadMade = { ok: true; pad: Pad } | { ok: false; reason: string };

/**
 * A pad laid into the ground, with batters down to it where it is filled and up to it where it is cut: exact, by the planes of
 * ground, pad and batters. The batters hang together with the pad; where they lie over each other the higher one counts in fill,
 * the lower one in cut.
 */
export function layPad(ground: Surface, shape: PadShape): PadMade {
  const checked = padCorners(shape);
  if (!checked.ok) return checked;
  const { corners } = checked;
  const plane = baseFromToe(corners.x.map((x, i) => [x, corners.y[i], corners.z[i]]));
  return layFormed(
    ground,
    { corners, plane, level: shape.level, what: 'the pad' },
    shape,
    shape.benches ? ruledBatters : fallingBatters,
  );
}

/** A bank or a ditch along a line, laid into the ground as a pad is. */
export function layStrip(ground: Surface, shape: StripShape): PadMade {
  const formed = formedStrip(shape);
  return formed.ok
    ? layFormed(ground, { ...formed, what: 'the strip' }, { ...shape, batter: 'square' }, ruledBatters)
    : formed;
}

/** What is formed between batters: its rim, and its own surface about the rim's origin. */
interface Formed {
  corners: PadCorners;
  plane: Surface;
  level: number;
  what: string;
}

function layFormed(
  ground: Surface,
  { corners: pad, plane, level, what }: Formed,
  shape: Pick<PadShape, 'cutSlope' | 'fillSlope' | 'corners' | 'sagitta' | 'batter' | 'benches'>,
  battersOf: typeof fallingBatters,
): PadMade {
  // Of the whole ground once: whoever lays many pads into it asks again and again.
  const { extent, lowest, highest } = measureSurface(ground);
  const reach: PlanBox = [extent[0] - pad.ox, extent[1] - pad.oy, extent[2] - pad.ox, extent[3] - pad.oy];
  const turned = { ...pad, z: pad.z.map((v) => -v) };
  const falling = battersOf(pad, shape.fillSlope, shape, reach, lowest);
  if (!falling.ok) return falling;
  const rising = battersOf(turned, shape.cutSlope, shape, reach, -highest);
  if (!rising.ok) return rising;
  const near = croppedAbout(ground, around(falling.box, rising.box), pad.ox, pad.oy);
  const upsideDown = { ...near, z: near.z.map((v) => -v) };
  const sides: OneSide[] = [
    { sign: 1, tiles: falling.tiles, found: battersToGround(near, falling.tiles, pad) },
    { sign: -1, tiles: rising.tiles, found: battersToGround(upsideDown, rising.tiles, turned) },
  ];
  const [fill, cut] = sides.map(({ found }) => found);
  const ring = Float64Array.from(pad.x.flatMap((x, i) => [x, pad.y[i]]));
  const under = clipToRing(near, ring);
  if (under.triangles.length === 0) return { ok: false, reason: `There is no ground under ${what}.` };
  const inside = measured(differenceBetween(under, plane));
  const daylight = sides.flatMap(({ sign, found }) => found.daylight.map((pair) => pair.map((v, i) => (i % 3 === 2 ? sign * v : v)))); // prettier-ignore
  const back = (list: readonly number[][], step: number): number[][] =>
    list.map((line) => line.map((v, i) => v + (i % step === 0 ? pad.ox : i % step === 1 ? pad.oy : 0)));
  return {
    ok: true,
    pad: {
      level,
      cut: inside.cut + cut.volume,
      fill: inside.fill + fill.volume,
      padArea: inside.area,
      beyond: Math.max(0, measureSurface(plane).planArea - inside.area),
      cutArea: inside.cutArea + cut.planArea,
      fillArea: inside.fillArea + fill.planArea,
      daylight: back(joinedLines(daylight), 3),
      offSurvey: back(sides.flatMap(({ found }) => found.offSurvey), 2), // prettier-ignore
      surface: () => shifted(surfaceOfPad(plane, ring, sides), pad.ox, pad.oy),
    },
  };
}

/** The triangles of a surface that reach into a box about an origin, as a surface of its own about it. */
function croppedAbout(s: Surface, box: Readonly<PlanBox>, ox: number, oy: number): Surface {
  const [west, south, east, north] = [box[0] + ox, box[1] + oy, box[2] + ox, box[3] + oy];
  const { x, y, triangles } = s;
  const number = new Int32Array(triangles.length / 3).fill(-1);
  const kept: number[] = [];
  for (let t = 0; t < number.length; t++) {
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
    if (x[a] < west && x[b] < west && x[c] < west) continue;
    if (x[a] > east && x[b] > east && x[c] > east) continue;
    if (y[a] < south && y[b] < south && y[c] < south) continue;
    if (y[a] > north && y[b] > north && y[c] > north) continue;
    number[t] = kept.length;
    kept.push(t);
  }
  const vertex = new Int32Array(x.length).fill(-1);
  const from: number[] = [];
  const of = (v: number): number => (vertex[v] >= 0 ? vertex[v] : (vertex[v] = from.push(v) - 1));
  const sides = kept.flatMap((t) => [3 * t, 3 * t + 1, 3 * t + 2]);
  return {
    triangles: Uint32Array.from(sides, (e) => of(triangles[e])),
    neighbours: Int32Array.from(sides, (e) => {
      const beside = s.neighbours[e];
      const t = beside < 0 ? -1 : number[Math.floor(beside / 3)];
      return t < 0 ? -1 : 3 * t + (beside % 3);
    }),
    breakSides: Uint8Array.from(sides, (e) => s.breakSides[e]),
    x: Float64Array.from(from, (v) => x[v] - ox),
    y: Float64Array.from(from, (v) => y[v] - oy),
    z: Float64Array.from(from, (v) => s.z[v]),
    point: Uint32Array.from(from, (v) => s.point[v]),
  };
}

/** A surface elsewhere, of its own: what is remembered of the triangles of another holds for where those lie. */
const shifted = (s: Surface, dx: number, dy: number): Surface => ({
  ...s,
  triangles: s.triangles.slice(),
  x: s.x.map((v) => v + dx),
  y: s.y.map((v) => v + dy),
});
