import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  CUBIC_METRES_IN_CUBIC_YARD,
  formatFixed,
  formatLength,
  LENGTH_UNITS,
  readLength,
  toMetres,
} from '#core/measure';

describe('feet', () => {
  // US Federal Register 1959 and 2020, NIST: 1 ft = 0.3048 m exactly, 1 US survey foot = 1200/3937 m.
  it('are the two that the law knows', () => {
    expect(toMetres(1, 'ft')).toBe(0.3048);
    expect(toMetres(3937, 'usft')).toBeCloseTo(1200, 12);
    expect(CUBIC_METRES_IN_CUBIC_YARD).toBeCloseTo(0.9144 ** 3, 12);
  });

  it('differ by 2 ppm: more than half a foot at 300,000 ft', () => {
    const apart = toMetres(300_000, 'usft') - toMetres(300_000, 'ft');
    expect(apart / 0.3048).toBeGreaterThan(0.5);
    expect(apart / toMetres(300_000, 'ft')).toBeCloseTo(2e-6, 9);
  });
});

describe('lengths as people type them', () => {
  it('are read and echoed', () => {
    expect(readLength('1.5', 'm')).toMatchObject({ ok: true, metres: 1.5 });
    expect(readLength('1,5', 'm')).toMatchObject({ ok: true, metres: 1.5 });
    expect(readLength(' −2.25 m ', 'ft')).toMatchObject({ ok: true, metres: -2.25 });
    expect(readLength('4.92ft', 'm')).toMatchObject({ ok: true, metres: 4.92 * 0.3048, echo: '1.500 m' });
    for (const wrong of ['', 'abc', '1.2.3', '12 miles', '1e5', '--3']) expect(readLength(wrong, 'm').ok).toBe(false);
  });

  it('come back as what they were formatted from, in any unit', () => {
    fc.assert(
      fc.property(fc.integer({ min: -9_000_000, max: 9_000_000 }), fc.constantFrom(...LENGTH_UNITS), (millis, unit) => {
        const metres = toMetres(millis / 1000, unit);
        const read = readLength(formatLength(metres, unit), unit);
        expect(read.ok && Math.abs(read.metres - metres)).toBeLessThan(1e-9);
      }),
    );
  });

  it('never show a minus before zero, nor a number that is none', () => {
    expect(formatFixed(-0.0001, 3)).toBe('0.000');
    expect(formatFixed(NaN, 3)).toBe('–');
    expect(formatFixed(1234567.5, 1)).toBe('1\u2009234\u2009567.5');
  });
});
