import { measureSurface, type Surface } from '#core/terrain';
import { NearGround } from './near-ground.ts';
import { layPad, type Pad } from './pad.ts';
import type { PadShape } from './pad-shape.ts';

/** Levels are found to this, m. */
const EXACT = 1e-7;
const MOST_TRIES = 60;

export interface Balance {
  pad: Pad;
  /** K × cut − fill that is left, m³. */
  left: number;
}

/**
 * The level at which cut, times its factor, equals fill: as a pad rises its cut falls and its fill grows, so that there is one
 * (regula falsi, Illinois). What batters lose at the rim of a survey is not in it; `offSurvey` of the pad says so.
 * @param factor of cut that becomes fill: 1.1 where it bulks, 0.9 where it shrinks; between 0.1 and 10
 */
export function balancedPad(
  ground: Surface,
  shape: PadShape,
  factor: number,
): { ok: true; balance: Balance } | { ok: false; reason: string } {
  // prettier-ignore
  if (!(factor >= 0.1 && factor <= 10)) return { ok: false, reason: `A factor of cut to fill is between 0.1 and 10, not ${factor}.` }; // prettier-ignore
  const { lowest, highest } = measureSurface(ground);
  const site = new NearGround(ground);
  // A sloping pad has parts above and below the level that it is told by.
  const tilt = shape.gradient * spreadOf(shape.ring);
  const off = (pad: Pad): number => factor * pad.cut - pad.fill;
  let [low, high] = [lowest - tilt, highest + tilt];
  const [first, second] = [low, high].map((level) => layPad(site, { ...shape, level }));
  if (!first.ok) return first;
  if (!second.ok) return second;
  let [atLow, atHigh] = [off(first.pad), off(second.pad)];
  if (!(atLow >= 0 && atHigh <= 0)) return { ok: false, reason: 'Cut and fill do not balance at any level: the batters run off the survey.' }; // prettier-ignore
  let { pad } = first;
  let side = 0;
  for (let k = 0; k < MOST_TRIES && high - low > EXACT; k++) {
    const level = atLow === atHigh ? (low + high) / 2 : low + ((high - low) * atLow) / (atLow - atHigh);
    const made = layPad(site, { ...shape, level });
    if (!made.ok) return made;
    pad = made.pad;
    const here = off(pad);
    if (Math.abs(here) <= LEFT * (pad.cut + pad.fill)) break;
    if (here > 0) {
      [low, atLow] = [level, here];
      if (side === 1) atHigh /= 2;
      side = 1;
    } else {
      [high, atHigh] = [level, here];
      if (side === -1) atLow /= 2;
      side = -1;
    }
  }
  return { ok: true, balance: { pad, left: off(pad) } };
}

/** Share of cut and fill that is nothing. */
const LEFT = 1e-9;

function spreadOf(ring: Float64Array): number {
  const xs = ring.filter((_, i) => i % 2 === 0);
  const ys = ring.filter((_, i) => i % 2 === 1);
  return Math.max(...xs) - Math.min(...xs) + Math.max(...ys) - Math.min(...ys);
}
