import { cos, distance as length, sin, turned } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { averageGnss } from './gnss.ts';
import { airBefore, instrumentNamed, measure, readingProblem, type Measured } from './measure.ts';
import { check, orient } from './orient.ts';
import { directionDeviation, faceErrors, pointingsOf } from './pointings.ts';
import { resect } from './resection.ts';
import type {
  BookInput,
  Decision,
  Known,
  ReducedPoint,
  Reduction,
  ReductionNote,
  ReductionSettings,
  SetupResult,
} from './types.ts';

interface Occupation {
  book: BookInput;
  at: number;
  setup: BookRecord;
  sightings: BookRecord[];
  azimuths: Map<string, number>;
}

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
): Reduction {
  const work = new Work(books, control, decisionOf, settings);
  return work.run();
}

class Work {
  private readonly known = new Map<string, Known>();
  private readonly controlled = new Set<string>();
  private readonly results = new Map<Occupation, { setup: SetupResult; points: ReducedPoint[] }>();
  private readonly notes: ReductionNote[] = [];
  private readonly points: ReducedPoint[] = [];
  private readonly occupations: Occupation[] = [];
  /** Numbers that are stood on or oriented by somewhere: shots of them are carried forward. */
  private readonly wanted = new Set<string>();

  constructor(
    private readonly books: readonly BookInput[],
    control: readonly Known[],
    private readonly decisionOf: (book: string, row: number) => Decision | undefined,
    private readonly settings: ReductionSettings,
  ) {
    for (const c of control) {
      this.known.set(c.number, c);
      this.controlled.add(c.number);
    }
  }

  run(): Reduction {
    for (const book of this.books) this.gather(book);
    const open = new Set(this.occupations);
    // Whatever can stand on something known is reduced; what it carries forward may let others stand.
    while (open.size) {
      let done = [...open].filter((o) => this.known.has(o.setup.number));
      if (done.length === 0) {
        const free = [...open].find((o) => this.standFree(o));
        if (!free) break;
        done = [free];
      }
      for (const o of done) {
        open.delete(o);
        this.occupy(o);
      }
    }
    for (const o of open) this.fail(o, 'station-unknown', stationUnknown(o.setup.number));
    const setups: SetupResult[] = [];
    for (const o of this.occupations) {
      const { setup, points } = this.results.get(o)!;
      for (const p of points) this.points.push({ ...p, setup: setups.length });
      setups.push(setup);
    }
    return { setups, points: this.points, notes: this.notes, known: this.known };
  }

  private gather(book: BookInput): void {
    let current: Occupation | null = null;
    book.records.forEach((r, at) => {
      if (r.deleted) return;
      if (r.kind === 'setup') {
        current = { book, at, setup: r, sightings: [], azimuths: new Map() };
        this.occupations.push(current);
        this.wanted.add(r.number);
      } else if (r.kind === 'sighting' && current) {
        current.sightings.push(r);
        if (r.role === 'back') this.wanted.add(r.number);
      } else if (r.kind === 'azimuth' && current) current.azimuths.set(r.number, r.circle);
      else if (r.kind === 'point') this.typed(book, r);
    });
    averageGnss(book, this.settings, this.known, this.controlled, this.points, this.notes);
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

  private measured(o: Occupation): { list: Measured[]; setup: SetupResult } {
    const errors = faceErrors(o.sightings);
    const instrument = instrumentNamed(o.book.instruments, o.setup.instrument);
    const setting = {
      instrument,
      targets: new Map(o.book.targets.map((t) => [t.name, t])),
      air: airBefore(o.book.records, o.at),
      height: o.setup.height,
      refraction: this.settings.refraction,
      factor: this.settings.factor,
    };
    const list = pointingsOf(o.sightings, errors).map((p) =>
      measure(p.target === '' && o.setup.target !== '' ? { ...p, target: o.setup.target } : p, setting),
    );
    const { sd } = directionDeviation(o.sightings, errors);
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
    const { setup } = this.measured(o);
    this.results.set(o, { setup: { ...setup, failed: text }, points: [] });
    this.note(kind, o.book, o.setup, [o.setup.row, ...o.sightings.map((s) => s.row)], text);
  }

  /** A station that nobody knows, found from known points that it sights. */
  private standFree(o: Occupation): boolean {
    const sights = this.measured(o).list.flatMap((m) => {
      const target = this.known.get(m.pointing.number);
      if (!target || m.pointing.role === 'shot' || Number.isNaN(m.pointing.circle)) return [];
      const { circle } = m.pointing;
      return [{ target, circle, horizontal: m.horizontal, rise: m.rise, sdDirection: m.sdDirection, sdDistance: m.sdDistance, sdRise: m.sdRise }]; // prettier-ignore
    });
    const found = resect(sights);
    if (!found.ok) return false;
    const { x, y, z, sdPlan, sdHeight } = found;
    this.known.set(o.setup.number, { number: o.setup.number, x, y, z, sdPlan, sdHeight, from: 'resected' });
    return true;
  }

  private occupy(o: Occupation): void {
    const { list, setup } = this.measured(o);
    const station = this.known.get(o.setup.number)!;
    setup.station = station;
    const points: ReducedPoint[] = [];
    this.results.set(o, { setup, points });
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
      setup.failed = backs.length
        ? `no coordinates of ${backs.map((b) => b.pointing.number).join(', ')} are known, and no azimuth was typed`
        : 'it has no backsight';
      const kind = backs.length ? 'backsight-unknown' : 'no-backsight';
      this.note(kind, o.book, o.setup, [o.setup.row, ...o.sightings.map((s) => s.row)], setup.failed);
      return;
    }
    setup.orientation = oriented.orientation;
    setup.sdOrientation = oriented.sd;
    setup.waits = this.waitsFor(o, setup);
    this.watchSpreads(o, list);
    for (const m of list) if (m.pointing.role !== 'back') this.sight(o, m, setup, points, station);
  }

  private waitsFor(o: Occupation, setup: SetupResult): string | null {
    if (this.decisionOf(o.book.id, o.setup.row) === 'used') return null;
    if (setup.backsights.some((b) => b.state === 'used')) return null;
    const undecided = setup.backsights.filter((b) => b.state === 'undecided');
    return undecided.length
      ? `the backsight to ${undecided.map((b) => b.number).join(', ')} is undecided`
      : 'every backsight is set aside';
  }

  private sight(o: Occupation, m: Measured, setup: SetupResult, points: ReducedPoint[], station: Known): void {
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
    setup.shots++;
    const point = this.point(o, m, setup, station);
    points.push(point);
    if (Number.isNaN(m.rise) && !Number.isNaN(station.z))
      this.note('reading-missing', o.book, first, [first.row], `sighting ${p.number} has no ${Number.isNaN(p.height) ? 'target' : 'instrument'} height`); // prettier-ignore
    if (this.wanted.has(p.number) && !this.known.has(p.number) && !point.waits) {
      const { number, x, y, z, sdPlan, sdHeight } = point;
      this.known.set(number, { number, x, y, z, sdPlan, sdHeight, from: 'carried' });
    }
  }

  private point(o: Occupation, m: Measured, setup: SetupResult, station: Known): ReducedPoint {
    const { pointing: p } = m;
    const bearing = turned(p.circle + setup.orientation);
    const sdBearing = Math.sqrt(m.sdDirection ** 2 + setup.sdOrientation ** 2);
    return {
      book: o.book.id,
      row: p.records[0].row,
      number: p.number,
      code: p.code,
      x: station.x + m.horizontal * sin(bearing),
      y: station.y + m.horizontal * cos(bearing),
      z: station.z + m.rise,
      sdPlan: Math.sqrt(station.sdPlan ** 2 + ((m.horizontal * sdBearing) ** 2 + m.sdDistance ** 2) / 2),
      sdHeight: Math.sqrt(station.sdHeight ** 2 + m.sdRise ** 2),
      setup: -1,
      waits: setup.waits !== null,
      horizontal: m.horizontal,
      bearing,
      rise: m.rise,
    };
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
