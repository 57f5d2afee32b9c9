import { inventedSurvey, SLIP_KINDS, type SlipKind } from '#demo';
import { judge } from './blame-judge.ts';

interface Tally {
  planted: number;
  right: number;
  among: number;
  missed: number;
  wrong: number;
}

/** Kinds that may meet in one setup, by turns. */
function pairOf(seed: number): SlipKind[] {
  const one = SLIP_KINDS[seed % SLIP_KINDS.length];
  const heights = (k: SlipKind): boolean => k.startsWith('target-height-') && k !== 'target-height-known';
  for (let step = 1; ; step++) {
    const other = SLIP_KINDS[(seed * 7 + step) % SLIP_KINDS.length];
    // Both would be written into the same field of the same record, or the station would have two names.
    const clash = [one, other].filter(heights).length > 1 || [one, other].filter((k) => ['station-wrong', 'local-coordinate', 'coordinate-typed', 'free-sight'].includes(k)).length > 1; // prettier-ignore
    if (other !== one && !clash) return [one, other];
  }
}

/** Surveys with slips planted in them, and as many without: how often blame is right, by kind. */
export function blameFigure(surveys = 1000): void {
  console.log(`Blame, on ${surveys} invented surveys with one to three slips and ${surveys} without (wanted: 90 % named right, at most 2 % wrong, at most 1 % of clean ones with blame)`); // prettier-ignore
  const tally = new Map<SlipKind, Tally>();
  const of = (kind: SlipKind): Tally => {
    const found = tally.get(kind) ?? { planted: 0, right: 0, among: 0, missed: 0, wrong: 0 };
    tally.set(kind, found);
    return found;
  };
  let misled = 0;
  for (let i = 0; i < surveys; i++) {
    const seed = 10_000 + i;
    const kinds = i % 3 === 0 ? pairOf(seed) : [SLIP_KINDS[i % SLIP_KINDS.length]];
    const survey = inventedSurvey(seed, kinds);
    const judged = judge(survey);
    for (const slip of judged.slips) {
      const t = of(slip.kind);
      t.planted++;
      t[slip.named]++;
    }
    if (judged.wrong.length === 0) continue;
    misled++;
    const [q] = judged.wrong;
    for (const slip of judged.slips) of(slip.kind).wrong += 1 / judged.slips.length;
    if (process.env.BLAME) console.log(`  wrong ${seed} ${survey.ground} ${survey.setups} [${kinds}] ${q.kind}: ${q.text.slice(0, 200)}`); // prettier-ignore
    if (process.env.BLAME)
      for (const s of judged.slips) if (s.named !== 'right') console.log(`     ${s.named} ${s.kind}`);
  }
  const pad = (v: string | number, n = 8): string => String(v).padStart(n);
  console.log(`  ${'kind'.padEnd(26)}${pad('planted')}${pad('right')}${pad('open')}${pad('missed')}${pad('wrong')}`);
  const sum: Tally = { planted: 0, right: 0, among: 0, missed: 0, wrong: 0 };
  for (const kind of SLIP_KINDS) {
    const t = of(kind);
    for (const k of Object.keys(sum) as (keyof Tally)[]) sum[k] += t[k];
    console.log(`  ${kind.padEnd(26)}${pad(t.planted)}${pad(t.right)}${pad(t.among)}${pad(t.missed)}${pad(t.wrong.toFixed(1))}`); // prettier-ignore
  }
  const share = (v: number, n: number): string => `${((100 * v) / n).toFixed(1)} %`;
  console.log(`  of ${sum.planted}: right ${share(sum.right, sum.planted)}, several causes named, the right one among them ${share(sum.among, sum.planted)}, missed ${share(sum.missed, sum.planted)}; surveys with something innocent blamed ${misled} (${share(misled, surveys)})`); // prettier-ignore
  let blamed = 0;
  for (let i = 0; i < surveys; i++) {
    const { wrong } = judge(inventedSurvey(50_000 + i, []));
    if (wrong.length) blamed++;
    if (wrong.length && process.env.BLAME) console.log(`  clean ${50_000 + i}: ${wrong[0].kind}: ${wrong[0].text.slice(0, 200)}`); // prettier-ignore
  }
  console.log(`  of ${surveys} without a slip ${blamed} asked about (${share(blamed, surveys)})`);
}
