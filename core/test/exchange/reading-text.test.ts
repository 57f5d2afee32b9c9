import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessLayout, readPoints, splitRow, writeText } from '#core/exchange';
import { context, layout } from './layouts.ts';

describe('reading', () => {
  it('keeps what it can and names every other row with its number, text and reason', () => {
    const text = [
      '1,10,20,5,GR',
      'x,abc,20,5,GR',
      '3,10,,5,GR',
      '4,1e308,20,5,GR',
      '5,NaN,20,5,GR',
      '',
      '6,10,20,-3.5,GR',
      '7,10,20,,GR',
      '8,10,20,1e9,GR',
      '9,"1,5",20,5,GR',
    ].join('\r\n');
    const read = readPoints(text, layout())!;
    expect(read.number).toEqual(['1', '6', '7']);
    expect([...read.z]).toEqual([5, -3.5, NaN]);
    expect(read.blank).toBe(1);
    expect(read.refused.map((r) => r.row)).toEqual([2, 3, 4, 5, 9, 10]);
    expect(read.refused[0]).toEqual({ row: 2, text: 'x,abc,20,5,GR', reason: 'east “abc” is not a number' });
    expect(read.refused[1].reason).toBe('the north column is empty');
    expect(read.refused[2].reason).toContain('farther away than any place on earth');
    expect(read.refused[4].reason).toContain('beyond any height');
  });

  it('never throws, and every row is read, refused, blank or skipped', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 400 }),
        fc.constantFrom(',', ';', '\t', ' ', '|'),
        fc.nat(3),
        (text, separator, skipRows) => {
          const read = readPoints(text, layout({ separator: separator as ',', skipRows }))!;
          expect(read.x.length + read.refusedCount + read.blank + Math.min(skipRows, read.rows)).toBe(read.rows);
          guessLayout(text.split('\n'), context());
        },
      ),
      { numRuns: 500 },
    );
  });

  it('gives back what was written, to the last decimal, in any order, separator and unit', () => {
    const point = fc.record({
      number: fc.stringMatching(/^[A-Za-z0-9"_-]{1,8}$/).filter((n) => n !== '-'),
      x: fc.integer({ min: -99_999_999, max: 99_999_999 }).map((v) => v / 1000),
      y: fc.integer({ min: -99_999_999, max: 99_999_999 }).map((v) => v / 1000),
      z: fc.oneof(
        fc.constant(NaN),
        fc.integer({ min: -999_999, max: 9_999_999 }).map((v) => v / 1000),
      ),
      description: fc.stringMatching(/^[A-Z][A-Za-z0-9 ,;"=/]{0,14}$/).map((s) => s.trim()),
    });
    fc.assert(
      fc.property(
        fc.array(point, { minLength: 1, maxLength: 20 }),
        fc.constantFrom('PENZD', 'PNEZD', 'DPZNE', 'EN'),
        fc.constantFrom(',', ';', '\t'),
        fc.constantFrom('m', 'ft', 'usft'),
        (points, order, separator, unit) => {
          const roles = [...order] as ('P' | 'E' | 'N' | 'Z' | 'D')[];
          const text = writeText(points, {
            order: roles,
            decimals: 6,
            unit,
            separator: separator as ',',
            headings: true,
          });
          const read = readPoints(text, { separator: separator as ',', decimal: '.', skipRows: 1, roles, unit })!;
          expect(read.refusedCount).toBe(0);
          points.forEach((p, i) => {
            expect(read.x[i]).toBeCloseTo(p.x, 5);
            expect(read.y[i]).toBeCloseTo(p.y, 5);
            if (order.includes('Z')) expect(Number.isNaN(read.z[i])).toBe(Number.isNaN(p.z));
            if (order.includes('P')) expect(read.number[i]).toBe(p.number);
            if (order.includes('D')) expect(read.description[i]).toBe(p.description);
          });
        },
      ),
    );
  });

  it('can be tried on a part, and stopped', () => {
    const text = Array.from({ length: 60_000 }, (_, i) => `${i},10.0,20.0,5.0,GR`).join('\n');
    expect(readPoints(text, layout(), { mostRows: 100 })!.x.length).toBe(100);
    expect(readPoints(text, layout(), { onProgress: (share) => share < 0.5 })).toBeNull();
  });

  it('reads a quoted cell over several lines as one row, and a quote that is never closed as it stands', () => {
    const text = [
      '1,0,0,1,"big\r\noak, old"',
      '2,1,1,1,GR',
      '3,2,2,1,"KT1 no end',
      '4,3,3,1,GR',
      '5,4,4,1,"',
      '6,5,5,x,"over',
      'lines"',
      '7,6,6,1,a 5" pipe',
    ].join('\n');
    const read = readPoints(text, {
      separator: ',',
      decimal: '.',
      skipRows: 0,
      roles: ['P', 'E', 'N', 'Z', 'D'],
      unit: 'm',
    })!;
    expect(read.number).toEqual(['1', '2', '3', '4', '5', '7']);
    expect([...read.row]).toEqual([1, 3, 4, 5, 6, 9]);
    expect(read.description).toEqual(['big oak, old', 'GR', 'KT1 no end', 'GR', '', 'a 5" pipe']);
    expect(read.refused).toEqual([{ row: 7, text: '6,5,5,x,"over lines"', reason: 'elevation “x” is not a number' }]);
  });

  it('reads quotes within rows', () => {
    expect(splitRow('1,"a ""b"", c",2', ',')).toEqual(['1', 'a "b", c', '2']);
    expect(splitRow('  1   "two words" 3 ', ' ')).toEqual(['1', 'two words', '3']);
  });
});
