import type { Adjustment, Traverse } from '#core/adjustment';
import type { Known } from '#core/reduction';

export const RULE_NAME = {
  carried: 'as carried',
  compass: 'compass rule',
  transit: 'transit rule',
  network: 'least squares',
} as const;
export type StationRule = keyof typeof RULE_NAME;

/** A station of a traverse as one rule has it, metres. */
export interface StationPlace {
  rule: StationRule;
  x: number;
  y: number;
  z: number;
  /** Whether the points that were measured from it stand on this one. */
  inForce: boolean;
}

/** Same to a hundredth of a millimetre. */
const SAME = 1e-5;

/**
 * Stations between the ends of a traverse by the compass rule, the transit rule and least squares, side by side, and as
 * they are in force: what the chosen rule gives, or as carried where it does not apply.
 */
export function stationsByRule(
  t: Traverse,
  network: Adjustment | null,
  known: readonly Known[],
  chosen: StationRule,
): { number: string; rules: StationPlace[] }[] {
  return t.compass.map((p, i) => {
    const now = known.find((k) => k.number === p.number);
    const places = { compass: p, transit: t.transit[i], network: network?.ok ? network.points.find((q) => q.number === p.number) : undefined }; // prettier-ignore
    const is = (q: { x: number; y: number }): boolean => now !== undefined && Math.abs(q.x - now.x) < SAME && Math.abs(q.y - now.y) < SAME; // prettier-ignore
    const rules = (['compass', 'transit', 'network'] as const).flatMap((rule): StationPlace[] => {
      const q = places[rule];
      return q ? [{ rule, x: q.x, y: q.y, z: q.z, inForce: rule === chosen && is(q) }] : [];
    });
    // Carried, resected, or of a traverse that is not distributed: none of the rules.
    if (now && !rules.some((r) => r.inForce)) rules.unshift({ rule: 'carried', x: now.x, y: now.y, z: now.z, inForce: true }); // prettier-ignore
    return { number: p.number, rules };
  });
}
