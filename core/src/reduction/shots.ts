import { sinCosInto, type SinCos } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { constantOf, distanceVariance, readingProblem, riseVariance, type Setting } from './measure.ts';
import { isPlain, isSighting, type Occupation, type SpecialNumbers } from './occupations.ts';
import { faceOf } from './pointings.ts';
import type { ReducedPoints } from './points.ts';
import type { SetupResult } from './types.ts';
import type { Known } from './known.ts';

const PI = 3.141592653589793;
const sight: SinCos = { sin: 0, cos: 0 };
const direction: SinCos = { sin: 0, cos: 0 };

/** What became of the shots of a setup, and which of them are more, or less, than a new point. */
export interface Shots {
  /** How many gave a point. */
  given: number;
  /** Their readings give no place. */
  refused: BookRecord[];
  /** Places without an elevation: a height is missing. */
  flat: BookRecord[];
  /** They go to control, and give no point. */
  checks: BookRecord[];
  /** Of numbers that are stood on or oriented by somewhere, and the points that they gave. */
  carried: { shot: BookRecord; at: number }[];
}

/**
 * Shots of new points from an oriented setup, in one face and without rounds, written behind the points there are.
 * One loop with all that holds for the whole setup taken out of it, since books are long and this is what they hold;
 * the formulas are those of other pointings (measure.ts). Null, and nothing written, when one of them is in face 2, or
 * has anything else that asks for more.
 */
export function reduceShots(
  o: Occupation,
  setup: SetupResult,
  station: Known,
  setting: Setting,
  points: ReducedPoints,
  special: SpecialNumbers,
): Shots | null {
  const { records } = o.book;
  const { instrument, height, factor, refraction, radius, centring } = setting;
  // (a + bD)² = a² + bD (bD + 2a)
  const mixed = setting.distanceParts === 'sum' ? 2 * instrument.distance : 0;
  const { orientation } = setup;
  const scale = 1 + setting.ppm * 1e-6;
  const growing = instrument.ppm * 1e-6;
  const fixed = instrument.distance * instrument.distance;
  const pointing = instrument.direction * instrument.direction * factor * factor;
  const turn = setup.sdOrientation * setup.sdOrientation;
  const stationPlan = station.sdPlan * station.sdPlan;
  const stationHeight = Number.isNaN(station.z) ? NaN : station.sdHeight * station.sdHeight;
  const { x, y, z, sdPlan, sdAcross, sdHeight, name } = points;
  const { x: east, y: north, z: mark } = station;
  const { zenith: sdZenith } = instrument;
  // Curvature and refraction as corrections.ts has them, what holds for the whole setup taken out.
  const bend = (2 - refraction) / (2 * radius);
  const fall = (1 - refraction) / (2 * radius);
  const first = points.count;
  const out: Shots = { given: 0, refused: [], flat: [], checks: [], carried: [] };
  let i = first;
  let target = setting.target;
  let constant = constantOf(target, setting);
  for (let at = o.at + 1; at < o.end; at++) {
    const r = records[at];
    if (r.role !== 'shot' || !isSighting(r)) continue;
    if (!isPlain(r)) return null;
    const what = special.kindOf(r.number);
    if (what === 'control') {
      if (faceOf(r) === 2) return null;
      out.checks.push(r);
      continue;
    }
    const { distance, zenith, circle, height: held } = r;
    // What is right for all but a few is seen at once: false for whatever is missing.
    if (!(distance > 0 && zenith > 0 && zenith <= PI && circle >= 0) && readingProblem(r)) {
      if (faceOf(r) === 2) return null;
      out.refused.push(r);
      continue;
    }
    const named = r.target === '' ? setting.target : r.target;
    if (named !== target) {
      target = named;
      constant = constantOf(target, setting);
    }
    const slope = (distance + constant) * scale;
    sinCosInto(zenith, sight);
    const { sin: sz, cos: cz } = sight;
    const flat = slope * sz;
    const horizontal = (flat - bend * slope * slope * sz * cz) * factor;
    const rise = slope * cz + fall * flat * flat + height - held;
    const long = growing * slope;
    const varSlope = fixed + long * (long + mixed);
    const aslant = slope * sdZenith * slope * sdZenith;
    // What pointing leaves stands across the sight, however steep it is (measure.ts).
    const across = slope * slope * pointing + horizontal * horizontal * turn;
    sinCosInto(circle + orientation, direction);
    x[i] = east + horizontal * direction.sin;
    y[i] = north + horizontal * direction.cos;
    z[i] = mark + rise;
    sdPlan[i] = Math.sqrt(stationPlan + (across + distanceVariance(varSlope, aslant, sz, cz, centring)) / 2);
    sdAcross[i] = Math.sqrt(stationPlan + across);
    sdHeight[i] = Math.sqrt(stationHeight + riseVariance(varSlope, aslant, sz, cz));
    name[i] = r;
    if (what !== undefined) out.carried.push({ shot: r, at: i });
    if (Number.isNaN(rise)) {
      sdHeight[i] = NaN;
      out.flat.push(r);
    }
    i++;
  }
  points.count = i;
  // Columns begin as zeros: what stays zero is not written.
  if (o.bookIndex !== 0) points.book.fill(o.bookIndex, first, i);
  points.setup.fill(o.index, first, i);
  if (setup.waits !== null) points.waits.fill(1, first, i);
  out.given = i - first;
  return out;
}
