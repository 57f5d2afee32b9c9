import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipToRing, groundFinder, ofTriangles } from '#core/terrain';
import { contourAreaVolume, cutSections, gridVolume, refinedGrid, volumesByMethod, volumeToLevel, type DifferenceAt, type Extent, type MethodSettings } from '#core/quantities'; // prettier-ignore
import { edges, square, surfaceOf } from '../bodies.ts';

const METHODS: MethodSettings = { cell: 1, spacing: 10, interval: 0.5, along: null };

const rectangle = fc.record({ x: fc.double({ min: -5e5, max: 5e5, noNaN: true }), y: fc.double({ min: -5e5, max: 5e5, noNaN: true }), width: fc.double({ min: 3, max: 80, noNaN: true }), height: fc.double({ min: 3, max: 80, noNaN: true }), part: fc.double({ min: 0.3, max: 9, noNaN: true }), gx: fc.double({ min: -0.2, max: 0.2, noNaN: true }), gy: fc.double({ min: -0.2, max: 0.2, noNaN: true }) }); // prettier-ignore

describe('on a rectangle under a plane that is all cut or all fill', () => {
  it.each([1, -1])('every hand method but contours is exact, with parts that go into it or not (%d)', (sign) => {
    fc.assert(
      fc.property(rectangle, ({ x, y, width, height, part, gx, gy }) => {
        const [e, n] = [x + width, y + height];
        const [w, h] = [e - x, n - y];
        // Deep enough to have one sign all over.
        const z = (px: number, py: number): number => -sign * (40 + gx * (px - x) + gy * (py - y));
        const plane = surfaceOf([[x, y], [e, y], [e, n], [x, n]].map(([px, py]) => [px, py, z(px, py)])); // prettier-ignore
        const whole = w * h * (40 + (gx * w + gy * h) / 2);
        const volume = volumeToLevel(plane, 0);
        const all = volumesByMethod(volume, volume.pieces, { ...METHODS, cell: part, spacing: part }, ['exact', 'grid', 'sections', 'prismoidal']); // prettier-ignore
        for (const { cut, fill } of all) {
          expect((sign > 0 ? fill : cut) / whole).toBeCloseTo(1, 8);
          expect(sign > 0 ? cut : fill).toBe(0);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('grid cells', () => {
  it('ten feet by ten feet is a hundred square feet (common practice): 4 cells, the mean of four corners each', () => {
    const foot = 0.3048;
    const corners = [[1, 2, 3], [2, 4, 6], [3, 6, 5]]; // prettier-ignore
    const at: DifferenceAt = (x, y) => corners[Math.round(y / (10 * foot))]?.[Math.round(x / (10 * foot))] ?? null;
    const { fill, cells, area } = gridVolume(at, [0, 0, 20 * foot, 20 * foot], 10 * foot);
    // By hand: (9 + 15 + 15 + 21) / 4 = 15, times 100 ft², heights in m here.
    expect([cells, area]).toEqual([4, (20 * foot) ** 2]);
    expect(fill).toBeCloseTo(15 * 100 * foot * foot, 9);
  });

  it('are refined until they change by no more than is asked for, and say where they do not come so far', () => {
    const cone: DifferenceAt = (x, y) => Math.max(0, 5 - Math.hypot(x, y));
    const fine = refinedGrid(cone, [-6, -6, 6, 6], 4, 0.001);
    expect(fine).toMatchObject({ reached: true });
    expect(fine.fill / ((Math.PI * 125) / 3)).toBeCloseTo(1, 2);
    expect(refinedGrid((x) => (x < 0.3 ? 1 : 2), [0, 0, 1, 1], 1, 1e-12).reached).toBe(false);
  });

  it('leave out what has a corner off the surfaces, and say how much', () => {
    const disc = Float64Array.from({ length: 80 }, (_, i) => (i % 2 ? Math.sin((i - 1) * (Math.PI / 40)) : Math.cos(i * (Math.PI / 40))) * 9); // prettier-ignore
    const volume = volumeToLevel(clipToRing(surfaceOf(square(10, 2)), disc), 0);
    const [exact, grid] = volumesByMethod(volume, volume.pieces, METHODS, ['exact', 'grid']);
    expect(grid.leftOut! * 2).toBeCloseTo(exact.cut - grid.cut, 6);
    expect(grid.leftOut).toBeGreaterThan(10);
  });

  it('refuses cells that are meant for another site', () => {
    const extent: Extent = [0, 0, 1e6, 1e6];
    expect(() => gridVolume(() => 1, extent, 1)).toThrow(RangeError);
    expect(() => gridVolume(() => 1, extent, 100)).toThrow(/20000000|20 ?000/);
  });
});

describe('sections', () => {
  it('follow what crosses zero between two places: a wedge by its closed form', () => {
    // From −2 at one side to 4 at the other: a third of the width is cut.
    const plane = surfaceOf([[0, 0, 2], [30, 0, 2], [30, 12, -4], [0, 12, -4]]); // prettier-ignore
    const { pieces, ...volume } = volumeToLevel(plane, 0);
    const [sections, prismoidal] = volumesByMethod(volume, pieces, METHODS, ['sections', 'prismoidal']);
    for (const { cut, fill } of [sections, prismoidal]) {
      expect(cut).toBeCloseTo((30 * (4 * 2)) / 2, 9);
      expect(fill).toBeCloseTo((30 * (8 * 4)) / 2, 9);
    }
  });

  it('by the prismoidal formula are exact for a frustum with a section where it bends, end areas too large', () => {
    const heap = surfaceOf([...square(6, 0), ...square(2, 4)], [...edges(0), ...edges(4)]);
    const { pieces, ...volume } = volumeToLevel(heap, 0);
    const [exact, ends, prismoidal] = volumesByMethod(volume, pieces, { ...METHODS, spacing: 4 }, ['exact', 'sections', 'prismoidal']); // prettier-ignore
    expect(exact.cut).toBeCloseTo((4 / 3) * (144 + 16 + 48), 9);
    expect(prismoidal.cut).toBeCloseTo(exact.cut, 8);
    // By hand: at −6, −2, 2, 6 the areas are 0, 32, 32, 0.
    expect(ends.cut).toBeCloseTo(4 * 32 + 4 * 32, 8);
  });

  it('tell the stretch that they miss: a ridge between two of them', () => {
    const ridge = surfaceOf([[0, 0, 0], [40, 0, 0], [40, 10, 0], [0, 10, 0], [24, 0, 0], [24, 10, 0], [25, 0, 6], [25, 10, 6], [26, 0, 0], [26, 10, 0]], [4, 5, 6, 7, 8, 9]); // prettier-ignore
    const { pieces, ...volume } = volumeToLevel(ridge, 0);
    const [sections] = volumesByMethod(volume, pieces, METHODS, ['sections']);
    expect(sections).toMatchObject({ cut: 0, worst: { from: 20, to: 30, x: 25, y: 5 } });
    expect(sections.worst!.cut).toBeCloseTo(-60, 8);
    // A narrow one, off the middle too.
    const narrow = surfaceOf([[0, 0, 0], [40, 0, 0], [40, 10, 0], [0, 10, 0], [22, 0, 0], [22, 10, 0], [22.1, 0, 6], [22.1, 10, 6], [22.2, 0, 0], [22.2, 10, 0]], [4, 5, 6, 7, 8, 9]); // prettier-ignore
    const thin = volumeToLevel(narrow, 0);
    const [missed] = volumesByMethod(thin, thin.pieces, METHODS, ['sections']);
    expect(missed.worst!.cut).toBeCloseTo(-thin.cut, 8);
  });

  it('along a curve count its outer side for more: a bank of one section, by the theorem of Pappus', () => {
    const [radius, off, steps] = [50, 10, 60];
    const at = (k: number, r: number, z: number): number[] => [r * Math.cos((k * Math.PI) / steps), r * Math.sin((k * Math.PI) / steps), z]; // prettier-ignore
    const bank: number[] = [];
    const tri = (...corners: number[][]): void => void bank.push(...corners.flat());
    for (let k = 0; k < steps; k++)
      for (const [r1, z1, r2, z2] of [
        [radius + off - 3, 0, radius + off, 3],
        [radius + off, 3, radius + off + 3, 0],
      ]) {
        // prettier-ignore
        tri(at(k, r1, z1), at(k, r2, z2), at(k + 1, r2, z2));
        tri(at(k, r1, z1), at(k + 1, r2, z2), at(k + 1, r1, z1));
      }
    const { pieces, ...volume } = volumeToLevel(ofTriangles(Float64Array.from(bank)), 0);
    const line = Array.from({ length: steps + 1 }, (_, k) => at(k, radius, 0).slice(0, 2)).flat();
    for (const along of [line, reversed(line)]) {
      const [exact, ends, prismoidal] = volumesByMethod(volume, pieces, { ...METHODS, spacing: 7, along }, ['exact', 'sections', 'prismoidal']); // prettier-ignore
      expect(exact.cut / (9 * Math.PI * (radius + off))).toBeCloseTo(1, 2);
      expect(ends.cut / exact.cut).toBeCloseTo(1, 2);
      expect(prismoidal.cut / exact.cut).toBeCloseTo(1, 2);
    }
  });

  it('need a line with a length, and not more of them than a site has', () => {
    const finder = groundFinder(surfaceOf(square(5, 1)));
    expect(() => cutSections(finder, [1, 1, 1, 1], 5, 10)).toThrow(RangeError);
    expect(() => cutSections(finder, [0, 0, 1e6, 0], 1, 10)).toThrow(RangeError);
  });
});

const reversed = (line: readonly number[]): number[] => line.flatMap((_, i) => (i % 2 ? [] : [line[line.length - 2 - i], line[line.length - 1 - i]])); // prettier-ignore

describe('contour areas', () => {
  it('of a pyramid, by hand: means of areas times the interval, a cone on top', () => {
    const { pieces } = volumeToLevel(surfaceOf([...square(5, 0), [0, 0, 4]]), 0);
    // 100, 56.25, 25 and 6.25 m² at 0, 1, 2 and 3 m.
    const { cut, fill, contours } = contourAreaVolume(pieces, 1);
    expect(cut).toBeCloseTo(78.125 + 40.625 + 15.625 + 6.25 / 3, 9);
    expect([fill, contours]).toEqual([0, 3]);
  });

  it('of a slab are the slab: a flat top is no cone', () => {
    const { pieces } = volumeToLevel(surfaceOf(square(5, 2)), 0);
    for (const interval of [0.3, 0.5, 5]) expect(contourAreaVolume(pieces, interval).cut).toBeCloseTo(200, 8);
  });

  it('come to the exact volume as their interval goes to nothing, whatever lies above and below', () => {
    const bumps = Array.from({ length: 60 }, (_, i) => [(i * 37) % 59, (i * 53) % 61, ((i * 17) % 13) - 6]);
    const { pieces, cut, fill } = volumeToLevel(surfaceOf(bumps), 0.3);
    const fine = contourAreaVolume(pieces, 0.001);
    expect(fine.cut / cut).toBeCloseTo(1, 5);
    expect(fine.fill / fill).toBeCloseTo(1, 5);
  });

  it('refuse an interval that is meant for another depth', () => {
    const { pieces } = volumeToLevel(surfaceOf(square(5, 90_000)), 0);
    expect(() => contourAreaVolume(pieces, 0.5)).toThrow(RangeError);
  });
});
