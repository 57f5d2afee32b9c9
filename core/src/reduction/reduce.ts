import { distance as length, sinCosInto, turned, type SinCos } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { averageGnss } from './gnss.ts';
import {
  instrumentNamed,
  measure,
  measureInto,
  readingProblem,
  velocityOf,
  type Measured,
  type MeasuredNumbers,
  type Setting,
} from './measure.ts';
import { elevationOf, levelling, trustedHeights, type Levelled, type Levelling } from './levelling.ts';
import { gather, settleFaces, sightingsOf, SpecialNumbers, type Occupation } from './occupations.ts';
import { check, orient } from './orient.ts';
import { directionDeviation, faceErrors, pointingOf, pointingsOf, type FaceErrors } from './pointings.ts';
import type { KeptSetup, ReductionMemory } from './memory.ts';
import { ReducedPoints } from './points.ts';
import { resect } from './resection.ts';
import { reduceShots, type Shots } from './shots.ts';
import type {
  BookInput,
  Decision,
  Known,
  ReducedPoint,
  Reduction,
  ReductionNote,
  ReductionSettings,
  SetupResult,
  Sight,
} from './types.ts';

const NO_ERRORS: FaceErrors = { index: 0, collimation: 0, pairs: 0 };
const numbers: MeasuredNumbers = { slope: 0, horizontal: 0, rise: 0, sdDirection: 0, sdDistance: 0, sdRise: 0 };
const direction: SinCos = { sin: 0, cos: 0 };

/**
 * Radial reduction of books in space. Stations are control, typed, measured by satellites, carried forward from
 * setups before, or resected from known points, in whatever order the books hold them. Pure: the same books,
 * control, decisions and settings give the same bits everywhere.
 */
export function reduce(
  books: readonly BookInput[],
  control: readonly Known[],
  decisionOf: (book: string, row: number) => Decision | undefined,
  settings: ReductionSettings,
  /** Stations whose coordinates an adjustment has found. */
  adjusted: readonly Known[] = [],
  /** Setups of earlier runs; what has not changed is taken from there. */
  memory: ReductionMemory | null = null,
): Reduction {
  const work = new Work(books, control, decisionOf, settings, adjusted, memory);
  return work.run();
}

class Work {
  private readonly known = new Map<string, Known>();
  private readonly controlled = new Set<string>();
  private readonly results = new Map<Occupation, SetupResult>();
  private readonly notes: ReductionNote[] = [];
  private readonly sights: Sight[] = [];
  private readonly adjusted = new Map<string, Known>();
  private levelling: Levelling | null = null;
  /** Heights from level runs that close. */
  private levelled: ReadonlyMap<string, Levelled> = new Map();
  private readonly satellites: ReducedPoint[] = [];
  private points = new ReducedPoints([], 0);
  private readonly occupations: Occupation[] = [];
  /** Numbers that are stood on or oriented by somewhere: shots of them are carried forward. */
  private readonly wanted = new Set<string>();
  private readonly special = new SpecialNumbers();
  private hasLevels = false;
  /** Stations carried forward, in the order found. */
  private readonly carried: Known[] = [];
  private alike: string | null = null;

  constructor(
    private readonly books: readonly BookInput[],
    control: readonly Known[],
    private readonly decisionOf: (book: string, row: number) => Decision | undefined,
    private readonly settings: ReductionSettings,
    adjusted: readonly Known[],
    private readonly memory: ReductionMemory | null,
  ) {
    for (const a of adjusted) {
      this.known.set(a.number, a);
      this.adjusted.set(a.number, a);
    }
    for (const c of control) {
      this.known.set(c.number, c);
      this.controlled.add(c.number);
    }
  }

  run(): Reduction {
    this.books.forEach((book, i) => this.gather(book, i));
    this.level();
    this.begin();
    const open = new Set(this.occupations);
    // Whatever can stand on something known is reduced; what it carries forward may let others stand.
    while (open.size) {
      const standing = [...open].filter((o) => this.known.has(o.setup.number));
      // Who sights back to what others may still carry forward lets them go first.
      let done = standing.filter((o) => this.canOrient(o));
      if (done.length === 0) {
        const free = [...open].find((o) => !this.known.has(o.setup.number) && this.standFree(o));
        done = free ? [free] : standing;
      }
      if (done.length === 0) break;
      for (const o of done) {
        open.delete(o);
        this.occupy(o);
      }
    }
    for (const o of open) this.fail(o, 'station-unknown', stationUnknown(o.setup.number));
    const setups = this.occupations.map((o) => this.results.get(o)!);
    return {
      setups,
      points: this.points.ordered(),
      notes: this.notes,
      sights: this.sights,
      known: this.known,
      levelling: this.levelling,
    };
  }

  private canOrient(o: Occupation): boolean {
    const backs = o.others.filter((r) => r.role === 'back');
    return backs.length === 0 || backs.some((r) => this.known.has(r.number) || o.azimuths.has(r.number));
  }

  /** Heights by level: they take the place of whatever else but control gives. */
  private level(): void {
    if (!this.hasLevels) return;
    const given = elevationOf(this.known, new Set(['control']));
    const begin = elevationOf(this.known, new Set(['control', 'typed']));
    const hasGiven = [...this.known.values()].some((k) => k.from === 'control' && !Number.isNaN(k.z));
    const found = levelling(this.books, hasGiven ? given : begin, this.settings.levelClosure);
    if (!found) return;
    this.levelling = found;
    this.levelled = trustedHeights(found);
    for (const [number, h] of this.levelled) {
      const k = this.known.get(number);
      if (k && (k.from !== 'control' || Number.isNaN(k.z))) this.known.set(number, { ...k, z: h.z, sdHeight: h.sd });
    }
    for (const run of found.runs) {
      if (run.within) continue;
      const rows = run.differences.flatMap((d) => d.rows);
      this.notes.push({ kind: 'level-misclosure', book: run.differences[0].book, row: rows[0], rows, number: run.from, text: `the level run from ${run.from} to ${run.to} closes`, values: [run.misclosure, run.allowed, run.length] }); // prettier-ignore
    }
    for (const p of found.problems)
      this.notes.push({ kind: 'level-unreached', ...p, rows: [p.row], number: '', values: [] });
  }

  /** Room for every point that may come, those of satellites first. */
  private begin(): void {
    this.special.add(this.wanted, 'wanted');
    this.special.add(this.controlled, 'control');
    const ids = this.books.map((b) => b.id);
    const most = this.occupations.reduce((sum, o) => sum + o.shotCount + o.others.length, this.satellites.length);
    const p = new ReducedPoints(ids, most);
    for (const s of this.satellites) {
      const i = p.count++;
      p.book[i] = ids.indexOf(s.book);
      p.row[i] = s.row;
      p.setup[i] = -1;
      [p.x[i], p.y[i], p.z[i], p.sdPlan[i], p.sdHeight[i]] = [s.x, s.y, s.z, s.sdPlan, s.sdHeight];
      p.number[i] = s.number;
      p.code[i] = s.code;
    }
    this.points = p;
  }

  private gather(book: BookInput, index: number): void {
    const found = gather(book, index, this.occupations.length);
    this.occupations.push(...found.occupations);
    for (const number of found.wanted) this.wanted.add(number);
    for (const r of found.typed) this.typed(book, r);
    this.hasLevels ||= found.hasLevels;
    averageGnss(book, found.gnss, this.settings, this.known, this.controlled, this.satellites, this.notes);
  }

  /** Coordinates typed at the instrument: they serve where control has none. */
  private typed(book: BookInput, r: BookRecord): void {
    const given = this.known.get(r.number);
    if (given?.from === 'control') {
      const plan = length(r.x - given.x, r.y - given.y);
      const height = r.z - given.z;
      if (plan > this.settings.checkPlan || Math.abs(height) > this.settings.checkHeight)
        this.note('typed-differs', book, r, [r.row], `typed ${r.number} differs from control`, [plan, height]);
      return;
    }
    if (given?.from === 'adjusted') return;
    this.known.set(r.number, {
      number: r.number,
      x: r.x,
      y: r.y,
      z: r.z,
      sdPlan: 0.005,
      sdHeight: 0.005,
      from: 'typed',
    });
  }

  private note(
    kind: ReductionNote['kind'],
    book: BookInput,
    r: BookRecord,
    rows: number[],
    text: string,
    values: number[] = [],
  ): void {
    this.notes.push({ kind, book: book.id, row: r.row, rows, number: r.number, text, values });
  }

  private settingOf(o: Occupation): Setting {
    const instrument = instrumentNamed(o.book.instruments, o.setup.instrument);
    return {
      instrument,
      targets: new Map(o.book.targets.map((t) => [t.name, t])),
      target: o.setup.target,
      ppm: velocityOf(o.air, instrument),
      height: o.setup.height,
      refraction: this.settings.refraction,
      factor: this.settings.factor,
    };
  }

  /** Pointings of a setup; of a plain one without its shots, which are reduced one by one. */
  private measured(o: Occupation, setting = this.settingOf(o)): { list: Measured[]; setup: SetupResult } {
    const errors = o.plain ? NO_ERRORS : faceErrors(sightingsOf(o));
    const grouped = o.plain ? o.others.map((r) => pointingOf([r], errors)) : pointingsOf(sightingsOf(o), errors);
    const list = grouped.map((p) => measure(p, setting));
    const sd = o.plain ? NaN : directionDeviation(sightingsOf(o), errors).sd;
    return {
      list,
      setup: {
        book: o.book.id,
        row: o.setup.row,
        number: o.setup.number,
        height: o.setup.height,
        station: null,
        orientation: NaN,
        sdOrientation: NaN,
        errors,
        directionSd: sd,
        backsights: [],
        checks: [],
        shots: 0,
        waits: null,
        failed: null,
      },
    };
  }

  private fail(o: Occupation, kind: ReductionNote['kind'], text: string): void {
    settleFaces(o);
    const { setup } = this.measured(o);
    this.results.set(o, { ...setup, failed: text });
    this.note(kind, o.book, o.setup, [o.setup.row, ...sightingsOf(o).map((s) => s.row)], text);
  }

  /** A station that nobody knows, found from known points that it sights. */
  private standFree(o: Occupation): boolean {
    settleFaces(o);
    const sights = this.measured(o).list.flatMap((m) => {
      const target = this.known.get(m.pointing.number);
      if (!target || m.pointing.role === 'shot' || Number.isNaN(m.pointing.circle)) return [];
      const { circle } = m.pointing;
      return [{ target, circle, horizontal: m.horizontal, rise: m.rise, sdDirection: m.sdDirection, sdDistance: m.sdDistance, sdRise: m.sdRise }]; // prettier-ignore
    });
    const found = resect(sights, this.settings.scaleFree);
    if (!found.ok) return false;
    const { x, y, z, sdPlan, sdHeight } = found;
    this.known.set(o.setup.number, { number: o.setup.number, x, y, z, sdPlan, sdHeight, from: 'resected' });
    return true;
  }

  /** Reduces a setup, or takes it as it was reduced before when nothing that it rests on is another. */
  private occupy(o: Occupation): void {
    const { memory } = this;
    if (!memory) return this.reduceSetup(o);
    const records = [o.setup, ...sightingsOf(o)];
    const rests = this.restsOf(o, records);
    const key = `${this.adjusted.size ? 'adjusted' : 'carried'} ${o.book.id} ${o.setup.row}`;
    const kept = memory.find(key, records, rests);
    if (kept) return this.take(o, kept);
    const [notes, sights, from, carried] = [this.notes.length, this.sights.length, this.points.count, this.carried.length]; // prettier-ignore
    this.reduceSetup(o);
    memory.sightings += records.length - 1;
    memory.keep(key, {
      records,
      rests,
      setup: this.results.get(o)!,
      notes: this.notes.slice(notes),
      sights: this.sights.slice(sights),
      carried: this.carried.slice(carried),
      points: this.points.cut(from),
    });
  }

  /** Everything but its own records that a setup rests on. */
  private restsOf(o: Occupation, records: readonly BookRecord[]): string {
    const setting = this.settingOf(o);
    const others = o.others.map((r) => [this.known.get(r.number) ?? null, this.decisionOf(o.book.id, r.row) ?? null]);
    const special = records.flatMap((r) => {
      const kind = this.special.kindOf(r.number);
      return kind === undefined ? [] : [[r.row, kind, kind === 'control' ? this.known.get(r.number) : this.known.has(r.number)]]; // prettier-ignore
    });
    // What every setup rests on alike is put into words once.
    this.alike ??= JSON.stringify([this.settings, [...this.levelled], [...this.adjusted]]);
    return JSON.stringify([
      this.alike,
      this.known.get(o.setup.number),
      { ...setting, targets: [...setting.targets] },
      [...o.azimuths],
      this.decisionOf(o.book.id, o.setup.row) ?? null,
      others,
      special,
    ]);
  }

  private carry(known: Known): void {
    this.known.set(known.number, known);
    this.carried.push(known);
  }

  private take(o: Occupation, kept: KeptSetup): void {
    this.results.set(o, kept.setup);
    this.notes.push(...kept.notes);
    for (const s of kept.sights) this.sights.push(s.setup === o.index ? s : { ...s, setup: o.index });
    for (const k of kept.carried) this.carry(k);
    this.points.paste(kept.points, o.bookIndex, o.index);
  }

  private reduceSetup(o: Occupation): void {
    const setting = this.settingOf(o);
    const { list, setup } = this.measured(o, setting);
    const station = this.known.get(o.setup.number)!;
    setup.station = station;
    this.results.set(o, setup);
    const backs = list.filter((m) => m.pointing.role === 'back');
    const oriented = orient(
      station,
      backs,
      this.known,
      o.azimuths,
      (row) => this.decisionOf(o.book.id, row),
      this.settings,
    );
    setup.backsights = oriented.backsights;
    if (Number.isNaN(oriented.orientation)) {
      if (this.turnsOutInBothFaces(o)) return this.reduceSetup(o);
      setup.failed = backs.length
        ? `no coordinates of ${backs.map((b) => b.pointing.number).join(', ')} are known, and no azimuth was typed`
        : 'it has no backsight';
      const kind = backs.length ? 'backsight-unknown' : 'no-backsight';
      this.note(kind, o.book, o.setup, [o.setup.row, ...sightingsOf(o).map((s) => s.row)], setup.failed);
      return;
    }
    setup.orientation = oriented.orientation;
    setup.sdOrientation = oriented.sd;
    setup.waits = this.waitsFor(o, setup);
    const from = this.points.count;
    const shots = o.plain ? reduceShots(o, setup, station, setting, this.points, this.special) : null;
    if (o.plain && !shots && this.turnsOutInBothFaces(o)) return this.reduceSetup(o);
    this.watchSpreads(o, list);
    for (const m of list)
      if (m.pointing.role !== 'shot' || this.special.kindOf(m.pointing.number) !== undefined)
        this.remember(o, m.pointing.records[0].row, m.pointing.number, m.pointing.circle, m);
    for (const m of list) if (m.pointing.role !== 'back') this.sight(o, m, setup, station);
    if (shots) this.follow(o, shots, from, setup, setting);
  }

  /** Whether a setup that looked plain has a shot in face 2 without saying so: faces are then brought together. */
  private turnsOutInBothFaces(o: Occupation): boolean {
    const looked = o.plain;
    settleFaces(o);
    return looked && !o.plain;
  }

  private waitsFor(o: Occupation, setup: SetupResult): string | null {
    if (this.decisionOf(o.book.id, o.setup.row) === 'used') return null;
    if (setup.backsights.some((b) => b.state === 'used')) return null;
    const undecided = setup.backsights.filter((b) => b.state === 'undecided');
    return undecided.length
      ? `the backsight to ${undecided.map((b) => b.number).join(', ')} is undecided`
      : 'every backsight is set aside';
  }

  private sight(o: Occupation, m: Measured, setup: SetupResult, station: Known): void {
    const { pointing: p } = m;
    const [first] = p.records;
    const problem = readingProblem(p);
    if (problem) {
      this.note(problem.kind, o.book, first, p.records.map((r) => r.row), `sighting ${p.number} ${problem.text}`); // prettier-ignore
      return;
    }
    const target = this.known.get(p.number);
    if (p.role === 'check' || this.controlled.has(p.number)) {
      if (target) setup.checks.push(check(station, m, target, setup.orientation, this.settings));
      else
        this.note('backsight-unknown', o.book, first, [first.row], `the check to ${p.number} goes to a point that nobody knows`); // prettier-ignore
      return;
    }
    this.place(o, m, setup, station);
  }

  private remember(o: Occupation, row: number, number: string, circle: number, m: MeasuredNumbers): void {
    const { horizontal, rise, sdDirection, sdDistance, sdRise } = m;
    if (Number.isNaN(circle)) return;
    this.sights.push({
      book: o.book.id,
      row,
      setup: o.index,
      number,
      circle,
      horizontal,
      rise,
      sdDirection,
      sdDistance,
      sdRise,
    });
  }

  /** What is to be said and done of shots that were reduced in one loop, the first of their points at `from`. */
  private follow(o: Occupation, shots: Shots, from: number, setup: SetupResult, setting: Setting): void {
    const station = setup.station!;
    setup.shots += shots.given;
    for (const r of shots.refused) {
      const problem = readingProblem(r)!;
      this.note(problem.kind, o.book, r, [r.row], `sighting ${r.number} ${problem.text}`);
    }
    for (const r of shots.checks) {
      const m = measure(pointingOf([r], NO_ERRORS), setting);
      this.remember(o, r.row, r.number, r.circle, m);
      this.sight(o, m, setup, station);
    }
    setup.checks.sort((a, b) => a.row - b.row);
    for (const { shot: r, at } of shots.carried) {
      measureInto(numbers, r.zenith, r.distance, r.height, r.target, 1, setting);
      this.remember(o, r.row, r.number, r.circle, numbers);
      this.takeAndCarry(r.number, at, setup);
    }
    for (const r of shots.flat) this.flat(o, r, r.number, r.height, station);
    if (this.levelled.size === 0) return;
    const { number } = this.points;
    for (let i = from; i < from + shots.given; i++) if (!this.adjusted.has(number[i])) this.takeLevelled(i, number[i]);
  }

  /** Any other pointing to a new point: the mean of faces and rounds. */
  private place(o: Occupation, m: Measured, setup: SetupResult, station: Known): void {
    setup.shots++;
    const { pointing, horizontal, rise } = m;
    const { number, code } = pointing;
    const [record] = pointing.records;
    sinCosInto(turned(pointing.circle + setup.orientation), direction);
    const turn = m.sdDirection * m.sdDirection + setup.sdOrientation * setup.sdOrientation;
    const across = horizontal * horizontal * turn;
    const p = this.points;
    const i = p.count++;
    p.book[i] = o.bookIndex;
    p.row[i] = record.row;
    p.setup[i] = o.index;
    p.waits[i] = setup.waits === null ? 0 : 1;
    p.x[i] = station.x + horizontal * direction.sin;
    p.y[i] = station.y + horizontal * direction.cos;
    p.z[i] = station.z + rise;
    p.sdPlan[i] = Math.sqrt(station.sdPlan * station.sdPlan + (across + m.sdDistance * m.sdDistance) / 2);
    p.sdAcross[i] = Math.sqrt(station.sdPlan * station.sdPlan + across);
    p.sdHeight[i] = Math.sqrt(station.sdHeight * station.sdHeight + m.sdRise * m.sdRise);
    p.number[i] = number;
    p.code[i] = code;
    if (this.special.kindOf(number) === 'wanted') this.takeAndCarry(number, i, setup);
    else this.takeLevelled(i, number);
    if (Number.isNaN(rise)) this.flat(o, record, number, pointing.height, station);
  }

  private flat(o: Occupation, record: BookRecord, number: string, height: number, station: Known): void {
    if (Number.isNaN(station.z)) return;
    const missing = [Number.isNaN(o.setup.height) && 'instrument', Number.isNaN(height) && 'target'].filter(Boolean);
    this.note('reading-missing', o.book, record, [record.row], `sighting ${number} has no ${missing.join(' and no ')} height`); // prettier-ignore
  }

  /** A point that others stand on: where levels and the network have it, and known from here on. */
  private takeAndCarry(number: string, i: number, setup: SetupResult): void {
    this.takeLevelled(i, number);
    this.takeAdjusted(i, number);
    if (setup.waits !== null || this.known.has(number)) return;
    const { x, y, z, sdPlan, sdHeight } = this.points.at(i);
    this.carry({ number, x, y, z, sdPlan, sdHeight, from: 'carried' });
  }

  private takeLevelled(i: number, number: string): void {
    const height = this.levelled.get(number);
    if (!height) return;
    this.points.z[i] = height.z;
    this.points.sdHeight[i] = height.sd;
  }

  /** A point that the network has found is where the network has it. */
  private takeAdjusted(i: number, number: string): void {
    const a = this.adjusted.get(number);
    if (!a) return;
    const p = this.points;
    [p.x[i], p.y[i], p.z[i], p.sdPlan[i], p.sdHeight[i]] = [a.x, a.y, a.z, a.sdPlan, a.sdHeight];
    p.sdAcross[i] = a.sdPlan;
  }

  private watchSpreads(o: Occupation, list: Measured[]): void {
    for (const { pointing: p } of list) {
      const wide = Math.max(p.spreadCircle, p.spreadZenith);
      if (wide > this.settings.angleSpread || p.spreadDistance > this.settings.checkPlan)
        this.note('spread', o.book, p.records[0], p.records.map((r) => r.row), `repeated readings of ${p.number} differ`, [wide, p.spreadDistance]); // prettier-ignore
    }
  }
}

const stationUnknown = (number: string): string =>
  `nobody knows where ${number} is: it is not control, was not typed, and no setup before it or known points around it give it`;
