import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { printable } from '../src/paper/printed-text.ts';

describe('words on paper', () => {
  it('keep angles, signs and arrows readable in the standard fonts', () => {
    expect(printable('−0°00′12″ ± 5″, KB5 → KB6, 1\u2009234.5 m²')).toBe('-0°00\'12" ± 5", KB5 – KB6, 1 234.5 m²');
    expect(printable('Škarpová Hlavní, Łódź')).toBe('Skarpová Hlavní, ?ódz');
  });

  it('hold nothing that a standard font lacks', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (words) => {
        expect(printable(words)).toMatch(
          /^[\u0020-\u007e\u00a1-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2022\u2026\u20ac]*$/,
        );
      }),
    );
  });
});
