import { describe, expect, it } from 'vitest';
import { cornersOf, extentOfPicture, invertProjective, placedInView, placeOf, readWorldFile, scaledByLength, shiftedBy, type Projective } from '#core/pictures'; // prettier-ignore

const matrixOf = (text: string, unit: 'm' | 'ft' = 'm'): Projective => {
  const read = readWorldFile(text, unit);
  if (!read.ok) throw new Error(read.reason);
  return read.matrix;
};

describe('a world file', () => {
  it('gives the middle of the upper left pixel; our places count from its corner', () => {
    const m = matrixOf('0.5\n0\n0\n-0.5\n1000.25\n1999.75\n');
    expect(cornersOf(m, { width: 200, height: 100 })).toEqual([1000, 2000, 1100, 2000, 1100, 1950, 1000, 1950]);
    expect(placeOf(m, 0.5, 0.5)).toEqual({ x: 1000.25, y: 1999.75 });
  });

  it('is read in the unit that is chosen, with decimal commas and any line ends', () => {
    expect(placeOf(matrixOf('1\r\n0\r\n0\r\n-1\r\n100,5\r\n200,5', 'ft'), 0, 0)).toEqual({ x: 100 * 0.3048, y: 201 * 0.3048 }); // prettier-ignore
  });

  it('keeps its rotation, each coefficient where the order of the lines puts it', () => {
    const m = matrixOf('0.3 0.4 0.4 -0.3 10 20');
    expect(placeOf(m, 1.5, 0.5).x).toBeCloseTo(10.3, 12);
    expect(placeOf(m, 1.5, 0.5).y).toBeCloseTo(20.4, 12);
    expect(placeOf(m, 0.5, 1.5).x).toBeCloseTo(10.4, 12);
    expect(placeOf(m, 0.5, 1.5).y).toBeCloseTo(19.7, 12);
  });

  it.each([
    ['0.5\n0\n0\n-0.5\n1000', /six lines/],
    ['0.5\n0\nx\n-0.5\n1000\n2000', /Line 3 .* no number: x/],
    ['0.5\n0\n0\n1e99\n1000\n2000', /Line 4/],
    ['0\n0\n0\n0\n1000\n2000', /no area/],
    ['', /six lines|Line 1/],
    ['9'.repeat(5000), /six lines|Line 1/],
    ['Infinity\n0\n0\n-1\n0\n0', /Line 1/],
  ])('that is none is refused: %s', (text, reason) => {
    const read = readWorldFile(text, 'm');
    expect(read.ok ? '' : read.reason).toMatch(reason);
  });
});

describe('a picture without a place', () => {
  it('lies in the middle of what is in view, the right way up', () => {
    const m = placedInView({ width: 400, height: 100 }, [0, 0, 100, 100]);
    expect(cornersOf(m, { width: 400, height: 100 })).toEqual([10, 60, 90, 60, 90, 40, 10, 40]);
  });

  it('is brought to scale by a length, about the middle of that length, in the direction it lies in', () => {
    const now: Projective = [0.3, 0.4, 50, 0.4, -0.3, 80, 0, 0, 1];
    const m = scaledByLength(now, { from: [100, 100], to: [400, 500], length: 25 })!;
    const [a, b] = [placeOf(m, 100, 100), placeOf(m, 400, 500)];
    expect(Math.sqrt((b.x - a.x) ** 2 + (b.y - a.y) ** 2)).toBeCloseTo(25, 10);
    const before = placeOf(now, 250, 300);
    expect((a.x + b.x) / 2).toBeCloseTo(before.x, 10);
    expect((a.y + b.y) / 2).toBeCloseTo(before.y, 10);
    expect(m[3] / m[0]).toBeCloseTo(0.4 / 0.3, 10);
    expect(m[1]).toBeCloseTo(m[3], 12);
    expect(m[4]).toBeCloseTo(-m[0], 12);
  });

  it('that is seen from behind stays so; two marks in one place scale nothing', () => {
    const behind: Projective = [0.1, 0, 0, 0, 0.1, 0, 0, 0, 1];
    const m = scaledByLength(behind, { from: [0, 0], to: [100, 0], length: 20 })!;
    expect([m[0], m[4]]).toEqual([0.2, 0.2]);
    expect(scaledByLength(behind, { from: [5, 5], to: [5, 5], length: 20 })).toBeNull();
  });

  it('has an extent that holds its corners, however it is turned', () => {
    expect(extentOfPicture([0.3, 0.4, 10, 0.4, -0.3, 20, 0, 0, 1], { width: 10, height: 10 })).toEqual([
      10, 17, 17, 24,
    ]);
  });

  it('is found back from the plan to its pixels, about any origin', () => {
    const m: Projective = [0.1, 0.02, 500_000, 0.01, -0.1, 6_000_000, 1e-6, 2e-6, 1];
    const near = shiftedBy(m, 500_000, 6_000_000);
    const [at, close] = [placeOf(m, 300, 700), placeOf(near, 300, 700)];
    expect(close.x).toBeCloseTo(at.x - 500_000, 6);
    const back = placeOf(invertProjective(near)!, close.x, close.y);
    expect(back.x).toBeCloseTo(300, 8);
    expect(back.y).toBeCloseTo(700, 8);
    expect(invertProjective([0, 0, 1, 0, 0, 1, 0, 0, 1])).toBeNull();
  });
});
