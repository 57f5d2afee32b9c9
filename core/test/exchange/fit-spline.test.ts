import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linesIn, readDxf, type FileContent } from '#core/exchange';

type Place = [number, number, number];
const groups = (...of: (string | number)[]): string => `${of.join('\n')}\n`;
const direction = (code: number, [x, y, z]: Place): number[] => [code, x, code + 10, y, code + 20, z];

/** A SPLINE of a drawing that says the places it goes through, as it is drawn; within so much of the curve. */
function drawn(
  places: readonly Place[],
  { closed = false, start, end }: { closed?: boolean; start?: Place; end?: Place } = {},
) {
  const spline = groups(0, 'SPLINE', 8, 'EDGE', 70, closed ? 1 : 0, 71, 3, 74, places.length, ...(start ? direction(12, start) : []), ...(end ? direction(13, end) : []), ...places.flatMap(([x, y, z]) => [11, x, 21, y, 31, z])); // prettier-ignore
  const content = readDxf(groups(0, 'SECTION', 2, 'ENTITIES') + spline + groups(0, 'ENDSEC', 0, 'EOF'));
  const lines = linesIn({ kind: 'dxf', content, unit: 'm' } as FileContent);
  return { content, places: lines[0]?.x.map((x, i): Place => [x, lines[0].y[i], lines[0].z[i]]) ?? [], closed: lines[0]?.closed }; // prettier-ignore
}

/** How far a place is from a course of straights, in plan. */
const offCourse = ([x, y]: readonly number[], course: readonly Place[]): number =>
  Math.min(
    ...course.slice(1).map(([bx, by], i) => {
      const [ax, ay] = course[i];
      const size = (bx - ax) ** 2 + (by - ay) ** 2;
      const share = size ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / size)) : 0;
      return Math.hypot(x - ax - share * (bx - ax), y - ay - share * (by - ay));
    }),
  );

const SITE: Place[] = [[1000, 2000, 61], [1010, 2003, 62], [1018, 1996, 62], [1030, 2000, 63], [1033, 2009, 64], [1050, 2012, 64]]; // prettier-ignore

describe('a spline that says only the places it goes through', () => {
  it('is the curve that ezdxf draws through them, where the directions at its ends are said', () => {
    const [start, end]: Place[] = [[1, 1, 0], [1, 0, 0]]; // prettier-ignore
    const told = execFileSync('/usr/bin/python3', ['core/test/exchange/outside/fit_spline.py'], { input: JSON.stringify({ places: SITE, start, end }), encoding: 'utf8' }); // prettier-ignore
    const { places, content } = drawn(SITE, { start, end });
    expect(content.problems).toEqual([]);
    // Chords are within 5 mm of the curve.
    for (const p of JSON.parse(told) as Place[]) expect(offCourse(p, places)).toBeLessThan(0.006);
  });

  it('goes through every place, in their order, and bends nowhere by a jump', () => {
    const step = fc.tuple(fc.double({ min: 1, max: 30, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true }), fc.double({ min: -2, max: 2, noNaN: true })); // prettier-ignore
    fc.assert(
      fc.property(fc.array(step, { minLength: 2, maxLength: 15 }), (steps) => {
        const places: Place[] = [[1000, 2000, 60]];
        for (const [dx, dy, dz] of steps) {
          const [x, y, z] = places[places.length - 1];
          places.push([x + dx, y + dy, z + dz]);
        }
        const { places: course } = drawn(places);
        let from = 0;
        for (const p of places) {
          from = course.findIndex((c, i) => i >= from && Math.hypot(c[0] - p[0], c[1] - p[1], c[2] - p[2]) < 1e-6);
          expect(from).toBeGreaterThanOrEqual(0);
        }
      }),
    );
  });

  it('comes round to its first place where it is closed, as near to a circle as its places are', () => {
    const n = 24;
    const ring = Array.from({ length: n }, (_, i): Place => [100 * Math.cos((2 * Math.PI * i) / n), 100 * Math.sin((2 * Math.PI * i) / n), 5]); // prettier-ignore
    const { places, closed } = drawn(ring, { closed: true });
    expect(closed).toBe(true);
    // A cubic spline is off by h⁴ / 384 of the radius, h the angle between two places; chords by 5 mm more.
    for (const [x, y, z] of places) {
      expect(Math.abs(Math.hypot(x, y) - 100)).toBeLessThan((100 * (2 * Math.PI / n) ** 4) / 384 * 1.2 + 1e-9); // prettier-ignore
      expect(z).toBeCloseTo(5, 9);
    }
  });

  it('stays straight where its places are in line, passes over one that is said twice, and is none of one place', () => {
    const straight: Place[] = [[0, 0, 1], [10, 10, 2], [10, 10, 2], [40, 40, 5]]; // prettier-ignore
    for (const [x, y, z] of drawn(straight).places) {
      expect(x).toBeCloseTo(y, 9);
      expect(z).toBeCloseTo(1 + x / 10, 9);
    }
    const none = drawn([[5, 5, 5], [5, 5, 5]]); // prettier-ignore
    expect(none.places).toEqual([]);
    expect(none.content.problems[0].what).toContain('one place alone');
    expect(drawn([[0, 0, 0], [9, 9, 9]], { closed: true, start: [0, 0, 0] }).places.length).toBeGreaterThan(1); // prettier-ignore
  });
});
