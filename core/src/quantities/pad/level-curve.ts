import type { Surface } from '#core/terrain';
import { NearGround } from './near-ground.ts';
import { layPad } from './pad.ts';
import type { PadShape } from './pad-shape.ts';

/** What a pad takes and needs at a level, m and m³. */
export interface AtLevel {
  level: number;
  cut: number;
  fill: number;
}

/** Levels of a curve. */
const LEVELS = 25;
const MOST_TRIES = 60;
/** Levels are found to this, m. */
const EXACT = 1e-4;
/** (√5 − 1) / 2 */
const GOLDEN = 0.6180339887498949;

const at = (ground: NearGround, shape: PadShape, level: number): AtLevel | null => {
  const made = layPad(ground, { ...shape, level });
  return made.ok ? { level, cut: made.pad.cut, fill: made.pad.fill } : null;
};

/** Cut and fill of a pad at levels spread evenly from one to another; levels at which it cannot be laid are missing. */
export function levelCurve(ground: Surface, shape: PadShape, from: number, to: number): AtLevel[] {
  const site = new NearGround(ground);
  return Array.from({ length: LEVELS }, (_, i) => at(site, shape, from + (i / (LEVELS - 1)) * (to - from))).filter((a) => a !== null); // prettier-ignore
}

/** What a cubic metre of each costs. */
export interface EarthPrices {
  cut: number;
  fill: number;
}

export const costOf = ({ cut, fill }: Pick<AtLevel, 'cut' | 'fill'>, prices: EarthPrices): number => prices.cut * cut + prices.fill * fill; // prettier-ignore

/**
 * The level at which cut and fill cost least, between two levels (golden section: as a pad rises its cut falls ever more slowly
 * and its fill grows ever faster, so that the cost has one lowest place). Null where the pad cannot be laid.
 */
export function cheapestLevel(
  ground: Surface,
  shape: PadShape,
  prices: EarthPrices,
  from: number,
  to: number,
): (AtLevel & { cost: number }) | null {
  const site = new NearGround(ground);
  const tried = (level: number): (AtLevel & { cost: number }) | null => {
    const there = at(site, shape, level);
    return there && { ...there, cost: costOf(there, prices) };
  };
  let [low, high] = [from, to];
  let [a, b] = [tried(high - GOLDEN * (high - low)), tried(low + GOLDEN * (high - low))];
  for (let k = 0; k < MOST_TRIES && a && b && high - low > EXACT; k++) {
    if (a.cost <= b.cost) {
      [high, b] = [b.level, a];
      a = tried(high - GOLDEN * (high - low));
    } else {
      [low, a] = [a.level, b];
      b = tried(low + GOLDEN * (high - low));
    }
  }
  if (!a || !b) return null;
  return a.cost <= b.cost ? a : b;
}
