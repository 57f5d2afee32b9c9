import { formatAngle } from '#core/measure';
import { fileRowOf, recordIn, recordsOfSetup } from '#core/book';
import type { CircleTurn, Compared, Reduction, SetupResult, SightDoubt } from '#core/reduction';
import { makeAnew, type Keep } from '#core/kernel';
import { decideRemedies, projectLength } from './blunders.ts';
import type { BookAt, PointTable } from '#core/stages';
import { findingKind, findingText, type Finding } from './causes/cause.ts';
import { controlRows } from './causes/control-rows.ts';
import { waysForFailed } from './causes/failed-setup.ts';
import { heightFindings } from './causes/height-causes.ts';
import { planFindings } from './causes/plan-causes.ts';
import { turnPlace } from './causes/turn-place.ts';
import type { ProjectDocument } from '#core/project';
import type { Draft, Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';

const base = { stage: 'book' as const, lines: [] as string[] };

/**
 * What setups are asked about: whatever does not fit, with the causes that explain it, weighed over all of them; and
 * the setups whose heights are in doubt as a whole.
 */
export function querySetups(
  doc: ProjectDocument,
  points: PointTable,
  reduction: Reduction,
  books: ReadonlyMap<string, BookAt>,
  keep: Keep = makeAnew,
): { drafts: Draft[]; doubted: Set<number>; explains: (book: string, row: number) => boolean } {
  const context = { doc, reduction, books, control: controlRows(doc, points), keep };
  const plan = planFindings(context, points);
  const heights = heightFindings({ ...context, out: plan.out, elsewhere: plan.elsewhere });
  const asker = new SetupAsker(doc, reduction, books, [...plan.findings, ...heights]);
  const doubted = new Set([...plan.elsewhere, ...heights.flatMap((f) => f.setups)]);
  const explained = new Set([...plan.findings, ...heights].flatMap((f) => [...f.explains]));
  for (const s of reduction.setups) for (const d of s.doubts) explained.add(`${s.book}:${d.row}`);
  const explains = (book: string, row: number): boolean => explained.has(`${book}:${row}`);
  return { drafts: reduction.setups.flatMap((setup, i) => asker.ask(setup, i)), doubted, explains };
}

class SetupAsker {
  private readonly explained: Set<string>;
  private readonly ofControl: Set<string>;

  constructor(
    private readonly doc: ProjectDocument,
    private readonly reduction: Reduction,
    private readonly books: ReadonlyMap<string, BookAt>,
    private readonly findings: readonly Finding[],
  ) {
    this.explained = new Set(findings.flatMap((f) => [...f.explains]));
    this.ofControl = new Set(findings.flatMap((f) => (f.subject.startsWith('control ') ? [...f.explains] : [])));
  }

  ask(setup: SetupResult, at: number): Draft[] {
    const b = this.books.get(setup.book)!;
    if (setup.failed) return [this.failed(setup, b)];
    // A known point that several setups see elsewhere is asked about once, and not as a sight of each of them.
    const doubts = setup.doubts.filter((d) => d.what !== 'height' && !this.ofControl.has(`${setup.book}:${d.row}`));
    const own = this.findings.filter((f) => f.setup === at && !(doubts.length && f.subject === String(setup.row)));
    const out = [
      ...own.map((f) => this.found(f, setup, b)),
      ...this.free(setup, b, doubts),
      ...setup.turns.flatMap((t) => this.turned(setup, b, t)),
    ];
    const isSaid = out.some((d) => d.weight === 'stop');
    if (setup.waits && !isSaid) out.push(this.waiting(setup, b));
    return [...out, ...this.checks(setup, b, out.length > 0)];
  }

  private where(setup: SetupResult, b: BookAt): string {
    return `Setup at ${setup.number} (row ${fileRowOf(setup.row)} of ${b.name})`;
  }

  private place = (setup: SetupResult): Draft['place'] =>
    setup.station ? { x: setup.station.x, y: setup.station.y } : null;

  private rows = (setup: SetupResult, b: BookAt): number[] => recordsOfSetup(b.records, setup.row).map((r) => r.row);

  private failed(setup: SetupResult, b: BookAt): Draft {
    const way = waysForFailed(this.doc, setup, this.reduction, b);
    const n = this.rows(setup, b).length;
    return {
      ...base,
      book: b.id,
      key: `setup-fails:${b.id}:${setup.row}`,
      kind: 'setup-fails',
      weight: 'stop',
      text: `${this.where(setup, b)} cannot be reduced: ${setup.failed}.${way?.text ? ` ${way.text}` : ''} ${n === 1 ? 'Its one sighting gives' : `Its ${n} sightings give`} no points.`,
      evidence: [setup.number, setup.failed],
      place: this.place(setup),
      rows: [],
      remedies: way?.remedies ?? [],
    };
  }

  private found(f: Finding, setup: SetupResult, b: BookAt): Draft {
    const [first] = f.causes;
    const kind = findingKind(f);
    const text = findingText(f);
    const said = f.subject.startsWith('control ') ? text : `${this.where(setup, b)}: ${text}`;
    const remedies: Remedy[] = f.causes.length === 1 ? first.remedies : f.causes.flatMap((c) => c.remedies.slice(0, 1));
    const labels = new Set(remedies.map((r) => r.label));
    const decide = setup.waits ? decideRemedies(b.id, setup).filter((r) => !labels.has(r.label)) : [];
    return {
      ...base,
      book: b.id,
      key: `${kind}:${f.subject.startsWith('control ') ? f.subject : `${b.id}:${f.subject}`}`,
      kind,
      weight: setup.waits ? 'stop' : 'look',
      text: said,
      evidence: [f.evidence, f.causes.map((c) => c.clause)],
      place: f.place,
      rows: f.rows,
      remedies: [...remedies, ...decide],
    };
  }

  /** What does not fit where a station was found from known points. */
  private free(setup: SetupResult, b: BookAt, doubts: readonly SightDoubt[]): Draft[] {
    if (doubts.length === 0) return [];
    const { angle } = this.doc.settings;
    const by = (d: SightDoubt): string => (d.what === 'direction' ? formatAngle(Math.abs(d.off), angle, 0) : projectLength(this.doc, Math.abs(d.off))); // prettier-ignore
    const name = (d: SightDoubt): string => `the ${d.what} to ${d.number} (row ${fileRowOf(d.row)})`;
    const sure = doubts.every((d) => d.sure);
    const [first] = doubts;
    const text = sure
      ? `${this.where(setup, b)}: ${doubts.map((d) => `${name(d)} is off by ${by(d)} (${d.standardised.toFixed(0)} of its deviations)`).join(', and ')}, and the other sights that the station was found from agree. The station is found without it; ${this.waitingPoints(setup)}.` // prettier-ignore
      : `${this.where(setup, b)}: the sights that it was found from do not agree, and too few of them to tell which is wrong: ${doubts.map((d) => `${name(d)} by ${by(d)}`).join(', or ')}. One more sight of a known point would tell; ${this.waitingPoints(setup)}.`; // prettier-ignore
    const remedies = doubts.flatMap((d): Remedy[] => {
      const key = `${b.id}:${d.row}`;
      const other = d.what === 'direction' ? ('distance' as const) : ('direction' as const);
      const both = recordIn(b.records, d.row);
      const has = both && !Number.isNaN(other === 'distance' ? both.distance : both.circle);
      return [
        ...(has ? [{ label: `Use the ${other} to ${d.number} only`, change: { op: 'record.decide' as const, key, decision: other } }] : []), // prettier-ignore
        { label: `Set ${d.number} aside`, change: { op: 'record.decide', key, decision: 'aside' } },
      ];
    });
    return [
      {
        ...base,
        book: b.id,
        key: `free-sight:${b.id}:${setup.row}`,
        kind: sure ? (first.what === 'direction' ? 'circle-wrong' : 'distance-wrong') : 'sights-disagree',
        weight: setup.waits ? 'stop' : 'look',
        text,
        evidence: doubts.map((d) => [d.row, d.what, d.off.toPrecision(4), d.sure]),
        place: this.place(setup),
        rows: this.rows(setup, b),
        remedies,
      },
    ];
  }

  private waitingPoints = ({ shots }: SetupResult): string =>
    shots === 1 ? 'its one point waits' : `its ${shots} points wait`;

  private turned(setup: SetupResult, b: BookAt, t: CircleTurn): Draft[] {
    if (t.how === 'round' || t.how === 'decided') return [];
    const { angle, angleDecimals } = this.doc.settings;
    const record = recordIn(b.records, t.row)!;
    const by = formatAngle(t.by, angle, angleDecimals);
    const sighting = `the sighting of ${record.number} in row ${fileRowOf(t.row)}`;
    const open = t.how === 'hidden' && t.between.length > 0;
    const [first] = t.between;
    const likely = open ? turnPlace(setup, t, b) : null;
    const walk: Remedy[] = likely ? [{ label: `Turned before row ${fileRowOf(likely.row)}`, change: { op: 'record.decide', key: `${b.id}:${likely.row}`, decision: 'turned' } }] : []; // prettier-ignore
    const evidence = likely ? ` Turned before row ${fileRowOf(likely.row)}, the walk goes on by ${projectLength(this.doc, likely.step)} there, and leaps anywhere else.` : ' The crew can say, or a shot of a place that was measured otherwise too.'; // prettier-ignore
    const before: Remedy = {
      label: `Turned right before row ${fileRowOf(t.row)}`,
      change: { op: 'record.decide', key: `${b.id}:${t.row}`, decision: 'turned' },
    };
    const after: Remedy = {
      label: `Turned before row ${fileRowOf(first ?? t.row)}`,
      change: { op: 'record.decide', key: `${b.id}:${first ?? t.row}`, decision: 'turned' },
    };
    return [
      {
        ...base,
        book: b.id,
        key: `circle-turned:${b.id}:${t.row}`,
        kind: 'circle-turned',
        weight: open ? 'stop' : 'note',
        text: open
          ? `${this.where(setup, b)}: the circle reads ${by} more from ${sighting} on: it was turned, or that sighting misread. ${t.between.length === 1 ? 'One sighting' : `${t.between.length} sightings`} before it (from row ${fileRowOf(first)}) may be read with either orientation and ${t.between.length === 1 ? 'waits' : 'wait'}.${evidence}` // prettier-ignore
          : `${this.where(setup, b)}: the circle reads ${by} more from ${sighting} on, and what follows is taken with that orientation.`, // prettier-ignore
        evidence: [t.row, t.by.toFixed(6), t.between],
        place: this.place(setup),
        rows: open ? t.between : [t.row],
        remedies: open
          ? [...walk, before, after, { label: `Exclude the sighting of ${record.number}`, change: editOne(`${b.id}:${t.row}`, { off: true }) }] // prettier-ignore
          : [],
      },
    ];
  }

  private waiting(setup: SetupResult, b: BookAt): Draft {
    return {
      ...base,
      book: b.id,
      key: `backsight-off:${b.id}:${setup.row}`,
      kind: 'backsight-off',
      weight: 'stop',
      text: `${this.where(setup, b)}: ${setup.waits}${this.offList(setup.backsights)}. ${setup.shots === 1 ? 'Its one point waits' : `Its ${setup.shots} points wait`}.`,
      evidence: setup.backsights.map((c) => [c.row, c.number, Math.round(c.off * 1e4)]),
      place: this.place(setup),
      rows: this.rows(setup, b),
      remedies: decideRemedies(b.id, setup),
    };
  }

  private checks(setup: SetupResult, b: BookAt, isSaid: boolean): Draft[] {
    const out: Draft[] = [];
    const turned = new Set(setup.turns.filter((t) => t.how === 'hidden').map((t) => t.row));
    const doubted = new Set(setup.doubts.map((d) => d.row));
    for (const c of setup.waits && !isSaid ? setup.checks : [...setup.backsights, ...setup.checks]) {
      if (c.within || c.decided || turned.has(c.row) || doubted.has(c.row)) continue;
      if (this.explained.has(`${setup.book}:${c.row}`) || (setup.waits && setup.backsights.includes(c))) continue;
      out.push({
        ...base,
        book: b.id,
        key: `check-off:${b.id}:${c.row}`,
        kind: 'check-off',
        weight: 'look',
        text: `${c.number}, sighted from ${setup.number} in row ${fileRowOf(c.row)} of ${b.name}, is off by ${this.offBy(c)}${c.slip === 'spread' ? '; its own readings differ' : ''}.`,
        evidence: [c.number, Math.round(c.off * 1e4), Math.round(c.heightDifference * 1e4)],
        place: this.place(setup),
        rows: [],
        remedies: [{ label: 'Exclude the sighting', change: editOne(`${b.id}:${c.row}`, { off: true }) }],
      });
    }
    return out;
  }

  /** How far a known point comes out from where it is. */
  private offBy(c: Compared): string {
    const { angle, angleDecimals } = this.doc.settings;
    return [
      `${formatAngle(c.difference, angle, angleDecimals)} in bearing`,
      Number.isNaN(c.distanceDifference) ? '' : `${projectLength(this.doc, c.distanceDifference)} in distance`,
      Number.isNaN(c.heightDifference) ? '' : `${projectLength(this.doc, c.heightDifference)} in height`,
    ]
      .filter(Boolean)
      .join(', ');
  }

  /** The same of every backsight that is out of tolerance, behind a sentence that names them. */
  private offList(list: readonly Compared[]): string {
    const off = list.filter((c) => !c.within);
    if (off.length === 0) return '';
    if (off.length === 1) return `, off by ${this.offBy(off[0])}`;
    return `: ${off.map((c) => `${c.number} is off by ${this.offBy(c)}`).join('; ')}`;
  }
}
