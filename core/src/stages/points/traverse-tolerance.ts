import type { Traverse } from '#core/adjustment';
import type { Settings } from '#core/project';

/**
 * The angular misclosure that a traverse may have: the spread of repeated angles times the root of their number, and
 * twice what centring over the marks does to angles between legs so short.
 */
export const angularAllowed = (t: Traverse, s: Pick<Settings, 'angleSpread'>): number =>
  Math.sqrt(s.angleSpread * s.angleSpread * t.angles + 4 * t.centring * t.centring);

/** Whether a traverse closes in angle, in plan by its ratio, and in height as a check may. */
export const traverseWithin = (
  t: Traverse,
  s: Pick<Settings, 'angleSpread' | 'traverseRatio' | 'checkHeight' | 'checkPlan'>,
): boolean =>
  !(Math.abs(t.angular) > angularAllowed(t, s)) &&
  // On short ones the ratio asks for less than a pole can be held to.
  (t.ratio >= s.traverseRatio || t.linear <= s.checkPlan / 3) &&
  !(Math.abs(t.dz) > s.checkHeight);

/** Where a decision on a traverse is kept: whether it is distributed although it misses its end by too much. */
export const traverseKey = (t: Pick<Traverse, 'stations'>): string => `traverse:${t.stations.join('-')}`.slice(0, 80);

/** Whether a traverse's misclosure is distributed: it is within what is allowed, or somebody said so on purpose. */
export const isDistributed = (
  t: Traverse,
  s: Parameters<typeof traverseWithin>[1],
  decisions: Readonly<Record<string, string>>,
): boolean => traverseWithin(t, s) || decisions[traverseKey(t)] === 'used';
