import { type LevelDifference, type TwoPegTest } from './levels.ts';

/** Imbalances that differ by less, m, say nothing of the line of sight. */
const LEAST_IMBALANCE = 10;
/** m; one reading of a staff. */
const READING = 0.0003;

/**
 * Two-peg tests among the set-ups (any surveying textbook): with sights behind and before of lengths that differ by u₁
 * and u₂, the line of sight is off the level by (Δ₁ − Δ₂) / (u₁ − u₂).
 */
export function twoPegTests(differences: readonly LevelDifference[]): TwoPegTest[] {
  const seen = new Map<string, LevelDifference[]>();
  const out: TwoPegTest[] = [];
  for (const d of differences) {
    const key = [d.book, ...[d.from, d.to].sort()].join(' ');
    for (const e of seen.get(key) ?? []) {
      const same = e.from === d.from;
      const apart = d.imbalance - (same ? e.imbalance : -e.imbalance);
      if (!(Math.abs(apart) >= LEAST_IMBALANCE)) continue;
      const rise = d.difference - (same ? e.difference : -e.difference);
      out.push({ book: d.book, from: e.from, to: e.to, rows: [e.rows[0], d.rows[0]], collimation: rise / apart, sd: (2 * READING) / Math.abs(apart) }); // prettier-ignore
    }
    seen.set(key, [...(seen.get(key) ?? []), d]);
  }
  return out;
}
