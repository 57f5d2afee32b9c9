import { difference, sin } from '#core/kernel';
import type { BookRecord } from '#core/book';
import { trueReading, type FaceErrors } from './pointings.ts';

// Stretches of a setup that were read with one orientation of the circle. Crews turn the circle between rounds, by any
// amount; now and then it turns by itself. Circles of different stretches are compared only after the turn between
// them is taken off.

/** A turn of the circle between two sightings of one setup. */
export interface CircleTurn {
  /** Row of the first sighting that was surely read after it. */
  row: number;
  /** How much more circles read after it, radians within half a turn either way; NaN where nothing tells. */
  by: number;
  /** Between rounds, at a backsight sighted again, said by a person, or found by what was sighted before and after. */
  how: 'round' | 'backsight' | 'decided' | 'hidden';
  /** Rows of sightings that may have been read before or after it. */
  between: number[];
}

export interface CircleSets {
  turns: CircleTurn[];
  /** To be taken off a record's circle, so that it reads as those of the first stretch; NaN where nothing tells. */
  offsetOf: (record: BookRecord) => number;
  /** Rows of sightings whose stretch nobody can tell. */
  doubtful: ReadonlySet<number>;
}

export interface CircleTolerance {
  /** Standard deviation of a direction, radians. */
  direction: number;
  /** m, across the sight. */
  plan: number;
}

interface Stretch {
  records: BookRecord[];
  how: CircleTurn['how'];
  between: number[];
  offset: number;
  commons: number;
}

const PI = 3.141592653589793;
/** A circle that reads half a turn off was read in the other face: that is asked about by itself. */
const HALF = 0.0175;
/** m, where no distance was measured. */
const PLAIN_SIGHT = 50;
const CENTRED = 0.003;

/**
 * The stretches of a setup, or null where all was read in one. `bearingOf` gives the computed bearing to the known
 * point that a record sights, NaN of others and where its distance says that it sights another one; `turned` holds rows before which a person says that the circle was turned.
 */
export function circleSets(
  records: readonly BookRecord[],
  errors: FaceErrors,
  bearingOf: (record: BookRecord) => number,
  turned: ReadonlySet<number>,
  tolerance: CircleTolerance,
): CircleSets | null {
  const circles = new Map<BookRecord, number>();
  for (const r of records) if (!Number.isNaN(r.circle)) circles.set(r, trueReading(r, errors).circle);
  const reader = new CircleReader(circles, bearingOf, tolerance);
  const stretches = byRound(records, turned).flatMap((s) => reader.split(s));
  if (stretches.length < 2) return null;
  reader.tie(stretches);
  const offsets = new Map<BookRecord, number>();
  const doubtful = new Set<number>();
  const turns: CircleTurn[] = [];
  stretches.forEach((s, i) => {
    for (const r of s.records) offsets.set(r, s.offset);
    for (const row of s.between) doubtful.add(row);
    if (i === 0) return;
    const by = difference(s.offset - stretches[i - 1].offset);
    const least = s.how === 'round' ? reader.noise(s) : 0;
    if (!(Math.abs(by) <= least)) turns.push({ row: s.records[0].row, by, how: s.how, between: s.between });
  });
  if (turns.length === 0 && stretches.every((s) => s.offset === 0)) return null;
  return { turns, offsetOf: (r) => offsets.get(r) ?? 0, doubtful };
}

/** Sightings by round, and by what a person says; one without a round belongs to the round before it. */
function byRound(records: readonly BookRecord[], turned: ReadonlySet<number>): Stretch[] {
  const stretches = new Map<string, Stretch>();
  let [part, round] = [0, 0];
  for (const r of records) {
    const decided = turned.has(r.row);
    if (decided) part++;
    // What stands before the first round is read with it until something shows otherwise.
    if (r.round !== 0 && r.round !== round) round = r.round;
    const key = `${part}:${round}`;
    const open = stretches.get(key);
    if (open) open.records.push(r);
    else stretches.set(key, { records: [r], how: decided ? 'decided' : 'round', between: [], offset: 0, commons: 0 });
  }
  return [...stretches.values()];
}

class CircleReader {
  constructor(
    private readonly circles: ReadonlyMap<BookRecord, number>,
    private readonly bearingOf: (record: BookRecord) => number,
    private readonly tolerance: CircleTolerance,
  ) {}

  /** A difference between two readings of one direction that chance does not explain. */
  private limit(r: BookRecord): number {
    const d = Number.isNaN(r.distance) ? PLAIN_SIGHT : Math.max(r.distance, 1);
    return Math.max(7 * this.tolerance.direction + CENTRED / d, this.tolerance.plan / d);
  }

  noise = (s: Stretch): number => 3 * this.limit(s.records[0]);

  /** A stretch in two or more where its own sightings show that the circle turned within it. */
  split(whole: Stretch): Stretch[] {
    const out = [whole];
    for (;;) {
      const last = out[out.length - 1];
      const found = this.turnIn(last.records);
      if (!found) return out;
      const { at, good, how } = found;
      const between = how === 'hidden' ? last.records.slice(good + 1, at).map((r) => r.row) : [];
      out.push({ records: last.records.slice(at), how, between, offset: 0, commons: 0 });
      last.records = last.records.slice(0, at);
    }
  }

  private turnIn(records: readonly BookRecord[]): { at: number; good: number; how: 'backsight' | 'hidden' } | null {
    const seen = new Seen(this.circles, this.bearingOf);
    let good = -1;
    for (let i = 0; i < records.length; i++) {
      const r = records[i];
      const shift = seen.shiftOf(r);
      if (shift === null) {
        if (seen.add(r)) good = Math.max(good, i);
        continue;
      }
      if (Math.abs(shift.by) <= this.limit(r)) {
        good = i;
        seen.add(r);
        continue;
      }
      if (Math.abs(Math.abs(shift.by) - PI) < HALF || !shift.sameTarget) continue;
      const later = records.slice(i + 1).flatMap((k) => {
        const s = seen.shiftOf(k);
        return s && s.sameTarget ? [{ by: s.by, limit: this.limit(k) }] : [];
      });
      const back = later.some((k) => Math.abs(k.by) <= k.limit);
      const stays = later.some((k) => Math.abs(difference(k.by - shift.by)) <= k.limit);
      // One reading alone that comes back is a slip of that reading.
      // Right behind the first sight it is that sight which is wrong, not the circle.
      if (back || (shift.from === 'known' && (!stays || i - good < 2))) continue;
      return { at: i, good, how: r.role === 'back' && shift.from === 'number' ? 'backsight' : 'hidden' };
    }
    return null;
  }

  /** Offsets of all stretches against the first, by targets they share, then by known points. */
  tie(stretches: readonly Stretch[]): void {
    const directions = stretches.map((s) => this.directionsOf(s));
    const tied = new Set([0]);
    const place = (s: number, found: Found): void => {
      stretches[s].offset = found.offset;
      stretches[s].commons = found.count;
      tied.add(s);
    };
    const frame = (): Map<string, number> => this.frameOf(stretches, directions, tied);
    for (let grown = true; grown;) {
      grown = false;
      for (let s = 1; s < stretches.length; s++) {
        if (tied.has(s)) continue;
        const found = this.offsetIn(directions[s], frame(), stretches[s]);
        if (!found) continue;
        place(s, found);
        grown = true;
      }
    }
    // Each turn is found again against the mean of all, until nothing moves.
    for (let turn = 0; turn < 20; turn++) {
      const all = frame();
      let moved = 0;
      for (let s = 1; s < stretches.length; s++) {
        if (!tied.has(s)) continue;
        const found = this.offsetIn(directions[s], all, stretches[s]);
        if (!found) continue;
        moved = Math.max(moved, Math.abs(difference(found.offset - stretches[s].offset)));
        place(s, found);
      }
      if (moved < 1e-10) break;
    }
    const isTurned = stretches.some((s) => tied.has(stretches.indexOf(s)) && Math.abs(s.offset) > this.noise(s));
    // One target alone would carry its own reading's error into all the others.
    for (const s of stretches)
      if (s.commons === 1 && s.how === 'round' && Math.abs(s.offset) <= this.noise(s)) s.offset = 0;
    const all = frame();
    const orientation = this.orientationOf(
      all,
      stretches.filter((_, i) => tied.has(i)),
    );
    for (let s = 1; s < stretches.length; s++) {
      if (tied.has(s)) continue;
      const own = this.orientationOf(directions[s], [stretches[s]]);
      if (!Number.isNaN(own + orientation)) stretches[s].offset = difference(orientation - own);
      else if (isTurned || stretches[s].how !== 'round') stretches[s].offset = NaN;
    }
  }

  /** Mean circle of each target of a stretch. */
  private directionsOf(s: Stretch): Map<string, number> {
    const groups = new Map<string, number[]>();
    for (const r of s.records) {
      const circle = this.circles.get(r);
      if (circle !== undefined) groups.set(r.number, [...(groups.get(r.number) ?? []), circle]);
    }
    return new Map([...groups].map(([number, list]) => [number, meanOf(list)]));
  }

  /** Every target's direction in the first stretch's reading, the mean of the stretches that are tied. */
  private frameOf(
    stretches: readonly Stretch[],
    directions: readonly Map<string, number>[],
    tied: ReadonlySet<number>,
  ): Map<string, number> {
    const groups = new Map<string, number[]>();
    for (const s of tied)
      for (const [number, circle] of directions[s])
        groups.set(number, [...(groups.get(number) ?? []), circle - stretches[s].offset]);
    return new Map([...groups].map(([number, list]) => [number, this.steadyMean(list)]));
  }

  /** The mean of those that lie about the middle one: a target sighted under another's name takes no part. */
  private steadyMean(list: readonly number[]): number {
    const middle = middleOf(list);
    const limit = 10 * this.tolerance.direction + CENTRED / PLAIN_SIGHT;
    const good = list.filter((v) => Math.abs(difference(v - middle)) <= limit);
    return good.length ? meanOf(good) : middle;
  }

  private offsetIn(own: ReadonlyMap<string, number>, frame: ReadonlyMap<string, number>, s: Stretch): Found | null {
    const shifts = [...own].flatMap(([number, circle]) => {
      const other = frame.get(number);
      return other === undefined ? [] : [difference(circle - other)];
    });
    if (shifts.length === 0) return null;
    const middle = middleOf(shifts);
    const limit = this.noise(s);
    const good = shifts.filter((v) => Math.abs(difference(v - middle)) <= limit);
    return { offset: difference(meanOf(good)), count: good.length };
  }

  private orientationOf(directions: ReadonlyMap<string, number>, stretches: readonly Stretch[]): number {
    const known = new Map(stretches.flatMap((s) => s.records.map((r) => [r.number, r] as const)));
    const found = [...directions].flatMap(([number, circle]) => {
      const bearing = this.bearingOf(known.get(number)!);
      return Number.isNaN(bearing) ? [] : [difference(bearing - circle)];
    });
    return found.length ? middleOf(found) : NaN;
  }
}

interface Found {
  offset: number;
  count: number;
}

/** What a stretch has sighted so far, against which a later sighting is held. */
class Seen {
  private readonly first = new Map<string, BookRecord>();
  private orientation = NaN;
  private by = '';

  constructor(
    private readonly circles: ReadonlyMap<BookRecord, number>,
    private readonly bearingOf: (record: BookRecord) => number,
  ) {}

  /** Keeps a sighting that others can be held against; false when it is none. */
  add(r: BookRecord): boolean {
    const circle = this.circles.get(r);
    const bearing = this.bearingOf(r);
    if (circle === undefined || (r.role === 'shot' && Number.isNaN(bearing))) return false;
    if (!this.first.has(r.number)) this.first.set(r.number, r);
    if (Number.isNaN(this.orientation) && !Number.isNaN(bearing)) {
      this.orientation = bearing - circle;
      this.by = r.number;
    }
    return true;
  }

  /** How far a sighting's circle stands off what was sighted before; null where nothing was. */
  shiftOf(r: BookRecord): { by: number; from: 'number' | 'known'; sameTarget: boolean } | null {
    const circle = this.circles.get(r);
    if (circle === undefined) return null;
    const before = this.first.get(r.number);
    if (before) {
      const apart = Math.abs(before.distance * sineOf(before) - r.distance * sineOf(r));
      // Without a distance it is taken for what it says it is.
      return {
        by: difference(circle - this.circles.get(before)!),
        from: 'number',
        sameTarget: !(apart > 0.05 + 1e-4 * r.distance),
      };
    }
    const bearing = this.bearingOf(r);
    if (Number.isNaN(bearing + this.orientation) || r.number === this.by) return null;
    return { by: difference(circle + this.orientation - bearing), from: 'known', sameTarget: true };
  }
}

const sineOf = (r: BookRecord): number => (Number.isNaN(r.zenith) ? 1 : Math.abs(sin(r.zenith)));

function meanOf(list: readonly number[]): number {
  const [first] = list;
  return first + list.reduce((s, v) => s + difference(v - first), 0) / list.length;
}

function middleOf(list: readonly number[]): number {
  const [first] = list;
  const sorted = list.map((v) => difference(v - first)).sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return first + (sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2);
}
