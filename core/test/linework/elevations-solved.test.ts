import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elevationsSolved } from '#core/linework';

const place = (x: number, y: number, z: number | null) => ({ x, y, z });

describe('elevations along a course of which some are known', () => {
  it('are on the even gradient between the known ones, by length and not by number', () => {
    const z = elevationsSolved([place(0, 0, 10), place(3, 4, null), place(3, 14, 13), place(9, 14, null)], false);
    expect(z).toEqual([10, 11, 13, 13]);
  });

  it('of a closed course go on over its first vertex', () => {
    const square = [place(0, 0, null), place(10, 0, 2), place(10, 10, null), place(0, 10, 4)];
    expect(elevationsSolved(square, true)).toEqual([3, 2, 3, 4]);
  });

  it('are level with the only known one, and no number where none is', () => {
    expect(elevationsSolved([place(0, 0, null), place(1, 0, 7), place(5, 0, null)], true)).toEqual([7, 7, 7]);
    expect(elevationsSolved([place(0, 0, null), place(1, 0, null)], false)).toEqual([NaN, NaN]);
  });

  it('are found again on a line of even gradient whichever of them are left out', () => {
    const at = fc.tuple(fc.double({ min: 0.01, max: 50, noNaN: true }), fc.double({ min: 0, max: 6.28, noNaN: true }), fc.boolean()); // prettier-ignore
    fc.assert(
      fc.property(
        fc.array(at, { minLength: 2, maxLength: 30 }),
        fc.double({ min: -0.3, max: 0.3, noNaN: true }),
        (steps, g) => {
          // prettier-ignore
          let [x, y, along] = [0, 0, 0];
          const course = [{ ...place(0, 0, 100), true: 100 }];
          for (const [length, angle, known] of steps) {
            x += length * Math.cos(angle);
            y += length * Math.sin(angle);
            along += length;
            course.push({ ...place(x, y, known ? 100 + g * along : null), true: 100 + g * along });
          }
          const last = course.at(-1)!;
          last.z = last.true;
          elevationsSolved(course, false).forEach((z, i) => expect(z).toBeCloseTo(course[i].true, 6));
        },
      ),
    );
  });
});
