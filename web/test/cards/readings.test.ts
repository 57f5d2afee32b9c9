import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { newDocument, type Settings } from '#core/project';
import { shownVertical } from '#core/measure';
import { readField, readingText } from '../../src/cards/readings.ts';
import type { ReadingField } from '../../src/work/book-columns.ts';

const settings = (set: Partial<Settings>): Settings => ({ ...newDocument().settings, ...set });
const anySettings = fc
  .record({
    unit: fc.constantFrom('m' as const, 'ft' as const, 'usft' as const),
    angle: fc.constantFrom('dms' as const, 'deg' as const, 'gon' as const),
    vertical: fc.constantFrom('zenith' as const, 'elevation' as const),
    decimals: fc.integer({ min: 2, max: 5 }),
    angleDecimals: fc.integer({ min: 0, max: 3 }),
  })
  .map(settings);
const metresOf = { m: 1, ft: 0.3048, usft: 1200 / 3937 };

describe('a reading in a cell', () => {
  it('typed as it is shown is the reading, as near as it is shown, whatever the unit and the form', () => {
    fc.assert(
      fc.property(
        anySettings,
        fc.constantFrom<ReadingField>('height', 'distance', 'circle', 'zenith'),
        fc.double({ min: 0.1, max: 3, noNaN: true }),
        fc.boolean(),
        (s, field, value, otherFace) => {
          const given = field === 'zenith' && otherFace ? 2 * Math.PI - value : value;
          const read = readField(field, readingText(field, given, s), s, given);
          if (!read.ok) throw new Error(read.reason);
          const half = field === 'circle' || field === 'zenith' ? (Math.PI / 648_000) * 0.5 * 10 ** -s.angleDecimals : 0.5 * 10 ** -s.decimals * metresOf[s.unit]; // prettier-ignore
          expect(Math.abs(read.value - given)).toBeLessThanOrEqual(half * 1.001);
          expect(read.echo).not.toBe('');
        },
      ),
      { numRuns: 400 },
    );
  });

  it('is empty where there is none', () => {
    for (const field of ['height', 'distance', 'circle', 'zenith'] as const)
      expect(readingText(field, NaN, settings({}))).toBe('');
  });

  it('from the horizon is up or down on the face that it was read on', () => {
    const s = settings({ vertical: 'elevation', angle: 'deg', angleDecimals: 0 });
    const degree = Math.PI / 180;
    expect(shownVertical(80 * degree, 'elevation') / degree).toBeCloseTo(10, 9);
    expect(shownVertical(280 * degree, 'elevation') / degree).toBeCloseTo(10, 9);
    expect(readField('zenith', '-4.5', s, 1)).toMatchObject({ value: expect.closeTo(94.5 * degree, 9) as number });
    expect(readField('zenith', '-4.5', s, 5)).toMatchObject({ value: expect.closeTo(265.5 * degree, 9) as number });
    expect(readField('zenith', '95', s, 1)).toMatchObject({ ok: false, reason: expect.stringContaining('quarter turn') as string }); // prettier-ignore
  });

  it('that cannot be one is a sentence', () => {
    const s = settings({ angle: 'dms' });
    const reason = (field: ReadingField, typed: string): string => {
      const read = readField(field, typed, s, 1);
      return read.ok ? `taken as ${read.echo}` : read.reason;
    };
    expect(reason('circle', '360-00-00')).toContain('within one turn');
    expect(reason('circle', '-1-00-00')).toContain('within one turn');
    expect(reason('circle', '12.7530')).toContain('75 minutes');
    expect(reason('circle', '12-75-30')).toContain('below 60');
    expect(reason('zenith', 'flat')).toContain('not an angle');
    expect(reason('distance', '0')).toContain('more than zero');
    expect(reason('distance', '-3')).toContain('more than zero');
    expect(reason('height', 'two metres')).not.toContain('taken as');
  });
});
