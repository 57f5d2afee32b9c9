import { CRITICAL } from '#core/kernel';
import {
  deviationOf,
  residualOf,
  rowOf,
  type ReadingDoubt,
  type ResectionReading,
  type ResectionSight,
  type Solved,
} from './resection-reading.ts';

// Every reading that a station was found from, held against the others (data snooping; W. Baarda 1968, from memory):
// w = |v| / σ_v. A large slip bends the solution, so each suspect is tried by solving without it.

type Solve = (readings: readonly ResectionReading[]) => Solved | { reason: string };

export type Tested =
  | { ok: true; solved: Solved; used: readonly ResectionReading[]; doubts: ReadingDoubt[] }
  | { ok: false; reason: string };

interface Checked {
  /** Largest w of all readings in the solution; 0 where nothing is controlled. */
  worst: number;
  solved: Solved;
}

/**
 * Solves with all readings, then without one, two … until the rest agree. Where leaving out another one makes the
 * rest agree as well, all of these are named, and nothing is left out. Misfits within `plan` m are none.
 */
export function testSights(
  sights: readonly ResectionSight[],
  all: readonly ResectionReading[],
  solve: Solve,
  plan: number,
): Tested {
  const first = solve(all);
  const whole = 'reason' in first ? null : check(sights, all, first, plan);
  if (whole && whole.worst <= CRITICAL) return { ok: true, solved: whole.solved, used: all, doubts: [] };
  let used = all;
  const out: ReadingDoubt[] = [];
  for (let turn = 0; turn < 3; turn++) {
    const fits: { wrong: ResectionReading; checked: Checked; sum: number }[] = [];
    for (const wrong of used) {
      const rest = used.filter((r) => r !== wrong);
      const solved = rest.length > 3 || (rest.length === 3 && whole) ? solve(rest) : { reason: '' };
      if ('reason' in solved) continue;
      const checked = check(sights, rest, solved, plan);
      fits.push({ wrong, checked, sum: squares(sights, rest, solved) });
    }
    fits.sort((a, b) => a.sum - b.sum);
    const [best] = fits;
    if (!best) break;
    const good = fits.filter((f) => f.checked.worst <= CRITICAL);
    // Somebody has seen that this one does not fit, and wants it used.
    if (whole && sights[best.wrong.sight].held)
      return { ok: true, solved: whole.solved, used: all, doubts: out.map((d) => ({ ...d, sure: false })) };
    const doubtOf = (f: (typeof fits)[number], sure: boolean): ReadingDoubt => {
      const s = sights[f.wrong.sight];
      const off = residualOf(s, f.wrong.what, f.checked.solved);
      const sd = deviationOf(s, f.wrong.what, f.checked.solved);
      return { ...f.wrong, off, standardised: Math.abs(off) / sd, sure };
    };
    // Of several that would do, one is the culprit only if the rest agree clearly better without it.
    const alike = good.filter((f) => !sights[f.wrong.sight].held && f.sum - best.sum < CRITICAL * CRITICAL);
    if (good.length && new Set(alike.map((f) => f.wrong.sight)).size > 1) {
      if (!whole) return { ok: true, solved: best.checked.solved, used, doubts: alike.map((f) => doubtOf(f, false)) };
      return { ok: true, solved: whole.solved, used: all, doubts: [...out, ...alike.map((f) => doubtOf(f, false))] };
    }
    out.push(doubtOf(best, true));
    used = used.filter((r) => r !== best.wrong);
    if (good.length) return { ok: true, solved: best.checked.solved, used, doubts: out };
  }
  if (!whole) return { ok: false, reason: 'reason' in first ? first.reason : 'the sights do not agree' };
  // Too much is wrong to say what: every sight that stands out is named, and all of them stay in.
  const loud = all.filter((r) => !sights[r.sight].held && isLoud(sights[r.sight], r, whole.solved, plan));
  const doubts = (loud.length ? loud : all).map((r): ReadingDoubt => {
    const s = sights[r.sight];
    const off = residualOf(s, r.what, whole.solved);
    return { ...r, off, standardised: Math.abs(off) / deviationOf(s, r.what, whole.solved), sure: false };
  });
  return { ok: true, solved: whole.solved, used: all, doubts };
}

const squares = (sights: readonly ResectionSight[], readings: readonly ResectionReading[], at: Solved): number =>
  readings.reduce((sum, { sight, what }) => {
    const w = residualOf(sights[sight], what, at) / deviationOf(sights[sight], what, at);
    return sum + w * w;
  }, 0);

/** The largest standardised residual among readings whose slip, were it one, would be larger than `plan` m. */
function check(
  sights: readonly ResectionSight[],
  readings: readonly ResectionReading[],
  solved: Solved,
  plan: number,
): Checked {
  let worst = 0;
  for (const { sight, what } of readings) {
    const s = sights[sight];
    const sd = deviationOf(s, what, solved);
    const a = rowOf(s, what, solved);
    let taken = 0;
    for (let i = 0; i < solved.inverse.length; i++)
      for (let j = 0; j < solved.inverse.length; j++) taken += a[i] * a[j] * solved.inverse[i][j];
    const redundancy = 1 - taken / (sd * sd);
    if (redundancy < 1e-3) continue;
    const v = Math.abs(residualOf(s, what, solved));
    const slip = (v / redundancy) * (what === 'direction' ? farOf(s, solved) : 1);
    if (slip > plan) worst = Math.max(worst, v / (sd * Math.sqrt(redundancy)));
  }
  return { worst, solved };
}

const farOf = (s: ResectionSight, at: Solved): number => {
  const [dx, dy] = [s.target.x - at.x, s.target.y - at.y];
  return Math.sqrt(dx * dx + dy * dy);
};

function isLoud(s: ResectionSight, r: ResectionReading, at: Solved, plan: number): boolean {
  const off = Math.abs(residualOf(s, r.what, at)) * (r.what === 'direction' ? farOf(s, at) : 1);
  return off > plan / 2;
}
