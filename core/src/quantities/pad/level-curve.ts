import type { Levelled } from './levelled.ts';

/** What is taken and needed at a level, m and m³. */
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

const at = (of: Levelled, level: number): AtLevel | null => {
  const made = of.at(level);
  return made.ok ? { level, cut: made.pad.cut, fill: made.pad.fill } : null;
};

/** Cut and fill at levels spread evenly from one to another; levels at which it cannot be laid are missing. */
export const levelCurve = (of: Levelled, from: number, to: number): AtLevel[] =>
  Array.from({ length: LEVELS }, (_, i) => at(of, from + (i / (LEVELS - 1)) * (to - from))).filter((a) => a !== null); // prettier-ignore

/** What a cubic metre of each costs. */
export interface EarthPrices {
  cut: number;
  fill: number;
}

export const costOf = ({ cut, fill }: Pick<AtLevel, 'cut' | 'fill'>, prices: EarthPrices): number => prices.cut * cut + prices.fill * fill; // prettier-ignore

/**
 * The level at which cut and fill cost least, between two levels (golden section: as what is proposed rises its cut falls ever more slowly
 * and its fill grows ever faster, so that the cost has one lowest place). Null where it cannot be laid.
 */
export function cheapestLevel(
  of: Levelled,
  prices: EarthPrices,
  from: number,
  to: number,
): (AtLevel & { cost: number }) | null {
  const tried = (level: number): (AtLevel & { cost: number }) | null => {
    const there = at(of, level);
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
