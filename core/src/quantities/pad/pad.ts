import { measureSurface, type Surface } from '#core/terrain';
import { baseFromToe } from '../heap/heap.ts';
import { Gathering } from '../difference/gathered.ts';
import { volumeBetween, type DifferencePieces } from '../volume.ts';
import { around, fallingBatters, type Batters, type PlanBox } from './batters.ts';
import { battersToGround } from './daylight.ts';
import { joinedLines, surfaceOfPad, type OneSide } from './pad-surface.ts';
import { NearGround } from './near-ground.ts';
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
  /** What lies between it and the ground, batters too, in plan; made when it is asked for. */
  pieces: () => DifferencePieces;
  /** Pad and batters, made when it is asked for. */
  surface: () => Surface;
}

export type PadMade = { ok: true; pad: Pad } | { ok: false; reason: string };

/**
 * A pad laid into the ground, with batters down to it where it is filled and up to it where it is cut: exact, by the planes of
 * ground, pad and batters. The batters hang together with the pad; where they lie over each other the higher one counts in fill,
 * the lower one in cut.
 */
export function layPad(ground: Surface | NearGround, shape: PadShape): PadMade {
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
export function layStrip(ground: Surface | NearGround, shape: StripShape): PadMade {
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
  ground: Surface | NearGround,
  { corners: pad, plane, level, what }: Formed,
  shape: Pick<PadShape, 'cutSlope' | 'fillSlope' | 'corners' | 'sagitta' | 'batter' | 'benches'>,
  battersOf: typeof fallingBatters,
): PadMade {
  const site = ground instanceof NearGround ? ground : new NearGround(ground);
  // Of the whole ground once: whoever lays many pads into it asks again and again.
  const { extent, lowest, highest } = measureSurface(site.ground);
  const reach: PlanBox = [extent[0] - pad.ox, extent[1] - pad.oy, extent[2] - pad.ox, extent[3] - pad.oy];
  const turned = { ...pad, z: pad.z.map((v) => -v) };
  const batters = (low: number, high: number): [falling: Batters, rising: Batters] => [
    battersOf(pad, shape.fillSlope, shape, reach, low),
    battersOf(turned, shape.cutSlope, shape, reach, -high),
  ];
  const [down, up] = batters(lowest, highest);
  if (!down.ok) return down;
  if (!up.ok) return up;
  const ring = Float64Array.from(pad.x.flatMap((x, i) => [x, pad.y[i]]));
  // Batters reach no farther than the ground about them asks for.
  const about = site.about(around(down.box, up.box), ring, [pad.ox, pad.oy]);
  const [falling, rising] = batters(about.lowest, about.highest);
  if (!falling.ok) return falling;
  if (!rising.ok) return rising;
  const { near, under, index } = about;
  const upsideDown = { ...near, z: near.z.map((v) => -v) };
  const sides: OneSide[] = [
    { sign: 1, tiles: falling.tiles, found: battersToGround(near, falling.tiles, pad, index) },
    { sign: -1, tiles: rising.tiles, found: battersToGround(upsideDown, rising.tiles, turned, index) },
  ];
  const [fill, cut] = sides.map(({ found }) => found);
  if (under.triangles.length === 0) return { ok: false, reason: `There is no ground under ${what}.` };
  const inside = volumeBetween(under, plane);
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
      pieces: () => piecesOf(inside.pieces, sides, pad),
      surface: () => shifted(surfaceOfPad(plane, ring, sides), pad.ox, pad.oy),
    },
  };
}

/** A surface elsewhere, of its own: what is remembered of the triangles of another holds for where those lie. */
const shifted = (s: Surface, dx: number, dy: number): Surface => ({
  ...s,
  triangles: s.triangles.slice(),
  x: s.x.map((v) => v + dx),
  y: s.y.map((v) => v + dy),
});

/** Pieces of what is formed and of its batters, back from the pad's origin. */
function piecesOf(inside: DifferencePieces, sides: readonly OneSide[], { ox, oy }: PadCorners): DifferencePieces {
  const out = new Gathering();
  for (let i = 0; i < inside.length; i += 9) {
    const [ax, ay, da, bx, by, db, cx, cy, dc] = inside.subarray(i, i + 9);
    out.add(ax + ox, ay + oy, da, bx + ox, by + oy, db, cx + ox, cy + oy, dc);
  }
  for (const { sign, found } of sides)
    for (const { area, above } of found.parts)
      for (let i = 1; i + 1 < above.length; i++) out.add(area[0] + ox, area[1] + oy, sign * above[0], area[2 * i] + ox, area[2 * i + 1] + oy, sign * above[i], area[2 * i + 2] + ox, area[2 * i + 3] + oy, sign * above[i + 1]); // prettier-ignore
  return out.rest();
}
