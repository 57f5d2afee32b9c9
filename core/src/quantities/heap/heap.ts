import { meanOf, ringArea } from '#core/kernel';
import { buildSurface, clipToRing, fittedPlane, measureSurface, rimLoops, type Surface } from '#core/terrain';
import { differenceBetween, differenceToLevel, type Difference } from '../difference/difference.ts';
import { measured, type Volume } from '../volume.ts';

/** What a heap is measured down to: the lowest level of its toe, the mean of its corners, a plane fitted to them, or triangles from corner to corner. */
export const HEAP_BASES = ['lowest', 'mean', 'plane', 'toe'] as const;
export type HeapBase = (typeof HEAP_BASES)[number];

/** What of a heap lies above its base and below it, m³. */
export interface HeapVolume {
  above: number;
  below: number;
  net: number;
}

export interface Heap {
  /** x, y, z of its corners, counter-clockwise, m. */
  toe: number[][];
  /** m² inside the toe, in plan and along the slope. */
  planArea: number;
  slopeArea: number;
  /** Elevations of the toe and of the top, m. */
  lowest: number;
  mean: number;
  highest: number;
  top: number;
  /** Null where the toe cannot say it: its corners in one line have no plane. */
  volumes: Record<HeapBase, HeapVolume | null>;
}

/** A heap, its own triangles from toe to top, down to every base. */
export function measureHeap(surface: Surface): Heap {
  const toe = toeOf(surface);
  const z = toe.map((c) => c[2]);
  const { planArea, slopeArea, highest: top } = measureSurface(surface);
  const volumes = Object.fromEntries(
    HEAP_BASES.map((base) => {
      const v = heapDownTo(surface, base, toe);
      return [base, v && heapVolume(v)];
    }),
  ) as Heap['volumes'];
  return { toe, planArea, slopeArea, lowest: Math.min(...z), mean: meanOf(z), highest: Math.max(...z), top, volumes };
}

/** A heap above the ground as it was before it, and as much of it as that lies under, m²; null where it lies under none. */
export function heapAboveEarlier(heap: Surface, earlier: Surface): { volume: HeapVolume | null; area: number } {
  const v = measured(differenceBetween(heap, earlier));
  return { volume: v.area > 0 ? heapVolume(v) : null, area: v.area };
}

const heapVolume = ({ cut, fill }: Pick<Volume, 'cut' | 'fill'>): HeapVolume => ({ above: cut, below: fill, net: cut - fill }); // prettier-ignore

/** A heap above one of its bases: cut is what lies above it. Null where the toe cannot say it. */
export function heapDownTo(s: Surface, base: HeapBase, toe = toeOf(s)): Volume | null {
  const difference = heapDifference(s, base, toe);
  return difference && measured(difference);
}

/** What lies between a heap and one of its bases. */
export function heapDifference(s: Surface, base: HeapBase, toe = toeOf(s)): Difference | null {
  // Above a plane as above a level, once the plane is taken off: both are straight over every triangle.
  if (base === 'plane') {
    const plane = fittedPlane(toe);
    return plane && differenceToLevel({ ...s, z: s.z.map((v, i) => v - plane.at(s.x[i], s.y[i])) }, 0, s);
  }
  const down = heapBase(toe, base)!;
  return 'level' in down ? differenceToLevel(s, down.level) : differenceBetween(s, down.surface);
}

/** A base of a heap by itself; null where the toe cannot say it. */
export function heapBase(toe: readonly number[][], base: HeapBase): { level: number } | { surface: Surface } | null {
  const z = toe.map((c) => c[2]);
  if (base === 'lowest') return { level: Math.min(...z) };
  if (base === 'mean') return { level: meanOf(z) };
  if (base === 'toe') return { surface: baseFromToe(toe) };
  const plane = fittedPlane(toe);
  return plane && { surface: baseFromToe(toe.map(([x, y]) => [x, y, plane.at(x, y)])) };
}

/** The surface between the corners of a toe, from side to side. */
export function baseFromToe(toe: readonly number[][]): Surface {
  const n = toe.length;
  const column = (k: number): Float64Array => Float64Array.from(toe, (c) => c[k]);
  const segments = Uint32Array.from({ length: 2 * n }, (_, i) => ((i + 1) >> 1) % n);
  const [x, y] = [column(0), column(1)];
  const { surface } = buildSurface({ x, y, z: column(2), segments, longestSide: null, coincidence: 0 });
  return clipToRing(
    surface,
    Float64Array.from({ length: 2 * n }, (_, i) => (i % 2 ? y : x)[i >> 1]),
  );
}

/** The outer rim of a heap: x, y, z of its corners, counter-clockwise; of several the largest. */
export function toeOf(s: Surface): number[][] {
  const loops = rimLoops(s).map((loop) => loop.map((v) => [s.x[v], s.y[v], s.z[v]]));
  const area = (loop: number[][]): number => ringArea(loop.flatMap(([x, y]) => [x, y]));
  return loops.sort((a, b) => area(b) - area(a))[0] ?? [];
}
