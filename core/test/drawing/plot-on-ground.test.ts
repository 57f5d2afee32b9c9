import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plotOnGround } from '#core/drawing';

describe('the paper of a plot on the ground', () => {
  it('is as large as the sheet times its scale, turned as the plot is, and holds its window', () => {
    fc.assert(
      fc.property(fc.double({ min: -3, max: 3, noNaN: true }), fc.integer({ min: 50, max: 5000 }), (turn, scale) => {
        const [paper, window] = plotOnGround({ paper: 'A3', upright: false, scale, turn, x: 1000, y: -500 });
        const side = (ring: number[], i: number): number => Math.hypot(ring[2 * i + 2] - ring[2 * i], ring[2 * i + 3] - ring[2 * i + 1]); // prettier-ignore
        // ISO 216: A3 is 420 mm by 297 mm.
        expect(side(paper, 0)).toBeCloseTo(0.42 * scale, 6);
        expect(side(paper, 1)).toBeCloseTo(0.297 * scale, 6);
        // The middle of the window is the plot's place; a positive turn takes north clockwise on paper.
        expect((window[0] + window[4]) / 2).toBeCloseTo(1000, 6);
        expect((window[1] + window[5]) / 2).toBeCloseTo(-500, 6);
        expect(Math.atan2(paper[3] - paper[1], paper[2] - paper[0])).toBeCloseTo(turn, 9);
      }),
    );
  });
});
