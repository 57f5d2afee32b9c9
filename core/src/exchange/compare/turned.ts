import { distance } from '#core/kernel';
import { keyOfTurned } from './keys.ts';
import type { Left } from './left.ts';
import type { Thing } from './things.ts';

/** A turn and a shift in plan: x' = c x − s y + dx, y' = s x + c y + dy. */
export interface Turn {
  c: number;
  s: number;
  dx: number;
  dy: number;
}

export const turned = ({ c, s, dx, dy }: Turn, x: number, y: number): [number, number] => [c * x - s * y + dx, s * x + c * y + dy]; // prettier-ignore

/** Counter-clockwise, radians. */
export const angleOf = ({ c, s }: Turn): number => Math.atan2(s, c);

/** The place that stays where it is; null of a mere shift. */
export function centreOf({ c, s, dx, dy }: Turn): [number, number] | null {
  const det = (1 - c) ** 2 + s ** 2;
  if (det < 1e-14) return null;
  return [((1 - c) * dx - s * dy) / det, (s * dx + (1 - c) * dy) / det];
}

/** Of more things of one shape than this, none says which became which. */
const MOST_ALIKE = 40;
/** Pairs that vote: enough to find a turn that many share. */
const MOST_PAIRS = 300_000;
/** m, beside the tolerance: what coordinates are rounded to, over the length of a thing. */
const ROUNDED = 2e-3;
/** Turns less than this are a shift. */
const LEAST_TURN = 1e-5;

/**
 * The turn by which most of what is left of one drawing became what is left of the other; null where nothing turned. Each
 * pair of one shape votes with the number of its sides; alone it needs three vertices.
 */
export function commonTurn(a: Left, b: Left, tolerance: number): Turn | null {
  const there = b.by((t) => keyOfTurned(t, tolerance));
  let pairs = 0;
  const votes = new Map<string, { turn: Turn; span: number; weight: number }>();
  for (const [key, ours] of a.by((t) => keyOfTurned(t, tolerance))) {
    const theirs = there.get(key);
    if (!theirs || ours.length > MOST_ALIKE || theirs.length > MOST_ALIKE) continue;
    if (pairs > MOST_PAIRS) break;
    pairs += ours.length * theirs.length;
    for (const i of ours)
      for (const j of theirs) {
        const found = turnBetween(a.things[i], b.things[j], tolerance);
        if (!found) continue;
        const { turn, span } = found;
        // Votes are counted where the turn puts a place that both know, to a decimetre, and by its angle.
        const [mx, my] = turned(turn, a.things[i].at[0], a.things[i].at[1]);
        const centre = centreOf(turn) ?? [mx, my];
        const ballot = `${Math.round(angleOf(turn) * 2000)} ${centre.map((v) => Math.round(v)).join()}`;
        const vote = votes.get(ballot) ?? { turn, span: 0, weight: 0 };
        vote.weight += a.things[i].at.length / 3 - 1;
        if (span > vote.span) [vote.turn, vote.span] = [turn, span];
        votes.set(ballot, vote);
      }
  }
  const best = [...votes.entries()].sort(([ka, x], [kb, y]) => y.weight - x.weight || y.span - x.span || (ka < kb ? -1 : 1))[0]; // prettier-ignore
  return best && best[1].weight >= 2 ? best[1].turn : null;
}

/** What turns one thing onto the other, by their vertices farthest apart; null where that is a shift or no vertex else fits. */
function turnBetween(a: Thing, b: Thing, tolerance: number): { turn: Turn; span: number } | null {
  let far = 3;
  for (let k = 3; k < a.at.length; k += 3)
    if (distance(a.at[k] - a.at[0], a.at[k + 1] - a.at[1]) > distance(a.at[far] - a.at[0], a.at[far + 1] - a.at[1])) far = k; // prettier-ignore
  const [ux, uy, vx, vy] = [a.at[far] - a.at[0], a.at[far + 1] - a.at[1], b.at[far] - b.at[0], b.at[far + 1] - b.at[1]];
  const length = distance(ux, uy) * distance(vx, vy);
  if (!(length > 0)) return null;
  const [c, s] = [(ux * vx + uy * vy) / length, (ux * vy - uy * vx) / length];
  if (Math.abs(s) < LEAST_TURN && c > 0) return null;
  const turn = { c, s, dx: b.at[0] - (c * a.at[0] - s * a.at[1]), dy: b.at[1] - (s * a.at[0] + c * a.at[1]) };
  return fits(turn, a, b, tolerance + ROUNDED) ? { turn, span: distance(ux, uy) } : null;
}

/** Whether a turn puts each vertex of one thing on that of the other. */
export function fits(turn: Turn, a: Thing, b: Thing, within: number): boolean {
  if (a.at.length !== b.at.length) return false;
  for (let k = 0; k < a.at.length; k += 3) {
    const [x, y] = turned(turn, a.at[k], a.at[k + 1]);
    if (!(distance(x - b.at[k], y - b.at[k + 1]) <= within)) return false;
  }
  return true;
}
