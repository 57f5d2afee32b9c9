import { distance, ringArea } from '#core/kernel';
import { fittedPlane, planeOf, rimLoops, without, type Surface } from '#core/terrain';

/** Classes of steepness that are told apart. */
const BINS = 128;
/** Rise over run; steeper than this is one class. */
const STEEPEST = 2;
/** Flanks are this many times as steep as the ground beside them at least, and this steep; otherwise all of it is the heap. */
const TIMES_STEEPER = 2.5;
const LEAST_STEEP = 0.12;

/**
 * The heap in a survey: what is left where flat triangles are taken off from the rim inwards; a flat top stays, since flanks lie
 * round it. Flat and steep are parted where the classes of steepness are most apart (Otsu, 1979), after the slope of the ground
 * itself, a plane through the rim. Of several parts that are left the largest is the heap.
 * @returns the heap's own triangles, how many were taken off, and how many parts besides were left
 */
export function findHeap(s: Surface): { surface: Surface; takenOff: number; others: number } {
  const limit = flatLimit(s);
  const count = s.triangles.length / 3;
  const gone = new Uint8Array(count);
  if (limit) {
    const open: number[] = [];
    for (let e = 0; e < s.neighbours.length; e++) if (s.neighbours[e] < 0) open.push(Math.floor(e / 3));
    while (open.length) {
      const t = open.pop()!;
      if (gone[t] || limit.slope[t] >= limit.below) continue;
      gone[t] = 1;
      for (let e = 3 * t; e < 3 * t + 3; e++) if (s.neighbours[e] >= 0) open.push(Math.floor(s.neighbours[e] / 3));
    }
  }
  const takenOff = gone.reduce((n, g) => n + g, 0);
  if (takenOff === count) return { surface: s, takenOff: 0, others: 0 };
  const left = takenOff ? without(s, gone) : s;
  const parts = partsOf(left);
  const [largest] = [...parts.areas.keys()].sort((a, b) => parts.areas[b] - parts.areas[a] || a - b);
  const surface = parts.areas.length > 1 ? without(left, Uint8Array.from(parts.of, (p) => (p === largest ? 0 : 1))) : left; // prettier-ignore
  return { surface, takenOff, others: parts.areas.length - 1 };
}

/** Steepness of every triangle above the ground's own slope, and below which one is flat; null where there are no two classes. */
function flatLimit(s: Surface): { slope: Float64Array; below: number } | null {
  const rim = rimLoops(s).flat();
  const ground = fittedPlane(rim.map((v) => [s.x[v], s.y[v], s.z[v]])) ?? { dx: 0, dy: 0 };
  const count = s.triangles.length / 3;
  const slope = new Float64Array(count);
  const weight = new Float64Array(BINS);
  for (let t = 0; t < count; t++) {
    const { dx, dy } = planeOf(s, t);
    slope[t] = distance(dx - ground.dx, dy - ground.dy);
    weight[Math.min(BINS - 1, Math.floor((slope[t] / STEEPEST) * BINS))] += areaOf(s, t);
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
  if (best.steep < LEAST_STEEP || best.steep < TIMES_STEEPER * best.flat) return null;
  return { slope, below: (best.flat + best.steep) / 2 };
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

/** The outer rim of a heap: x, y, z of its corners, counter-clockwise; of several the largest. */
export function toeOf(s: Surface): number[][] {
  const loops = rimLoops(s).map((loop) => loop.map((v) => [s.x[v], s.y[v], s.z[v]]));
  const area = (loop: number[][]): number => ringArea(loop.flatMap(([x, y]) => [x, y]));
  return loops.sort((a, b) => area(b) - area(a))[0] ?? [];
}
