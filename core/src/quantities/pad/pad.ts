import { clipToRing, measureSurface, without, type Surface } from '#core/terrain';
import { baseFromToe } from '../heap/heap.ts';
import { volumeBetween } from '../volume.ts';
import { fallingBatters, type PlanBox } from './batters.ts';
import { battersToGround } from './daylight.ts';
import { joinedLines, surfaceOfPad, type OneSide } from './pad-surface.ts';
import { padCorners, type PadCorners, type PadShape } from './pad-shape.ts';

/** A pad with its batters in the ground. */
export interface Pad {
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
  const pad = checked.corners;
  const near = shifted(ground, -pad.ox, -pad.oy);
  const fill = sideOfGround(near, pad, shape, 1);
  if (!fill.ok) return fill;
  const cut = sideOfGround(near, pad, shape, -1);
  if (!cut.ok) return cut;
  const ring = Float64Array.from(pad.x.flatMap((x, i) => [x, pad.y[i]]));
  const plane = baseFromToe(pad.x.map((x, i) => [x, pad.y[i], pad.z[i]]));
  const under = clipToRing(near, ring);
  if (under.triangles.length === 0) return { ok: false, reason: 'There is no ground under the pad.' };
  const inside = volumeBetween(under, plane);
  const sides = [fill.side, cut.side];
  const daylight = sides.flatMap(({ sign, found }) => found.daylight.map((pair) => pair.map((v, i) => (i % 3 === 2 ? sign * v : v)))); // prettier-ignore
  const back = (list: readonly number[][], step: number): number[][] =>
    list.map((line) => line.map((v, i) => v + (i % step === 0 ? pad.ox : i % step === 1 ? pad.oy : 0)));
  return {
    ok: true,
    pad: {
      level: shape.level,
      cut: inside.cut + cut.side.found.volume,
      fill: inside.fill + fill.side.found.volume,
      padArea: inside.area,
      beyond: Math.max(0, measureSurface(plane).planArea - inside.area),
      cutArea: inside.cutArea + cut.side.found.planArea,
      fillArea: inside.fillArea + fill.side.found.planArea,
      daylight: back(joinedLines(daylight), 3),
      offSurvey: back(sides.flatMap(({ found }) => found.offSurvey), 2), // prettier-ignore
      surface: () => shifted(surfaceOfPad(plane, ring, sides), pad.ox, pad.oy),
    },
  };
}

/** Batters in fill; in cut the same with elevations turned over. */
function sideOfGround(
  ground: Surface,
  pad: PadCorners,
  shape: PadShape,
  sign: 1 | -1,
): { ok: true; side: OneSide } | { ok: false; reason: string } {
  // prettier-ignore
  const turned = sign === 1 ? ground : { ...ground, z: ground.z.map((v) => -v) };
  const corners = sign === 1 ? pad : { ...pad, z: pad.z.map((v) => -v) };
  const { extent, lowest } = measureSurface(turned);
  const batters = fallingBatters(corners, sign === 1 ? shape.fillSlope : shape.cutSlope, shape, extent, lowest);
  if (!batters.ok) return batters;
  const { tiles, box } = batters;
  return { ok: true, side: { sign, tiles, found: battersToGround(within(turned, box), tiles, corners) } };
}

/** The triangles of a surface that reach into a box. */
function within(s: Surface, [west, south, east, north]: PlanBox): Surface {
  const gone = new Uint8Array(s.triangles.length / 3);
  for (let t = 0; t < gone.length; t++) {
    const [a, b, c] = [s.triangles[3 * t], s.triangles[3 * t + 1], s.triangles[3 * t + 2]];
    const [xs, ys] = [s.x, s.y].map((of) => [of[a], of[b], of[c]]);
    if (Math.max(...xs) < west || Math.min(...xs) > east || Math.max(...ys) < south || Math.min(...ys) > north) gone[t] = 1; // prettier-ignore
  }
  return without(s, gone);
}

/** A surface of its own: what is remembered of the triangles of another holds for where those lie. */
const shifted = (s: Surface, dx: number, dy: number): Surface => ({
  ...s,
  triangles: s.triangles.slice(),
  x: s.x.map((v) => v + dx),
  y: s.y.map((v) => v + dy),
});
