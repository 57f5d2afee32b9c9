import { sinCosInto, turned, type SinCos } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { EARTH_RADIUS, reduceSlopeInto } from './corrections.ts';
import { constantOf, distanceVariance, readingProblem, riseVariance, type Setting } from './measure.ts';
import { isShot, type Occupation } from './occupations.ts';
import type { ReducedPoints } from './points.ts';
import type { Known, SetupResult } from './types.ts';

const sight: SinCos = { sin: 0, cos: 0 };
const direction: SinCos = { sin: 0, cos: 0 };
const level = { horizontal: 0, rise: 0 };

/** What is said of shots that are more, or less, than a new point. */
export interface ShotWatch {
  /** Its readings give no place. */
  refused(shot: BookRecord): void;
  /** A place without an elevation: a height is missing. */
  flat(shot: BookRecord): void;
  /** One of those that are carried forward, now the point at an index. */
  carried(shot: BookRecord, at: number): void;
}

/**
 * Shots of new points from an oriented setup, in one face and without rounds, written behind the points there are.
 * One loop with all that holds for the whole setup taken out of it, since books are long and this is what they hold;
 * the formulas are those of other pointings (measure.ts). Returns how many gave a point.
 */
export function reduceShots(
  o: Occupation,
  setup: SetupResult,
  station: Known,
  setting: Setting,
  points: ReducedPoints,
  watch: ShotWatch,
): number {
  const { records } = o.book;
  const { checks, carries } = o;
  const { instrument, height, factor, refraction } = setting;
  const { orientation } = setup;
  const scale = 1 + setting.ppm * 1e-6;
  const growing = instrument.ppm * 1e-6;
  const fixed = instrument.distance * instrument.distance;
  const turn = instrument.direction * instrument.direction + setup.sdOrientation * setup.sdOrientation;
  const stationPlan = station.sdPlan * station.sdPlan;
  const stationHeight = station.sdHeight * station.sdHeight;
  const { x, y, z, sdPlan, sdAcross, sdHeight, row, number, code } = points;
  const { x: east, y: north, z: mark } = station;
  const { zenith: sdZenith } = instrument;
  const first = points.count;
  let i = first;
  let target = setting.target;
  let constant = constantOf(target, setting);
  for (let at = o.at + 1; at < o.end; at++) {
    const r = records[at];
    if (!isShot(r, checks)) continue;
    if (readingProblem(r)) {
      watch.refused(r);
      continue;
    }
    const named = r.target === '' ? setting.target : r.target;
    if (named !== target) {
      target = named;
      constant = constantOf(target, setting);
    }
    const slope = (r.distance + constant) * scale;
    sinCosInto(r.zenith, sight);
    const { sin: sz, cos: cz } = sight;
    reduceSlopeInto(slope, sz, cz, refraction, EARTH_RADIUS, level);
    const horizontal = level.horizontal * factor;
    const rise = level.rise + height - r.height;
    const long = growing * slope;
    const varSlope = fixed + long * long;
    const aslant = slope * sdZenith * slope * sdZenith;
    const across = horizontal * horizontal * turn;
    sinCosInto(turned(r.circle + orientation), direction);
    row[i] = r.row;
    x[i] = east + horizontal * direction.sin;
    y[i] = north + horizontal * direction.cos;
    z[i] = mark + rise;
    sdPlan[i] = Math.sqrt(stationPlan + (across + distanceVariance(varSlope, aslant, sz, cz)) / 2);
    sdAcross[i] = Math.sqrt(stationPlan + across);
    sdHeight[i] = Math.sqrt(stationHeight + riseVariance(varSlope, aslant, sz, cz));
    number[i] = r.number;
    code[i] = r.code;
    if (carries !== null && carries.has(r)) watch.carried(r, i);
    if (Number.isNaN(rise)) watch.flat(r);
    i++;
  }
  points.count = i;
  points.book.fill(o.bookIndex, first, i);
  points.setup.fill(o.index, first, i);
  points.waits.fill(setup.waits === null ? 0 : 1, first, i);
  return i - first;
}
