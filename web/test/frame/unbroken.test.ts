import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unbroken } from '../../src/frame/unbroken.ts';

const spaces = (text: string): string => text.replace(/\s/g, ' ');

describe('a sentence whose numbers stay whole', () => {
  it('keeps thousands together, and a number with its unit', () => {
    expect(unbroken('first near E 4\u2009234.64 N 7\u2009727.68.')).toBe('first near E 4\u202f234.64 N 7\u202f727.68.');
    expect(unbroken('Its target height is 1.500 m; 2.000 m, 90 % within 68 m.')).toBe(
      'Its target height is 1.500\u00a0m; 2.000\u00a0m, 90\u00a0% within 68\u00a0m.',
    );
    expect(unbroken('3 US ft, 12.5 m³ and 4 ft²')).toBe('3\u00a0US ft, 12.5\u00a0m³ and 4\u00a0ft²');
  });

  it('leaves words that begin like a unit', () => {
    expect(unbroken('on 4 more shots, 12 meetings, 5 acres')).toBe('on 4 more shots, 12 meetings, 5 acres');
  });

  it('reads the same, whatever is in it', () => {
    fc.assert(fc.property(fc.string(), (text) => spaces(unbroken(text)) === spaces(text)));
  });
});
