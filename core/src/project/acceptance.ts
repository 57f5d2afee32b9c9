import { hashValue } from '#core/kernel';
import type { ProjectDocument } from './document.ts';

/** That somebody has accepted something as it is, and why. */
export type Acceptance = Pick<ProjectDocument['accepted'][string], 'reason' | 'by' | 'at'>;

/** As long as the key of what is accepted may be. */
const LONGEST_KEY = 300;

/** A key that names a great many points is told from its like by a hash. */
const keyOf = (key: string): string =>
  key.length <= LONGEST_KEY ? key : `${key.slice(0, LONGEST_KEY - 40)}:${hashValue(key).slice(0, 16)}`;

/** Key and hash of what something rests on, and whether it stands accepted: an acceptance holds only while the evidence stays. */
export function standing(
  { accepted }: Pick<ProjectDocument, 'accepted'>,
  name: string,
  restsOn: unknown,
): { key: string; evidence: string; accepted: Acceptance | null } {
  const [key, evidence] = [keyOf(name), hashValue(restsOn).slice(0, 16)];
  const known = accepted[key];
  // In an order of its own, whatever order a store gives it back in.
  const told = known?.evidence === evidence ? { reason: known.reason, by: known.by, at: known.at } : null;
  return { key, evidence, accepted: told };
}
