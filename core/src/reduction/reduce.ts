import { distance as length } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { averageGnss, type GnssMean } from './gnss.ts';
import { elevationOf, levelling, trustedHeights } from './levelling.ts';
import type { Levelling } from './levels.ts';
import { gather, settleFaces, sightingsOf, type Occupation } from './occupations.ts';
import type { KeptSetup, ReductionMemory } from './memory.ts';
import { ReducedPoints } from './points.ts';
import { readingProblem } from './measure.ts';
import type { ResectionSight } from './resection-reading.ts';
import { resect } from './resection.ts';
import { SetupWork } from './setup.ts';
import { ReductionState } from './state.ts';
import type { Reduction } from './types.ts';
import type { ReducedPoint } from './reduced-point.ts';
import type { BookInput, Decision, ReductionSettings } from './settings.ts';
import type { Known } from './known.ts';

/** How good coordinates are that stand in a book, where it does not say. */
const TYPED = { sdPlan: 0.005, sdHeight: 0.005, from: 'typed' } as const;
const GIVEN_AS_CONTROL = { sdPlan: 0.003, sdHeight: 0.003, from: 'control' } as const;

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
  const state = new ReductionState(settings, decisionOf, [...control, ...controlInBooks(books, control)], adjusted);
  return new Work(books, state, memory).run();
}

class Work {
  private levelling: Levelling | null = null;
  private readonly satellites: ReducedPoint[] = [];
  private readonly means: GnssMean[] = [];
  private readonly occupations: Occupation[] = [];
  /** Numbers that are stood on or oriented by somewhere: shots of them are carried forward. */
  private readonly wanted = new Set<string>();
  /** Why stations were not found from what they sight. */
  private readonly unfound = new Map<Occupation, string>();
  private hasLevels = false;
  private alike: string | null = null;

  constructor(
    private readonly books: readonly BookInput[],
    private readonly state: ReductionState,
    private readonly memory: ReductionMemory | null,
  ) {}

  run(): Reduction {
    this.books.forEach((book, i) => this.gather(book, i));
    if (this.state.settings.typedOrGnss === 'gnss') this.satellitesFirst();
    this.level();
    this.begin();
    const open = new Set(this.occupations);
    // Whatever can stand on something known is reduced; what it carries forward may let others stand.
    while (open.size) {
      const standing = [...open].filter((o) => this.state.known.has(o.setup.number));
      // Who sights back to what others may still carry forward lets them go first.
      let done = standing.filter((o) => this.canOrient(o));
      if (done.length === 0) {
        const free = [...open].find((o) => !this.state.known.has(o.setup.number) && this.standFree(o));
        done = free ? [free] : standing;
      }
      if (done.length === 0) break;
      for (const o of done) {
        open.delete(o);
        this.occupy(o);
      }
    }
    for (const o of open)
      new SetupWork(this.state, o).fail('station-unknown', stationUnknown(o.setup.number, this.unfound.get(o)));
    const setups = this.occupations.map((o) => this.state.results.get(o)!);
    return {
      setups,
      points: this.state.points.ordered(),
      notes: this.state.notes,
      sights: this.state.sights,
      known: this.state.known,
      levelling: this.levelling,
      gnss: this.means,
    };
  }

  /** Positions by satellite in the place of coordinates that were typed, whichever book came first. */
  private satellitesFirst(): void {
    for (const { number, x, y, z, sdPlan, sdHeight, covariance } of this.satellites)
      if (this.state.known.get(number)?.from === 'typed')
        this.state.known.set(number, { number, x, y, z, sdPlan, sdHeight, covariance, from: 'gnss' });
  }

  private canOrient(o: Occupation): boolean {
    const backs = o.others.filter((r) => r.role === 'back');
    return backs.length === 0 || backs.some((r) => this.state.known.has(r.number) || o.azimuths.has(r.number));
  }

  /** Heights by level: they take the place of whatever else but control gives. */
  private level(): void {
    if (!this.hasLevels) return;
    const given = elevationOf(this.state.known, new Set(['control']));
    const begin = elevationOf(this.state.known, new Set(['control', 'typed']));
    const hasGiven = [...this.state.known.values()].some((k) => k.from === 'control' && !Number.isNaN(k.z));
    const found = levelling(this.books, hasGiven ? given : begin, this.state.settings.levelClosure, this.state.settings.levelDeviation); // prettier-ignore
    if (!found) return;
    this.levelling = found;
    this.state.levelled = trustedHeights(found);
    for (const [number, h] of this.state.levelled) {
      const k = this.state.known.get(number);
      if (k && (k.from !== 'control' || Number.isNaN(k.z)))
        this.state.known.set(number, { ...k, z: h.z, sdHeight: h.sd, levelled: true });
    }
    for (const run of found.runs) {
      if (run.within) continue;
      const rows = run.differences.flatMap((d) => d.rows);
      this.state.notes.push({ kind: 'level-misclosure', book: run.differences[0].book, row: rows[0], rows, number: run.from, text: `the level run from ${run.from} to ${run.to} closes`, values: [run.misclosure, run.allowed, run.length] }); // prettier-ignore
    }
    for (const p of found.problems)
      this.state.notes.push({ kind: 'level-unreached', ...p, rows: [p.row], number: '', values: [] });
  }

  /** Room for every point that may come, those of satellites first. */
  private begin(): void {
    this.state.special.add(this.wanted, 'wanted');
    this.state.special.add(this.state.controlled, 'control');
    const ids = this.books.map((b) => b.id);
    const most = this.occupations.reduce((sum, o) => sum + o.shotCount + o.others.length, this.satellites.length);
    const p = new ReducedPoints(ids, most);
    for (const s of this.satellites) {
      const i = p.count++;
      p.book[i] = ids.indexOf(s.book);
      p.setup[i] = -1;
      p.put(i, s);
      p.name[i] = s;
      p.waits[i] = s.waits ? 1 : 0;
    }
    this.state.points = p;
  }

  private gather(book: BookInput, index: number): void {
    const found = gather(book, index, this.occupations.length);
    this.occupations.push(...found.occupations);
    for (const number of found.wanted) this.wanted.add(number);
    for (const r of found.typed) this.typed(book, r);
    this.hasLevels ||= found.hasLevels;
    averageGnss(
      book,
      found.gnss,
      this.state.settings,
      this.state.known,
      this.state.controlled,
      this.satellites,
      this.state.notes,
      this.means,
    );
  }

  /** Coordinates typed at the instrument: they serve where control has none. */
  private typed(book: BookInput, r: BookRecord): void {
    const given = this.state.known.get(r.number);
    if (given?.from === 'control') {
      const plan = length(r.x - given.x, r.y - given.y);
      const height = r.z - given.z;
      if (plan > this.state.settings.checkPlan || Math.abs(height) > this.state.settings.checkHeight)
        this.state.note('typed-differs', book, r, [r.row], `typed ${r.number} differs from control`, [plan, height]);
      return;
    }
    if (given?.from === 'adjusted') return;
    this.state.known.set(r.number, {
      number: r.number,
      x: r.x,
      y: r.y,
      z: r.z,
      ...TYPED,
    });
  }

  /** A station that nobody knows, found from known points that it sights. */
  private standFree(o: Occupation): boolean {
    settleFaces(o);
    const { settings } = this.state;
    const rows: number[] = [];
    const sights = new SetupWork(this.state, o).measured().list.flatMap((m): ResectionSight[] => {
      const { pointing: p } = m;
      const target = this.state.known.get(p.number);
      if (!target || p.role === 'shot' || Number.isNaN(p.circle) || readingProblem(p)?.kind === 'face-wrong') return [];
      const decision = this.state.decisionOf(o.book.id, p.records[0].row);
      if (decision === 'aside') return [];
      rows.push(p.records[0].row);
      const only = decision === 'direction' || decision === 'distance' ? decision : undefined;
      const { horizontal, rise, sdDirection, sdDistance, sdRise } = m;
      return [{ target, circle: p.circle, horizontal, rise, sdDirection, sdDistance, sdRise, only, centring: settings.centring, held: decision !== undefined }]; // prettier-ignore
    });
    const found = resect(sights, settings.scaleFree, { plan: settings.checkPlan, height: settings.checkHeight });
    if (!found.ok) {
      if (sights.length > 0) this.unfound.set(o, found.reason);
      return false;
    }
    const { x, y, z, sdPlan, sdHeight } = found;
    this.state.doubts.set(
      o,
      found.doubts.map(({ sight, what, off, standardised, sure }) => ({ row: rows[sight], number: sights[sight].target.number, what, off, standardised, sure })), // prettier-ignore
    );
    if (found.redundancy === 0)
      this.state.note('uncontrolled', o.book, o.setup, [], `station ${o.setup.number} is found from just as many readings as are needed: nothing checks it`); // prettier-ignore
    this.state.known.set(o.setup.number, { number: o.setup.number, x, y, z, sdPlan, sdHeight, from: 'resected' });
    return true;
  }

  /** Reduces a setup, or takes it as it was reduced before when nothing that it rests on is another. */
  private occupy(o: Occupation): void {
    const { memory } = this;
    if (!memory) return new SetupWork(this.state, o).reduce();
    const records = [o.setup, ...sightingsOf(o)];
    const key = `${this.state.adjusted.size ? 'adjusted' : 'carried'} ${o.book.id} ${o.setup.row}`;
    const rests = this.restsOf(o, records, key, memory);
    const kept = memory.find(key, records, rests);
    if (kept) return this.take(o, kept);
    const [notes, sights, from, carried] = [this.state.notes.length, this.state.sights.length, this.state.points.count, this.state.carried.length]; // prettier-ignore
    new SetupWork(this.state, o).reduce();
    memory.sightings += records.length - 1;
    memory.keep(key, {
      records,
      rests,
      setup: this.state.results.get(o)!,
      notes: this.state.notes.slice(notes),
      sights: this.state.sights.slice(sights),
      carried: this.state.carried.slice(carried),
      points: this.state.points.cut(from),
    });
  }

  /** Everything but its own records that a setup rests on. */
  private restsOf(o: Occupation, records: readonly BookRecord[], key: string, memory: ReductionMemory): string {
    const setting = new SetupWork(this.state, o).settingOf();
    const others = o.others.map((r) => [
      this.state.known.get(r.number) ?? null,
      this.state.decisionOf(o.book.id, r.row) ?? null,
    ]);
    const special = memory.specialOf(key, records, this.state.special).map((r) => {
      const kind = this.state.special.kindOf(r.number);
      return [r.row, kind, kind === 'control' ? this.state.known.get(r.number) : this.state.known.has(r.number)];
    });
    // What every setup rests on alike is put into words once.
    this.alike ??= JSON.stringify([this.state.settings, [...this.state.levelled], [...this.state.adjusted]]);
    return JSON.stringify([
      this.alike,
      this.state.known.get(o.setup.number),
      { ...setting, targets: [...setting.targets] },
      [...o.azimuths],
      this.state.decisionOf(o.book.id, o.setup.row) ?? null,
      others,
      special,
      [...o.turned],
      this.state.doubts.get(o) ?? null,
    ]);
  }

  private take(o: Occupation, kept: KeptSetup): void {
    this.state.results.set(o, kept.setup);
    this.state.notes.push(...kept.notes);
    for (const s of kept.sights) this.state.sights.push(s.setup === o.index ? s : { ...s, setup: o.index });
    for (const k of kept.carried) this.state.carry(k);
    this.state.points.paste(kept.points, o.bookIndex, o.index);
  }
}

const stationUnknown = (number: string, why = ''): string =>
  why
    ? `${number} is not control, was not typed and was not carried from another setup, and cannot be found from what it sights: ${why}`
    : `${number} is not control, was not typed, and no setup before it or known points around it give it`;

/** Points that a book gives as control, where the project has none of the number: the first of each. */
function controlInBooks(books: readonly BookInput[], control: readonly Known[]): Known[] {
  const numbers = new Set(control.map((c) => c.number));
  const out: Known[] = [];
  for (const { records } of books)
    for (const { kind, role, deleted, number, x, y, z } of records) {
      if (kind !== 'point' || role !== 'control' || deleted || numbers.has(number)) continue;
      numbers.add(number);
      out.push({ number, x, y, z, ...GIVEN_AS_CONTROL });
    }
  return out;
}
