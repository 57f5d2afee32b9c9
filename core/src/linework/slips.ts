import { distance, orientation } from '#core/kernel';
import type { Meaning } from '#core/codes';
import { sideCount, type Line } from './line.ts';

/** Something in codes or courses that a person should look at; rows are rows of the point table. */
export type Slip =
  /** The course turns straight at `likelyEndRow`: the shot that most likely lacks the word. */
  | { kind: 'curve-not-ended'; line: string; beginRow: number; likelyEndRow: number; rows: number[] }
  | { kind: 'single-point-line'; line: string; row: number }
  /** `before` is the last shot of an earlier line of that name, `others` open lines of the same code. */
  | { kind: 'end-without-begin'; line: string; row: number; word: Meaning; before: number; others: [string, number][] }
  | { kind: 'nothing-to-continue'; line: string; row: number }
  | { kind: 'join-unknown'; line: string; row: number; number: string }
  | { kind: 'words-at-odds'; line: string; row: number; words: Meaning[] }
  | { kind: 'word-on-point'; row: number; code: string; word: Meaning }
  | { kind: 'line-twice'; row: number; line: string }
  | { kind: 'description'; row: number; at: number; length: number; reason: string }
  /** A corner, curve or rectangle that cannot be drawn as said. */
  | { kind: 'no-such-shape'; line: string; row: number; reason: string }
  /** `last`: no shot of the line follows `row`. */
  | { kind: 'line-comes-back' | 'long-jump'; line: string; fromRow: number; row: number; length: number; usual: number; last: boolean } // prettier-ignore
  | { kind: 'doubles-back'; line: string; row: number; beforeRow: number; afterRow: number }
  | { kind: 'crosses-itself'; line: string; x: number; y: number; rows: number[]; exchange: [number, number] | null };

/** Sides that are shorter never count as a jump, m. */
const LEAST_JUMP = 5;
/** Rows between two shots of a line that make it likely that the number was used again. */
const OTHER_ROWS = 40;

/** Slips that show in a line's course in plan. */
export function courseSlips(line: Line): Slip[] {
  return [...jumps(line), ...turnsBack(line), ...crossings(line)];
}

const sideLengths = (line: Line): number[] =>
  Array.from({ length: line.x.length - 1 }, (_, i) => distance(line.x[i + 1] - line.x[i], line.y[i + 1] - line.y[i]));

function jumps(line: Line): Slip[] {
  const lengths = sideLengths(line);
  if (lengths.length < 2) return [];
  const order = [...lengths].sort((a, b) => a - b);
  const longest = order[order.length - 1];
  const second = order[order.length - 2];
  const usual = order[(order.length - 1) >> 1];
  if (longest < LEAST_JUMP) return [];
  const i = lengths.indexOf(longest);
  const [fromRow, row] = [line.rows[i], line.rows[i + 1]];
  if (fromRow < 0 || row < 0) return [];
  const fact = { line: line.key, fromRow, row, length: longest, usual, last: i + 2 === line.x.length };
  if (row - fromRow > OTHER_ROWS && longest > 3 * second) return [{ kind: 'line-comes-back', ...fact }];
  if (lengths.length >= 4 && longest > 8 * usual && longest > 3 * second) return [{ kind: 'long-jump', ...fact }];
  return [];
}

/** A course that turns by more than 170°: the cosine between what comes in and what goes out. */
const BACK = -0.984807753012208;

function turnsBack(line: Line): Slip[] {
  const out: Slip[] = [];
  const n = line.x.length;
  for (let i = 1; i + 1 < n && out.length < 3; i++) {
    if (line.rows[i] < 0 || line.rows[i - 1] < 0 || line.rows[i + 1] < 0 || line.bulges[i - 1] || line.bulges[i])
      continue;
    const ux = line.x[i] - line.x[i - 1];
    const uy = line.y[i] - line.y[i - 1];
    const vx = line.x[i + 1] - line.x[i];
    const vy = line.y[i + 1] - line.y[i];
    const product = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
    if (product > 0 && ux * vx + uy * vy < BACK * product)
      out.push({ kind: 'doubles-back', line: line.key, row: line.rows[i], beforeRow: line.rows[i - 1], afterRow: line.rows[i + 1] }); // prettier-ignore
  }
  return out;
}

/** No line is asked about more often. */
const MOST_CROSSINGS = 3;

/** Pairs of sides that are looked at; a line that lies on itself so often is none that anybody walked. */
const MOST_PAIRS = 4_000_000;

const extent = (values: readonly number[]): number => {
  let [low, high] = [Infinity, -Infinity];
  for (const v of values) {
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return high - low;
};

/** Sides of one line that cross each other, found along its longer way so that ten thousand points take no time. */
function crossings(line: Line): Slip[] {
  const sides = sideCount(line);
  if (sides < 3) return [];
  const { x, y } = line;
  const n = x.length;
  const sweep = extent(x) >= extent(y) ? x : y;
  let pairs = 0;
  const order = Array.from({ length: sides }, (_, i) => i).sort((a, b) => left(a) - left(b));
  const out: Slip[] = [];
  let active: number[] = [];
  for (const i of order) {
    active = active.filter((k) => right(k) >= left(i));
    pairs += active.length;
    if (pairs > MOST_PAIRS) return out;
    for (const k of active) {
      if (out.length >= MOST_CROSSINGS) return out;
      const [a, b] = k < i ? [k, i] : [i, k];
      if (b === a + 1 || (line.closed && a === 0 && b === sides - 1)) continue;
      const at = meeting(a, b);
      if (at)
        out.push({ kind: 'crosses-itself', line: line.key, ...at, rows: rowsOf(a, b), exchange: exchangeOf(a, b) });
    }
    active.push(i);
  }
  return out;

  function left(i: number): number {
    return Math.min(sweep[i], sweep[(i + 1) % n]);
  }
  function right(i: number): number {
    return Math.max(sweep[i], sweep[(i + 1) % n]);
  }
  function rowsOf(a: number, b: number): number[] {
    return [a, (a + 1) % n, b, (b + 1) % n].map((i) => line.rows[i]).filter((r) => r >= 0);
  }
  /** Two shots one after the other that were taken in the wrong order cross the sides before and behind them. */
  function exchangeOf(a: number, b: number): [number, number] | null {
    if (b !== a + 2) return null;
    const pair: [number, number] = [line.rows[a + 1], line.rows[b]];
    return pair.every((r) => r >= 0) ? pair : null;
  }
  function meeting(a: number, b: number): { x: number; y: number } | null {
    const [a2, b2] = [(a + 1) % n, (b + 1) % n];
    for (const v of [x, y]) {
      const low = Math.max(Math.min(v[a], v[a2]), Math.min(v[b], v[b2]));
      if (low > Math.min(Math.max(v[a], v[a2]), Math.max(v[b], v[b2]))) return null;
    }
    const d1 = orientation(x[a], y[a], x[a2], y[a2], x[b], y[b]);
    const d2 = orientation(x[a], y[a], x[a2], y[a2], x[b2], y[b2]);
    const d3 = orientation(x[b], y[b], x[b2], y[b2], x[a], y[a]);
    const d4 = orientation(x[b], y[b], x[b2], y[b2], x[a2], y[a2]);
    if (!(d1 * d2 < 0 && d3 * d4 < 0)) return null;
    const t = d3 / (d3 - d4);
    return { x: x[a] + t * (x[a2] - x[a]), y: y[a] + t * (y[a2] - y[a]) };
  }
}
