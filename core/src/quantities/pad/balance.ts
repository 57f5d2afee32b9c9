import type { Surface } from '#core/terrain';
import { levelledPad, type Levelled } from './levelled.ts';
import type { Pad } from './pad.ts';
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
 * The level at which cut, times its factor, equals fill: as what is proposed rises its cut falls and its fill grows, so that there is one
 * (regula falsi, Illinois). What batters lose at the rim of a survey is not in it; `offSurvey` of the pad says so.
 * @param factor of cut that becomes fill: 1.1 where it bulks, 0.9 where it shrinks; between 0.1 and 10
 */
export function balanced(of: Levelled, factor: number): { ok: true; balance: Balance } | { ok: false; reason: string } {
  if (!(factor >= 0.1 && factor <= 10)) return { ok: false, reason: `A factor of cut to fill is between 0.1 and 10, not ${factor}.` }; // prettier-ignore
  const off = (pad: Pad): number => factor * pad.cut - pad.fill;
  let [low, high] = [of.below, of.above];
  const [first, second] = [low, high].map(of.at);
  if (!first.ok) return first;
  if (!second.ok) return second;
  let [atLow, atHigh] = [off(first.pad), off(second.pad)];
  if (!(atLow >= 0 && atHigh <= 0)) return { ok: false, reason: 'Cut and fill do not balance at any level: the batters run off the survey.' }; // prettier-ignore
  let { pad } = first;
  let side = 0;
  for (let k = 0; k < MOST_TRIES && high - low > EXACT; k++) {
    const level = atLow === atHigh ? (low + high) / 2 : low + ((high - low) * atLow) / (atLow - atHigh);
    const made = of.at(level);
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

/** The level at which a pad balances. */
export const balancedPad = (ground: Surface, shape: PadShape, factor: number): ReturnType<typeof balanced> => balanced(levelledPad(ground, shape), factor); // prettier-ignore
