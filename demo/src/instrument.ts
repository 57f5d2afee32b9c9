import { emptyRecord, type Book, type BookRecord, type Instrument } from '#core/book';
import { reduceSlope, velocityPpm, type Air } from '#core/reduction';
import { seeded } from './random.ts';

/** A place with the number that the crew gives it, metres. */
export interface Mark {
  number: string;
  x: number;
  y: number;
  z: number;
}

export interface SightOptions {
  role?: BookRecord['role'];
  /** Target height as it is, and as it is written down when that differs. */
  th: number;
  written?: number;
  faces?: 1 | 2;
  round?: number;
  code?: string;
  /** Number written down when it is another. */
  called?: string;
  target?: string;
}

/** m; standard deviation of centring, and of a height read at a mark. */
const CENTRING = 0.001;

/**
 * A simulated total station on true ground: it reads what an instrument of stated accuracy would read in that air,
 * over that earth, with its own index and collimation error, and writes it into a book.
 */
export class SimulatedInstrument {
  readonly records: BookRecord[] = [];
  private row = 20;
  /** The crew's clock, seconds. */
  private seconds: number;
  private readonly random;
  private station: Mark | null = null;
  private hi = 0;
  private zero = 0;
  private readonly targets = new Map<string, number>();

  constructor(
    seed: number,
    private readonly instrument: Instrument,
    private readonly air: Air,
    private readonly errors = { index: 0, collimation: 0 },
    private readonly refraction = 0.13,
    /** When the crew began, ISO, to the minute. */
    begun = '2026-07-20T07:30',
  ) {
    this.seconds = Date.parse(`${begun}:00Z`) / 1000;
    this.random = seeded(seed);
  }

  addTarget(name: string, constant: number): void {
    this.targets.set(name, constant);
  }

  private next(kind: BookRecord['kind']): BookRecord {
    const record = emptyRecord(kind, this.row++);
    this.records.push(record);
    return record;
  }

  /** The clock after something that took so many seconds, as the instrument writes it down. */
  private after(seconds: number): string {
    this.seconds += seconds;
    return new Date(this.seconds * 1000).toISOString().slice(0, 16);
  }

  weather(): void {
    Object.assign(this.next('weather'), this.air);
  }

  remark(text: string): void {
    this.next('remark').text = text;
  }

  point(mark: Mark): void {
    const { number, x, y, z } = mark;
    Object.assign(this.next('point'), { number, x, y, z });
  }

  /** Stands on a mark; `zero` is what the circle reads towards north, radians. */
  setup(at: Mark, hi: number, zero: number, written: { hi?: number; called?: string; target?: string } = {}): void {
    this.station = this.near(at);
    this.hi = hi;
    this.zero = zero;
    Object.assign(this.next('setup'), {
      number: written.called ?? at.number,
      height: written.hi ?? hi,
      instrument: this.instrument.name,
      target: written.target ?? '',
      time: this.after(900),
    });
  }

  /** The circle turns under the instrument, and nobody notices. */
  turnCircle(by: number): void {
    this.zero += by;
  }

  /** One set-up of a level between two staffs, the sights as long as each other; mm to a tenth. */
  level(from: Mark, to: Mark, sd = 0.0004): void {
    const middle = (from.z + to.z) / 2 + 1.4;
    const sight = Math.hypot(to.x - from.x, to.y - from.y) / 2;
    const read = (role: 'back' | 'fore', m: Mark): void =>
      void Object.assign(this.next('level'), {
        number: m.number,
        role,
        height: Number((middle - m.z + this.random.normal(sd)).toFixed(4)),
        distance: Number(sight.toFixed(1)),
        time: this.after(120),
      });
    read('back', from);
    read('fore', to);
  }

  sight(to: Mark, options: SightOptions): void {
    const held = this.near(to);
    for (let face = 1; face <= (options.faces ?? 1); face++) this.read(held, face, options);
  }

  /** Where instrument or target really stand when they are set up over a mark: off it by what centring leaves. */
  private near(mark: Mark): Mark {
    const { x, y, z } = mark;
    const off = (): number => this.random.normal(CENTRING);
    return { ...mark, x: x + off(), y: y + off(), z: z + off() };
  }

  private read(to: Mark, face: number, o: SightOptions): void {
    const from = this.station!;
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const flat = Math.hypot(dx, dy);
    const rise = to.z + o.th - (from.z + this.hi);
    const { slope, zenith } = this.sightLine(flat, rise);
    const i = this.instrument;
    const bearing = Math.atan2(dx, dy) + this.zero + this.random.normal(i.direction);
    const measured = zenith + this.random.normal(i.zenith);
    const noise = this.random.normal(Math.hypot(i.distance, i.ppm * 1e-6 * slope));
    const constant = i.constant + (this.targets.get(o.target ?? '') ?? 0);
    const circle =
      bearing + (face === 1 ? 1 : -1) * (this.errors.collimation / Math.sin(zenith)) + (face === 2 ? Math.PI : 0);
    Object.assign(this.next('sighting'), {
      number: o.called ?? to.number,
      role: o.role ?? 'shot',
      face,
      round: o.round ?? 0,
      circle: ((circle % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI),
      zenith: (face === 1 ? measured : 2 * Math.PI - measured) + this.errors.index,
      distance: (slope + noise) / (1 + velocityPpm(this.air, i.wavelength) * 1e-6) - constant,
      height: o.written ?? o.th,
      code: o.code ?? '',
      target: o.target ?? '',
      time: this.after(25),
    });
  }

  /** Slope and zenith whose reduction gives these: found by going back and forth. */
  private sightLine(flat: number, rise: number): { slope: number; zenith: number } {
    let [f, r] = [flat, rise];
    for (let turn = 0; turn < 6; turn++) {
      const got = reduceSlope(Math.hypot(f, r), Math.atan2(f, r), this.refraction);
      f += flat - got.horizontal;
      r += rise - got.rise;
    }
    return { slope: Math.hypot(f, r), zenith: Math.atan2(f, r) };
  }

  book(name: string): Book {
    return {
      name,
      unit: 'm',
      angle: 'dms',
      records: this.records,
      instruments: [this.instrument],
      targets: [...this.targets].map(([n, constant]) => ({ name: n, constant })),
      problems: [],
      problemCount: 0,
      rows: this.row,
      complete: true,
    };
  }
}
