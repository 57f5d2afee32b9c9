import { describe, expect, it } from 'vitest';
import { clipToRing, type Surface } from '#core/terrain';
import { influenceOf, volumeBetween, volumeSd, volumeToLevel } from '#core/quantities';
import { square, surfaceOf } from '../bodies.ts';

/** A heap of 60 points about a sloping floor, no two alike. */
const HEAP = Array.from({ length: 60 }, (_, i) => {
  const [x, y] = [((i * 37) % 59) / 3, ((i * 53) % 61) / 3];
  return [x, y, Math.max(0, 6 - Math.hypot(x - 9, y - 10)) + 0.02 * x + ((i * 7) % 5) / 20];
});
const heap = surfaceOf(HEAP);
const floor = surfaceOf([[-5, -5, 0.1], [30, -5, 0.9], [30, 30, 1.4], [-5, 30, 0.2], [11, 10, 1.2]]); // prettier-ignore
const ring = Float64Array.from([4, 4, 15, 5, 14, 16, 5, 15]);

const moved = (s: Surface, v: number, by: [number, number, number]): Surface => {
  const [x, y, z] = [s.x.slice(), s.y.slice(), s.z.slice()];
  x[v] += by[0];
  y[v] += by[1];
  z[v] += by[2];
  return { ...s, x, y, z };
};

const CASES = [
  { name: 'against a level, to its own rim', volume: (s: Surface) => volumeToLevel(s, 2), other: null, ownRim: true },
  { name: 'against a surface, to its own rim', volume: (s: Surface) => volumeBetween(s, floor), other: floor, ownRim: true }, // prettier-ignore
  { name: 'against a surface, inside a boundary', volume: (s: Surface) => volumeBetween(clipToRing(s, ring), floor), other: floor, ownRim: false }, // prettier-ignore
];

describe('what a vertex does to a volume', () => {
  it.each(CASES)('is what moving it a little does, $name', ({ volume, other, ownRim }) => {
    const { pieces } = volume(heap);
    const f = influenceOf(pieces, heap, -1, other, ownRim);
    const step = 1e-5;
    for (let v = 0; v < heap.x.length; v += 3)
      for (const [k, cutBy, fillBy] of [
        [0, f.cutByX, f.fillByX],
        [1, f.cutByY, f.fillByY],
        [2, f.cutByZ, f.fillByZ],
      ] as const) {
        // prettier-ignore
        const by = (sign: number): [number, number, number] => [0, 1, 2].map((i) => (i === k ? sign * step : 0)) as [number, number, number]; // prettier-ignore
        const [up, down] = [volume(moved(heap, v, by(1))), volume(moved(heap, v, by(-1)))];
        expect(cutBy[v]).toBeCloseTo((up.cut - down.cut) / (2 * step), 3);
        expect(fillBy[v]).toBeCloseTo((up.fill - down.fill) / (2 * step), 3);
      }
  });

  it('of the design counts the other way round', () => {
    const { pieces } = volumeBetween(floor, heap);
    const asDesign = influenceOf(pieces, heap, 1, floor, true);
    const asGround = influenceOf(volumeBetween(heap, floor).pieces, heap, -1, floor, true);
    asDesign.fillByZ.forEach((w, v) => expect(w).toBeCloseTo(asGround.cutByZ[v], 9));
  });
});

/** Normal deviates, the same at every run (Box and Muller, on a linear congruential generator). */
function normals(): () => number {
  let state = 12345;
  const next = (): number => ((state = (1103515245 * state + 12345) % 2147483648) + 0.5) / 2147483648;
  return () => Math.sqrt(-2 * Math.log(next())) * Math.cos(2 * Math.PI * next());
}

describe('the standard deviation of a volume', () => {
  it('is the spread of many surveys of the same heap', () => {
    const [plan, height] = [0.03, 0.02];
    const { pieces } = volumeToLevel(heap, 2);
    const stated = volumeSd([{ influence: influenceOf(pieces, heap, -1, null, true), sd: { plan, height } }]);
    const normal = normals();
    const surveys = Array.from({ length: 1500 }, () => {
      const wrong = (of: Float64Array, sd: number): Float64Array => of.map((v) => v + sd * normal());
      return volumeToLevel({ ...heap, x: wrong(heap.x, plan), y: wrong(heap.y, plan), z: wrong(heap.z, height) }, 2);
    });
    const spread = (of: (v: { cut: number; fill: number }) => number): number => {
      const all = surveys.map(of);
      const mean = all.reduce((a, b) => a + b, 0) / all.length;
      return Math.sqrt(all.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (all.length - 1));
    };
    // 1,500 surveys tell a standard deviation to about 2 %.
    expect(stated.cut / spread((v) => v.cut)).toBeCloseTo(1, 1);
    expect(stated.fill / spread((v) => v.fill)).toBeCloseTo(1, 1);
    expect(stated.net / spread((v) => v.cut - v.fill)).toBeCloseTo(1, 1);
  });

  it('of a level square raised at its corners is by hand: each stands for its share', () => {
    const s = surfaceOf([...square(5, 3), [0, 0, 3]]);
    const { pieces } = volumeToLevel(s, 0);
    const { cut, net } = volumeSd([
      { influence: influenceOf(pieces, s, -1, null, true), sd: { plan: 0, height: 0.1 } },
    ]);
    // The middle stands for a third of 100 m², each corner for a sixth.
    expect(cut).toBeCloseTo(0.1 * Math.sqrt((100 / 3) ** 2 + 4 * (100 / 6) ** 2), 9);
    expect(net).toBe(cut);
  });
});
