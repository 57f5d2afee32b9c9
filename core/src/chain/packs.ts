import { packColumns, stringColumn, stringsOf, unpackColumns, type Columns, type StringColumn } from '#core/kernel';
import type { ReadPoints } from '#core/exchange';
import {
  ReducedPoints,
  type GnssMean,
  type Known,
  type Levelling,
  type Reduction,
  type SetupResult,
} from '#core/reduction';
import type { Contour, Surface } from '#core/terrain';
import type { Adjusted, Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import { bookColumns, bookOfColumns } from './book-pack.ts';
import type { PointTable } from './points.ts';

// Each result as one block of typed columns: what is stored under a content hash and sent to the page.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;
const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const u8 = (c: Columns, name: string): Uint8Array => c[name] as Uint8Array;
const text = (c: Columns, name: string): string[] => stringsOf(c[name] as StringColumn);
const json = (value: unknown): StringColumn => stringColumn([JSON.stringify(value)]);
const unjson = <T>(c: Columns, name: string): T => JSON.parse(text(c, name)[0]) as T;

export function packRead(read: ReadPoints): Uint8Array {
  const { number, x, y, z, description, row, book, ...account } = read;
  return packColumns({
    x,
    y,
    z,
    row,
    number: stringColumn(number),
    description: stringColumn(description),
    account: json(account),
    ...(book ? bookColumns(book) : {}),
  });
}

export function unpackRead(block: Uint8Array): ReadPoints {
  const c = unpackColumns(block);
  const book = bookOfColumns(c);
  return {
    ...(book ? { book } : {}),
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    row: u32(c, 'row'),
    number: text(c, 'number'),
    description: text(c, 'description'),
    ...unjson<Omit<ReadPoints, 'x' | 'y' | 'z' | 'row' | 'number' | 'description'>>(c, 'account'),
  };
}

export function packPoints(p: PointTable): Uint8Array {
  return packColumns({ ...p, number: stringColumn(p.number), description: stringColumn(p.description) });
}

export function unpackPoints(block: Uint8Array): PointTable {
  const c = unpackColumns(block);
  return {
    intake: u32(c, 'intake'),
    fileRow: u32(c, 'fileRow'),
    number: text(c, 'number'),
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    description: text(c, 'description'),
    state: u8(c, 'state'),
    edited: u8(c, 'edited'),
    light: u8(c, 'light'),
    sdPlan: c.sdPlan as Float32Array,
    sdHeight: c.sdHeight as Float32Array,
    date: u32(c, 'date'),
  };
}

export function packSurface(s: Surface): Uint8Array {
  return packColumns({ ...s });
}

export function unpackSurface(block: Uint8Array): Surface {
  const c = unpackColumns(block);
  return {
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    triangles: u32(c, 'triangles'),
    neighbours: c.neighbours as Int32Array,
    breakSides: u8(c, 'breakSides'),
    point: u32(c, 'point'),
  };
}

export function packContours(list: Contour[]): Uint8Array {
  const offsets = new Uint32Array(list.length + 1);
  list.forEach((l, i) => (offsets[i + 1] = offsets[i] + l.line.length));
  const places = new Float64Array(offsets[list.length]);
  list.forEach((l, i) => places.set(l.line, offsets[i]));
  return packColumns({
    offsets,
    places,
    elevation: Float64Array.from(list, (l) => l.elevation),
    flags: Uint8Array.from(list, (l) => (l.index ? 1 : 0) | (l.closed ? 2 : 0)),
  });
}

export function unpackContours(block: Uint8Array): Contour[] {
  const c = unpackColumns(block);
  const offsets = u32(c, 'offsets');
  const places = f64(c, 'places');
  const flags = u8(c, 'flags');
  return Array.from(f64(c, 'elevation'), (elevation, i) => ({
    elevation,
    index: (flags[i] & 1) !== 0,
    closed: (flags[i] & 2) !== 0,
    line: places.subarray(offsets[i], offsets[i + 1]),
  }));
}

export const packPieces = (pieces: Float64Array): Uint8Array => packColumns({ pieces });
export const unpackPieces = (block: Uint8Array): Float64Array => f64(unpackColumns(block), 'pieces');

/** What the page needs of a reduction: setups with what they compare, and what gave each point. */
export interface ReductionColumns {
  books: string[];
  setups: SetupResult[];
  network: Adjustment | null;
  outliers: NetworkOutlier[];
  /** What is known of stations and known points, by number, as the rule in force has it. */
  known: Known[];
  traverses: Traverse[];
  levelling: Levelling | null;
  /** Points measured by satellite more than once, or that are control. */
  gnss: GnssMean[];
  /** Index into `books`, row of the record, index into `setups` or −1. */
  book: Uint32Array;
  row: Uint32Array;
  setup: Int32Array;
  /** Standard deviation across the ray, m. */
  sdAcross: Float32Array;
}

/** The most doubtful observations come first, and no more of them than people read. */
const shown = (a: Adjusted): Adjusted => ({
  ...a,
  doubtful: a.doubtful < 0 ? -1 : 0,
  observations: [...a.observations].sort((p, q) => (q.standardised || 0) - (p.standardised || 0)).slice(0, 2000),
});

/** Stations, and what they sight that is known: not every shot. */
function stationsOf({ setups, sights, known }: Reduction): Known[] {
  const numbers = new Set([...setups.map((s) => s.number), ...sights.map((s) => s.number)]);
  return [...numbers].flatMap((n) => known.get(n) ?? []);
}

/** JSON has no word for a value that is not there. */
const NAN = '\u0000';

export function packReduction({
  reduction: r,
  network = null,
  outliers = [],
  traverses = [],
}: {
  reduction: Reduction | null;
  network?: Adjustment | null;
  outliers?: NetworkOutlier[];
  traverses?: Traverse[];
}): Uint8Array {
  const points = r?.points ?? new ReducedPoints([], 0);
  const { books } = points;
  const head = JSON.stringify(
    {
      books,
      setups: r?.setups ?? [],
      network: network?.ok ? shown(network) : network,
      outliers,
      known: r ? stationsOf(r) : [],
      traverses,
      levelling: r?.levelling ?? null,
      gnss: r?.gnss ?? [],
    },
    (_, v: unknown) => (typeof v === 'number' && !Number.isFinite(v) ? NAN + String(v) : v),
  );
  return packColumns({
    head: stringColumn([head]),
    book: points.book,
    row: points.rows(),
    setup: points.setup,
    sdAcross: points.sdAcross,
  });
}

export function unpackReduction(block: Uint8Array): ReductionColumns {
  const c = unpackColumns(block);
  const head = JSON.parse(text(c, 'head')[0], (_, v: unknown) =>
    typeof v === 'string' && v.startsWith(NAN) ? Number(v.slice(NAN.length)) : v,
  ) as Pick<
    ReductionColumns,
    'books' | 'setups' | 'network' | 'outliers' | 'known' | 'traverses' | 'levelling' | 'gnss'
  >;
  return {
    ...head,
    book: u32(c, 'book'),
    row: u32(c, 'row'),
    setup: c.setup as Int32Array,
    sdAcross: c.sdAcross as Float32Array,
  };
}
