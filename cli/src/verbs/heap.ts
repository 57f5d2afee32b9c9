import { ringThrough } from '#core/kernel';
import { buildSurface, clipToRing, type Surface } from '#core/terrain';
import { figuresOf, findHeap, heapAboveEarlier, HEAP_BASES, heapDifference, influenceOf, measureHeap, toeOf, volumeSd, WITHIN_95, withBase, type HeapBase, type HeapVolume } from '#core/quantities'; // prettier-ignore
import { boundaryOf, load, pointsOf, surfaceOf, type PlainPoints } from '../load.ts';
import { onLayers } from '../layers.ts';
import { reachOf, reachText } from '../reach.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { choice, length, READING, text } from '../options.ts';

const OPTIONS = {
  ...READING,
  layer: text('--layer <layers>', 'of drawings only what is on these layers, separated by commas'),
  toe: text('--toe <file>', 'closed line round the heap; found by itself otherwise'),
  toeCode: text('--toe-code <code>', 'code of the points of the toe, in their order round the heap'),
  earlier: text('--earlier <surface>', 'the ground before the heap was there: its volume above that too'),
  sdPlan: length('--sd-plan <length>', 'standard deviation of the shots in east and in north', 0),
  sdHeight: length('--sd-height <length>', 'standard deviation of their elevations', 0),
  base: choice('--base <which>', 'what it is measured down to', [...HEAP_BASES, 'all'] as const, 'all'),
};
type Options = Values<typeof OPTIONS> & Common;

type Shots = Pick<PlainPoints, 'x' | 'y' | 'z' | 'description'>;

/** How the toe came about, and what besides is to be said of it. */
interface FoundHeap {
  surface: Surface;
  from: 'found' | 'drawn' | 'code';
  said: string[];
}

/** The volume of a heap from the shots of it. */
function heap([file]: string[], options: Options): Outcome {
  if (options.toe !== undefined && options.toeCode !== undefined)
    throw new WrongUsage('heap takes either --toe or --toe-code.');
  const { shots, without } = shotsOf(file, options);
  const { surface, from, said } = foundIn(shots, options);
  if (without)
    said.unshift(`${without === 1 ? '1 point has' : `${without} points have`} no elevation and no part in it`);
  const measured = measureHeap(surface);
  const asked = options.base === 'all' ? HEAP_BASES : [options.base];
  if (asked.length === 1 && !measured.volumes[asked[0]])
    throw new CannotDo('The points of the toe lie in one line: no plane can be fitted to them. Choose another --base.');
  const { toe, planArea, slopeArea, lowest, mean, highest, top } = measured;
  const earlier = options.earlier === undefined ? null : aboveEarlier(surface, options.earlier, options);
  if (earlier && planArea - earlier.area > LEAST_BARE) said.push(`the earlier surface does not lie under ${(planArea - earlier.area).toFixed(3)} m² of the heap; they have no part in the volume above it`); // prettier-ignore
  const volumes = { ...Object.fromEntries(asked.map((base) => [base, measured.volumes[base]])), ...(earlier ? { earlier: earlier.volume } : {}) }; // prettier-ignore
  const sd = sdOfBases(surface, asked, options);
  return {
    json: {
      points: shots.x.length,
      toe,
      toeFrom: from,
      lowest,
      mean,
      highest,
      top,
      planArea,
      slopeArea,
      volumes,
      ...(sd ? { sd } : {}),
      said,
    },
    text: [
      `toe ${from === 'found' ? 'found by itself' : from === 'drawn' ? 'as drawn' : 'by its code'}: ${toe.length} corners, ${planArea.toFixed(3)} m² in plan, elevations ${lowest.toFixed(3)} to ${highest.toFixed(3)} m, mean ${mean.toFixed(3)}; top ${top.toFixed(3)} m`, // prettier-ignore
      ...asked.map((base) => baseText(BASE_WORDS[base], measured.volumes[base], sd?.[base])),
      ...(earlier ? [baseText('earlier surface', earlier.volume)] : []),
      ...said,
    ].join('\n'),
  };
}

const BASE_WORDS: Record<HeapBase, string> = {
  lowest: 'lowest of the toe',
  mean: 'mean of the toe',
  plane: 'plane fitted to the toe',
  toe: 'triangles from the toe',
};

/** m² of a heap without earlier ground under it that are rounding. */
const LEAST_BARE = 1e-3;

/** A heap above the ground as it was before it. */
function aboveEarlier(heap: Surface, file: string, options: Options): { volume: HeapVolume; area: number } {
  const { volume, area } = heapAboveEarlier(heap, surfaceOf(file, options));
  if (!volume) throw new CannotDo(`${file} does not lie under the heap.`);
  return { volume, area };
}

function baseText(name: string, v: HeapVolume | null, sd?: number | null): string {
  const sure = sd ? ` ± ${(WITHIN_95 * sd).toFixed(3)} (95 %, of its shots alone)` : '';
  return `${name.padEnd(24)} ${v ? `above ${v.above.toFixed(3)} m³, below ${v.below.toFixed(3)} m³, net ${v.net.toFixed(3)} m³${sure}` : 'the toe lies in one line'}`; // prettier-ignore
}

/** Standard deviations of the net volume above each base from the precision of the shots, the toe's own as well, m³; null where none is stated. */
function sdOfBases(
  surface: Surface,
  asked: readonly HeapBase[],
  { sdPlan, sdHeight }: Options,
): Partial<Record<HeapBase, number | null>> | null {
  if (sdPlan === undefined && sdHeight === undefined) return null;
  const sd = { plan: sdPlan ?? 0, height: sdHeight ?? 0 };
  const toe = toeOf(surface);
  return Object.fromEntries(
    asked.map((base) => {
      const difference = heapDifference(surface, base, toe);
      if (!difference) return [base, null];
      const { pieces } = figuresOf(difference, { surface, most: Infinity });
      const influence = withBase(influenceOf(pieces!, surface, -1, null, false), surface, base, toe, pieces!);
      return [base, volumeSd([{ influence, sd }]).net];
    }),
  );
}

function shotsOf(file: string, options: Options): { shots: Shots; without: number } {
  const all = pointsOf(onLayers(load(file, options), options.layer), options);
  const has = Array.from(all.z, (_, i) => i).filter((i) => !Number.isNaN(all.z[i]));
  if (has.length < 4)
    throw new CannotDo(`${file} has ${has.length} points with an elevation; a heap needs four at least.`);
  const of = (column: Float64Array): Float64Array => Float64Array.from(has, (i) => column[i]);
  const shots = { x: of(all.x), y: of(all.y), z: of(all.z), description: has.map((i) => all.description[i]) };
  return { shots, without: all.z.length - has.length };
}

function foundIn({ x, y, z, description }: Shots, options: Options): FoundHeap {
  const triangulated = (segments: Uint32Array): Surface => {
    const { surface } = buildSurface({ x, y, z, segments, longestSide: null, coincidence: 0 });
    if (surface.triangles.length === 0) throw new CannotDo('The points lie in one line: there is no heap in them.');
    return surface;
  };
  const said: string[] = [];
  if (options.toeCode !== undefined) {
    const wanted = options.toeCode.trim().toUpperCase();
    const rows = description.flatMap((d, i) => (d.trim().split(/\s+/)[0].toUpperCase() === wanted ? [i] : []));
    if (rows.length < 3)
      throw new CannotDo(`${rows.length === 1 ? '1 point has' : `${rows.length} points have`} the code ${wanted}; a toe needs three at least.`); // prettier-ignore
    const order = roundInOrder(rows, x, y, said);
    const ring = ringOf(order, x, y);
    const surface = clipToRing(triangulated(Uint32Array.from(order.flatMap((i, k) => [i, order[(k + 1) % order.length]]))), ring); // prettier-ignore
    return { surface, from: 'code', said };
  }
  if (options.toe !== undefined) {
    const boundary = boundaryOf(options.toe, options);
    const surface = clipToRing(triangulated(new Uint32Array(0)), boundary.ring, boundary.holes);
    if (surface.triangles.length === 0) throw new CannotDo('Nothing of the survey lies inside the toe.');
    said.push(...reachText(reachOf(boundary, measureHeap(surface).planArea)).map((line) => line.trim()));
    return { surface, from: 'drawn', said };
  }
  const { surface, takenOff, others } = findHeap(triangulated(new Uint32Array(0)));
  if (takenOff === 0) said.push('no ground round the heap is told from it: the toe is the rim of the survey');
  if (others) said.push(`${others === 1 ? 'another heap is' : `${others} other heaps are`} in the survey; this is the largest. Choose one by --toe`); // prettier-ignore
  return { surface, from: 'found', said };
}

const ringOf = (rows: readonly number[], x: Float64Array, y: Float64Array): Float64Array => Float64Array.from(rows.flatMap((i) => [x[i], y[i]])); // prettier-ignore

/** Points of a toe in their order round the heap. */
function roundInOrder(rows: readonly number[], x: Float64Array, y: Float64Array, said: string[]): number[] {
  const through = ringThrough(rows.map((i) => x[i]), rows.map((i) => y[i])); // prettier-ignore
  if (!through) throw new CannotDo('The points of the toe make no ring, neither as they were taken nor by direction from their middle. Give a closed line: --toe.'); // prettier-ignore
  if (through.byDirection) said.push('the points of the toe cross in the order in which they were taken; they are joined by direction from their middle'); // prettier-ignore
  return through.order.map((k) => rows[k]);
}

export const HEAP = defineVerb({
  name: 'heap',
  about: 'measures a heap from its shots: its toe, and its volume down to every base',
  files: { name: 'POINTS', least: 1, most: 1 },
  options: OPTIONS,
  run: heap,
});
