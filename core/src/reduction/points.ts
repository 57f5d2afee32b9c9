import type { ReducedPoint } from './reduced-point.ts';

const PLACES = ['x', 'y', 'z'] as const;

/** What names a point: its record, or what a mean of several has of them. */
export interface PointName {
  row: number;
  number: string;
  code: string;
}

/** Reduced points as columns: a hundred thousand of them are some arrays, not so many objects. */
export class ReducedPoints {
  count = 0;
  /** Index into `books`. */
  book: Uint32Array;
  setup: Int32Array;
  waits: Uint8Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  sdPlan: Float32Array;
  /** NaN of a point without an elevation. */
  sdHeight: Float32Array;
  /** Across the ray, m; 0 of a point that no ray gave. */
  sdAcross: Float32Array;
  name: PointName[];
  /** Codes as they were asked for: asked for more than once when all is there. */
  private said: string[] | null = null;

  constructor(
    readonly books: readonly string[],
    most: number,
  ) {
    this.book = new Uint32Array(most);
    this.setup = new Int32Array(most);
    this.waits = new Uint8Array(most);
    this.x = new Float64Array(most);
    this.y = new Float64Array(most);
    this.z = new Float64Array(most);
    this.sdPlan = new Float32Array(most);
    this.sdHeight = new Float32Array(most);
    this.sdAcross = new Float32Array(most);
    this.name = new Array<PointName>(most);
  }

  /** Puts a point where somebody else has found it; without an elevation it has no precision in height. */
  put(i: number, at: Pick<ReducedPoint, 'x' | 'y' | 'z' | 'sdPlan' | 'sdHeight'>): void {
    this.x[i] = at.x;
    this.y[i] = at.y;
    this.z[i] = at.z;
    this.sdPlan[i] = at.sdPlan;
    this.sdHeight[i] = Number.isNaN(at.z) ? NaN : at.sdHeight;
  }

  /** One entry a point, however many were made room for. */
  rows(): Uint32Array {
    const out = new Uint32Array(this.count);
    for (let i = 0; i < out.length; i++) out[i] = this.name[i].row;
    return out;
  }
  numbers(): string[] {
    return this.name.slice(0, this.count).map((n) => n.number);
  }
  codes(): string[] {
    if (this.said?.length !== this.count) this.said = this.name.slice(0, this.count).map((n) => n.code);
    return this.said;
  }

  /** The point at an index, as one thing. */
  at(i: number): ReducedPoint {
    const { x, y, z, sdPlan, sdHeight } = this;
    const { row, number, code } = this.name[i];
    return {
      book: this.books[this.book[i]],
      row,
      number,
      code,
      x: x[i],
      y: y[i],
      z: z[i],
      sdPlan: sdPlan[i],
      sdHeight: sdHeight[i],
      setup: this.setup[i],
      waits: this.waits[i] === 1,
    };
  }

  list(): ReducedPoint[] {
    return Array.from({ length: this.count }, (_, i) => this.at(i));
  }

  /** What was written from an index on, kept for another time. */
  cut(from: number): KeptPoints {
    const { count } = this;
    return {
      waits: this.waits.slice(from, count),
      x: this.x.slice(from, count),
      y: this.y.slice(from, count),
      z: this.z.slice(from, count),
      sdPlan: this.sdPlan.slice(from, count),
      sdHeight: this.sdHeight.slice(from, count),
      sdAcross: this.sdAcross.slice(from, count),
      name: this.name.slice(from, count),
    };
  }

  /** Writes what was kept behind what is there, as points of a book and a setup. */
  paste(kept: KeptPoints, book: number, setup: number): void {
    const from = this.count;
    const to = from + kept.waits.length;
    this.book.fill(book, from, to);
    this.setup.fill(setup, from, to);
    this.waits.set(kept.waits, from);
    for (const field of PLACES) this[field].set(kept[field], from);
    this.sdPlan.set(kept.sdPlan, from);
    this.sdHeight.set(kept.sdHeight, from);
    this.sdAcross.set(kept.sdAcross, from);
    for (let i = 0; i < kept.name.length; i++) this.name[from + i] = kept.name[i];
    this.count = to;
  }

  /** Cut to what was written, in the order of setups: GNSS first, then as the books hold them. */
  ordered(): ReducedPoints {
    const { count, setup } = this;
    let sorted = true;
    for (let i = 1; i < count && sorted; i++) sorted = setup[i] >= setup[i - 1];
    if (sorted) return this.pick(null, count);
    const order = Uint32Array.from({ length: count }, (_, i) => i);
    return this.pick(order.sort((a, b) => setup[a] - setup[b] || a - b));
  }

  /** The points at indices, or the first `n` as they stand. */
  pick(order: Uint32Array | null, n = order?.length ?? 0): ReducedPoints {
    const out = new ReducedPoints(this.books, 0);
    out.count = n;
    const cut = <T extends Float64Array | Float32Array | Uint32Array | Int32Array | Uint8Array>(column: T): T => {
      if (!order) return column.subarray(0, n) as T;
      const picked = new (column.constructor as new (length: number) => T)(n);
      for (let i = 0; i < n; i++) picked[i] = column[order[i]];
      return picked;
    };
    out.book = cut(this.book);
    out.setup = cut(this.setup);
    out.waits = cut(this.waits);
    for (const field of PLACES) out[field] = cut(this[field]);
    out.sdPlan = cut(this.sdPlan);
    out.sdHeight = cut(this.sdHeight);
    out.sdAcross = cut(this.sdAcross);
    if (order) out.name = Array.from(order, (i) => this.name[i]);
    else {
      this.name.length = n;
      out.name = this.name;
    }
    return out;
  }
}

export type KeptPoints = Pick<ReducedPoints, 'name' | 'waits' | 'x' | 'y' | 'z' | 'sdPlan' | 'sdHeight' | 'sdAcross'>;
