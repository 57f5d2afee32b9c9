import { hashValue } from '#core/kernel';
import { escaped } from './text.ts';

const LONGEST = 31;

/** Behind the layer of what has no elevation: a drawing has no other way to say it. */
export const NO_ELEVATION = '-NO-ELEVATION';
export const layerAt = (layer: string, z: number): string => (Number.isNaN(z) ? layer + NO_ELEVATION : layer);

/**
 * A name as drawings have it, capitals, blanks as hyphens. R12 readers take letters of English, digits, $ - _, at most 31:
 * accents go, letters of other scripts become their hexadecimal number, and what is too long ends in a mark of the
 * whole, so that two names stay two. The newer version has every letter, written as \U+XXXX.
 */
export function layerName(name: string, modern = false): string {
  const capitals = name.normalize('NFC').toUpperCase();
  if (modern) return escaped(shortened(capitals.replace(/[^\p{L}\p{N}$_-]+/gu, '-'))) || '0';
  const plain = capitals
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^\x00-\x7f]/gu, (c) => (/[\p{L}\p{N}]/u.test(c) ? c.codePointAt(0)!.toString(16).toUpperCase() : '-'))
    .replace(/[^A-Z0-9$_-]+/g, '-');
  return shortened(plain) || '0';
}

const shortened = (name: string): string => {
  const letters = [...name];
  return letters.length <= LONGEST ? name : `${letters.slice(0, LONGEST - 7).join('')}-${hashValue(name).slice(0, 6).toUpperCase()}`; // prettier-ignore
};
