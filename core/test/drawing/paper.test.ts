import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FEET_PER_INCH, fittingScale, gridSpacing, METRIC_SCALES, PAPER_SIZE, plotFrames, scaleName, usualPaper } from '#core/drawing'; // prettier-ignore
import { METRES_IN } from '#core/measure';
import { PAPERS } from '#core/project';

describe('sheets', () => {
  it('have the sizes of their standards: ISO 216 halves, ANSI and architectural ones in inches', () => {
    // ISO 216: the long side of a size is the short one of the next; each half is cut down to whole millimetres.
    for (const [small, large] of [
      ['A4', 'A3'],
      ['A3', 'A2'],
      ['A2', 'A1'],
      ['A1', 'A0'],
    ] as const) {
      // prettier-ignore
      expect(PAPER_SIZE[small][1]).toBe(PAPER_SIZE[large][0]);
      expect(PAPER_SIZE[small][0]).toBe(Math.floor(PAPER_SIZE[large][1] / 2));
    }
    const inches = (p: (typeof PAPERS)[number]): number[] => PAPER_SIZE[p].map((mm) => Number((mm / 25.4).toFixed(9)));
    expect([inches('ANSI D'), inches('ARCH D')]).toEqual([[22, 34], [24, 36]]); // prettier-ignore
    expect([usualPaper('m'), usualPaper('ft')]).toEqual(['A3', 'ANSI B']);
  });

  it('hold their window and the column beside it, either way up, and nothing overlaps', () => {
    for (const paper of PAPERS)
      for (const upright of [true, false]) {
        const { page, window, column } = plotFrames({ paper, upright });
        expect(page[0] < page[1]).toBe(upright);
        expect(window.left + window.width).toBeCloseTo(column.left, 9);
        for (const f of [window, column]) {
          expect(f.left).toBeGreaterThan(0);
          expect(f.left + f.width).toBeLessThan(page[0]);
          expect(f.bottom + f.height).toBeLessThan(page[1]);
        }
      }
  });
});

describe('scales', () => {
  it('are named as people say them in metres and in feet', () => {
    expect([scaleName(500, 'm'), scaleName(480, 'm'), scaleName(480, 'ft'), scaleName(500, 'ft'), scaleName(12.5, 'm')]).toEqual(['1 : 500', '1 : 480', '1 in = 40 ft', '1 : 500', '1 : 12.5']); // prettier-ignore
  });

  it('that fit are the smallest usual one that holds all, a round one beyond', () => {
    const size = fc.double({ min: 1, max: 100_000, noNaN: true });
    fc.assert(
      fc.property(size, size, fc.constantFrom('m' as const, 'ft' as const, 'usft' as const), (width, height, unit) => {
        const space = [300, 200] as const;
        const scale = fittingScale(width, height, space, unit);
        expect((width * 1000) / scale).toBeLessThanOrEqual(space[0] + 1e-6);
        expect((height * 1000) / scale).toBeLessThanOrEqual(space[1] + 1e-6);
        const usual: number[] = unit === 'm' ? [...METRIC_SCALES] : FEET_PER_INCH.map((f) => f * 12);
        const smaller = usual.filter((s) => s < scale).at(-1);
        if (smaller) expect((width * 1000) / smaller > space[0] || (height * 1000) / smaller > space[1]).toBe(true);
        // Whoever works in feet never gets a scale that is no number of feet on an inch.
        if (unit !== 'm') expect(scaleName(scale, unit)).toMatch(/^1 in = \d+ ft$/);
      }),
    );
  });

  it('have a grid in round numbers of the unit, about a tenth of a metre apart on paper', () => {
    for (const unit of ['m', 'ft', 'usft'] as const)
      for (const scale of [50, 100, 240, 480, 500, 1250, 5000, 10_000]) {
        const spacing = gridSpacing(scale, unit);
        const inUnits = spacing / METRES_IN[unit];
        const digits = inUnits / 10 ** Math.floor(Math.log10(inUnits) + 1e-9);
        expect([1, 2, 5].some((d) => Math.abs(d - digits) < 1e-9)).toBe(true);
        const onPaper = (spacing / scale) * 1000;
        expect(onPaper).toBeGreaterThan(65);
        expect(onPaper).toBeLessThan(200);
      }
  });
});
