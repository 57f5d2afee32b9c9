import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { Projective } from './projective.ts';

/** Endings of world files: that of the picture with a w, or without its middle letter, or plain. */
const ENDING = /\.(?:pgw|pngw|jgw|jpw|jpgw|jpegw|tfw|tifw|tiffw|wld)$/i;

export const isWorldFile = (name: string): boolean => ENDING.test(name);

const MOST_CHARACTERS = 2000;

/**
 * The six lines of a world file: the steps of a column and of a row in x and y, and where the middle of the upper left
 * pixel is, in a unit that it does not say. The order is A, D, B, E, C, F of x = A c + B r + C, y = D c + E r + F.
 */
export function readWorldFile(
  text: string,
  unit: FileUnit,
): { ok: true; matrix: Projective } | { ok: false; reason: string } {
  const lines = text.slice(0, MOST_CHARACTERS).trim().split(/\s+/);
  const numbers = lines.map((l) => (/^[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:e[-+]?\d+)?$/i.test(l) ? Number(l.replace(',', '.')) : NaN)); // prettier-ignore
  if (text.length > MOST_CHARACTERS || numbers.length !== 6 || !numbers.every((n) => Math.abs(n) < 1e12)) {
    const bad = numbers.findIndex((n) => !(Math.abs(n) < 1e12));
    return {
      ok: false,
      reason: bad >= 0 && bad < 6 ? `Line ${bad + 1} of the world file is no number: ${lines[bad].slice(0, 30)}` : `A world file has six lines with a number each; this one has ${numbers.length}.`, // prettier-ignore
    };
  }
  const [a, d, b, e, c, f] = numbers.map((n) => n * METRES_IN_FILE[unit]);
  if (!(Math.abs(a * e - b * d) > 0)) return { ok: false, reason: 'The world file gives the picture no area.' };
  return { ok: true, matrix: [a, b, c - (a + b) / 2, d, e, f - (d + e) / 2, 0, 0, 1] };
}
