import { distance } from '#core/kernel';
import { applyMatrix, fitPairs, type FitPair, type FitSettings } from './fit.ts';

export interface HeldBack {
  name: string;
  /** How far the point stands off where the others put it, m. */
  away: number;
  /** Standard deviation of a coordinate without it, m. */
  sigma: number;
}

/**
 * The one common point that keeps the others from agreeing: without it the standard deviation falls to less
 * than a third, and it stands more than `limit` of the remaining deviations off. Needs four points, so that
 * the rest is still controlled; null when there is no such point or more than one would do as well.
 */
export function heldBack(pairs: readonly FitPair[], settings: FitSettings, limit: number): HeldBack | null {
  const used = pairs.filter((p) => p.plan);
  const all = fitPairs(pairs, settings);
  if (used.length < 4 || !all.ok || !(all.fit.sigmaPlan > 0)) return null;
  const without: (HeldBack & { pair: FitPair })[] = [];
  for (const pair of used) {
    const rest = fitPairs(
      pairs.map((p) => (p === pair ? { ...p, plan: false, height: false } : p)),
      settings,
    );
    if (!rest.ok || Number.isNaN(rest.fit.sigmaPlan)) continue;
    const at = applyMatrix(rest.fit.matrix, pair.from.x, pair.from.y, Number.isNaN(pair.from.z) ? 0 : pair.from.z);
    without.push({
      pair,
      name: pair.name,
      away: distance(at.x - pair.to.x, at.y - pair.to.y),
      sigma: rest.fit.sigmaPlan,
    });
  }
  without.sort((a, b) => a.sigma - b.sigma);
  const [best, second] = without;
  if (!best || best.sigma * 3 > all.fit.sigmaPlan || best.away < limit * best.sigma) return null;
  if (second && second.sigma < 2 * best.sigma) return null;
  const { name, away, sigma } = best;
  return { name, away, sigma };
}
