import { type Keep, CRITICAL } from '#core/kernel';
import { HeightSystem, type HeightObservation, type ShiftTest } from '#core/adjustment';
import { type BookRecord, fileRowOf, recordIn, recordsOfSetup, targetHeightsOf } from '#core/book';
import type { Reduction } from '#core/reduction';
import { heightRemedies, projectLength } from '../blunders.ts';
import type { BookAt } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { editOne } from '../../remedies.ts';
import type { Remedy } from '../../query.ts';
import type { Cause, Finding } from './cause.ts';
import { controlRemedies, type ControlRows } from './control-rows.ts';
import { heightEvidence, type HeightSight } from './height-evidence.ts';

// Which one height is wrong, where elevations that are seen more than once do not agree: an instrument's, a target's, or
// the elevation that was given. All setups that see the same points have their say.

/** One height that may be wrong, and the observations that it shifts. */
interface Suspect {
  what: 'instrument' | 'target' | 'run' | 'given';
  shifted: number[];
  test: ShiftTest;
}

/** Of squares of normal deviates one in a thousand is larger (chi-square, one degree of freedom). */
const CRITICAL_GAIN = 10.83;
/** m; where tripods and poles end. */
const TRIPOD = { least: 0, most: 2.3 };
const POLE = { least: 0, most: 6 };
const MOST_SLIPS = 12;
/** Sightings of known points that follow each other with no more than a few rows between. */
const NEAR_ROWS = 4;

export interface CauseContext {
  doc: ProjectDocument;
  reduction: Reduction;
  books: ReadonlyMap<string, BookAt>;
  control: ControlRows;
  /** Sightings whose direction or distance is out, by book and row: their rises say nothing. */
  out: ReadonlySet<string>;
  /** Setups that do not stand where they say. */
  elsewhere: ReadonlySet<number>;
  keep: Keep;
}

export function heightFindings(context: CauseContext): Finding[] {
  const { doc, reduction, books, out, elsewhere, keep } = context;
  const evidence = heightEvidence(doc, reduction, books, keep);
  const sights = evidence.sights.filter((s) => !out.has(`${s.book}:${s.row}`) && !elsewhere.has(s.setup));
  const findings: Finding[] = [];
  // Each slip found becomes an unknown of its own, so that the next one is looked for beside it.
  const shifts: number[][] = [];
  for (let turn = 0; turn < MOST_SLIPS; turn++) {
    const system = systemOf(sights, evidence.unknowns, shifts);
    const suspects = suspectsOf(sights, system).filter((s) => s.test.gain > CRITICAL_GAIN);
    suspects.sort((a, b) => b.test.gain - a.test.gain || a.shifted.length - b.shifted.length);
    const best = plainest(sights, evidence.unknowns, shifts, suspects);
    if (!best) break;
    // Stated deviations are round figures: what explains all but a fiftieth explains it as well.
    const alike = suspects.filter(
      (s) =>
        s === best ||
        (s.test.gain > Math.max(best.test.gain, 0) - Math.max(CRITICAL_GAIN, 0.02 * best.test.gain) &&
          (best.what !== 'instrument' || s.what !== 'run' || s.test.gain <= best.test.gain)),
    );
    shifts.push(best.shifted);
    if (Math.abs(best.test.shift) <= doc.settings.checkHeight) continue;
    const finding = findingOf(context, sights, alike);
    if (finding) findings.push(finding);
  }
  return findings;
}

/**
 * The suspect that explains most. A run of sights that leaves as much again to explain is less likely than the
 * instrument’s height with one more slip: both of them shift most of the setup.
 */
function plainest(
  sights: readonly HeightSight[],
  unknowns: number,
  shifts: readonly number[][],
  suspects: readonly Suspect[],
): Suspect | undefined {
  const best = suspects[0] as Suspect | undefined;
  if (best?.what !== 'run') return best;
  const setup = sights[best.shifted[0]].setup;
  const instrument = suspects.find((s) => s.what === 'instrument' && sights[s.shifted[0]].setup === setup);
  if (!instrument || instrument.test.gain < 0.5 * best.test.gain) return best;
  const left = suspectsOf(sights, systemOf(sights, unknowns, [...shifts, best.shifted]));
  return left.some((s) => s.test.gain > CRITICAL_GAIN && sights[s.shifted[0]].setup === setup) ? instrument : best;
}

function systemOf(sights: readonly HeightSight[], unknowns: number, shifts: readonly number[][]): HeightSystem {
  if (shifts.length === 0) return new HeightSystem(sights, unknowns);
  const terms = sights.map((s) => [...s.terms]);
  shifts.forEach((rows, k) => {
    for (const i of rows) terms[i].push({ unknown: unknowns + k, a: 1 });
  });
  return new HeightSystem(sights.map((s, i): HeightObservation => ({ ...s, terms: terms[i] })), unknowns + shifts.length); // prettier-ignore
}

function suspectsOf(sights: readonly HeightSight[], system: HeightSystem): Suspect[] {
  const bySetup = new Map<number, number[]>();
  const seen = new Map<string, Suspect>();
  const loud = new Set<number>();
  sights.forEach((s, i) => {
    if (s.setup >= 0) bySetup.set(s.setup, [...(bySetup.get(s.setup) ?? []), i]);
    if (system.loudness(i) > 1.5) loud.add(i);
  });
  const points = new Set([...loud].flatMap((i) => [sights[i].number]));
  const worth = (rows: readonly number[]): boolean => rows.some((i) => loud.has(i) || points.has(sights[i].number));
  const add = (what: Suspect['what'], shifted: number[]): void => {
    if (shifted.length === 0 || !worth(shifted)) return;
    const key = `${what === 'run' ? 'target' : what} ${shifted.join()}`;
    const test = seen.has(key) ? null : system.test(shifted);
    if (test) seen.set(key, { what, shifted, test });
  };
  for (const own of bySetup.values()) {
    add('instrument', own);
    // Sightings that follow each other with one height: a pole that was changed, and not noted.
    for (let from = 0; from < own.length; from++) {
      add('target', [own[from]]);
      for (let to = from + 1; to < own.length && to < from + 12; to++) {
        const [before, next] = [sights[own[to - 1]], sights[own[to]]];
        if (next.target !== before.target || next.book !== before.book || next.row - before.row > NEAR_ROWS) break;
        const run = own.slice(from, to + 1);
        if (run.length < own.length) add('run', run);
      }
    }
  }
  sights.forEach((s, i) => {
    if (s.what === 'given') add('given', [i]);
  });
  return [...seen.values()];
}

function findingOf(context: CauseContext, sights: readonly HeightSight[], alike: readonly Suspect[]): Finding | null {
  const { doc, reduction } = context;
  const causes: { cause: Cause; suspect: Suspect }[] = [];
  for (const suspect of alike) {
    const cause = causeOf(context, sights, suspect, alike);
    // A run that ends where the setup ends, or one sight of it, says no more than the plainest of them.
    if (cause && !causes.some((c) => c.cause.clause === cause.clause)) causes.push({ cause, suspect });
  }
  if (causes.length === 0) return null;
  // What the book itself speaks for is likelier than what explains the figures as well; one of it alone is the cause.
  const backed = causes.filter((c) => c.cause.backed);
  const kept = backed.length === 1 ? backed : causes.sort((a, b) => likelihood(b.cause) - likelihood(a.cause));
  // Of two shots of one place nothing tells which height was wrong: that is asked with both readings (twice-queries.ts).
  const places = new Set(alike.map((s) => (s.what === 'target' ? sights[s.shifted[0]].number : '')));
  if (backed.length === 0 && places.size === 1 && isTwice([...places][0])) return null;
  const [first] = kept;
  const seenAt = first.suspect.shifted.map((i) => sights[i]);
  const explains = new Set(alike.flatMap((s) => touchedBy(sights, s)).map((s) => `${s.book}:${s.row}`));
  const home = seenAt.find((s) => s.setup >= 0) ?? touchedBy(sights, first.suspect).find((s) => s.setup >= 0);
  const setup = home ? reduction.setups[home.setup] : null;
  const off = Math.abs(first.suspect.test.shift);
  const names = [...new Set(touchedBy(sights, first.suspect).map((s) => shownNumber(s.number)))];
  return {
    setup: home?.setup ?? -1,
    setups: [...new Set(alike.filter((a) => a.what !== 'target').flatMap((a) => touchedBy(sights, a).map((o) => o.setup)))].filter((i) => i >= 0), // prettier-ignore
    book: setup?.book ?? '',
    subject: first.suspect.what === 'given' ? `control ${seenAt[0].number}` : String(seenAt[0].what === 'rise' && first.suspect.what !== 'instrument' ? seenAt[0].row : (setup?.row ?? 0)), // prettier-ignore
    causes: kept.slice(0, 4).map((c) => c.cause),
    misfit: `Heights from ${setup?.number ?? '?'} to ${names.slice(0, 4).join(', ')} differ from what is known by ${projectLength(doc, off)}.`,
    decide: decisionFor(
      kept.map((c) => c.suspect),
      sights,
      setup?.number ?? '',
    ),
    evidence: [alike.map((s) => s.shifted.map((i) => [sights[i].number, sights[i].row])), Math.round(first.suspect.test.shift * 1000)], // prettier-ignore
    explains,
    rows: seenAt.map((s) => s.row).filter((row) => row > 0),
    place: setup?.station ? { x: setup.station.x, y: setup.station.y } : null,
  };
}

/** What the book speaks for, then what crews write down, then what was given. */
const likelihood = (c: Cause): number => (c.backed ? 2 : 0) + (c.kind === 'control-wrong' ? 0 : 1);

const isTwice = (number: string): boolean => number.startsWith('place ');
const shownNumber = (number: string): string => (isTwice(number) ? 'a place measured twice' : number);

/** The sightings that a suspect shifts, or that look at its point. */
const touchedBy = (sights: readonly HeightSight[], s: Suspect): HeightSight[] =>
  s.what === 'given'
    ? sights.filter((o) => o.what !== 'given' && (o.number === sights[s.shifted[0]].number || o.terms.some((t) => t.unknown === sights[s.shifted[0]].terms[0].unknown))) // prettier-ignore
    : s.shifted.map((i) => sights[i]);

/** What would tell the remaining causes apart. */
function decisionFor(suspects: readonly Suspect[], sights: readonly HeightSight[], station: string): string {
  const given = suspects.find((s) => s.what === 'given');
  if (given) return `A sighting of ${sights[given.shifted[0]].number} from another setup would tell, or of one more known elevation from ${station}.`; // prettier-ignore
  return `A sighting of one more known elevation from ${station} would tell.`;
}

function causeOf(
  context: CauseContext,
  sights: readonly HeightSight[],
  suspect: Suspect,
  alike: readonly Suspect[],
): Cause | null {
  const { doc, control } = context;
  const own = suspect.shifted.map((i) => sights[i]);
  const { shift } = suspect.test;
  const by = projectLength(doc, Math.abs(shift));
  if (suspect.what === 'given') {
    const { number } = own[0];
    const rows = touchedBy(sights, suspect);
    const setups = new Set(rows.map((s) => s.setup));
    const text = `${number} is ${by} ${shift > 0 ? 'lower' : 'higher'} than its given elevation by what ${setups.size > 1 ? `${setups.size} setups` : 'one setup'} sighted, and the other points fit. Is its given elevation wrong?`; // prettier-ignore
    return {
      kind: 'control-wrong',
      clause: `the given elevation of ${number} is ${by} too ${shift > 0 ? 'high' : 'low'}`,
      text,
      remedies: controlRemedies(control, number, 'elevation'),
      backed: false,
    };
  }
  return suspect.what === 'instrument'
    ? instrumentCause(context, own, shift, suspect.test.sd)
    : targetCause(context, own, shift, suspect.test.sd, suspect.what === 'run' || alike.length === 1);
}

/** Written digits exchanged with their neighbours: how a height is mistyped. */
function exchanges(height: number): number[] {
  const digits = height.toFixed(3);
  const at = [0, 2, 3, 4].filter((i) => i < digits.length);
  return at.slice(0, -1).map((i, k) => {
    const list = [...digits];
    [list[i], list[at[k + 1]]] = [list[at[k + 1]], list[i]];
    return Number(list.join(''));
  });
}

/** The height that was meant: one used elsewhere, the digits in another order, or what the sightings say. */
function meantHeight(
  written: number,
  wanted: number,
  sd: number,
  others: readonly number[],
): { height: number; backed: 'used' | 'digits' | null } {
  const within = Math.max(0.006, CRITICAL * sd);
  const nearest = (list: readonly number[]): number | undefined =>
    list.filter((h) => h !== written && Math.abs(h - wanted) <= within).sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted))[0]; // prettier-ignore
  const used = nearest(others);
  if (used !== undefined) return { height: used, backed: 'used' };
  const swapped = nearest(exchanges(written));
  if (swapped !== undefined) return { height: swapped, backed: 'digits' };
  // Off by a whole decimetre, where that is as good: a digit misread.
  const step = Number((written + Math.round((wanted - written) * 10) / 10).toFixed(3));
  return { height: step !== written && Math.abs(step - wanted) <= 2 * sd ? step : Number(wanted.toFixed(3)), backed: null }; // prettier-ignore
}

function instrumentCause(
  { doc, reduction, books }: CauseContext,
  own: readonly HeightSight[],
  shift: number,
  sd: number,
): Cause | null {
  const setup = reduction.setups[own[0].setup];
  const b = books.get(setup.book)!;
  const meant = meantHeight(setup.height, setup.height - shift, sd, []);
  if (!(meant.height >= TRIPOD.least && meant.height <= TRIPOD.most)) return null;
  const { height } = meant;
  const known = own.filter((s) => !s.number.startsWith('place '));
  const all = known.length > 1 ? `all ${known.length} known points are` : `${shownNumber(own[0].number)} is`;
  const by = projectLength(doc, Math.abs(shift));
  return {
    kind: 'instrument-height',
    clause: `the instrument height at ${setup.number} (row ${fileRowOf(setup.row)}) is ${projectLength(doc, height)}, not ${projectLength(doc, setup.height)}`, // prettier-ignore
    text: `${all} ${by} too ${shift > 0 ? 'high' : 'low'}. Its instrument height is ${projectLength(doc, setup.height)}; ${projectLength(doc, height)} would explain it.`, // prettier-ignore
    remedies: [
      { label: `Instrument height ${projectLength(doc, height)}`, change: editOne(`${b.id}:${setup.row}`, { height }) },
    ],
    backed: meant.backed === 'digits',
  };
}

function targetCause(
  { doc, reduction, books }: CauseContext,
  own: readonly HeightSight[],
  shift: number,
  sd: number,
  withRun: boolean,
): Cause | null {
  const [first] = own;
  const b = books.get(first.book)!;
  const record = recordIn(b.records, first.row);
  if (!record || Number.isNaN(record.height)) return null;
  const meant = meantHeight(record.height, record.height + shift, sd, targetHeightsOf(b.records));
  const { height } = meant;
  if (!(height >= POLE.least && height <= POLE.most)) return null;
  const setup = reduction.setups[first.setup];
  const between = own.length > 1 ? recordsBetween(b, setup.row, first.row, own[own.length - 1].row, record.height) : [];
  const name = between.length > 1 ? `${between.length} sightings from ${between[0].number} to ${between[between.length - 1].number}` : recordName(record); // prettier-ignore
  const used = meant.backed === 'used' ? ', which the crew used too,' : '';
  const remedies: Remedy[] =
    between.length > 1 ? [runRemedy(doc, b, between, height)] : heightRemedies(doc, b, record, height);
  return {
    kind: 'target-height',
    clause: `the target height of ${name} is ${projectLength(doc, height)}, not ${projectLength(doc, record.height)}`,
    text: `${name} is ${projectLength(doc, Math.abs(shift))} too ${shift > 0 ? 'high' : 'low'}. Its target height is ${projectLength(doc, record.height)}; ${projectLength(doc, height)}${used || ','} would explain it.`.replace('m, would', 'm would'), // prettier-ignore
    remedies: withRun ? remedies : remedies.slice(0, 1),
    backed: meant.backed !== null,
  };
}

const recordName = (r: BookRecord): string => r.number || `row ${fileRowOf(r.row)}`;

/** Sightings of a setup from one row to another that carry one height. */
const recordsBetween = (b: BookAt, setup: number, from: number, to: number, height: number): BookRecord[] =>
  recordsOfSetup(b.records, setup).filter((r) => r.row >= from && r.row <= to && r.height === height);

const runRemedy = (doc: ProjectDocument, b: BookAt, run: readonly BookRecord[], height: number): Remedy => ({
  label: `${projectLength(doc, height)} for these ${run.length}`,
  change: {
    op: 'points.edit',
    edits: Object.fromEntries(run.map((r) => [`${b.id}:${r.row}`, { set: { height }, undo: [] }])),
  },
});
