import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nearFinder, partOfProfile, profileAlong } from '#core/quantities';
import { groundFinder } from '#core/terrain';
import { square, surfaceOf } from '../bodies.ts';

// A section across a line that runs north, at (100, 200): its right is east.
const SECTION = { x: 100, y: 200, ex: 1, ey: 0 };
const REACH = { left: 10, right: 5 };

describe('what lies near a section', () => {
  it('is points within a distance of it and lines through it, by their offsets', () => {
    const find = nearFinder(
      [
        { name: '1 KERB', x: 97, y: 200.4, z: 12 },
        { name: '2 far', x: 97, y: 201.2, z: 12 },
        { name: '3 beside', x: 106, y: 200, z: 12 },
        { name: '4 flat', x: 99, y: 200, z: NaN },
      ],
      [
        { name: 'FENCE', places: [102, 190, 10, 104, 210, 14] },
        { name: 'EDGE', places: [90, 190, NaN, 110, 210, NaN] },
        { name: 'AWAY', places: [102, 190, 10, 104, 199, 14] },
      ],
    );
    expect(find(SECTION, REACH, 0.5)).toEqual([
      { kind: 'point', name: '1 KERB', offset: -3, z: 12, ahead: expect.closeTo(0.4, 9) as number, x: 97, y: 200.4 },
      { kind: 'line', name: 'EDGE', offset: 0, z: null, ahead: 0, x: 100, y: 200 },
      { kind: 'line', name: 'FENCE', offset: 3, z: 12, ahead: 0, x: 103, y: 200 },
    ]);
    expect(find(SECTION, REACH, 2).map((o) => o.name)).toContain('2 far');
    expect(nearFinder([], [])(SECTION, REACH, 5)).toEqual([]);
  });

  it('has a line through a vertex of it once', () => {
    const find = nearFinder([], [{ name: 'W', places: [101, 190, 1, 101, 200, 2, 101, 210, 3] }, { name: 'V', places: [102, 190, 1, 103, 200, 2, 104, 190, 3] }]); // prettier-ignore
    const names = find(SECTION, REACH, 1).map((o) => o.name);
    expect(names.filter((n) => n === 'W')).toHaveLength(1);
    // One that touches it from one side is there twice or not at all.
    expect(names.filter((n) => n === 'V').length % 2).toBe(0);
  });

  it('turns and moves with the section', () => {
    const far = fc.double({ min: -8, max: 8, noNaN: true });
    fc.assert(
      fc.property(far, far, fc.double({ min: 0, max: 6.28, noNaN: true }), (offset, ahead, turn) => {
        const [ex, ey] = [Math.cos(turn), Math.sin(turn)];
        const place = { x: 5e5 + offset * ex - ahead * ey, y: 4e6 + offset * ey + ahead * ex };
        const [found] = nearFinder([{ name: 'p', ...place, z: 1 }], [])(
          { x: 5e5, y: 4e6, ex, ey },
          { left: 9, right: 9 },
          9,
        );
        expect([found.offset, found.ahead]).toEqual([expect.closeTo(offset, 6), expect.closeTo(ahead, 6)]);
      }),
    );
  });
});

describe('a profile', () => {
  // Rises 1 in 10 to the north.
  const slope = groundFinder(surfaceOf(square(50, 0).map(([x, y]) => [x, y, 10 + y / 10])));
  const surfaces = [{ name: 'slope', finder: slope }, { name: 'level', level: 9 }]; // prettier-ignore

  it('goes by chainage round the bends of its line, and ends where a surface does', () => {
    const profile = profileAlong([0, -60, 0, 20, 30, 20], surfaces);
    expect([profile.length, profile.bends]).toEqual([110, [80]]);
    const [{ offset, z }] = profile.surfaces[0].runs;
    expect([offset[0], z[0], offset.at(-1), z.at(-1)]).toEqual([10, 5, 110, 12].map((v) => expect.closeTo(v, 9)));
    expect(profile.surfaces[1].runs).toEqual([{ offset: [0, 110], z: [9, 9] }]);
  });

  it('in parts is the same, cut where they meet', () => {
    const profile = profileAlong([0, -60, 0, 20, 30, 20], surfaces);
    const part = partOfProfile(profile, 30, 90);
    expect([part.length, part.bends]).toEqual([60, [80]]);
    const [{ offset, z }] = part.surfaces[0].runs;
    expect([offset[0], z[0], offset.at(-1), z.at(-1)]).toEqual([30, 7, 90, 12].map((v) => expect.closeTo(v, 9)));
    expect(partOfProfile(profile, 0, 5).surfaces[0].runs).toEqual([]);
  });
});
