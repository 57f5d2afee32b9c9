import { difference, distance, sin, sinCosInto, turned, type SinCos } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { EARTH_RADIUS, seaLevelFactor } from './corrections.ts';
import { circleSets, type CircleSets } from './circle-sets.ts';
import {
  constantOf,
  instrumentNamed,
  measure,
  measureInto,
  pointingProblem,
  readingProblem,
  velocityOf,
  type Measured,
  type MeasuredNumbers,
  type Setting,
} from './measure.ts';
import { settleFaces, sightingsOf, type Occupation } from './occupations.ts';
import { bearingTo, check, orient, orients } from './orient.ts';
import { directionDeviation, faceErrors, pointingOf, pointingsOf, trueReading, type FaceErrors } from './pointings.ts';
import { reduceShots, type Shots } from './shots.ts';
import type { ReductionState } from './state.ts';
import type { SetupResult } from './types.ts';
import type { ReductionNote } from './notes.ts';
import type { Known } from './known.ts';

const NO_ERRORS: FaceErrors = { index: 0, collimation: 0, pairs: 0 };
const NOTHING: ReadonlySet<number> = new Set();
const numbers: MeasuredNumbers = { slope: 0, horizontal: 0, rise: 0, sdDirection: 0, sdDistance: 0, sdRise: 0 };
const direction: SinCos = { sin: 0, cos: 0 };

interface Readings {
  list: Measured[];
  circles: CircleSets | null;
  setup: SetupResult;
}

/** One setup: its readings corrected, its orientation found, its sightings laid into the ground. */
export class SetupWork {
  /** Rows of sightings of which nobody can tell whether they were read before or after a turn of the circle. */
  private doubtful: ReadonlySet<number> = NOTHING;

  constructor(
    private readonly state: ReductionState,
    private readonly o: Occupation,
  ) {}

  settingOf(): Setting {
    const { o } = this;
    const { settings } = this.state;
    const instrument = instrumentNamed(o.book.instruments, o.setup.instrument);
    return {
      instrument,
      targets: new Map(o.book.targets.map((t) => [t.name, t])),
      target: o.setup.target,
      ppm: Number.isNaN(o.ppm) ? velocityOf(o.air, instrument) : o.ppm,
      height: o.setup.height,
      refraction: settings.refraction,
      factor: settings.factor * ((o.book.seaLevel ?? settings.seaLevel) ? this.seaLevel() : 1),
      radius: (o.book.earth ?? settings.earth) === 'plane' ? Infinity : EARTH_RADIUS,
      centring: settings.centring,
      distanceParts: settings.distanceParts,
      flatDistances: settings.flatDistances,
    };
  }

  /** Lengths at the instrument brought down to the level of the sea; 1 where its elevation is not known. */
  private seaLevel(): number {
    const z = this.state.known.get(this.o.setup.number)?.z ?? NaN;
    return Number.isNaN(z) ? 1 : seaLevelFactor(z);
  }

  /** Pointings of a setup; of a plain one without its shots, which are reduced one by one. */
  measured(setting = this.settingOf(), station: Known | null = null): Readings {
    const { o } = this;
    if (o.plain && (o.turned.size > 0 || this.circlesOf(o.others, NO_ERRORS, setting, station))) o.plain = false;
    const errors = o.plain ? NO_ERRORS : faceErrors(sightingsOf(o));
    const circles = o.plain ? null : this.circlesOf(sightingsOf(o), errors, setting, station);
    const grouped = o.plain
      ? o.others.map((r) => pointingOf([r], errors))
      : pointingsOf(sightingsOf(o), errors, circles?.offsetOf);
    const list = grouped.map((p) => measure(p, setting));
    const sd = o.plain ? NaN : directionDeviation(sightingsOf(o), errors).sd;
    return {
      list,
      circles,
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
        turns: circles?.turns ?? [],
        doubts: [],
        backsights: [],
        checks: [],
        shots: 0,
        waits: null,
        failed: null,
      },
    };
  }

  private circlesOf(
    records: readonly BookRecord[],
    errors: FaceErrors,
    setting: Setting,
    station: Known | null,
  ): CircleSets | null {
    const { known, settings } = this.state;
    const bearingOf = (r: BookRecord): number => {
      const target = station ? known.get(r.number) : undefined;
      if (!target || target === station) return NaN;
      const apart = distance(target.x - station!.x, target.y - station!.y);
      const flat =
        (r.distance + constantOf(r.target || setting.target, setting)) * Math.abs(sin(r.zenith)) * setting.factor;
      const other = Math.abs(flat - apart) > settings.checkPlan + 1e-4 * apart;
      return apart > 0.01 && !other ? bearingTo(station!, target) : NaN;
    };
    const tolerance = { direction: setting.instrument.direction, plan: settings.checkPlan };
    return circleSets(records, errors, bearingOf, this.o.turned, tolerance);
  }

  /** A setup that gives nothing, and why. */
  fail(kind: ReductionNote['kind'], text: string): void {
    const { o, state } = this;
    settleFaces(o);
    const { setup } = this.measured();
    state.results.set(o, { ...setup, failed: text });
    state.note(kind, o.book, o.setup, [o.setup.row, ...sightingsOf(o).map((s) => s.row)], text);
  }

  reduce(): void {
    const { o, state } = this;
    const setting = this.settingOf();
    const station = state.known.get(o.setup.number)!;
    const { list, circles, setup } = this.measured(setting, station);
    setup.station = station;
    setup.doubts = state.doubts.get(o) ?? [];
    this.doubtful = circles?.doubtful ?? NOTHING;
    state.results.set(o, setup);
    const backs = list.filter((m) => m.pointing.role === 'back');
    const oriented = orient(
      station,
      backs,
      state.known,
      o.azimuths,
      (row) => state.decisionOf(o.book.id, row),
      state.settings,
    );
    setup.backsights = oriented.backsights;
    if (Number.isNaN(oriented.orientation)) {
      if (this.turnsOutInBothFaces()) return this.reduce();
      const wrong = oriented.backsights.filter((b) => b.slip === 'face');
      const itself = backs.some((m) => m.pointing.number === o.setup.number);
      setup.failed = wrong.length
        ? `the backsight to ${wrong.map((b) => b.number).join(', ')} has a vertical angle of the other face than the one it says`
        : backs.length
          ? itself
            ? `its backsight goes to ${o.setup.number}, the station itself`
            : `no coordinates of ${backs.map((b) => b.pointing.number).join(', ')} are known, and no azimuth was typed`
          : 'it has no backsight';
      const kind = backs.length ? 'backsight-unknown' : 'no-backsight';
      state.note(kind, o.book, o.setup, [o.setup.row, ...sightingsOf(o).map((s) => s.row)], setup.failed);
      return;
    }
    setup.orientation = oriented.orientation;
    setup.sdOrientation = oriented.sd;
    setup.waits = this.waitsFor(setup);
    const from = state.points.count;
    const shots = o.plain ? reduceShots(o, setup, station, setting, state.points, state.special) : null;
    if (o.plain && !shots && this.turnsOutInBothFaces()) return this.reduce();
    this.watchSpreads(list, circles, setup.errors);
    for (const m of list)
      if (m.pointing.role !== 'shot' || state.special.kindOf(m.pointing.number) !== undefined)
        state.remember(o, m.pointing.records[0].row, m.pointing.number, m.pointing.circle, m);
    for (const m of list) if (m.pointing.role !== 'back') this.sight(m, setup, station);
    if (shots) this.follow(shots, from, setup, setting);
    this.watchControl(setup);
  }

  /** Whether a setup that looked plain has a shot in face 2 without saying so: faces are then brought together. */
  private turnsOutInBothFaces(): boolean {
    const { o } = this;
    const looked = o.plain;
    settleFaces(o);
    return looked && !o.plain;
  }

  private waitsFor(setup: SetupResult): string | null {
    const { o, state } = this;
    if (state.decisionOf(o.book.id, o.setup.row) === 'used') return null;
    if (setup.doubts.length) return doubtText(setup);
    if (setup.backsights.some(orients)) return null;
    const undecided = setup.backsights.filter((b) => b.state === 'undecided');
    return undecided.length
      ? `the backsight to ${undecided.map((b) => b.number).join(', ')} is undecided`
      : 'every backsight is set aside';
  }

  private sight(m: Measured, setup: SetupResult, station: Known): void {
    const { o, state } = this;
    const { pointing: p } = m;
    const [first] = p.records;
    if (Number.isNaN(p.circle) && !Number.isNaN(first.circle)) {
      const text = `sighting ${p.number} was read after the circle was turned, and nothing that it shares with the rest of the setup says by how much`; // prettier-ignore
      state.note('turn-unknown', o.book, first, p.records.map((r) => r.row), text); // prettier-ignore
      return;
    }
    const problem = pointingProblem(p);
    // A direction by itself is a check too: the one read again before leaving.
    const directionAlone = p.role === 'check' && problem?.kind === 'reading-missing' && !Number.isNaN(p.circle);
    if (problem && !directionAlone) {
      state.note(problem.kind, o.book, first, p.records.map((r) => r.row), `sighting ${p.number} ${problem.text}`); // prettier-ignore
      return;
    }
    const target = state.known.get(p.number);
    if (p.role === 'check' || state.controlled.has(p.number)) {
      if (target) setup.checks.push(check(station, m, target, setup.orientation, state.settings));
      else
        state.note('backsight-unknown', o.book, first, [first.row], `the check to ${p.number} is to a point that is not known`); // prettier-ignore
      return;
    }
    this.place(m, setup, station);
  }

  /** What is to be said and done of shots that were reduced in one loop, the first of their points at `from`. */
  private follow(shots: Shots, from: number, setup: SetupResult, setting: Setting): void {
    const { o, state } = this;
    const station = setup.station!;
    setup.shots += shots.given;
    for (const r of shots.refused) {
      const problem = readingProblem(r)!;
      state.note(problem.kind, o.book, r, [r.row], `sighting ${r.number} ${problem.text}`);
    }
    for (const r of shots.checks) {
      const m = measure(pointingOf([r], NO_ERRORS), setting);
      state.remember(o, r.row, r.number, r.circle, m);
      this.sight(m, setup, station);
    }
    setup.checks.sort((a, b) => a.row - b.row);
    for (const { shot: r, at } of shots.carried) {
      measureInto(numbers, r.zenith, r.distance, r.height, r.target, 1, setting);
      state.remember(o, r.row, r.number, r.circle, numbers);
      state.takeAndCarry(r.number, at, setup);
    }
    for (const r of shots.flat) this.flat(r, r.number, r.height, station);
    if (state.levelled.size === 0) return;
    for (let i = from; i < from + shots.given; i++) {
      const { number } = state.points.name[i];
      if (!state.adjusted.has(number)) state.takeLevelled(i, number);
    }
  }

  /** Any other pointing to a new point: the mean of faces and rounds. */
  private place(m: Measured, setup: SetupResult, station: Known): void {
    const { o, state } = this;
    setup.shots++;
    const { pointing, horizontal, rise } = m;
    const { number, code } = pointing;
    const [record] = pointing.records;
    sinCosInto(turned(pointing.circle + setup.orientation), direction);
    const turn = m.sdDirection * m.sdDirection + setup.sdOrientation * setup.sdOrientation;
    const across = horizontal * horizontal * turn;
    const p = state.points;
    const i = p.count++;
    p.book[i] = o.bookIndex;
    p.setup[i] = o.index;
    p.waits[i] = setup.waits === null && !this.isDoubtful(m) ? 0 : 1;
    p.x[i] = station.x + horizontal * direction.sin;
    p.y[i] = station.y + horizontal * direction.cos;
    p.z[i] = station.z + rise;
    p.sdPlan[i] = Math.sqrt(station.sdPlan * station.sdPlan + (across + m.sdDistance * m.sdDistance) / 2);
    p.sdAcross[i] = Math.sqrt(station.sdPlan * station.sdPlan + across);
    p.sdHeight[i] = Number.isNaN(p.z[i]) ? NaN : Math.sqrt(station.sdHeight * station.sdHeight + m.sdRise * m.sdRise);
    p.name[i] = code === record.code ? record : { row: record.row, number, code };
    if (state.special.kindOf(number) === 'wanted') state.takeAndCarry(number, i, setup);
    else state.takeLevelled(i, number);
    if (Number.isNaN(rise)) this.flat(record, number, pointing.height, station);
  }

  /** Whether readings of a target differ by more than a place may, or belong to nobody knows which circle. */
  private isDoubtful(m: Measured): boolean {
    const { pointing: p } = m;
    return (
      p.records.some((r) => this.doubtful.has(r.row)) ||
      p.spreadCircle * m.horizontal > this.state.settings.checkPlan ||
      p.spreadZenith * m.horizontal > this.state.settings.checkHeight ||
      p.spreadDistance > this.state.settings.checkPlan
    );
  }

  private flat(record: BookRecord, number: string, height: number, station: Known): void {
    const { o, state } = this;
    // That a crew measured in plan alone is said once for its book, not of every sighting.
    if (Number.isNaN(station.z) || record.flat === 'plan') return;
    const missing = [Number.isNaN(o.setup.height) && 'instrument', Number.isNaN(height) && 'target'].filter(Boolean);
    state.note('reading-missing', o.book, record, [record.row], `sighting ${number} has no ${missing.join(' and no ')} height`); // prettier-ignore
  }

  private watchSpreads(list: Measured[], circles: CircleSets | null, errors: FaceErrors): void {
    const { o, state } = this;
    for (const m of list) {
      const { pointing: p } = m;
      const wide = Math.max(p.spreadCircle, p.spreadZenith);
      if (!(wide > state.settings.angleSpread || p.spreadDistance > state.settings.checkPlan)) continue;
      const rows = p.records.map((r) => r.row);
      if (!this.isDoubtful(m)) {
        state.note('spread', o.book, p.records[0], rows, `repeated readings of ${p.number} differ`, [wide, p.spreadDistance]); // prettier-ignore
        continue;
      }
      const others = p.records.flatMap((r) => {
        const number = this.pointsTo(r, m, list, circles, errors);
        return number === null ? [] : [{ row: r.row, number }];
      });
      state.note('spread-wide', o.book, p.records[0], rows, `repeated readings of ${p.number} differ`, [wide, p.spreadDistance], others); // prettier-ignore
    }
  }

  /** Another target of the setup that a reading points to, in direction and distance; null where there is none. */
  private pointsTo(
    r: BookRecord,
    own: Measured,
    list: Measured[],
    circles: CircleSets | null,
    errors: FaceErrors,
  ): string | null {
    const circle = trueReading(r, errors).circle - (circles?.offsetOf(r) ?? 0);
    const plan = this.state.settings.checkPlan;
    const at = list.find((m) => {
      if (m === own || m.pointing.number === own.pointing.number) return false;
      const aside = Math.abs(difference(circle - m.pointing.circle)) * (m.horizontal || 1);
      const apart = Math.abs(r.distance * Math.abs(sin(r.zenith)) - m.horizontal);
      return aside <= plan && !(apart > plan + 1e-4 * m.horizontal);
    });
    return at ? at.pointing.number : null;
  }

  /** Nothing but one direction holds the setup: no slip of it would show. */
  private watchControl(setup: SetupResult): void {
    const { o, state } = this;
    const used = setup.backsights.filter(orients);
    if (used.length !== 1 || setup.checks.length > 0 || setup.backsights.length > 1) return;
    if (!Number.isNaN(used[0].distanceDifference)) return;
    state.note('uncontrolled', o.book, o.setup, [], `setup ${o.setup.number} is oriented by one direction to ${used[0].number} and nothing else`); // prettier-ignore
  }
}

/** What does not fit at a free station, in a few words. */
function doubtText({ doubts }: SetupResult): string {
  const said = [...new Set(doubts.map((d) => `the ${d.what} to ${d.number}`))];
  return doubts[0].sure
    ? `${said.join(' and ')} ${said.length > 1 ? 'do' : 'does'} not fit the other sights that the station was found from`
    : `the sights that the station was found from do not agree, and nothing tells which of them is wrong: ${said.join(', or ')}`;
}
