import { distance } from '#core/kernel';
import type { CodeItem } from '#core/codes';
import type { Line } from './line.ts';

/** Two levels in one place: a chamber's cover and invert, a wall's top and foot. */
export interface Pair {
  /** Row of the point above; of the point below, or −1 where its depth was typed on the upper one. */
  upper: number;
  lower: number;
  code: string;
  lowerCode: string;
  /** Elevations, m; NaN where one has none. */
  top: number;
  bottom: number;
}

export interface LevelPoints {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  off: (row: number) => boolean;
  /** Codes of a point’s description, by the words of its crew. */
  itemsOf: (row: number) => readonly CodeItem[];
}

/** A pair before its elevations: which points belong together, or how deep the lower level was typed, m. */
export type PairPlace = Omit<Pair, 'top' | 'bottom'> & { typed: number };

export const findPairs = (points: LevelPoints, reach: number): Pair[] =>
  withLevels(pairPlaces(points, reach), points.z);

/** Elevations of pairs as they are now. */
export const withLevels = (places: readonly PairPlace[], z: ArrayLike<number>): Pair[] =>
  places.map(({ typed, ...p }) => ({ ...p, top: z[p.upper], bottom: p.lower >= 0 ? z[p.lower] : z[p.upper] - typed }));

/**
 * Pairs by code: below a point of a code that has a `lower` one, the nearest point of that code within `reach` m in
 * plan; each lower point belongs to one pair. Where there is none, a depth typed on the upper point stands for it.
 */
export function pairPlaces(points: Omit<LevelPoints, 'z'>, reach: number): PairPlace[] {
  const uppers: { row: number; item: CodeItem }[] = [];
  const lowers = new Map<string, number[]>();
  const wanted = new Set<string>();
  const rows: [number, readonly CodeItem[]][] = [];
  for (let row = 0; row < points.x.length; row++) {
    if (points.off(row)) continue;
    const read = points.itemsOf(row);
    rows.push([row, read]);
    for (const item of read) {
      if (!item.known?.lower) continue;
      uppers.push({ row, item });
      wanted.add(item.known.lower.toUpperCase());
    }
  }
  for (const [row, read] of rows)
    for (const item of read)
      if (wanted.has(item.code)) {
        const list = lowers.get(item.code);
        if (list) list.push(row);
        else lowers.set(item.code, [row]);
      }
  const finders = new Map([...lowers].map(([code, list]) => [code, nearFinder(points, list, reach)]));
  const taken = new Set<number>();
  return uppers.flatMap(({ row, item }) => {
    const lowerCode = item.known!.lower!.toUpperCase();
    const lower = finders.get(lowerCode)?.(row, taken) ?? -1;
    const typed = Number((item.attributes.depth ?? item.attributes.d ?? '').replace(',', '.'));
    if (lower < 0 && !(typed > 0)) return [];
    if (lower >= 0) taken.add(lower);
    return [{ upper: row, lower, code: item.code, lowerCode, typed: lower >= 0 ? NaN : typed }];
  });
}

/** Rows by cells of the size of the reach, so that a hundred thousand points take no longer than their number. */
function nearFinder(
  points: Pick<LevelPoints, 'x' | 'y'>,
  rows: number[],
  reach: number,
): (row: number, taken: Set<number>) => number {
  const cell = (v: number): number => Math.floor(v / reach);
  const cells = new Map<string, number[]>();
  for (const r of rows) {
    const key = `${cell(points.x[r])} ${cell(points.y[r])}`;
    const list = cells.get(key);
    if (list) list.push(r);
    else cells.set(key, [r]);
  }
  return (row, taken) => {
    let best = -1;
    let nearest = reach;
    for (let i = -1; i <= 1; i++)
      for (let k = -1; k <= 1; k++)
        for (const r of cells.get(`${cell(points.x[row]) + i} ${cell(points.y[row]) + k}`) ?? []) {
          if (r === row || taken.has(r)) continue;
          const off = distance(points.x[r] - points.x[row], points.y[r] - points.y[row]);
          if (off <= nearest) [best, nearest] = [r, off];
        }
    return best;
  };
}

/** A length of pipe between two chambers. */
export interface Run {
  line: string;
  from: Pair;
  to: Pair;
  /** In plan, m. */
  length: number;
  /** Falling from the first to the second where positive, m over m; NaN without both inverts. */
  gradient: number;
}

/** Runs along the lines of the codes given, from chamber to chamber: vertices that are a pair, or lie within reach of one. */
export function runsOf(
  lines: readonly Line[],
  pipes: ReadonlySet<string>,
  pairs: readonly Pair[],
  points: LevelPoints,
  reach: number,
): Run[] {
  const byRow = new Map<number, Pair>();
  for (const pair of pairs) {
    byRow.set(pair.upper, pair);
    if (pair.lower >= 0) byRow.set(pair.lower, pair);
  }
  const near = (x: number, y: number): Pair | undefined =>
    pairs.find((p) => distance(points.x[p.upper] - x, points.y[p.upper] - y) <= reach);
  const out: Run[] = [];
  for (const line of lines) {
    if (!pipes.has(line.code)) continue;
    let before: { pair: Pair; length: number } | null = null;
    let length = 0;
    for (let i = 0; i < line.x.length; i++) {
      if (i > 0) length += distance(line.x[i] - line.x[i - 1], line.y[i] - line.y[i - 1]);
      const pair = byRow.get(line.rows[i]) ?? near(line.x[i], line.y[i]);
      if (!pair) continue;
      if (before && before.pair !== pair) {
        const run = length - before.length;
        out.push({ line: line.key, from: before.pair, to: pair, length: run, gradient: run > 0 ? (before.pair.bottom - pair.bottom) / run : NaN }); // prettier-ignore
      }
      before = { pair, length };
    }
  }
  return out;
}
