import { distance, sin, sinCos } from '#core/kernel';
import type { CircleTurn, SetupResult } from '#core/reduction';
import { recordsOfSetup } from '#core/book';
import type { BookAt } from '#core/stages';

/**
 * Where in a setup the circle turned, from the crew's own walk: shots follow each other some metres apart, and only
 * where the turn is taken at its true place does the walk go on without a leap. Null where the walk does not tell.
 */
export function turnPlace(setup: SetupResult, turn: CircleTurn, b: BookAt): { row: number; step: number } | null {
  const station = setup.station;
  if (!station || turn.between.length < 3) return null;
  const between = new Set(turn.between);
  const shots = recordsOfSetup(b.records, setup.row).filter((r) => between.has(r.row) && !Number.isNaN(r.circle + r.distance)); // prettier-ignore
  if (shots.length < 3) return null;
  const at = (i: number, turned: boolean): { x: number; y: number } => {
    const r = shots[i];
    const flat = r.distance * Math.abs(Number.isNaN(r.zenith) ? 1 : sin(r.zenith));
    const [s, c] = sinCos(r.circle + (r.face === 2 ? PI : 0) + setup.orientation - (turned ? turn.by : 0));
    return { x: station.x + flat * s, y: station.y + flat * c };
  };
  const stepAt = (i: number, turned: boolean): number => {
    const [p, q] = [at(i, false), at(i + 1, turned)];
    return distance(q.x - p.x, q.y - p.y);
  };
  // With one orientation for both, the walk leaps at the turn alone; with the turn taken there, it does not.
  const steps = shots.slice(1).map((_, i) => ({ at: i + 1, plain: stepAt(i, false), turned: stepAt(i, true) }));
  const usual = steps.map((s) => s.plain).sort((p, q) => p - q)[steps.length >> 1];
  steps.sort((p, q) => q.plain - q.turned - (p.plain - p.turned));
  const [best, second] = steps;
  const gain = best.plain - best.turned;
  if (gain < usual / 2 || best.turned > 2 * usual || second.plain - second.turned > 0.8 * gain) return null;
  return { row: shots[best.at].row, step: best.turned };
}
const PI = 3.141592653589793;
