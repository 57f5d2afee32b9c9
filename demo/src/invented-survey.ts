import { PLAIN_INSTRUMENT, type Book } from '#core/book';
import { SimulatedInstrument, type Mark } from './instrument.ts';
import { seeded } from './random.ts';

// Surveys by the hundred, each on ground of its own, with the slips that crews make planted in them, or none: how often
// blame is right is counted on these (npm run bench -- blame; core/test/blame.test.ts).

export const SLIP_KINDS = [
  'target-height-left',
  'target-height-typed',
  'target-height-run-typed',
  'target-height-known',
  'instrument-height',
  'backsight-wrong',
  'station-wrong',
  'number-of-control',
  'number-twice',
  'code-mistyped',
  'code-of-another',
  'code-forgotten',
  'coordinate-typed',
  'local-coordinate',
  'control-elevation',
  'control-place',
  'circle-turned',
  'free-sight',
  'face-exchanged',
] as const;
export type SlipKind = (typeof SLIP_KINDS)[number];

export type GroundKind = 'smooth' | 'rough' | 'built';

/** What would mend a planted slip: records by row, with what they truly hold. */
export interface Planted {
  kind: SlipKind;
  /** Row of the book and what its record should say; a number of control with its true elevation or place. */
  mend: { row: number; set: Partial<Record<'number' | 'code' | 'height' | 'face', string | number>> }[];
  /** Rows whose record is wrong as a whole: leaving them out, or giving them another number, is right. */
  wrongRows: number[];
  /** Number of control whose given coordinates are wrong. */
  control?: string;
  /** Number that two different points have. */
  number?: string;
}

export interface InventedSurvey {
  seed: number;
  ground: GroundKind;
  setups: number;
  control: Mark[];
  /** Standard deviation of given coordinates, m. */
  controlSd: number;
  book: Book;
  planted: Planted[];
}

const SECOND = Math.PI / 648_000;
const INSTRUMENT = { ...PLAIN_INSTRUMENT, name: 'N1', direction: 3 * SECOND, zenith: 3 * SECOND, distance: 0.002, ppm: 2 }; // prettier-ignore
const CORNER = { x: 4200, y: 7300 };
const POLE = 1.5;
const LONG_POLE = 2.1;
/** m; by how much rough ground differs from its own course at each shot. */
const ROUGHNESS = 0.035;

type Random = ReturnType<typeof seeded>;

function groundOf(kind: GroundKind, random: Random): (u: number, v: number) => number {
  const [a, b, c, d] = [1, 2, 3, 4].map(() => random.next());
  const waves = (u: number, v: number): number =>
    40 + (a - 0.5) * 0.06 * u + (b - 0.5) * 0.06 * v + 0.6 * Math.sin(u / (25 + 12 * c)) + 0.5 * Math.cos(v / (22 + 15 * d)); // prettier-ignore
  if (kind === 'smooth') return waves;
  if (kind === 'rough') return (u, v) => waves(u, v) + random.normal(ROUGHNESS);
  // A carriageway between kerbs: level across but for its fall, the footway a kerb's height above.
  return (u, v) => waves(u, 30) + (Math.abs(v - 30) > 4 ? 0.12 + 0.02 * (Math.abs(v - 30) - 4) : -0.025 * Math.abs(v - 30)); // prettier-ignore
}

interface Shot {
  mark: Mark;
  code: string;
  th: number;
  said?: { th?: number; code?: string; number?: string };
}

class SurveyMaker {
  private readonly random: Random;
  private readonly elevation: (u: number, v: number) => number;
  private readonly t: SimulatedInstrument;
  private readonly truth: Mark[];
  private readonly given: Mark[];
  private readonly planted: Planted[] = [];
  private next = 101;
  private readonly setupRows: { row: number; hi: number; station: Mark; free: boolean }[] = [];

  constructor(
    private readonly seed: number,
    private readonly ground: GroundKind,
    private readonly setups: number,
    private readonly controlSd: number,
    private readonly slips: readonly SlipKind[],
  ) {
    this.random = seeded(seed);
    this.elevation = groundOf(ground, this.random);
    this.t = new SimulatedInstrument(seed + 7, INSTRUMENT, { temperature: 15, pressure: 1005, humidity: 60 }, { index: this.random.normal(8 * SECOND), collimation: this.random.normal(5 * SECOND) }); // prettier-ignore
    const far = controlSd > 0.004 ? 60 : 0;
    const places: [number, number][] = [[-12 - far, -8], [50, -14 - far], [112 + far, -6], [108, 68 + far], [46, 74 + far], [-9 - far, 66]]; // prettier-ignore
    this.truth = places.map(([u, v], i) => {
      const [jx, jy] = [6 * this.random.next(), 6 * this.random.next()];
      return this.mark(`C${i + 1}`, u + jx, v + jy);
    });
    this.given = this.truth.map((m) => ({
      ...m,
      x: round(m.x + this.random.normal(controlSd)),
      y: round(m.y + this.random.normal(controlSd)),
      z: round(m.z + this.random.normal(controlSd)),
    }));
  }

  private has = (kind: SlipKind): boolean => this.slips.includes(kind);
  private pick = (n: number): number => Math.floor(this.random.next() * n);

  private mark(number: string, u: number, v: number): Mark {
    return { number, x: CORNER.x + u, y: CORNER.y + v, z: this.elevation(u, v) };
  }

  make(): InventedSurvey {
    this.t.weather();
    if (this.has('control-elevation')) this.spoilControl('control-elevation');
    if (this.has('control-place')) this.spoilControl('control-place');
    const peg = this.mark('P1', 58, 36);
    let ties: Mark[] = [];
    for (let s = 0; s < this.setups; s++) {
      const free = s === 1 || (s === 0 && this.has('free-sight'));
      const station = this.stationOf(s, free, peg);
      this.occupy(s, station, free);
      for (const tie of ties) this.shoot({ mark: { ...tie, number: this.number() }, code: 'LD', th: POLE });
      const shots = this.shotsOf(s);
      this.spoilShots(s, shots);
      const half = shots.length >> 1;
      shots.forEach((shot, i) => {
        if (i === half && s === 0 && this.has('circle-turned')) this.turnCircle();
        this.shoot(shot);
      });
      ties = [0, 1].map((k) => this.mark(this.number(), 33.3 * (s + 1) - 5 + 4 * k, 34 + 9 * k));
      if (s + 1 < this.setups) for (const tie of ties) this.shoot({ mark: tie, code: 'LD', th: POLE });
      // What others stand on is sighted in both faces.
      if (s === 0 && this.setups > 2) this.t.sight(peg, { th: POLE, code: 'PG', faces: 2 });
      this.close(s, station);
    }
    this.spoilHeights();
    const book = this.t.book(`survey ${this.seed}`);
    return { seed: this.seed, ground: this.ground, setups: this.setups, control: this.given, controlSd: this.controlSd, book, planted: this.planted }; // prettier-ignore
  }

  private number = (): string => String(this.next++);

  private stationOf(s: number, free: boolean, peg: Mark): Mark {
    if (free) return this.mark(`F${s + 1}`, 30 + 33 * s + 6 * this.random.next(), 40 + 10 * this.random.next());
    // Control of a number comes before what was typed for it: such a station stands on a mark of its own.
    if (s === this.slipSetup() && (this.has('coordinate-typed') || this.has('local-coordinate')))
      return this.mark(`T${s + 1}`, 6 + 30 * s, 28 + 4 * this.random.next());
    return s >= 2 ? peg : this.truth[0];
  }

  /** Sights that a setup begins with: backsights in both faces, then checks. */
  private occupy(s: number, station: Mark, free: boolean): void {
    const hi = round(1.45 + 0.3 * this.random.next());
    const zero = 6 * this.random.next();
    let called = station.number;
    const wrongHere = s === this.slipSetup();
    if (wrongHere && this.has('coordinate-typed') && !free) this.typeCoordinates(station);
    if (wrongHere && this.has('local-coordinate')) this.typeCoordinates(station, { x: 1000, y: 500 });
    if (wrongHere && this.has('station-wrong')) called = this.otherControl(station).number;
    this.t.setup(station, hi, zero, { called });
    const row = this.t.records.at(-1)!.row;
    this.setupRows.push({ row, hi, station, free });
    if (called !== station.number) this.plant('station-wrong', [{ row, set: { number: station.number } }]);
    const others = this.truth.filter((m) => m !== station);
    const backs = free ? [0, 1, 2, 3].map((k) => others[(s + k) % others.length]) : [others[(s + 1) % others.length]];
    const checks = free ? [] : [others[(s + 2) % others.length], others[(s + 4) % others.length]];
    backs.forEach((b, i) => {
      const from = this.t.records.length;
      const wrong = wrongHere && i === 0 && !free && this.has('backsight-wrong');
      const name = wrong ? others[(s + 3) % others.length].number : b.number;
      this.t.sight(b, { role: 'back', th: POLE, faces: 2, called: name });
      const rows = this.t.records.slice(from);
      if (wrong)
        this.plant(
          'backsight-wrong',
          rows.map((r) => ({ row: r.row, set: { number: b.number } })),
        );
      if (wrongHere && i === 0 && this.has('face-exchanged')) {
        for (const r of rows) r.face = 3 - r.face;
        this.plant(
          'face-exchanged',
          rows.map((r) => ({ row: r.row, set: { face: 3 - r.face } })),
        );
      }
      if (free && i === 1 && s <= 1 && this.has('free-sight') && !this.planted.some((p) => p.kind === 'free-sight')) {
        for (const r of rows) r.distance += 0.1 + 0.3 * this.random.next();
        this.planted.push({ kind: 'free-sight', mend: [], wrongRows: rows.map((r) => r.row) });
      }
    });
    for (const c of checks) this.t.sight(c, { role: 'check', th: POLE });
  }

  private close(s: number, station: Mark): void {
    const others = this.truth.filter((m) => m !== station);
    this.t.sight(others[(s + 1) % others.length], { role: 'check', th: POLE });
  }

  /** The setup in which a slip of the setup itself is planted. */
  private slipSetup(): number {
    return this.setups > 2 && this.seed % 2 ? 2 : 0;
  }

  private otherControl(not: Mark): Mark {
    const others = this.truth.filter((m) => m !== not);
    return others[this.pick(others.length)];
  }

  private plant(kind: SlipKind, mend: Planted['mend']): void {
    this.planted.push({ kind, mend, wrongRows: [] });
  }

  private spoilControl(kind: 'control-elevation' | 'control-place'): void {
    // Sighted from every setup, and stood on by none.
    const at = this.given.findIndex((m) => m.number === (this.setups > 1 ? 'C4' : 'C3'));
    const m = this.given[at];
    const by = (0.12 + 0.8 * this.random.next()) * (this.random.next() < 0.5 ? -1 : 1);
    if (kind === 'control-elevation') m.z = round(m.z + by);
    else m.x = round(m.x + by);
    this.planted.push({ kind, mend: [], wrongRows: [], control: m.number });
  }

  private typeCoordinates(station: Mark, at?: { x: number; y: number }): void {
    const kind = at ? 'local-coordinate' : 'coordinate-typed';
    const typed = at ? { ...station, ...at, z: 100 } : { ...station, x: station.x + (this.pick(2) ? 1 : -1) };
    this.t.point(typed);
    this.planted.push({ kind, mend: [], wrongRows: [this.t.records.at(-1)!.row] });
  }

  private turnCircle(): void {
    const by = (0.2 + 2 * this.random.next()) * (this.pick(2) ? 1 : -1);
    this.t.turnCircle(by);
    const row = this.t.records.at(-1)!.row + 1;
    this.planted.push({ kind: 'circle-turned', mend: [], wrongRows: [row] });
  }

  /** Shots of a setup as the crew walks them: lines, then spots up and down. */
  private shotsOf(s: number): Shot[] {
    const [from, to] = [33 * s, 33 * (s + 1)];
    const out: Shot[] = [];
    const line = (code: string, v: number, step: number): void => {
      const us: number[] = [];
      for (let u = from + 1; u <= to - 1; u += step) us.push(u);
      us.forEach((u, i) => out.push({ mark: this.mark(this.number(), u, v), code: `${code}${s + 1}${i === 0 ? ' BEG' : i === us.length - 1 ? ' END' : ''}`, th: POLE })); // prettier-ignore
    };
    if (this.ground === 'built') {
      line('KT', 25.95, 3);
      line('KF', 26.05, 3);
      line('LC', 30, 4);
      line('KF', 33.95, 3);
    } else line(this.ground === 'rough' ? 'DB' : 'ED', 12, 3.5);
    const spots: Shot[] = [];
    for (let k = 0, u = from + 3; u < to; u += 6, k++) {
      const vs = [3, 9, 15, 21, 39, 45, 51, 57, 63].map((v) => v + 2 * this.random.next());
      for (const v of k % 2 ? vs.reverse() : vs)
        spots.push({ mark: this.mark(this.number(), u + 1.5 * this.random.next(), v), code: 'GR', th: POLE });
    }
    // A stretch with the long pole, noted as it should be.
    for (const shot of spots.slice(18, 24)) shot.th = LONG_POLE;
    return [...out, ...spots];
  }

  /** Slips in shots are planted in the last setup, away from the rim of what it sees. */
  private spoilShots(s: number, shots: Shot[]): void {
    if (s !== this.setups - 1) return;
    const spots = shots.flatMap((x, i) => (x.code === 'GR' && i > shots.length - 36 && i < shots.length - 14 ? [i] : [])); // prettier-ignore
    const own = spots.filter((i) => shots[i].th === POLE);
    const inner = own.slice(3, -3);
    const lines = shots.flatMap((x, i) => (x.code !== 'GR' && !x.code.includes(' ') && i > 2 ? [i] : []));
    const onLine = lines.filter((i) => lines.includes(i - 1) && lines.includes(i + 1) && lines.includes(i - 2) && lines.includes(i + 2)); // prettier-ignore
    const said = (i: number, what: NonNullable<Shot['said']>): void =>
      void (shots[i].said = { ...shots[i].said, ...what });
    // Shots that follow each other with one pole, as far as they do.
    const run = (at: number, most: number): number[] => {
      const out = [at];
      while (out.length < most && shots[at + out.length]?.th === shots[at].th) out.push(at + out.length);
      return out;
    };
    if (this.has('target-height-left')) {
      const own = inner.filter((i) => shots[i].th === POLE);
      for (const i of run(own[this.pick(own.length)], 1 + this.pick(5))) {
        said(i, { th: POLE });
        shots[i].th = LONG_POLE;
      }
    }
    if (this.has('target-height-typed')) {
      const list = this.ground === 'smooth' ? inner : onLine;
      const at = list[this.pick(list.length)];
      said(at, { th: [1.05, 1.9, 2.5, 0.5, 3.3][this.pick(5)] });
    }
    if (this.has('target-height-run-typed')) {
      const list = this.ground === 'smooth' ? inner.slice(0, 4) : onLine.slice(0, Math.max(1, onLine.length - 6));
      const th = [1.9, 1.1, 2.5][this.pick(3)];
      for (const i of run(list[this.pick(list.length)], 3 + this.pick(3))) said(i, { th });
    }
    if (this.has('number-twice')) {
      const [a, b] = [inner[0], inner[inner.length - 1]];
      said(b, { number: shots[a].mark.number });
    }
    if (this.has('number-of-control')) said(inner[this.pick(inner.length)], { number: 'C5' });
    const at = onLine[this.pick(onLine.length)];
    if (this.has('code-mistyped')) said(at, { code: shots[at].code.replace(/^(.)(.)/, '$1X') });
    if (this.has('code-forgotten')) said(at, { code: '' });
    if (this.has('code-of-another')) said(inner[this.pick(inner.length)], { code: shots[at].code });
  }

  private shoot(shot: Shot): void {
    const { mark, code, th, said } = shot;
    this.t.sight(mark, { th, written: said?.th, code: said?.code ?? code, called: said?.number });
    const { row } = this.t.records.at(-1)!;
    if (!said) return;
    if (said.th !== undefined) {
      const kind = this.slips.find((k) => k.startsWith('target-height') && k !== 'target-height-known')!;
      const open = this.planted.find((p) => p.kind === kind);
      const mend = { row, set: { height: th } };
      if (open) open.mend.push(mend);
      else this.plant(kind, [mend]);
    }
    if (said.code !== undefined) {
      const kind = said.code === '' ? 'code-forgotten' : code === 'GR' ? 'code-of-another' : 'code-mistyped';
      this.planted.push({ kind, mend: [{ row, set: { code } }], wrongRows: kind === 'code-of-another' ? [row] : [] });
    }
    if (said.number !== undefined) {
      const kind = said.number.startsWith('C') ? 'number-of-control' : 'number-twice';
      this.planted.push({ kind, mend: [], wrongRows: [row], number: said.number });
    }
  }

  /** Heights of setups and of known points, written wrong when all is measured. */
  private spoilHeights(): void {
    const { records } = this.t;
    if (this.has('instrument-height')) {
      const s = this.setupRows[this.slipSetup()];
      const r = records.find((x) => x.row === s.row)!;
      this.plant('instrument-height', [{ row: r.row, set: { height: r.height } }]);
      r.height = misread(r.height, this.random);
    }
    if (this.has('target-height-known')) {
      const known = records.filter((r) => r.kind === 'sighting' && r.role === 'check');
      const r = known[this.pick(known.length)];
      this.plant('target-height-known', [{ row: r.row, set: { height: r.height } }]);
      r.height = this.pick(2) ? LONG_POLE : misread(r.height, this.random);
    }
  }
}

function round(v: number): number {
  return Number(v.toFixed(3));
}

/** A height as it is misread or mistyped: a digit exchanged with the next, a tenth or a half more or less. */
function misread(h: number, random: Random): number {
  const digits = h.toFixed(3);
  const swapped = Number(`${digits[0]}.${digits[3]}${digits[2]}${digits[4]}`);
  const changed = [swapped, h + 0.1, h - 0.1, h + 0.5, h - 0.4].filter((v) => Math.abs(v - h) > 0.08);
  return round(changed[Math.floor(random.next() * changed.length)]);
}

/** A survey with slips of the kinds named planted in it; the same for the same seed. */
export function inventedSurvey(seed: number, slips: readonly SlipKind[]): InventedSurvey {
  const ground = (['smooth', 'rough', 'built'] as const)[seed % 3];
  const needs = slips.some((k) => ['control-elevation', 'control-place'].includes(k)) ? 2 : 1;
  const setups = Math.max(needs, 1 + (Math.floor(seed / 3) % 3));
  const controlSd = Math.floor(seed / 9) % 2 ? 0.006 : 0.002;
  return new SurveyMaker(seed, ground, setups, controlSd, slips).make();
}
