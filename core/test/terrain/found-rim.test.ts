import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildSurface, foundRim, measureSurface } from '#core/terrain';

interface Line {
  x: number[];
  y: number[];
  closed: boolean;
}

/** A surface from lines as breaklines, level. */
function surfaceOf(lines: readonly Line[]) {
  const [x, y, segments]: number[][] = [[], [], []];
  for (const l of lines) {
    const first = x.length;
    x.push(...l.x);
    y.push(...l.y);
    const n = l.x.length;
    for (let i = 0; i < (l.closed ? n : n - 1); i++) segments.push(first + i, first + ((i + 1) % n));
  }
  return buildSurface({ x: Float64Array.from(x), y: Float64Array.from(y), z: new Float64Array(x.length), segments: Uint32Array.from(segments), coincidence: 0, longestSide: null }).surface; // prettier-ignore
}

const ring = (radii: readonly number[], scale = 1): Line => {
  const angle = (i: number): number => (2 * Math.PI * i) / radii.length;
  return { x: radii.map((r, i) => scale * r * Math.cos(angle(i))), y: radii.map((r, i) => scale * r * Math.sin(angle(i))), closed: true }; // prettier-ignore
};
const areaOf = ({ x, y }: Line): number => Math.abs(x.reduce((sum, _, i) => sum + x[i] * y[(i + 1) % x.length] - x[(i + 1) % x.length] * y[i], 0)) / 2; // prettier-ignore

describe('the rim that a surface finds by itself', () => {
  it('is the closed line that holds all of it, bays and all', () => {
    const radii = fc.array(fc.double({ min: 4, max: 20, noNaN: true }), { minLength: 8, maxLength: 40 });
    fc.assert(
      fc.property(radii, (r) => {
        const [outer, inner] = [ring(r), ring(r, 0.4)];
        const found = foundRim(surfaceOf([outer, inner])).surface;
        expect(measureSurface(found).planArea).toBeCloseTo(areaOf(outer), 6);
      }),
      { numRuns: 100 },
    );
  });

  it('opens a bay between two arms that are far apart, and keeps the arms joined', () => {
    // A U of points a metre apart, 20 m between its arms.
    const [x, y]: number[][] = [[], []];
    for (let i = 0; i <= 30; i++) for (const at of [0, 1, 20, 21]) { x.push(at); y.push(i); } // prettier-ignore
    for (let i = 2; i < 20; i++) for (const at of [0, 1]) { x.push(i); y.push(at); } // prettier-ignore
    const s = buildSurface({ x: Float64Array.from(x), y: Float64Array.from(y), z: new Float64Array(x.length), segments: new Uint32Array(), coincidence: 0, longestSide: null }).surface; // prettier-ignore
    expect(measureSurface(s).planArea).toBeCloseTo(21 * 30, 6);
    // Two arms, the bar between them, and half a square metre in either corner, whose side is within the length.
    expect(measureSurface(foundRim(s).surface).planArea).toBeCloseTo(30 + 30 + 19 + 2 * 0.5, 6);
  });

  it('loses no vertex of lines that are far apart', () => {
    const line = fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 100 }), fc.integer({ min: 5, max: 20 })); // prettier-ignore
    fc.assert(
      fc.property(fc.uniqueArray(line, { minLength: 2, maxLength: 8, selector: ([, y]) => y }), (lines) => {
        const s = surfaceOf(lines.map(([x, y, n]) => ({ x: Array.from({ length: n }, (_, i) => x + i), y: Array.from({ length: n }, (_, i) => 10 * y + 0.01 * i * i), closed: false }))); // prettier-ignore
        const used = (t: Uint32Array): number => new Set(t).size;
        expect(used(foundRim(s).surface.triangles)).toBe(used(s.triangles));
      }),
      { numRuns: 100 },
    );
  });
});
