import { describe, expect, it } from 'vitest';
import { INKS } from '#core/codes';
import { LayerInks } from '#core/drawing';
import { inkOfColour, TRUE_COLOUR } from '#core/exchange';

/**
 * Red, green and blue of a colour number: 1 to 9 by name; from 10 on hues in steps of 15°, the last digit the brightness (1, 0.65,
 * 0.5, 0.3, 0.15), odd ones half as strong (the DXF reference's colour circle, from memory).
 */
function rgbOf(index: number): [number, number, number] {
  const named: Record<number, [number, number, number]> = { 1: [255, 0, 0], 8: [128, 128, 128] };
  if (named[index]) return named[index];
  const hue = (Math.floor(index / 10) - 1) * 15;
  const bright = [1, 0.65, 0.5, 0.3, 0.15][(index % 10) >> 1];
  const channel = (turned: number): number => {
    const at = (((turned % 360) + 360) % 360) / 60;
    const full = at < 1 ? at : at < 3 ? 1 : at < 4 ? 4 - at : 0;
    return 255 * bright * (index % 2 ? 0.5 + full / 2 : full);
  };
  return [channel(hue + 120), channel(hue), channel(hue - 120)];
}

/** Contrast by WCAG 2.2; what is drawn asks for 3 : 1 there (non-text contrast). */
function contrast(a: number[], b: number[]): number {
  const luminance = (rgb: number[]): number => {
    const [r, g, bl] = rgb.map((v) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [high, low] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (high + 0.05) / (low + 0.05);
}

describe('colours of a drawing that goes out', () => {
  const inks = new LayerInks(() => ({ visible: true, ink: null, width: 0.25 }) as never);
  const out = INKS.map((ink) => {
    inks.colourOn(ink, ink);
    return inks.colours[ink];
  });

  it('can be seen on a small screen by day, on white, and by night, on black', () => {
    for (const colour of out.filter((c) => c !== 7)) {
      expect([colour, contrast(rgbOf(colour), [255, 255, 255]) >= 3]).toEqual([colour, true]);
      expect([colour, contrast(rgbOf(colour), [0, 0, 0]) >= 3]).toEqual([colour, true]);
    }
    // 7 is black on white and white on black by itself.
    expect(out).toContain(7);
  });

  it('are these alone, whatever colour a drawing came in with', () => {
    for (const came of [...Array(257).keys(), null, TRUE_COLOUR, TRUE_COLOUR + 0xffff00, TRUE_COLOUR + 0xffffff]) {
      const ink = inkOfColour(came);
      inks.colourOn('taken', ink);
      expect(out).toContain(inks.colours.taken);
      delete inks.colours.taken;
    }
  });

  it('are each one of its own, and told apart where a layer has another', () => {
    expect(new Set(out).size).toBe(INKS.length);
    expect(inks.colourOn('pole', 'pole')).toBeUndefined();
    expect(inks.colourOn('pole', 'lake')).toBe(inks.colours.lake);
  });
});
