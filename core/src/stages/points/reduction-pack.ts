import { packColumns, stringColumn, stringsOf, unpackColumns, type Columns, type StringColumn } from '#core/kernel';
import {
  ReducedPoints,
  type GnssMean,
  type Known,
  type Levelling,
  type Reduction,
  type SetupResult,
} from '#core/reduction';
import type { Adjusted, Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';

// How books became points, as one block of typed columns.

const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const text = (c: Columns, name: string): string[] => stringsOf(c[name] as StringColumn);

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
