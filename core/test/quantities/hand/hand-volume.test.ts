import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { workByHand, type HandTable } from '#core/quantities';

const table = (kind: HandTable['kind'], text: string, more: Partial<HandTable> = {}): HandTable => ({ kind, unit: 'm', text, cell: 1, level: 0, ...more }); // prettier-ignore
const worked = (of: HandTable) => {
  const out = workByHand(of);
  if (!out.ok) throw new Error(out.reason);
  return out;
};
const reason = (of: HandTable): string => {
  const out = workByHand(of);
  return out.ok ? 'worked' : out.reason;
};

describe('sections by their areas', () => {
  it('are worked as a surveyor writes them: L (A1 + A2) / 2, and Simpson’s rule over threes', () => {
    // Ends of 10 and 30 m², 18 m² half way, 20 m apart: 100 × … by hand.
    const { cut, fill, sections } = worked(table('areas', 'chainage cut fill\n0 10 0\n10 18 1\n20 30 0'));
    expect([cut, fill]).toEqual([380, 10]);
    expect(sections!.prismoidal).toEqual({ cut: (20 / 6) * (10 + 72 + 30), fill: (20 / 6) * 4 });
    expect(sections!.between.map((b) => b.cut)).toEqual([140, 240]);
  });

  it('out of order and doubled are put in order, and said', () => {
    const { sections } = worked(table('areas', '20 30 0\n0 10 0\n10 18 1\n10 18 1'));
    expect(sections!.sections.map((s) => s.chainage)).toEqual([0, 10, 20]);
    expect(sections!.said.join(' ')).toMatch(/not in order.*given twice/);
  });
});

describe('section drawings', () => {
  it('give areas that are split where ground and design cross', () => {
    // A bank of 2 m on the left, a cut of 1 m on the right of the middle.
    const text = 'Chainage;Offset;Ground;Design\n0;-4;10;12\n0;4;11;10\n30;-4;10;12\n30;4;11;10';
    const { sections, cut, fill } = worked(table('drawings', text));
    // d = 2 … −1 over 8 m: zero after 16/3 m.
    expect(sections!.sections[0].fill).toBeCloseTo(16 / 3, 9);
    expect(sections!.sections[0].cut).toBeCloseTo(4 / 3, 9);
    expect(fill).toBeCloseTo(160, 9);
    expect(cut).toBeCloseTo(40, 9);
    expect(sections!.drawings[1]).toMatchObject({ chainage: 30, offset: [-4, 4], ground: [10, 11] });
  });

  it('of a frustum between level planes give its volume by the prismoidal formula', () => {
    const slope = fc.integer({ min: 1, max: 40 });
    fc.assert(
      fc.property(slope, slope, slope, (w1, w2, h) => {
        const at = (chainage: number, w: number): string => [[-w, 0, 0], [-w / 2, 0, h], [w / 2, 0, h], [w, 0, 0]].map((p) => [chainage, ...p].join(' ')).join('\n'); // prettier-ignore
        const text = [at(0, w1), at(15, (w1 + w2) / 2), at(30, w2)].join('\n');
        const { prismoidal } = worked(table('drawings', text)).sections!;
        // Straight between the ends: the mean of both areas is exact too.
        expect(prismoidal!.fill).toBeCloseTo((30 * (1.5 * w1 * h + 1.5 * w2 * h)) / 2, 6);
      }),
    );
  });

  it('refuse a place that cannot be read, one that stands twice, and a section of one place', () => {
    expect(reason(table('drawings', '0 -4 10 12\n0 4 x 10'))).toMatch(/^Row 2: the ground “x” is no number/);
    expect(reason(table('drawings', '0 -4 10 12\n0 -4 11 10'))).toMatch(/^Rows 1 and 2 give one offset/);
    expect(reason(table('drawings', '0 -4 10 12\n0 4 10 12\n9 0 1 1'))).toMatch(
      /^Row 3: the section has one place alone/,
    );
    expect(reason(table('drawings', 'Chainage Offset Ground\n0 1 2'))).toMatch(/no column is headed design/);
  });
});

describe('corner heights on a grid', () => {
  it('cell by cell: 10 ft × 10 ft is 100 ft², times the mean of four corners (common practice)', () => {
    const feet = { unit: 'ft' as const, cell: 3.048, level: 100 * 0.3048 };
    const { cells, cut, fill } = worked(table('corners', '102 103 101\n101 102 98\n100 99 97', feet));
    expect(cells!.map((c) => c.mean / 0.3048).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([2, 1, 0.5, -1]);
    const cubicFeet = 0.3048 ** 3;
    expect(cut / cubicFeet).toBeCloseTo(350, 9);
    expect(fill / cubicFeet).toBeCloseTo(100, 9);
    expect(cells![1]).toMatchObject({ row: 1, column: 2 });
  });

  it('leave cells out that lack a corner, and count them', () => {
    const { cells, leftOut } = worked(table('corners', '1,0 2,0 -\n1,0 2,0 3,0\n- 2,0 3,0'));
    expect(cells!.map((c) => [c.row, c.column])).toEqual([[1, 1], [2, 2]]); // prettier-ignore
    expect(leftOut).toBe(2);
  });

  it('of a plane are its volume, whichever way it falls', () => {
    const step = fc.integer({ min: -20, max: 20 });
    fc.assert(
      fc.property(step, step, fc.integer({ min: 2, max: 9 }), fc.integer({ min: 2, max: 9 }), (gx, gy, nx, ny) => {
        const z = (r: number, c: number): number => 500 + gx * c + gy * r;
        const text = Array.from({ length: ny }, (_, r) => Array.from({ length: nx }, (_, c) => z(r, c)).join('\t')).join('\n'); // prettier-ignore
        const { cut } = worked(table('corners', text, { cell: 5 }));
        expect(cut).toBeCloseTo(25 * (nx - 1) * (ny - 1) * z((ny - 1) / 2, (nx - 1) / 2), 6);
      }),
    );
  });

  it('say which corner is none, and where a row is too short', () => {
    expect(reason(table('corners', '1 2\n3 x'))).toMatch(/^Row 2, corner 2: “x” is no elevation/);
    expect(reason(table('corners', '1;2;3\n3;4'))).toMatch(/^Row 2 has 2 corners, others 3/);
    expect(reason(table('corners', '1;2;3'))).toMatch(/two rows of two/);
    expect(reason(table('corners', ''))).toBe('The table is empty.');
  });
});
