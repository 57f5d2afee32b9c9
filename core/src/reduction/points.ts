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
  /** As they were asked for: asked for more than once when all is there. */
  private columns: NameColumns | null = null;

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
    return this.named.row;
  }
  numbers(): string[] {
    return this.named.number;
  }
  codes(): string[] {
    return this.named.code;
  }
  private get named(): NameColumns {
    if (this.columns?.name.length !== this.count) this.columns = columnsOfNames(this.name, this.count);
    return this.columns;
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

interface NameColumns {
  name: PointName[];
  row: Uint32Array;
  number: string[];
  code: string[];
}

/** Columns as they were made last for points that begin with the same one: few of the others are new. */
const columnsBefore = new WeakMap<PointName, NameColumns>();

/** Rows, numbers and codes of points; a column in which nothing is another is the one before. */
function columnsOfNames(names: readonly PointName[], count: number): NameColumns {
  const name = names.slice(0, count);
  const before = count > 0 ? columnsBefore.get(name[0]) : undefined;
  if (before?.name.length !== count) {
    const made = { name, row: Uint32Array.from(name, (n) => n.row), number: name.map((n) => n.number), code: name.map((n) => n.code) }; // prettier-ignore
    if (count > 0) columnsBefore.set(name[0], made);
    return made;
  }
  const others: number[] = [];
  for (let i = 0; i < count; i++) if (name[i] !== before.name[i]) others.push(i);
  if (others.length === 0) return before;
  const patched = <T extends string | number, C extends { [i: number]: T; slice: () => C }>(
    column: C,
    of: (n: PointName) => T,
  ): C => {
    // prettier-ignore
    const changed = others.filter((i) => of(name[i]) !== column[i]);
    if (changed.length === 0) return column;
    const out = column.slice();
    for (const i of changed) out[i] = of(name[i]);
    return out;
  };
  const made = { name, row: patched(before.row, (n) => n.row), number: patched(before.number, (n) => n.number), code: patched(before.code, (n) => n.code) }; // prettier-ignore
  columnsBefore.set(name[0], made);
  return made;
}
