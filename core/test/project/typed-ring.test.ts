import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readTypedRing } from '#core/project';

const METRES = { unit: 'm', order: 'EN' } as const;
const square = [10, 20, 30, 20, 30, 40, 10, 40];

describe('a boundary that is typed', () => {
  it.each([
    ['spaces', '10 20\n30 20\n30 40\n10 40'],
    ['commas', '10,20\n30,20\n30,40\n10,40'],
    ['commas with spaces', '10, 20\n30, 20\n30, 40\n10, 40'],
    ['tabs, from a spreadsheet', '10.0\t20.0\r\n30\t20\r\n30\t40\r\n10\t40\r\n'],
    ['decimal commas', '10,0 20,0\n30,0 20,0\n30,0 40,0\n10,0 40,0'],
    ['semicolons and decimal commas', '10,0;20,0\n30;20\n30;40\n10;40'],
    ['a number of the corner before', 'C1 10 20\nC2 30 20\nC3 30 40\nC4 10 40'],
    ['the first corner again at its end', '10 20\n30 20\n30 40\n10 40\n10 20'],
    ['empty rows between', '\n10 20\n\n30 20\n30 40\n10 40\n\n'],
  ])('with %s is read', (_, text) => {
    expect(readTypedRing(text, METRES)).toEqual({ ring: square.map((v) => expect.closeTo(v, 9)) });
  });

  it('is north first and in feet where the project is', () => {
    expect(readTypedRing('20 10\n20 30\n40 30\n40 10', { unit: 'm', order: 'NE' })).toEqual({ ring: square });
    expect(readTypedRing('10 20\n30 20\n30 40', { unit: 'ft', order: 'EN' })).toEqual({ ring: [10, 20, 30, 20, 30, 40].map((v) => expect.closeTo(v * 0.3048, 9)) }); // prettier-ignore
  });

  it.each([
    ['two corners', '1 2\n3 4', 'three corners'],
    ['a word', '1 2\nhere there\n5 6', 'Row 2'],
    ['one coordinate', '1 2\n3\n5 6', 'Row 2'],
    ['four columns', '1 2\n3 4 5 6\n5 6', 'Row 2'],
    ['sides that cross', '0 0\n10 10\n10 0\n0 10', 'cross each other'],
    ['one line', '0 0\n5 0\n10 0', 'no area'],
    ['nothing', ' \n ', 'three corners'],
  ])('of %s is refused, with the row and what to do', (_, text, why) => {
    expect(readTypedRing(text, METRES)).toEqual({ reason: expect.stringContaining(why) });
  });

  it('is what was written, whatever separates its columns', () => {
    const corner = fc.tuple(fc.integer({ min: -9e8, max: 9e8 }), fc.integer({ min: -9e8, max: 9e8 }));
    fc.assert(
      fc.property(
        corner,
        fc.integer({ min: 10, max: 90_000 }),
        fc.constantFrom(' ', '\t', ',', ', ', ';', ' ; '),
        ([x, y], side, by) => {
          // prettier-ignore
          const ring = [x, y, x + side, y, x + side, y + side, x, y + side].map((v) => v / 1000);
          const text = [0, 2, 4, 6].map((i) => `${ring[i].toFixed(3)}${by}${ring[i + 1].toFixed(3)}`).join('\n');
          const read = readTypedRing(text, METRES);
          expect('ring' in read && read.ring).toEqual(ring.map((v) => expect.closeTo(v, 6)));
        },
      ),
    );
  });
});
