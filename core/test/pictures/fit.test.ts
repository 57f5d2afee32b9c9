import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitPicture, placeOf, type PictureFitKind, type PictureMark, type Projective } from '#core/pictures';

const SIZE = { width: 4000, height: 3000 };
const mark = (m: Projective, column: number, row: number, off = [0, 0]): PictureMark => {
  const at = placeOf(m, column, row);
  return { column, row, x: at.x + off[0], y: at.y + off[1], on: true };
};
const fitted = (marks: readonly PictureMark[], kind: PictureFitKind) => {
  const found = fitPicture(marks, kind, SIZE);
  if (!found.ok) throw new Error(found.reason);
  return found.fit;
};

/** Pictures as they are met: turned, of centimetres to metres a pixel, far from the origin, a little sheared or slanted. */
const pictures = (slant: number, shear: number): fc.Arbitrary<Projective> =>
  fc
    .record({
      turn: fc.double({ min: -3.1, max: 3.1, noNaN: true }),
      pixel: fc.double({ min: 0.005, max: 2, noNaN: true }),
      x: fc.double({ min: -600_000, max: 600_000, noNaN: true }),
      y: fc.double({ min: -6_000_000, max: 6_000_000, noNaN: true }),
      s: fc.double({ min: -shear, max: shear, noNaN: true }),
      g: fc.double({ min: -slant, max: slant, noNaN: true }),
      h: fc.double({ min: -slant, max: slant, noNaN: true }),
    })
    .map(({ turn, pixel, x, y, s, g, h }) => {
      const [a, b] = [pixel * Math.cos(turn), pixel * Math.sin(turn)];
      return [a + x * g, b + s * a + x * h, x, b + y * g, -a + s * b + y * h, y, g, h, 1];
    });
const places = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 8 }), fc.integer({ min: 0, max: 6 })), {
  minLength: 9,
  maxLength: 16,
  selector: ([c, r]) => `${c} ${r}`,
});
const isSame = (a: Projective, b: Projective): void => {
  for (const [c, r] of [[0, 0], [4000, 0], [4000, 3000], [0, 3000], [1234, 2100]]) {
    const [p, q] = [placeOf(a, c, r), placeOf(b, c, r)];
    expect(p.x).toBeCloseTo(q.x, 4);
    expect(p.y).toBeCloseTo(q.y, 4);
  } // prettier-ignore
};

describe('a picture fitted to places', () => {
  it.each([
    ['similarity', 0, 0],
    ['affine', 0, 0.4],
    ['projective', 5e-5, 0.4],
  ] as const)('finds again how a picture lay: %s', (kind, slant, shear) => {
    fc.assert(
      fc.property(pictures(slant, shear), places, (m, at) => {
        const marks = at.map(([c, r]) => mark(m, c * 500, r * 500));
        const found = fitPicture(marks, kind, SIZE);
        if (!found.ok) return fc.pre(false);
        isSame(found.fit.matrix, m);
        expect(found.fit.redundancy).toBe(2 * at.length - { similarity: 4, affine: 6, projective: 8 }[kind]);
        expect(found.fit.sigma).toBeLessThan(1e-3);
      }),
    );
  });

  it('goes through four marks exactly, with nothing to check it by', () => {
    // A sheet photographed at a slant: its corners are at a rectangle of 40 m by 30 m.
    const corners: PictureMark[] = [[310, 420, 0, 30], [3650, 250, 40, 30], [3900, 2800, 40, 0], [120, 2650, 0, 0]].map(([column, row, x, y]) => ({ column, row, x, y, on: true })); // prettier-ignore
    const fit = fitted(corners, 'projective');
    for (const r of fit.residuals) {
      expect(Math.abs(r.x) + Math.abs(r.y)).toBeLessThan(1e-9);
      expect(r.apart).toBeNaN();
    }
    expect(fit.redundancy).toBe(0);
    expect(fit.sigma).toBeNaN();
    // The diagonals of a rectangle meet in its middle, and so do those of its picture (projective geometry).
    const [a, b, c, d] = corners;
    const t = ((b.column - a.column) * (b.row - d.row) - (b.row - a.row) * (b.column - d.column)) / ((c.column - a.column) * (b.row - d.row) - (c.row - a.row) * (b.column - d.column)); // prettier-ignore
    const middle = placeOf(fit.matrix, a.column + t * (c.column - a.column), a.row + t * (c.row - a.row));
    expect(middle.x).toBeCloseTo(20, 8);
    expect(middle.y).toBeCloseTo(15, 8);
  });

  it('says which mark the others do not agree with, and stays where they put it without it', () => {
    const m: Projective = [0.05, 0, 1000, 0, -0.05, 2000, 0, 0, 1];
    const marks = [[0, 0], [4000, 0], [4000, 3000], [0, 3000], [2000, 1500]].map(([c, r]) => mark(m, c, r)); // prettier-ignore
    marks[2] = { ...marks[2], x: marks[2].x + 3 };
    const apart = fitted(marks, 'similarity').residuals.map((r) => r.apart);
    expect(apart.indexOf(Math.max(...apart))).toBe(2);
    expect(apart[2]).toBeCloseTo(3, 9);
    marks[2].on = false;
    const without = fitted(marks, 'similarity');
    isSame(without.matrix, m);
    expect(without.residuals[2].x).toBeCloseTo(-3, 9);
  });

  it('tells a picture that is seen from behind, and the size of its pixels', () => {
    const behind: Projective = [0.1, 0, 0, 0, 0.1, 0, 0, 0, 1];
    const marks = [[0, 0], [4000, 0], [4000, 3000]].map(([c, r]) => mark(behind, c, r)); // prettier-ignore
    const fit = fitted(marks, 'affine');
    expect(fit.isMirrored).toBe(true);
    expect(fit.pixel.across).toBeCloseTo(0.1, 9);
    expect(fit.pixel.down).toBeCloseTo(0.1, 9);
    expect(fitted(marks.map((k) => ({ ...k, y: -k.y })), 'affine').isMirrored).toBe(false); // prettier-ignore
  });

  it.each([
    ['similarity', [[10, 10, 5, 5]], /need 2 marks; 1 take part/],
    ['similarity', [[10, 10, 5, 5], [10, 10, 6, 6]], /one place/],
    ['affine', [[0, 0, 0, 0], [100, 100, 10, 10], [200, 200, 20, 20]], /one line/],
    ['projective', [[0, 0, 0, 0], [100, 100, 10, 10], [200, 200, 20, 20], [300, 0, 9, 4]], /one line|horizon/],
    ['projective', [[0, 0, 0, 0], [100, 0, 10, 0], [100, 100, 60, 60], [0, 100, 0, 1]], /horizon/],
  ] as const)('refuses %s from marks that do not determine it', (kind, given, reason) => {
    const marks = given.map(([column, row, x, y]) => ({ column, row, x, y, on: true }));
    const found = fitPicture(marks, kind, SIZE);
    expect(found.ok ? '' : found.reason).toMatch(reason);
  }); // prettier-ignore
});
