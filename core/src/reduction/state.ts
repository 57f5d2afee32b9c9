import type { BookRecord } from '#core/book';
import type { Levelled } from './levels.ts';
import type { MeasuredNumbers } from './measure.ts';
import { SpecialNumbers, type Occupation } from './occupations.ts';
import { ReducedPoints } from './points.ts';
import type { SetupResult, Sight, SightDoubt } from './types.ts';
import type { ReductionNote } from './notes.ts';
import type { BookInput, Decision, ReductionSettings } from './settings.ts';
import type { Known } from './known.ts';

/** What a reduction knows and has made so far: setups read from it, and write into it. */
export class ReductionState {
  readonly known = new Map<string, Known>();
  /** Numbers of control. */
  readonly controlled = new Set<string>();
  /** Stations that an adjustment has found. */
  readonly adjusted = new Map<string, Known>();
  /** Heights from level runs that close. */
  levelled: ReadonlyMap<string, Levelled> = new Map();
  readonly special = new SpecialNumbers();
  readonly results = new Map<Occupation, SetupResult>();
  /** What does not fit where a station was found from known points. */
  readonly doubts = new Map<Occupation, SightDoubt[]>();
  readonly notes: ReductionNote[] = [];
  readonly sights: Sight[] = [];
  /** Stations carried forward, in the order found. */
  readonly carried: Known[] = [];
  points = new ReducedPoints([], 0);

  constructor(
    readonly settings: ReductionSettings,
    readonly decisionOf: (book: string, row: number) => Decision | undefined,
    control: readonly Known[],
    adjusted: readonly Known[],
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

  note(
    kind: ReductionNote['kind'],
    book: BookInput,
    r: BookRecord,
    rows: number[],
    text: string,
    values: number[] = [],
    others?: ReductionNote['others'],
  ): void {
    this.notes.push({ kind, book: book.id, row: r.row, rows, number: r.number, text, values, ...(others ? { others } : {}) }); // prettier-ignore
  }

  /** Keeps a sighting of a known point, for a network. */
  remember(o: Occupation, row: number, number: string, circle: number, m: MeasuredNumbers): void {
    const { horizontal, rise, sdDirection, sdDistance, sdRise } = m;
    if (Number.isNaN(circle)) return;
    this.sights.push({ book: o.book.id, row, setup: o.index, number, circle, horizontal, rise, sdDirection, sdDistance, sdRise }); // prettier-ignore
  }

  carry(known: Known): void {
    this.known.set(known.number, known);
    this.carried.push(known);
  }

  /** A point that others stand on: where levels and the network have it, and known from here on. */
  takeAndCarry(number: string, i: number, setup: SetupResult): void {
    this.takeLevelled(i, number);
    this.takeAdjusted(i, number);
    if (setup.waits !== null || this.points.waits[i] === 1 || this.known.has(number)) return;
    const { x, y, z, sdPlan, sdHeight } = this.points.at(i);
    this.carry({ number, x, y, z, sdPlan, sdHeight, from: 'carried' });
  }

  takeLevelled(i: number, number: string): void {
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
    p.put(i, a);
    p.sdAcross[i] = a.sdPlan;
  }
}
