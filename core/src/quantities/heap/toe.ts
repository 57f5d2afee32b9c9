import { distance } from '#core/kernel';
import { heapDownTo, toeOf } from './heap.ts';
import { measureSurface, planeOf, without, type Surface } from '#core/terrain';

/** Classes of steepness that are told apart. */
const BINS = 128;
/** Rise over run; walls and what else is steeper than heaped ground ever lies are one class with it. */
const STEEPEST = 1;
/** Flanks are this many times as steep as the ground beside them at least, and this steep. */
const TIMES_STEEPER = 2.5;
const LEAST_STEEP = 0.12;
/** Where a heap is too small among its ground to make a class of its own: flatter than this is no flank. */
const USUAL_LIMIT = 0.25;
/** Parts that are looked at, the largest first. */
const MOST_PARTS = 30;

export interface FoundHeap {
  /** The heap's own triangles. */
  surface: Surface;
  /** Flat triangles round it. */
  takenOff: number;
  /** Other heaps in the survey, of a tenth of its volume at least. */
  others: number;
}

/**
 * The heap in a survey: what is left where flat triangles are taken off from the rim inwards; a flat top stays, since flanks lie
 * round it. Flat and steep are parted where the classes of steepness are most apart (Otsu, 1979), after the slope of the ground
 * itself, the middle one of all triangles by their area. Of several parts that are left the one that rises most above its own toe is the heap: banks
 * and walls run between two levels and hold nothing. Where flatter limits leave a heap that holds more and is as deep, that is it. Where
 * no part rises above its toe all of the survey is taken.
 */
export function findHeap(s: Surface): FoundHeap {
  const { slope, below } = flatLimit(s);
  let best = partsAbove(s, slope, below);
  // Walls and single shots are steeper than a low heap is, and part the classes where it does not lie.
  for (const limit of LOWER_LIMITS) {
    if (limit >= below) continue;
    const lower = partsAbove(s, slope, limit);
    if (lower.holds > TIMES_LARGER * best.holds && lower.depth >= AS_DEEP * best.depth) best = lower;
  }
  const { found } = best;
  return found ?? { surface: s, takenOff: 0, others: 0 };
}

/** Flatter limits that are tried where the ground is not flat below the one that its classes give, rise over run. */
const LOWER_LIMITS = [0.2, 0.15, 0.11, 0.08];
/** A heap that is found at a flatter limit holds so many times what was found before: else the steeper one tells the toe better. */
const TIMES_LARGER = 1.2;
/** As a toe moves outwards a heap gets deeper over its area; one that a bank is joined to gets shallower. */
const AS_DEEP = 1;

/** What is left of a survey where triangles flatter than a limit are taken off from the rim inwards: the part that holds most, m³, and its mean depth, m. */
function partsAbove(
  s: Surface,
  slope: Float64Array,
  below: number,
): { holds: number; depth: number; found: FoundHeap | null } {
  const gone = new Uint8Array(s.triangles.length / 3);
  const open: number[] = [];
  for (let e = 0; e < s.neighbours.length; e++) if (s.neighbours[e] < 0) open.push(Math.floor(e / 3));
  while (open.length) {
    const t = open.pop()!;
    if (gone[t] || slope[t] >= below) continue;
    gone[t] = 1;
    for (let e = 3 * t; e < 3 * t + 3; e++) if (s.neighbours[e] >= 0) open.push(Math.floor(s.neighbours[e] / 3));
  }
  const takenOff = gone.reduce((n, g) => n + g, 0);
  const left = takenOff ? without(s, gone) : s;
  const parts = partsOf(left);
  const largest = [...parts.areas.keys()].sort((a, b) => parts.areas[b] - parts.areas[a] || a - b).slice(0, MOST_PARTS);
  const heaps = largest.map((part) => {
    const surface = parts.areas.length > 1 ? without(left, Uint8Array.from(parts.of, (p) => (p === part ? 0 : 1))) : left; // prettier-ignore
    return { surface, holds: heldAboveToe(surface) };
  });
  const best = heaps.reduce<(typeof heaps)[number] | null>(
    (most, h) => (h.holds > (most?.holds ?? 0) ? h : most),
    null,
  );
  if (!best) return { holds: 0, depth: 0, found: null };
  const others = heaps.filter((h) => h !== best && h.holds > best.holds * WORTH_NAMING).length;
  const { planArea } = measureSurface(best.surface);
  return { holds: best.holds, depth: best.holds / planArea, found: { surface: best.surface, takenOff, others } };
}
const WORTH_NAMING = 0.1;

/** From its lowest toe to its top, a heap rises at least this share above its highest toe; a bank ends where it is highest. */
const ABOVE_TOE = 0.25;

/** m³ above the triangles from corner to corner of a part's toe; 0 where it does not rise above it all round. */
function heldAboveToe(s: Surface): number {
  const toe = toeOf(s);
  const z = toe.map((c) => c[2]);
  const { highest } = measureSurface(s);
  if (highest - Math.max(...z) < ABOVE_TOE * (highest - Math.min(...z))) return 0;
  const volume = heapDownTo(s, 'toe', toe);
  return volume ? volume.cut - volume.fill : 0;
}

/** Steepness of every triangle above the ground's own slope, and below which one is flat. */
function flatLimit(s: Surface): { slope: Float64Array; below: number } {
  const count = s.triangles.length / 3;
  const planes = Array.from({ length: count }, (_, t) => planeOf(s, t));
  const areas = planes.map((_, t) => areaOf(s, t));
  const ground = {
    dx: middleOf(
      planes.map((p) => p.dx),
      areas,
    ),
    dy: middleOf(
      planes.map((p) => p.dy),
      areas,
    ),
  };
  const slope = new Float64Array(count);
  const weight = new Float64Array(BINS);
  for (let t = 0; t < count; t++) {
    slope[t] = distance(planes[t].dx - ground.dx, planes[t].dy - ground.dy);
    weight[Math.min(BINS - 1, Math.floor((slope[t] / STEEPEST) * BINS))] += areas[t];
  }
  const middle = (bin: number): number => ((bin + 0.5) / BINS) * STEEPEST;
  let [total, moment] = [0, 0];
  for (let b = 0; b < BINS; b++) {
    total += weight[b];
    moment += weight[b] * middle(b);
  }
  let best = { apart: 0, flat: 0, steep: 0 };
  let [below, belowMoment] = [0, 0];
  for (let b = 0; b + 1 < BINS; b++) {
    below += weight[b];
    belowMoment += weight[b] * middle(b);
    if (below === 0 || below === total) continue;
    const [flat, steep] = [belowMoment / below, (moment - belowMoment) / (total - below)];
    const apart = below * (total - below) * (steep - flat) ** 2;
    if (apart > best.apart) best = { apart, flat, steep };
  }
  const areTwo = best.steep >= LEAST_STEEP && best.steep >= TIMES_STEEPER * best.flat;
  return { slope, below: areTwo ? (best.flat + best.steep) / 2 : USUAL_LIMIT };
}

/** The value that half of all weight lies below. */
function middleOf(values: readonly number[], weights: readonly number[]): number {
  const order = values.map((_, i) => i).sort((a, b) => values[a] - values[b]);
  let left = weights.reduce((sum, w) => sum + w, 0) / 2;
  for (const i of order) if ((left -= weights[i]) <= 0) return values[i];
  return 0;
}

function areaOf({ x, y, triangles }: Surface, t: number): number {
  const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
  return ((x[b] - x[a]) * (y[c] - y[a]) - (x[c] - x[a]) * (y[b] - y[a])) / 2;
}

/** Which part every triangle belongs to, and the parts' areas in plan, m². */
function partsOf(s: Surface): { of: Int32Array; areas: number[] } {
  const of = new Int32Array(s.triangles.length / 3).fill(-1);
  const areas: number[] = [];
  for (let first = 0; first < of.length; first++) {
    if (of[first] >= 0) continue;
    const part = areas.length;
    let area = 0;
    const open = [first];
    of[first] = part;
    while (open.length) {
      const t = open.pop()!;
      area += areaOf(s, t);
      for (let e = 3 * t; e < 3 * t + 3; e++) {
        const u = s.neighbours[e] < 0 ? -1 : Math.floor(s.neighbours[e] / 3);
        if (u < 0 || of[u] >= 0) continue;
        of[u] = part;
        open.push(u);
      }
    }
    areas.push(area);
  }
  return { of, areas };
}
