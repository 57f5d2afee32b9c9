import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readSectionTable, volumeOfSections, type GivenSection } from '#core/quantities';

const given = (...rows: [chainage: number, cut: number, fill: number][]): GivenSection[] => rows.map(([chainage, cut, fill], i) => ({ chainage, cut, fill, row: i + 1 })); // prettier-ignore
const computed = (sections: readonly GivenSection[]) => {
  const got = volumeOfSections(sections);
  if (!got.ok) throw new Error(got.reason);
  return got.volumes;
};

describe('volumes from given sections', () => {
  it('of a small heap by hand: sections 10 ft apart, V = L (A1 + A2) / 2 (common practice)', () => {
    // 0, 40, 60, 30, 0 ft²: 10 × (20 + 50 + 45 + 15) = 1,300 ft³.
    const { averageEndArea, between } = computed(given([0, 0, 0], [10, 40, 0], [20, 60, 0], [30, 30, 0], [40, 0, 0]));
    expect(between.map((b) => b.cut)).toEqual([200, 500, 450, 150]);
    expect(averageEndArea).toEqual({ cut: 1300, fill: 0 });
  });

  it('of a frustum of a pyramid: the prismoidal formula is its closed form, average end area is more', () => {
    // Sides from 10 to 4 over 6: h/3 (A1 + A2 + √(A1 A2)).
    const { averageEndArea, prismoidal } = computed(given([0, 100, 0], [3, 49, 0], [6, 16, 0]));
    expect(prismoidal!.cut).toBeCloseTo((6 / 3) * (100 + 16 + 40), 12);
    expect(averageEndArea.cut).toBeGreaterThan(prismoidal!.cut);
  });

  it('of areas that are a polynomial of third degree: prismoidal is exact, whatever the chainages', () => {
    const c = fc.double({ min: 0, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        c,
        c,
        c,
        c,
        fc.double({ min: -500, max: 500, noNaN: true }),
        fc.integer({ min: 1, max: 6 }),
        (a, b, d, e, from, pairs) => {
          // prettier-ignore
          const area = (t: number): number => a + b * t + d * t * t + e * t ** 3;
          const integral = (t: number): number => a * t + (b * t * t) / 2 + (d * t ** 3) / 3 + (e * t ** 4) / 4;
          const sections = Array.from({ length: 2 * pairs + 1 }, (_, i) => [from + i, 0, area(i)] as [number, number, number]); // prettier-ignore
          const { prismoidal, said } = computed(given(...sections));
          expect(prismoidal!.fill).toBeCloseTo(integral(2 * pairs), 6);
          expect(said).toEqual([]);
        },
      ),
    );
  });

  it('is no prismoidal one where sections do not come in threes, and says which is the odd one', () => {
    expect(computed(given([0, 1, 0], [10, 1, 0])).said).toEqual(['No prismoidal volume: it takes an odd number of sections, these are 2.']); // prettier-ignore
    const { prismoidal, said } = computed(given([0, 1, 0], [4, 1, 0], [10, 1, 0]));
    expect(prismoidal).toBeNull();
    expect(said[0]).toContain('the section of row 2 is not half way between those of rows 1 and 3');
  });

  it('are the same in any order of the rows, which is said; the same row twice counts once, two areas at a chainage not at all', () => {
    const rows = given([0, 0, 1], [10, 2, 0], [20, 5, 3]);
    const mixed = computed([rows[2], rows[0], rows[1]]);
    expect(mixed.averageEndArea).toEqual(computed(rows).averageEndArea);
    expect(mixed.said).toEqual(['The sections were not in order of chainage; they are computed in that order.']);
    expect(computed([...rows, { ...rows[2], row: 4 }])).toMatchObject({ averageEndArea: computed(rows).averageEndArea, said: ['1 row is given twice and counted once.'] }); // prettier-ignore
    expect(volumeOfSections([...rows, { chainage: 20, cut: 9, fill: 0, row: 4 }])).toMatchObject({ ok: false, reason: expect.stringContaining('Rows 3 and 4 give one chainage with different areas') }); // prettier-ignore
    expect(volumeOfSections(given([5, 1, 1]))).toMatchObject({ ok: false });
  });
});

describe('a table of sections', () => {
  const read = (text: string, unit: Parameters<typeof readSectionTable>[1] = null) => {
    const got = readSectionTable(text, unit);
    return got.ok ? got.sections.map((s) => [s.chainage, s.cut, s.fill]) : got.reason;
  };

  it('has its columns where the heading says, in the unit that it says', () => {
    expect(read('Fill area [m²];Chainage [m];Cut area [m²]\n1,5;0+020,50;3\n')).toEqual([[20.5, 3, 1.5]]);
    const feet = read('Station (ft)\tCut (ft2)\tFill (ft2)\n12+50\t100\t0\n') as number[][];
    expect(feet[0][0]).toBeCloseTo(1250 * 0.3048, 12);
    expect(feet[0][1]).toBeCloseTo(100 * 0.3048 ** 2, 12);
  });

  it('without a heading is chainage, cut, fill, and asks for its unit', () => {
    expect(read('0 1 2\n10 3 4', 'm')).toEqual([[0, 1, 2], [10, 3, 4]]); // prettier-ignore
    expect(read('0,1,2\n1+000,3,4', 'm')).toEqual([[0, 1, 2], [1000, 3, 4]]); // prettier-ignore
    expect(read('0,1,2')).toBe('The table does not say its unit. Give --unit m, ft or usft.');
  });

  it('is read whole or not at all: a row that cannot be read is named', () => {
    expect(read('0,1,2\n10,x,4', 'm')).toContain('Row 2: the cut area “x” is not an area.');
    expect(read('0,1,2\n10,3,-4', 'm')).toContain('Row 2: the fill area “-4” is not an area.');
    expect(read('0,1,2\n\nabc,3,4', 'm')).toContain('Row 3: the chainage “abc” is not one.');
    expect(read('0,1,2\n10,,4', 'm')).toContain('Row 2: the cut area “” is not an area.');
    expect(read('Chainage,Cut,Volume\n0,1,2', 'm')).toContain('no column is headed fill');
    expect(read('Chainage [m],Cut [ft2],Fill [m2]\n0,1,2')).toContain('one unit is read');
    expect(read('Chainage Cut area Fill area\n0 1 2', 'm')).toContain('has 3 columns, the headings 5');
    expect(read('', 'm')).toBe('The table is empty.');
  });

  it('never throws, whatever stands in it', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        const got = readSectionTable(text, 'm');
        if (got.ok) for (const s of got.sections) for (const v of [s.chainage, s.cut, s.fill]) expect(v).not.toBeNaN();
      }),
    );
  });
});
