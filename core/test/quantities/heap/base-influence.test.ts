import { describe, expect, it } from 'vitest';
import { HEAP_BASES, heapDifference, heapDownTo, eachChunk, influenceOf, toeOf, volumeSd, withBase, type DifferencePieces } from '#core/quantities'; // prettier-ignore
import { buildSurface, clipToRing, type Surface } from '#core/terrain';

/** A heap of uneven toe, 24 corners, with shots on it. */
const N = 24;
const toe = Array.from({ length: N }, (_, k) => {
  const a = (2 * Math.PI * k) / N;
  const r = 10 + 2 * Math.sin(3 * a);
  return [r * Math.cos(a), r * Math.sin(a), 50 + 0.05 * r * Math.cos(a) + 0.3 * Math.sin(5 * a)];
});
const on = Array.from({ length: 40 }, (_, k) => {
  const [a, r] = [k * 2.399963, 7 * Math.sqrt((k + 0.5) / 40)];
  return [r * Math.cos(a), r * Math.sin(a), 50 + 4 * (1 - (r / 11) ** 2)];
});
const points = [...toe, ...on];
const column = (k: number): Float64Array => Float64Array.from(points, (p) => p[k]);
const segments = Uint32Array.from({ length: 2 * N }, (_, i) => ((i + 1) >> 1) % N);
const { surface } = buildSurface({ x: column(0), y: column(1), z: column(2), segments, longestSide: null, coincidence: 0 }); // prettier-ignore
/** What lies inside its toe. */
const heap: Surface = clipToRing(surface, Float64Array.from(toe.flatMap(([x, y]) => [x, y])));

const piecesOf = (s: Surface, base: (typeof HEAP_BASES)[number]): DifferencePieces => {
  const all: number[] = [];
  eachChunk(heapDifference(s, base)!, 4096, (p) => all.push(...p));
  return Float64Array.from(all);
};

describe('a heap whose base is its own toe', () => {
  it.each(HEAP_BASES)('is as unsure as its points make it, base %s (Monte Carlo)', (base) => {
    const pieces = piecesOf(heap, base);
    const influence = withBase(influenceOf(pieces, heap, -1, null, false), heap, base, toeOf(heap), pieces);
    const stated = volumeSd([{ influence, sd: { plan: 0, height: 0.02 } }]).net;
    const random = (
      (state) => () =>
        (state = (state * 48271) % 2147483647) / 2147483647
    )(31);
    const normal = (): number => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
    const netOf = (s: Surface): number => {
      const { cut, fill } = heapDownTo(s, base)!;
      return cut - fill;
    };
    const nets = Array.from({ length: 1500 }, () => netOf({ ...heap, z: heap.z.map((v) => v + 0.02 * normal()) }));
    const mean = nets.reduce((s, v) => s + v, 0) / nets.length;
    const sd = Math.sqrt(nets.reduce((s, v) => s + (v - mean) ** 2, 0) / nets.length);
    // Three standard deviations of a standard deviation from 1,500 trials are 5.5 %.
    expect(sd / stated).toBeGreaterThan(0.93);
    expect(sd / stated).toBeLessThan(1.07);
  });
});
