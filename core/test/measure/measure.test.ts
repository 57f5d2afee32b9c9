import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  ANGLE_NAME,
  CUBIC_METRES_IN_CUBIC_YARD,
  formatAngle,
  formatFixed,
  formatLength,
  LENGTH_UNITS,
  readAngle,
  readLength,
  toMetres,
  type AngleForm,
} from '#core/measure';

describe('an angle just below a full turn', () => {
  it('is written as 0, never as a whole turn', () => {
    const near = ((359 + 59 / 60 + 59.9996 / 3600) * Math.PI) / 180;
    expect(formatAngle(near, 'dms', 0)).toBe('0°00′00″');
    expect(formatAngle(near, 'dms', 3)).toBe('0°00′00.000″');
    expect(formatAngle(near, 'dms', 4)).toBe('359°59′59.9996″');
    expect(formatAngle(near, 'deg', 0)).toBe('0.0000°');
    expect(formatAngle(near, 'gon', 0)).toBe('0.0000 gon');
  });
});

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

describe('angles as people type them', () => {
  const degrees = (text: string, form: AngleForm): number => {
    const read = readAngle(text, form);
    if (!read.ok) throw new Error(read.reason);
    return (read.radians * 180) / Math.PI;
  };

  it('are read by their own signs, whatever form the project has', () => {
    for (const form of Object.keys(ANGLE_NAME) as AngleForm[]) {
      for (const text of ['123-45-06', '123°45′06″', '123 45 06', '123:45:06', '123d45m06s', '123D45M06s'])
        expect(degrees(text, form)).toBeCloseTo(123 + 45 / 60 + 6 / 3600, 9);
      for (const text of ['50g', '50 gon', '50\u2009gon', '45°', '45 deg'])
        expect(degrees(text, form)).toBeCloseTo(45, 9);
    }
    expect(degrees('123.4506', 'dms')).toBeCloseTo(123 + 45 / 60 + 6 / 3600, 9);
    expect(degrees('123,4506', 'deg')).toBeCloseTo(123.4506, 9);
    expect(degrees('100', 'gon')).toBeCloseTo(90, 9);
  });

  it('go the other way in the south and the west', () => {
    for (const text of ['15.2454W', '15.2454 w', '15.2454° W', '15-14-43.44 W', '15d14m43.44s W', '15-14-43.44S'])
      expect(degrees(text, 'deg')).toBeCloseTo(-15.2454, 9);
    for (const text of ['15.2454E', '15-14-43.44N', '15d14m43.44s'])
      expect(degrees(text, 'deg')).toBeCloseTo(15.2454, 9);
  });

  it('come back as what they were formatted from, in any form', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -6.28, max: 6.28, noNaN: true }),
        fc.constantFrom<AngleForm>('dms', 'deg', 'gon'),
        fc.nat(3),
        (angle, form, decimals) => {
          const shown = formatAngle(angle, form, decimals);
          const half = (0.5 * 10 ** -decimals) / 3600;
          expect(Math.abs(degrees(shown, form) - (angle * 180) / Math.PI)).toBeLessThanOrEqual(half * 1.001);
        },
      ),
    );
  });

  it('that are none are refused, sixty minutes and more too', () => {
    for (const text of ['', 'north', '12-60-00', '12-00-60', '1-2-3-4', 'gon', 'W', '1e3', '--5'])
      expect(readAngle(text, 'dms').ok).toBe(false);
    expect(readAngle('12.7530', 'dms')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('75 minutes') as string,
    });
  });
});
