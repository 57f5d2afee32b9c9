import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { gridVolume, sectionVolume, type DifferenceAt, type Extent } from '#core/quantities';

// Hand methods on a rectangle: what lies at its edges counts, whatever the cells and spacings.

/** A plane over a rectangle, nothing beyond it. */
const planeOver =
  ([minX, minY, maxX, maxY]: Extent, z: (x: number, y: number) => number): DifferenceAt =>
  (x, y) =>
    x < minX || x > maxX || y < minY || y > maxY ? null : z(x, y);

const rectangle = fc.record({ x: fc.double({ min: -5e5, max: 5e5, noNaN: true }), y: fc.double({ min: -5e5, max: 5e5, noNaN: true }), width: fc.double({ min: 3, max: 80, noNaN: true }), height: fc.double({ min: 3, max: 80, noNaN: true }), part: fc.double({ min: 0.3, max: 9, noNaN: true }), gx: fc.double({ min: -0.2, max: 0.2, noNaN: true }), gy: fc.double({ min: -0.2, max: 0.2, noNaN: true }) }); // prettier-ignore

describe('on a rectangle under a plane that is all cut or all fill', () => {
  it.each([1, -1])('grid cells and sections are exact, with parts that go into it or not (%d)', (sign) => {
    fc.assert(
      fc.property(rectangle, ({ x, y, width, height, part, gx, gy }) => {
        const extent: Extent = [x, y, x + width, y + height];
        const [w, h] = [extent[2] - x, extent[3] - y];
        // Deep enough to have one sign all over.
        const z = (px: number, py: number): number => sign * (40 + gx * (px - x) + gy * (py - y));
        const whole = w * h * (40 + (gx * w + gy * h) / 2);
        const at = planeOver(extent, z);
        for (const { cut, fill } of [gridVolume(at, extent, part), sectionVolume(at, extent, part, part / 3)]) {
          expect((sign > 0 ? fill : cut) / whole).toBeCloseTo(1, 9);
          expect(sign > 0 ? cut : fill).toBe(0);
        }
      }),
    );
  });

  it('ten feet by ten feet is a hundred square feet (common practice): 4 cells, the mean of four corners each', () => {
    const foot = 0.3048;
    const corners = [[1, 2, 3], [2, 4, 6], [3, 6, 5]]; // prettier-ignore
    const at: DifferenceAt = (x, y) => corners[Math.round(y / (10 * foot))]?.[Math.round(x / (10 * foot))] ?? null;
    const { fill, cells } = gridVolume(at, [0, 0, 20 * foot, 20 * foot], 10 * foot);
    // By hand: (9 + 15 + 15 + 21) / 4 = 15, times 100 ft², heights in m here.
    expect(cells).toBe(4);
    expect(fill).toBeCloseTo(15 * 100 * foot * foot, 9);
  });
});

describe('sections', () => {
  it('follow what crosses zero between two places: a wedge by its closed form', () => {
    // From −2 at one side to 4 at the other: a third of the width is cut.
    const extent: Extent = [0, 0, 30, 12];
    const { cut, fill } = sectionVolume(
      planeOver(extent, (_, y) => -2 + y / 2),
      extent,
      10,
      0.7,
    );
    expect(cut).toBeCloseTo((30 * (4 * 2)) / 2, 9);
    expect(fill).toBeCloseTo((30 * (8 * 4)) / 2, 9);
  });
});
