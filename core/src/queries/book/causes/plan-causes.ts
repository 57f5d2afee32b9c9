import { fileRowOf, recordIn, recordsOfSetup } from '#core/book';
import { difference, distance, sinCos } from '#core/kernel';
import { formatAngle } from '#core/measure';
import { type Known, type SetupResult } from '#core/reduction';
import { type PointTable, nextFreeNumber } from '#core/stages';
import { type Remedy } from '../../query.ts';
import { editOne } from '../../remedies.ts';
import { projectLength } from '../blunders.ts';
import { standsElsewhere, typedAzimuth } from '../typed-blunders.ts';
import { type Cause, type Finding } from './cause.ts';
import { controlRemedies } from './control-rows.ts';
import { facedRows } from './faced-rows.ts';
import { type CauseContext } from './height-causes.ts';
import {
  type Fit,
  type PlanLimits,
  type PlanSight,
  type SightUse,
  fitSights,
  placeSeen,
  planSights,
} from './plan-sights.ts';

// Which one reading, number or coordinate is wrong, where directions and distances to known points do not agree. Every
// hypothesis is laid over the readings as they are, however far off it is: what makes all the rest agree remains.

interface Hypothesis {
  cause: () => Cause;
  fit: Fit;
  /** How many values it had to choose: the fewer, the likelier. */
  chosen: number;
}

export interface PlanFindings {
  findings: Finding[];
  /** Sightings that are out in direction or distance, by book and row. */
  out: Set<string>;
  /** Setups that do not stand where they say. */
  elsewhere: Set<number>;
}

export function planFindings(context: Omit<CauseContext, 'out' | 'elsewhere'>, points: PointTable): PlanFindings {
  const work = new PlanWork(context, points);
  return work.run();
}

class PlanWork {
  private readonly limits: PlanLimits;
  private readonly sights: PlanSight[][];
  private readonly out = new Set<string>();
  private readonly elsewhere = new Set<number>();
  /** Numbers that another setup sees where they are given, by setup. */
  private readonly goodAt = new Map<string, Set<number>>();

  constructor(
    private readonly context: Omit<CauseContext, 'out' | 'elsewhere'>,
    private readonly points: PointTable,
  ) {
    const { checkPlan, checkHeight } = context.doc.settings;
    this.limits = { plan: checkPlan, height: checkHeight };
    const { reduction } = context;
    this.sights = reduction.setups.map((s) => (s.failed ? [] : planSights(s, reduction, checkPlan)));
    this.sights.forEach((list, i) => {
      for (const s of list) {
        const key = `${reduction.setups[i].book}:${s.compared.row}`;
        if (s.compared.off > s.limit || s.compared.slip) this.out.add(key);
        else if (list.length > 1 && !Number.isNaN(s.distance)) {
          const good = this.goodAt.get(s.target.number) ?? new Set<number>();
          this.goodAt.set(s.target.number, good.add(i));
        }
      }
    });
  }

  run(): PlanFindings {
    const { reduction } = this.context;
    const findings = this.wrongControl();
    reduction.setups.forEach((setup, i) => {
      const mine = findings.filter((f) => this.sights[i].some((s) => f.explains.has(`${setup.book}:${s.compared.row}`))); // prettier-ignore
      const list = this.sights[i].filter((s) => !mine.some((f) => f.explains.has(`${setup.book}:${s.compared.row}`)));
      if (mine.length && !setup.failed && fitSights(setup.station!, list, plainly).fits) {
        // Turned by a wrong point and nothing else: the rest agrees among itself.
        for (const s of list) mine[0].explains.add(`${setup.book}:${s.compared.row}`);
        return;
      }
      const finding = this.ofSetup(setup, i, list);
      if (!finding) {
        // What does not fit in plan, for reasons nobody knows, says nothing of heights either.
        if (list.filter((s) => this.isOut(setup, s)).length > 1) this.elsewhere.add(i);
        return;
      }
      findings.push(finding);
      // Heights from a station that is another, or elsewhere, say nothing.
      if (finding.causes.some((c) => ELSEWHERE.has(c.kind))) this.elsewhere.add(i);
    });
    return { findings, out: this.out, elsewhere: this.elsewhere };
  }

  private isOut = (setup: SetupResult, s: PlanSight): boolean => this.out.has(`${setup.book}:${s.compared.row}`);

  /** Known points that two setups or more see in one place, and that place is not the given one. */
  private wrongControl(): Finding[] {
    const { reduction, doc, control } = this.context;
    const seen = new Map<string, { setup: number; sight: PlanSight; dx: number; dy: number }[]>();
    reduction.setups.forEach((setup, i) => {
      for (const s of this.sights[i]) {
        if (!this.isOut(setup, s) || Number.isNaN(s.distance)) continue;
        const others = this.sights[i].filter((o) => o.target.number !== s.target.number);
        if (others.length === 0) continue;
        const fit = fitSights(setup.station!, others, plainly);
        if (!fit.fits || Number.isNaN(fit.orientation)) continue;
        const at = placeSeen(setup.station!, s, fit.orientation, sinCos);
        const list = seen.get(s.target.number) ?? [];
        list.push({ setup: i, sight: s, dx: at.x - s.target.x, dy: at.y - s.target.y });
        seen.set(s.target.number, list);
      }
    });
    const out: Finding[] = [];
    for (const [number, list] of seen) {
      const [first] = list;
      const setups = new Set(list.map((l) => l.setup));
      const alike = list.every((l) => distance(l.dx - first.dx, l.dy - first.dy) <= 2 * this.limits.plan);
      if (setups.size < 2 || !alike || this.goodAt.has(number)) continue;
      const setup = reduction.setups[first.setup];
      const by = projectLength(doc, distance(first.dx, first.dy));
      const rows = list.map((l) => l.sight.compared.row);
      const isControl = first.sight.target.from === 'control';
      const text = `${setups.size} setups see ${number} ${by} from where it is ${isControl ? 'given' : first.sight.target.from}, all of them in one place, and the other points fit. Are its coordinates wrong?`; // prettier-ignore
      out.push({
        setup: first.setup,
        setups: [...setups],
        book: setup.book,
        subject: `control ${number}`,
        causes: [{ kind: 'control-wrong', clause: `the coordinates of ${number} are wrong`, text, remedies: controlRemedies(control, number, 'place'), backed: false }], // prettier-ignore
        misfit: text,
        decide: '',
        evidence: [number, Math.round(first.dx * 1000), Math.round(first.dy * 1000)],
        explains: new Set(list.map((l) => `${reduction.setups[l.setup].book}:${l.sight.compared.row}`)),
        rows,
        place: { x: first.sight.target.x, y: first.sight.target.y },
      });
    }
    return out;
  }

  private ofSetup(setup: SetupResult, at: number, list: readonly PlanSight[]): Finding | null {
    const { doc, reduction, books } = this.context;
    const b = books.get(setup.book)!;
    if (setup.failed) return null;
    const bad = list.filter((s) => this.isOut(setup, s) && !s.compared.decided);
    if (bad.length === 0) return null;
    const found = this.hypotheses(setup, at, list);
    found.sort((p, q) => q.fit.spare - q.chosen - (p.fit.spare - p.chosen) || p.fit.score - q.fit.score);
    const best = found[0] as Hypothesis | undefined;
    const value = (h: Hypothesis): number => h.fit.spare - h.chosen;
    let causes = best ? found.filter((h) => value(h) >= value(best) - 0.25).map((h) => h.cause()) : [];
    if (causes.length === 0) {
      const typed = standsElsewhere(doc, setup, reduction, b);
      if (typed) causes = [{ ...typed, clause: typed.text, backed: true }];
    }
    if (causes.length === 0) return null;
    const backed = causes.filter((c) => c.backed);
    const kept = backed.length === 1 ? backed : causes.filter((c, i) => causes.findIndex((o) => o.clause === c.clause) === i); // prettier-ignore
    const names = [...new Set(bad.map((s) => s.target.number))];
    return {
      setup: at,
      setups: [at],
      book: setup.book,
      subject: String(setup.row),
      causes: kept.slice(0, 4),
      misfit: `Its sightings of ${names.join(', ')} disagree by up to ${projectLength(doc, Math.max(...bad.map((s) => s.compared.off)))}.`,
      decide: `One more sighting of a known point from ${setup.number} would tell.`,
      evidence: bad.map((s) => [s.compared.row, s.target.number, Math.round(s.compared.off * 1e4)]),
      explains: new Set(bad.map((s) => `${setup.book}:${s.compared.row}`)),
      rows: recordsOfSetup(b.records, setup.row).map((r) => r.row),
      place: setup.station ? { x: setup.station.x, y: setup.station.y } : null,
    };
  }

  private hypotheses(setup: SetupResult, at: number, list: readonly PlanSight[]): Hypothesis[] {
    const { doc, reduction, books } = this.context;
    const b = books.get(setup.book)!;
    const station = setup.station!;
    const out: Hypothesis[] = [];
    const put = (fit: Fit, chosen: number, cause: () => Cause): void => {
      if (fit.fits && fit.spare - Math.ceil(chosen) >= 1) out.push({ fit, chosen, cause });
    };
    const typed = typedAzimuth(doc, setup, reduction, b);
    if (typed) put({ fits: true, spare: list.length + 1, orientation: 0, score: 0 }, 1, () => ({ ...typed, clause: typed.text, backed: true })); // prettier-ignore
    for (const s of list) {
      const only =
        (part: Partial<SightUse>) =>
        (o: PlanSight): SightUse =>
          o.compared.row === s.compared.row ? { ...plainly(o), ...part } : plainly(o);
      if (s.compared.slip === 'face') {
        put(fitSights(station, list, only({ useDirection: false })), 0, () => this.faceCause(setup, s));
        continue;
      }
      const others = list.filter((o) => o !== s);
      for (const k of reduction.known.values()) {
        if (k.number === s.target.number || k.number === station.number) continue;
        if (!this.couldBe(setup, s, k, others)) continue;
        const fit = fitSights(station, list, only({ target: k }));
        if (others.length > 0 || fit.fits) put(fit, 0.5, () => this.numberCause(setup, s, k, others.length > 0));
      }
      put(fitSights(station, list, only({ useDirection: false })), 1, () => this.readingCause(setup, s, 'circle')); // prettier-ignore
      put(fitSights(station, list, only({ useDistance: false })), 1, () => this.readingCause(setup, s, 'distance')); // prettier-ignore
      const without = fitSights(station, list, only({ useDirection: false, useDistance: false }));
      const record = recordIn(b.records, s.compared.row);
      if (record?.role === 'shot' && s.compared.off > 0.5 && without.fits)
        put({ ...without, spare: Math.max(without.spare, 2) }, 0.5, () => this.numberOfControl(setup, s));
      else if (!this.goodElsewhere(s.target.number, at)) put(without, 2, () => this.otherPoint(setup, s));
      else put(without, 2, () => this.otherPoint(setup, s, true));
    }
    for (const k of reduction.known.values()) {
      if (k.number === setup.number || list.some((s) => s.target.number === k.number)) continue;
      const fit = fitSights(k, list, plainly);
      if (fit.fits && new Set(list.map((s) => s.target.number)).size > 1) put(fit, 0.5, () => this.stationCause(setup, k, list)); // prettier-ignore
    }
    return out.length ? out : this.twoNames(setup, list);
  }

  /** Where no one slip explains it: the station called by another name, and one of its sights too. */
  private twoNames(setup: SetupResult, list: readonly PlanSight[]): Hypothesis[] {
    const known = [...this.context.reduction.known.values()];
    const out: Hypothesis[] = [];
    if (list.length < 3 || known.length > MOST_KNOWN) return out;
    for (const station of known) {
      if (station.number === setup.number) continue;
      for (const s of list)
        for (const k of known) {
          if (k.number === s.target.number || k.number === station.number) continue;
          const apart = distance(k.x - station.x, k.y - station.y);
          if (Math.abs(apart - s.distance) > s.limit) continue;
          const read = (o: PlanSight): SightUse => (o.target.number === s.target.number && o.role === s.role ? { ...plainly(o), target: k } : plainly(o)); // prettier-ignore
          const fit = fitSights(station, list, read);
          if (!fit.fits || fit.spare < 4) continue;
          out.push({ fit, chosen: 1, cause: () => this.twoNamesCause(setup, station, s, k) });
        }
    }
    return out;
  }

  private twoNamesCause(setup: SetupResult, station: Known, s: PlanSight, k: Known): Cause {
    const [one, other] = [this.stationCause(setup, station, [s]), this.numberCause(setup, s, k, true)];
    const edits = [one, other].flatMap((c) => {
      const { change } = c.remedies[0];
      return change.op === 'points.edit' ? Object.entries(change.edits) : [];
    });
    const text = `what it sights fits only if the instrument stood on ${station.number}, and what is called ${s.target.number} is ${k.number}. Were both written down wrong?`; // prettier-ignore
    return {
      kind: 'station-wrong',
      clause: text,
      text,
      remedies: [
        {
          label: `The station is ${station.number}, and ${s.target.number} is ${k.number}`,
          change: { op: 'points.edit', edits: Object.fromEntries(edits) },
        },
      ],
      backed: true,
    };
  }

  private goodElsewhere = (number: string, at: number): boolean =>
    [...(this.goodAt.get(number) ?? [])].some((i) => i !== at);

  /** Whether a sight's distance and height say that it went to another known point. */
  private couldBe(setup: SetupResult, s: PlanSight, k: Known, others: readonly PlanSight[]): boolean {
    const station = setup.station!;
    const off = Math.abs(distance(k.x - station.x, k.y - station.y) - s.distance);
    // An instrument height that is wrong lifts all of them alike.
    const lifts = others.map((o) => o.compared.heightDifference).filter((h) => !Number.isNaN(h)).sort((a, b) => a - b); // prettier-ignore
    const lift = lifts[lifts.length >> 1] ?? 0;
    const height = station.z + s.rise - k.z;
    return off <= s.limit && !(Math.min(Math.abs(height), Math.abs(height - lift)) > this.limits.height);
  }

  private numberCause(setup: SetupResult, s: PlanSight, k: Known, checked: boolean): Cause {
    const { doc, books } = this.context;
    const b = books.get(setup.book)!;
    const called = s.target.number;
    const what = s.role === 'back' ? 'backsight' : 'check';
    const rows = recordsOfSetup(b.records, setup.row).filter((r) => r.role === (s.role === 'back' ? 'back' : 'check') && r.number === called); // prettier-ignore
    const edited = s.role === 'back' || rows.length === 0 ? rows : rows.filter((r) => r.row === s.compared.row);
    return {
      kind: 'backsight-wrong',
      clause: `the ${what} called ${called} is ${k.number}`,
      text: `the ${what} called ${called} is ${projectLength(doc, Math.abs(s.compared.distanceDifference))} off in distance; ${k.number} lies where it was measured${checked ? ' and makes the others agree' : ''}. Was ${k.number} sighted?`, // prettier-ignore
      remedies: [
        {
          label: `The ${what} is ${k.number}`,
          change: {
            op: 'points.edit',
            edits: Object.fromEntries((edited.length ? edited : [{ row: s.compared.row }]).map((r) => [`${b.id}:${r.row}`, { set: { number: k.number }, undo: [] }])), // prettier-ignore
          },
        },
      ],
      backed: true,
    };
  }

  private stationCause(setup: SetupResult, k: Known, list: readonly PlanSight[]): Cause {
    const { books } = this.context;
    const b = books.get(setup.book)!;
    return {
      kind: 'station-wrong',
      clause: `the instrument stood on ${k.number}, not on ${setup.number}`,
      text: `the distances to ${[...new Set(list.map((s) => s.target.number))].join(' and ')} fit ${k.number}. Did the instrument stand there?`,
      remedies: [
        { label: `The station is ${k.number}`, change: editOne(`${b.id}:${setup.row}`, { number: k.number }) },
      ],
      backed: true,
    };
  }

  private readingCause(setup: SetupResult, s: PlanSight, what: 'circle' | 'distance'): Cause {
    const { doc } = this.context;
    const { angle, angleDecimals } = doc.settings;
    const by =
      what === 'circle'
        ? formatAngle(Math.abs(s.compared.difference), angle, angleDecimals)
        : projectLength(doc, Math.abs(s.compared.distanceDifference));
    const name = what === 'circle' ? 'circle reading' : 'distance';
    const text = `the ${name} to ${s.target.number} (row ${fileRowOf(s.compared.row)}) is off by ${by}; the ${what === 'circle' ? 'distance' : 'direction'} and the other sights fit.`; // prettier-ignore
    return {
      kind: what === 'circle' ? 'circle-wrong' : 'distance-wrong',
      clause: `the ${name} to ${s.target.number} (row ${fileRowOf(s.compared.row)}) is wrong`,
      text,
      remedies: this.without(setup, s, what),
      backed: false,
    };
  }

  /** Doing without one reading of a backsight, or without the sighting. */
  private without(setup: SetupResult, s: PlanSight, what: 'circle' | 'distance'): Remedy[] {
    const key = `${setup.book}:${s.compared.row}`;
    const exclude: Remedy = {
      label: `Exclude the sighting of ${s.target.number}`,
      change: editOne(key, { off: true }),
    };
    if (s.role !== 'back') return [exclude];
    const decision = what === 'circle' ? ('distance' as const) : ('direction' as const);
    return [
      { label: `Use the ${decision} to ${s.target.number} only`, change: { op: 'record.decide', key, decision } },
      { label: `Set ${s.target.number} aside`, change: { op: 'record.decide', key, decision: 'aside' } },
    ];
  }

  private otherPoint(setup: SetupResult, s: PlanSight, good = false): Cause {
    const { doc, control } = this.context;
    const by = projectLength(doc, s.compared.off);
    const key = `${setup.book}:${s.compared.row}`;
    const own: Remedy[] = [s.role === 'back' ? { label: `Set ${s.target.number} aside`, change: { op: 'record.decide', key, decision: 'aside' } } : { label: `Exclude the sighting of ${s.target.number}`, change: editOne(key, { off: true }) }]; // prettier-ignore
    return {
      kind: good ? 'check-off' : 'sights-disagree',
      clause: good ? `another point than ${s.target.number} was sighted in row ${fileRowOf(s.compared.row)}` : `${s.target.number} was not what was sighted in row ${fileRowOf(s.compared.row)}, or its coordinates are wrong`, // prettier-ignore
      text: `${s.target.number}, sighted in row ${fileRowOf(s.compared.row)}, is ${by} from there in direction and distance, and the other sights fit${good ? `; another setup sees it where it is given` : ''}. ${good ? 'Was another point sighted?' : `Was another point sighted, or are its coordinates wrong? A sighting of ${s.target.number} from another setup would tell.`}`, // prettier-ignore
      remedies: good ? own : [...own, ...controlRemedies(control, s.target.number, 'place')],
      backed: false,
    };
  }

  /** A shot that was given the number of a known point. */
  private numberOfControl(setup: SetupResult, s: PlanSight): Cause {
    const { doc } = this.context;
    const free = nextFreeNumber(this.points);
    const key = `${setup.book}:${s.compared.row}`;
    return {
      kind: 'number-twice',
      clause: `the shot in row ${fileRowOf(s.compared.row)} is another point than ${s.target.number}`,
      text: `the shot in row ${fileRowOf(s.compared.row)} has the number of ${s.target.number} and is ${projectLength(doc, s.compared.off)} from it. Was the number used again?`,
      remedies: [
        { label: `Number the shot ${free}`, change: editOne(key, { number: free }) },
        { label: 'Exclude the shot', change: editOne(key, { off: true }) },
      ],
      backed: true,
    };
  }

  private faceCause(setup: SetupResult, s: PlanSight): Cause {
    const { books } = this.context;
    const rows = facedRows(books.get(setup.book)!.records, setup.row, s.compared.row);
    return {
      kind: 'face-wrong',
      clause: `the sighting of ${s.target.number} was read in the other face`,
      text: `the sighting of ${s.target.number} (row ${fileRowOf(s.compared.row)}) ${Math.abs(Math.abs(difference(s.compared.difference)) - PI) < 0.01 ? 'points half a turn away' : 'has a vertical angle of the other face than the one it says'}. Was it read in the other face?`, // prettier-ignore
      remedies: [
        {
          label:
            rows.length > 1
              ? `Swap the faces of these ${rows.length}`
              : `It was read in face ${rows[0].face === 2 ? 1 : 2}`,
          change: {
            op: 'points.edit',
            edits: Object.fromEntries(rows.map((r) => [`${setup.book}:${r.row}`, { set: { face: r.face === 2 ? 1 : 2 }, undo: [] }])), // prettier-ignore
          },
        },
      ],
      backed: true,
    };
  }
}

/** With more known points two wrong names are not looked for: too many pairs of them would fit. */
const MOST_KNOWN = 60;
const PI = 3.141592653589793;
const ELSEWHERE = new Set<Cause['kind']>(['station-wrong', 'station-twice', 'typed-holds']);
const plainly = (s: PlanSight): SightUse => ({
  target: s.target,
  useDirection: s.compared.state !== 'distance',
  useDistance: s.compared.state !== 'direction',
});
