import { difference, sin, turned } from '#core/kernel';
import type { BookRecord } from '#core/book';

const PI = 3.141592653589793;

/** Errors of the instrument found from targets sighted in both faces; radians, 0 where no target was. */
export interface FaceErrors {
  /** Added to zenith readings of face 1 they would read true. */
  index: number;
  /** Line of sight off the square to the trunnion axis. */
  collimation: number;
  /** Targets that were sighted in both faces. */
  pairs: number;
}

/** One target as a setup saw it: the mean of its faces and rounds. Radians and metres. */
export interface Pointing {
  records: BookRecord[];
  number: string;
  role: BookRecord['role'];
  circle: number;
  zenith: number;
  distance: number;
  /** Target height of its records. */
  height: number;
  target: string;
  code: string;
  /** Largest difference between its reduced readings; 0 with one. */
  spreadCircle: number;
  spreadZenith: number;
  spreadDistance: number;
}

/** Face 2 is on the other side: the zenith reading lies beyond half a turn. */
export const faceOf = (r: BookRecord): 1 | 2 => (r.face === 2 || (r.face === 0 && r.zenith > PI) ? 2 : 1);

/**
 * Index and collimation error from both faces (ISO 17123-3): i = (z₁ + z₂ − 2π) / 2,
 * c = (φ₁ − φ₂ ± π) / 2 · sin z, each the mean of all targets sighted in both faces.
 */
export function faceErrors(records: readonly BookRecord[]): FaceErrors {
  // A pair that differs by half a degree is no error of the instrument but two different targets, or a slip.
  const pairs = facePairs(records).filter(([one, two]) => !isWild(one, two));
  const upright = pairs.filter(([one, two]) => !Number.isNaN(one.zenith + two.zenith));
  const index = mean(upright.map(([one, two]) => difference(one.zenith + two.zenith) / 2)) || 0;
  const collimation =
    mean(
      pairs.map(([one, two]) => {
        const zenith = Number.isNaN(one.zenith) ? PI / 2 : one.zenith - index;
        return (difference(one.circle - two.circle + PI) / 2) * sin(zenith);
      }),
    ) || 0;
  return { index, collimation, pairs: pairs.length };
}

const WILD = 0.01;
const isWild = (one: BookRecord, two: BookRecord): boolean =>
  Math.abs(difference(one.circle - two.circle + PI)) > WILD || Math.abs(difference(one.zenith + two.zenith)) > WILD;

function facePairs(records: readonly BookRecord[]): [BookRecord, BookRecord][] {
  const out: [BookRecord, BookRecord][] = [];
  const waiting = new Map<string, BookRecord>();
  for (const r of records) {
    if (Number.isNaN(r.circle)) continue;
    const key = `${r.number} ${r.round}`;
    const other = waiting.get(key);
    if (other && faceOf(other) !== faceOf(r)) {
      waiting.delete(key);
      out.push(faceOf(other) === 1 ? [other, r] : [r, other]);
    } else waiting.set(key, r);
  }
  return out;
}

/** Circle and zenith of one reading freed of the instrument's errors and brought to face 1. */
export function trueReading(r: BookRecord, errors: FaceErrors): { circle: number; zenith: number } {
  const face = faceOf(r);
  const zenith = face === 1 ? r.zenith - errors.index : 2 * PI - (r.zenith - errors.index);
  const aside = errors.collimation === 0 ? 0 : errors.collimation / sin(Number.isNaN(zenith) ? PI / 2 : zenith);
  return { circle: turned(face === 1 ? r.circle - aside : r.circle + PI + aside), zenith };
}

const READ_IN_ONE = (): number => 0;

/**
 * Sightings of one setup gathered target by target: faces and rounds of one number and role are one pointing.
 * `offsetOf` is what a turn of the circle put on a record's reading.
 */
export function pointingsOf(
  records: readonly BookRecord[],
  errors: FaceErrors,
  offsetOf: (record: BookRecord) => number = READ_IN_ONE,
): Pointing[] {
  const groups: BookRecord[][] = [];
  const open = new Map<string, BookRecord[]>();
  for (const r of records) {
    const key = `${r.role} ${r.number}`;
    const group = open.get(key);
    // A shot of one number in one face and no round is another point, whatever its number says.
    const again = group?.some((g) => faceOf(g) === faceOf(r) && g.round === r.round);
    if (group && !again) group.push(r);
    else {
      const fresh = [r];
      groups.push(fresh);
      open.set(key, fresh);
    }
  }
  return groups.map((g) => pointingOf(g, errors, offsetOf));
}

/** The mean of sightings of one target. */
export function pointingOf(
  records: BookRecord[],
  errors: FaceErrors,
  offsetOf: (record: BookRecord) => number = READ_IN_ONE,
): Pointing {
  const first = records[0];
  const readings = records.map((r) => {
    const { circle, zenith } = trueReading(r, errors);
    return { circle: circle - offsetOf(r), zenith };
  });
  const said = readings.find((r) => !Number.isNaN(r.circle))?.circle ?? NaN;
  const circles = readings.map((r) => difference(r.circle - said)).filter((v) => !Number.isNaN(v));
  // Exactly 0 is written by an instrument that read no vertical angle.
  const zeniths = readings.flatMap((r, i) => (Number.isNaN(r.zenith) || records[i].zenith === 0 ? [] : [r.zenith]));
  const distances = records.map((r) => r.distance).filter((v) => !Number.isNaN(v));
  const heights = records.map((r) => r.height).filter((v) => !Number.isNaN(v));
  return {
    records,
    number: first.number,
    role: first.role,
    circle: circles.length ? turned(said + mean(circles)) : NaN,
    zenith: zeniths.length === 0 && records.some((r) => r.zenith === 0) ? 0 : mean(zeniths),
    distance: mean(distances),
    height: heights.length ? heights[0] : NaN,
    target: first.target,
    code: records.find((r) => r.code)?.code ?? '',
    spreadCircle: spread(circles),
    spreadZenith: spread(zeniths),
    spreadDistance: spread(distances),
  };
}

const mean = (v: number[]): number => (v.length ? v.reduce((s, x) => s + x, 0) / v.length : NaN);
const spread = (v: number[]): number => (v.length > 1 ? Math.max(...v) - Math.min(...v) : 0);

/**
 * Standard deviation of a direction measured once in both faces, from n rounds to t targets (ISO 17123-3):
 * residuals after each round's own orientation, (n − 1)(t − 1) degrees of freedom. NaN without redundancy.
 */
export function directionDeviation(records: readonly BookRecord[], errors: FaceErrors): { sd: number; free: number } {
  const rounds = new Map<number, Map<string, number[]>>();
  for (const r of records) {
    if (r.round === 0 || Number.isNaN(r.circle)) continue;
    const round = rounds.get(r.round) ?? new Map<string, number[]>();
    rounds.set(r.round, round);
    round.set(r.number, [...(round.get(r.number) ?? []), trueReading(r, errors).circle]);
  }
  const targets = [...new Set([...rounds.values()].flatMap((m) => [...m.keys()]))].filter((t) =>
    [...rounds.values()].every((m) => m.has(t)),
  );
  const [n, t] = [rounds.size, targets.length];
  const free = (n - 1) * (t - 1);
  if (n < 2 || t < 2) return { sd: NaN, free: 0 };
  // Directions from the first target of each round.
  const table = [...rounds.values()].map((m) => {
    const of = (number: string): number => {
      const list = m.get(number)!;
      return list[0] + mean(list.map((v) => difference(v - list[0])));
    };
    const zero = of(targets[0]);
    return targets.map((number) => turned(of(number) - zero));
  });
  const means = targets.map((_, k) => table[0][k] + mean(table.map((row) => difference(row[k] - table[0][k]))));
  let squares = 0;
  for (const row of table) {
    const d = row.map((v, k) => difference(means[k] - v));
    const own = mean(d);
    for (const v of d) squares += (v - own) * (v - own);
  }
  return { sd: Math.sqrt(squares / free), free };
}
