import { type BookRecord } from '#core/book';
import { Skyline, lowOrder } from '#core/kernel';
import { type Known } from './known.ts';
import { loopsOf } from './level-loops.ts';
import { twoPegTests } from './two-peg.ts';
import { type LevelDifference, type Levelled, type Levelling, type LevelRun, PLAIN_SETUP } from './levels.ts';

interface Between {
  number: string;
  from: string;
  difference: number;
  row: number;
}

/** Level readings of a book as differences between staffs, and what was read between. */
function differencesOf(
  book: string,
  records: readonly BookRecord[],
  problems: Levelling['problems'],
  deviation: number,
) {
  const differences: LevelDifference[] = [];
  const between: Between[] = [];
  let behind: BookRecord | null = null;
  for (const r of records) {
    if (r.kind !== 'level' || r.deleted) continue;
    if (r.role === 'back') {
      behind = r;
      continue;
    }
    if (!behind) {
      problems.push({ book, row: r.row, text: `the level reading to ${r.number} has no reading back before it` });
      continue;
    }
    const difference = behind.height - r.height;
    if (r.role === 'inter') {
      between.push({ number: r.number, from: behind.number, difference, row: r.row });
      continue;
    }
    const length = behind.distance + r.distance;
    const km = (Number.isNaN(length) ? PLAIN_SETUP : Math.max(length, 1)) / 1000;
    const sd = deviation * Math.sqrt(km);
    differences.push({
      book,
      rows: [behind.row, r.row],
      from: behind.number,
      to: r.number,
      difference,
      length,
      imbalance: behind.distance - r.distance,
      sd,
    });
    behind = null;
  }
  return { differences, between };
}

/**
 * Level runs and nets: runs with their misclosures against what is known, then all differences adjusted together
 * by least squares, weighted by their length, what is known held. `closure` is m on one kilometre.
 */
export function levelling(
  books: readonly { id: string; records: readonly BookRecord[] }[],
  knownOf: (number: string) => number,
  closure: number,
  /** Standard deviation of one kilometre levelled once, m. */
  deviation: number,
): Levelling | null {
  const problems: Levelling['problems'] = [];
  const differences: LevelDifference[] = [];
  const between: Between[] = [];
  const runs: LevelRun[] = [];
  for (const { id, records } of books) {
    const own = differencesOf(id, records, problems, deviation);
    differences.push(...own.differences);
    between.push(...own.between);
    runs.push(...runsOf(own.differences, knownOf, closure));
  }
  if (differences.length === 0 && between.length === 0) return null;
  const { heights, residuals, unreached } = adjusted(differences, knownOf);
  const unknowns = heights.size;
  for (const d of unreached)
    problems.push({ book: d.book, row: d.rows[0], text: `no known height is linked to ${d.from} and ${d.to}` });
  for (const b of between) {
    const from = heights.get(b.from)?.z ?? knownOf(b.from);
    if (Number.isNaN(from) || heights.has(b.number)) continue;
    const sd = Math.sqrt((heights.get(b.from)?.sd ?? 0) ** 2 + deviation ** 2 * (PLAIN_SETUP / 1000));
    heights.set(b.number, { number: b.number, z: from + b.difference, sd, rows: [b.row] });
  }
  const found = { runs, heights: [...heights.values()], residuals, problems };
  return { ...found, ...fitOf(differences, residuals, unknowns), loops: loopsOf(differences, runs, closure), tests: twoPegTests(differences) }; // prettier-ignore
}

function runsOf(list: readonly LevelDifference[], knownOf: (number: string) => number, closure: number): LevelRun[] {
  const runs: LevelRun[] = [];
  let open: LevelDifference[] = [];
  const end = (): void => {
    if (open.length) runs.push(runOf(open, knownOf, closure));
    open = [];
  };
  for (const d of list) {
    if (open.length && open.at(-1)!.to !== d.from) end();
    open.push(d);
    if (!Number.isNaN(knownOf(d.to)) || d.to === open[0].from) end();
  }
  end();
  return runs;
}

function runOf(differences: LevelDifference[], knownOf: (number: string) => number, closure: number): LevelRun {
  const [from, to] = [differences[0].from, differences.at(-1)!.to];
  const difference = differences.reduce((s, d) => s + d.difference, 0);
  const length = differences.reduce((s, d) => s + (Number.isNaN(d.length) ? PLAIN_SETUP : d.length), 0);
  // A run that comes back to where it began closes on itself, known or not.
  const known = from === to ? 0 : knownOf(to) - knownOf(from);
  const misclosure = difference - known;
  const allowed = closure * Math.sqrt(Math.max(length, 1) / 1000);
  return { from, to, differences, length, difference, misclosure, allowed, within: !(Math.abs(misclosure) > allowed) };
}

/** Heights of every point that a known one reaches. */
function adjusted(differences: readonly LevelDifference[], knownOf: (number: string) => number) {
  const start = reach(differences, knownOf);
  const unreached = differences.filter((d) => !start.has(d.from) || !start.has(d.to));
  const used = differences.filter((d) => start.has(d.from) && start.has(d.to));
  const free = [...start.keys()].filter((n) => Number.isNaN(knownOf(n)));
  const index = new Map(free.map((n, i) => [n, i]));
  const neighbours: Set<number>[] = free.map(() => new Set());
  for (const d of used) {
    const [a, b] = [index.get(d.from), index.get(d.to)];
    if (a === undefined || b === undefined || a === b) continue;
    neighbours[a].add(b);
    neighbours[b].add(a);
  }
  const order = lowOrder(neighbours.map((s) => [...s]));
  const place = new Int32Array(free.length);
  order.forEach((node, i) => (place[node] = i));
  const first = Int32Array.from({ length: free.length }, (_, i) => i);
  const at = (n: string): number => {
    const i = index.get(n);
    return i === undefined ? -1 : place[i];
  };
  for (const d of used) {
    const [a, b] = [at(d.from), at(d.to)];
    if (a >= 0 && b >= 0) first[Math.max(a, b)] = Math.min(first[Math.max(a, b)], a, b);
  }
  const normal = new Skyline(first);
  const right = new Float64Array(free.length);
  const off = (d: LevelDifference): number => d.difference - (start.get(d.to)! - start.get(d.from)!);
  for (const d of used) {
    const [a, b] = [at(d.from), at(d.to)];
    const w = 1 / (d.sd * d.sd);
    if (a >= 0) {
      normal.add(a, a, w);
      right[a] -= w * off(d);
    }
    if (b >= 0) {
      normal.add(b, b, w);
      right[b] += w * off(d);
    }
    if (a >= 0 && b >= 0 && a !== b) normal.add(a, b, -w);
  }
  const heights = new Map<string, Levelled>();
  if (free.length === 0 || normal.factor() >= 0)
    return { heights, residuals: differences.map((d) => (used.includes(d) ? -off(d) : NaN)), unreached };
  normal.solve(right);
  const inverse = normal.inverse();
  const rowsAt = new Map<string, number[]>();
  for (const d of used)
    for (const [n, row] of [[d.from, d.rows[0]] as const, [d.to, d.rows[1]] as const])
      rowsAt.set(n, [...(rowsAt.get(n) ?? []), row]);
  for (const number of free) {
    const i = at(number);
    heights.set(number, {
      number,
      z: start.get(number)! + right[i],
      sd: Math.sqrt(inverse.get(i, i)),
      rows: rowsAt.get(number) ?? [],
    });
  }
  const z = (n: string): number => heights.get(n)?.z ?? start.get(n)!;
  const residuals = differences.map((d) => (used.includes(d) ? z(d.to) - z(d.from) - d.difference : NaN));
  return { heights, residuals, unreached };
}

/** Heights carried from what is known along the differences, whichever way. */
function reach(
  differences: readonly LevelDifference[],
  knownOf: (number: string) => number,
): ReadonlyMap<string, number> {
  const edges = new Map<string, { to: string; difference: number }[]>();
  const join = (from: string, to: string, difference: number): void =>
    void edges.set(from, [...(edges.get(from) ?? []), { to, difference }]);
  for (const d of differences) {
    join(d.from, d.to, d.difference);
    join(d.to, d.from, -d.difference);
  }
  const start = new Map<string, number>();
  for (const n of edges.keys()) if (!Number.isNaN(knownOf(n))) start.set(n, knownOf(n));
  const open = [...start.keys()];
  while (open.length) {
    const n = open.pop()!;
    for (const { to, difference } of edges.get(n) ?? []) {
      if (start.has(to)) continue;
      start.set(to, start.get(n)! + difference);
      open.push(to);
    }
  }
  return start;
}

/** Heights that levelling gives, as long as every run that leads to them closes within what is allowed. */
export function trustedHeights(result: Levelling): ReadonlyMap<string, Levelled> {
  const doubted = new Set(
    result.runs.filter((r) => !r.within).flatMap((r) => r.differences.flatMap((d) => [d.from, d.to])),
  );
  return new Map(result.heights.filter((h) => !doubted.has(h.number)).map((h) => [h.number, h]));
}

/** The elevation that something known has, NaN without. */
export const elevationOf = (known: ReadonlyMap<string, Known>, from: ReadonlySet<Known['from']>) => (n: string) => {
  const k = known.get(n);
  return k && from.has(k.from) ? k.z : NaN;
};

function fitOf(
  differences: readonly LevelDifference[],
  residuals: readonly number[],
  unknowns: number,
): Pick<Levelling, 'freedom' | 'varianceFactor'> {
  const used = residuals.flatMap((v, i) => (Number.isNaN(v) ? [] : [v / differences[i].sd]));
  const freedom = used.length - unknowns;
  return { freedom, varianceFactor: freedom > 0 ? used.reduce((s, v) => s + v * v, 0) / freedom : NaN };
}
