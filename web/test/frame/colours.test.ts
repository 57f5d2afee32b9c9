import { describe, expect, it } from 'vitest';
import { COLOURS, type ColourName } from '../../src/frame/colours.ts';

/** Contrast by WCAG 2.2: relative luminance of the lighter plus 0.05 over the darker plus 0.05. */
function contrast(a: string, b: string): number {
  const luminance = (hex: string): number => {
    const [r, g, bl] = [1, 3, 5].map((i) => {
      const c = parseInt(hex.slice(i, i + 2), 16) / 255;
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [high, low] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (high + 0.05) / (low + 0.05);
}

const TEXT: ColourName[] = ['ink', 'slate', 'pole', 'pine', 'brass', 'lake', 'plum', 'moss', 'cut', 'fill'];

describe('contrast of at least 4.5 : 1', () => {
  for (const [i, time] of ['day', 'night'].entries())
    it(`by ${time}, every text colour on paper, leaf and wash; text on the pole’s red; ink on a mark`, () => {
      for (const name of TEXT)
        for (const ground of ['paper', 'leaf', 'wash'] as const)
          expect([name, ground, contrast(COLOURS[name][i], COLOURS[ground][i]) >= 4.5]).toEqual([name, ground, true]);
      expect(contrast(COLOURS.onPole[i], COLOURS.pole[i])).toBeGreaterThanOrEqual(4.5);
      expect(contrast(COLOURS.ink[i], COLOURS.mark[i])).toBeGreaterThanOrEqual(4.5);
    });
});
