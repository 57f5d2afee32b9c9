import { distance } from '#core/kernel';
import type { RationalCurve } from './rational-curve.ts';

type Vector = [number, number, number];

/** How a curve leaves its first place and comes to its last one, as vectors of any length; absent: with no curvature. */
export interface EndTangents {
  start?: Vector;
  end?: Vector;
}

/**
 * The cubic curve through some places that bends without a jump in its curvature, its parameter the chords between them (any
 * textbook of numerical analysis: cubic spline interpolation), as a B-spline of its pieces. Null of fewer than two places.
 * @param places x y z …; one that is where the last one was is left out
 */
export function curveThrough(
  places: readonly number[],
  closed: boolean,
  { start, end }: EndTangents,
): RationalCurve | null {
  const at = differing(places);
  if (closed && at.length > 1 && apart(at[0], at[at.length - 1]) > 0) at.push(at[0]);
  if (at.length < 2) return null;
  const isLoop = closed && at.length > 3;
  const steps = at.slice(1).map((p, i) => apart(at[i], p));
  const slopes = isLoop ? aroundLoop(at, steps) : fromEndToEnd(at, steps, start && unit(start), end && unit(end));
  const control: number[] = [...at[0]];
  const knots = [0, 0, 0, 0];
  let t = 0;
  steps.forEach((h, i) => {
    const [a, b] = [at[i], at[i + 1]];
    for (let k = 0; k < 3; k++) control.push(a[k] + (h / 3) * slopes[i][k]);
    for (let k = 0; k < 3; k++) control.push(b[k] - (h / 3) * slopes[i + 1][k]);
    control.push(...b);
    t += h;
    knots.push(t, t, t);
  });
  knots.push(t);
  return { degree: 3, knots, control, weights: new Array<number>(control.length / 3).fill(1) };
}

function differing(places: readonly number[]): Vector[] {
  const out: Vector[] = [];
  for (let i = 0; i + 2 < places.length; i += 3) {
    const place: Vector = [places[i], places[i + 1], places[i + 2]];
    if (out.length === 0 || apart(out[out.length - 1], place) > 0) out.push(place);
  }
  return out;
}

const apart = (a: Vector, b: Vector): number => distance(distance(b[0] - a[0], b[1] - a[1]), b[2] - a[2]);

function unit(v: Vector): Vector | undefined {
  const length = apart([0, 0, 0], v);
  return length > 0 ? [v[0] / length, v[1] / length, v[2] / length] : undefined;
}

/** A row of equations for the slopes: those before, at and behind it, and what they make together. */
interface Row {
  before: number;
  own: number;
  behind: number;
  right: Vector;
}

/** Curvature is the same on both sides of a place between two steps. */
function inner(a: Vector, b: Vector, c: Vector, h0: number, h1: number): Row {
  const right = [0, 1, 2].map((k) => 3 * ((b[k] - a[k]) / h0 ** 2 + (c[k] - b[k]) / h1 ** 2)) as Vector;
  return { before: 1 / h0, own: 2 / h0 + 2 / h1, behind: 1 / h1, right };
}

function fromEndToEnd(at: readonly Vector[], steps: readonly number[], start?: Vector, end?: Vector): Vector[] {
  const n = at.length;
  const free = (a: Vector, b: Vector, h: number): Vector => [0, 1, 2].map((k) => (3 * (b[k] - a[k])) / h) as Vector;
  const rows = at.map((p, i): Row => {
    if (i === 0) return start ? { before: 0, own: 1, behind: 0, right: start } : { before: 0, own: 2, behind: 1, right: free(p, at[1], steps[0]) }; // prettier-ignore
    if (i === n - 1) return end ? { before: 0, own: 1, behind: 0, right: end } : { before: 1, own: 2, behind: 0, right: free(at[n - 2], p, steps[n - 2]) }; // prettier-ignore
    return inner(at[i - 1], p, at[i + 1], steps[i - 1], steps[i]);
  });
  return solved(rows);
}

/** The last place is the first one again, and so is its slope (Sherman and Morrison's formula for the two corners). */
function aroundLoop(at: readonly Vector[], steps: readonly number[]): Vector[] {
  const n = at.length - 1;
  const rows = Array.from({ length: n }, (_, i) => inner(at[(i + n - 1) % n], at[i], at[i + 1], steps[(i + n - 1) % n], steps[i])); // prettier-ignore
  const [corner, other] = [rows[0].before, rows[n - 1].behind];
  const gamma = -rows[0].own;
  const cut = rows.map((row, i): Row => ({
    ...row,
    own: row.own - (i === 0 ? gamma : i === n - 1 ? (corner * other) / gamma : 0),
  }));
  const slopes = solved(cut);
  const shape = solved(cut.map((row, i): Row => ({ ...row, right: [i === 0 ? gamma : i === n - 1 ? other : 0, 0, 0] }))).map(([v]) => v); // prettier-ignore
  const share = corner / gamma;
  const below = 1 + shape[0] + share * shape[n - 1];
  const out = slopes.map((s, i) => [0, 1, 2].map((k) => s[k] - (shape[i] * (slopes[0][k] + share * slopes[n - 1][k])) / below) as Vector); // prettier-ignore
  return [...out, out[0]];
}

/** Rows whose own slope weighs more than those beside it: from the first to the last and back (Thomas). */
function solved(rows: readonly Row[]): Vector[] {
  const behind: number[] = [];
  const right: Vector[] = [];
  rows.forEach((row, i) => {
    const below = row.own - (i ? row.before * behind[i - 1] : 0);
    behind.push(row.behind / below);
    right.push([0, 1, 2].map((k) => (row.right[k] - (i ? row.before * right[i - 1][k] : 0)) / below) as Vector);
  });
  for (let i = rows.length - 2; i >= 0; i--)
    right[i] = [0, 1, 2].map((k) => right[i][k] - behind[i] * right[i + 1][k]) as Vector;
  return right;
}
