import { type LevelDifference, type LevelLoop, type LevelRun, PLAIN_SETUP } from './levels.ts';

const MOST_LOOPS = 200;

/**
 * Loops of the net: each difference that closes one, with the shortest way back by the others. A run that comes back to
 * where it began by itself is a run, and is not repeated.
 */
export function loopsOf(
  differences: readonly LevelDifference[],
  runs: readonly LevelRun[],
  closure: number,
): LevelLoop[] {
  const closed = runs.filter((r) => r.from === r.to).map((r) => new Set(r.differences));
  const edges = new Map<string, number[]>();
  const joined = new Map<string, string>();
  const rootOf = (n: string): string => {
    let at = n;
    while ((joined.get(at) ?? at) !== at) at = joined.get(at)!;
    return at;
  };
  const out: LevelLoop[] = [];
  differences.forEach((d, i) => {
    const [a, b] = [rootOf(d.from), rootOf(d.to)];
    if (a !== b) {
      joined.set(a, b);
      for (const n of [d.from, d.to]) edges.set(n, [...(edges.get(n) ?? []), i]);
      return;
    }
    if (out.length >= MOST_LOOPS || d.from === d.to) return;
    const way = wayBetween(differences, edges, d.to, d.from);
    if (!way) return;
    const all = [{ i, forward: true }, ...way];
    if (closed.some((run) => run.size === all.length && all.every((e) => run.has(differences[e.i])))) return;
    const length = all.reduce((s, e) => s + lengthOf(differences[e.i]), 0);
    const misclosure = all.reduce((s, e) => s + (e.forward ? 1 : -1) * differences[e.i].difference, 0);
    const allowed = closure * Math.sqrt(Math.max(length, 1) / 1000);
    const points = all.map((e) => (e.forward ? differences[e.i].from : differences[e.i].to));
    out.push({
      points: [...points, points[0]],
      length,
      misclosure,
      allowed,
      within: !(Math.abs(misclosure) > allowed),
      rows: all.map((e) => ({ book: differences[e.i].book, row: differences[e.i].rows[0] })),
    });
  });
  return out;
}

const lengthOf = (d: LevelDifference): number => (Number.isNaN(d.length) ? PLAIN_SETUP : d.length);

/** The way along a tree of differences, each with the way it is gone. */
function wayBetween(
  differences: readonly LevelDifference[],
  edges: ReadonlyMap<string, number[]>,
  from: string,
  to: string,
): { i: number; forward: boolean }[] | null {
  const cameBy = new Map<string, { i: number; before: string }>();
  const open = [from];
  const seen = new Set(open);
  for (let at = 0; at < open.length && !seen.has(to); at++)
    for (const i of edges.get(open[at]) ?? []) {
      const { from: a, to: b } = differences[i];
      const next = a === open[at] ? b : a;
      if (seen.has(next)) continue;
      seen.add(next);
      cameBy.set(next, { i, before: open[at] });
      open.push(next);
    }
  if (!seen.has(to)) return null;
  const way: { i: number; forward: boolean }[] = [];
  for (let n = to; n !== from;) {
    const { i, before } = cameBy.get(n)!;
    way.unshift({ i, forward: differences[i].from === before });
    n = before;
  }
  return way;
}
