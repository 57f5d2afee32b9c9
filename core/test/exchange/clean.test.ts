import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cleanLines, type DxfPolyline } from '#core/exchange';

// HO6: lines of a design drawing, cleaned for a small screen.

type V = [x: number, y: number, z?: number, bulge?: number];
const line = (layer: string, vertices: readonly V[], closed = false): DxfPolyline => ({
  layer,
  kind: 'POLYLINE',
  closed,
  spatial: vertices.some((v) => v[2] !== undefined),
  x: vertices.map((v) => v[0]),
  y: vertices.map((v) => v[1]),
  z: vertices.map((v) => v[2] ?? 0),
  bulge: vertices.map((v) => v[3] ?? 0),
});
const ALL = { join: 0.01, straight: 0.005, atZero: true };
const courses = (lines: readonly DxfPolyline[]): string[] => lines.map((l) => `${l.layer}${l.closed ? '○' : ''} ${l.x.map((x, i) => `${x},${l.y[i]}`).join(' ')}`); // prettier-ignore
const cleaned = (lines: readonly DxfPolyline[], settings = ALL) => cleanLines(lines, settings);

describe('lines that are cleaned', () => {
  it('lose doubles in either direction and from any vertex of a ring, of one layer alone', () => {
    const there: V[] = [[0, 0, 1], [5, 5, 1], [9, 0, 2]]; // prettier-ignore
    const ring: V[] = [[20, 0, 1], [25, 0, 1], [25, 5, 1]]; // prettier-ignore
    const got = cleaned([line('A', there), line('A', [...there].reverse()), line('B', there), line('A', ring, true), line('A', [ring[2], ring[0], ring[1]], true), line('A', [ring[1], ring[0], ring[2]], true)]); // prettier-ignore
    expect(courses(got.lines)).toEqual(['A 0,0 5,5 9,0', 'B 0,0 5,5 9,0', 'A○ 20,0 25,0 25,5']);
    expect(got.cleaned).toMatchObject({ doubled: 3, before: { lines: 6, vertices: 18 }, after: { lines: 3, vertices: 9 } }); // prettier-ignore
  });

  it('keep two that differ by an arc, or by more than the length in height', () => {
    const flat: V[] = [[0, 0, 1], [5, 0, 1]]; // prettier-ignore
    const arc: V[] = [[0, 0, 1, 0.5], [5, 0, 1]]; // prettier-ignore
    const back: V[] = [[5, 0, 1, -0.5], [0, 0, 1]]; // prettier-ignore
    const high: V[] = [[0, 0, 1.5], [5, 0, 1.5]]; // prettier-ignore
    expect(cleaned([line('A', flat), line('A', arc), line('A', back), line('A', high)], { ...ALL, join: 0 }).lines).toEqual([line('A', flat), line('A', arc), line('A', high)]); // prettier-ignore
  });

  it('lose what has no length, repeated vertices, and what lies at 0 where others do not', () => {
    const got = cleaned([line('A', [[1, 1, 5], [1, 1, 5]]), line('A', [[0, 0, 5], [0, 0, 5], [4, 3, 5]]), line('A', [[0, 9], [4, 9]])]); // prettier-ignore
    expect(courses(got.lines)).toEqual(['A 0,0 4,3']);
    expect(got.cleaned).toMatchObject({ noLength: 1, atZero: 1 });
    // A layer that is drawn in plan stays.
    expect(cleaned([line('A', [[0, 0, 5], [4, 3, 5]]), line('PLAN', [[0, 9], [4, 9]])]).lines).toHaveLength(2); // prettier-ignore
    expect(cleaned([line('A', [[0, 0, 5], [4, 3, 5]]), line('A', [[0, 9], [4, 9]])], { ...ALL, atZero: false }).lines).toHaveLength(2); // prettier-ignore
  });

  it('are joined end to end, whichever way each was drawn, and closed where they come back', () => {
    const got = cleaned([line('A', [[0, 0, 1], [5, 1, 1]]), line('A', [[9, 4, 1], [5.004, 1, 1]]), line('A', [[9, 4, 1], [12, 9, 1]])]); // prettier-ignore
    expect(courses(got.lines)).toEqual(['A 0,0 5,1 9,4 12,9']);
    expect(got.cleaned.joined).toBe(2);
    const ring = cleaned([line('A', [[0, 0, 1], [5, 0, 1]]), line('A', [[5, 5, 1], [5, 0, 1]]), line('A', [[5, 5, 1], [0, 0, 1]])]); // prettier-ignore
    expect(courses(ring.lines)).toEqual(['A○ 0,0 5,0 5,5']);
  });

  it('stay apart where three meet, on different layers, at different heights', () => {
    const from = (x: number, y: number, z = 1, layer = 'A') => line(layer, [[5, 5, z], [x, y, z]]); // prettier-ignore
    expect(cleaned([from(0, 0), from(9, 0), from(9, 9)]).cleaned.joined).toBe(0);
    expect(cleaned([from(0, 0), from(9, 0, 1, 'B')]).cleaned.joined).toBe(0);
    expect(cleaned([from(0, 0), from(9, 0, 2)]).cleaned.joined).toBe(0);
  });

  it('keep their arcs through joining and straightening', () => {
    const got = cleaned([line('A', [[0, 0, 1], [2, 0.001, 1], [5, 0, 1]]), line('A', [[9, 0, 1], [5, 0, 1, 0.4], [5.2, 0, 1]].map((v, i) => (i === 0 ? [9, 0, 1, -0.4] : v) as V).slice(0, 2))]); // prettier-ignore
    expect(courses(got.lines)).toEqual(['A 0,0 5,0 9,0']);
    // Bent to the right from 9 to 5 is bent to the left from 5 to 9.
    expect(got.lines[0].bulge).toEqual([0, 0.4, 0]);
  });

  const place = fc.tuple(
    fc.integer({ min: 0, max: 40 }),
    fc.integer({ min: 0, max: 40 }),
    fc.integer({ min: 1, max: 3 }),
  );
  const some = fc.array(fc.tuple(fc.array(place, { minLength: 1, maxLength: 9 }), fc.boolean(), fc.constantFrom('A', 'B')), { maxLength: 12 }); // prettier-ignore
  const made = (of: [V[], boolean, string][]): DxfPolyline[] => of.map(([v, closed, layer]) => line(layer, v.map(([x, y, z]) => [x / 4, y / 4, z]), closed && v.length > 2)); // prettier-ignore

  it('lie within the length of what they were, wherever a vertex went, and are clean for good (property)', () => {
    fc.assert(
      fc.property(some, fc.constantFrom(0.005, 0.3, 1), (of, straight) => {
        const before = made(of);
        const settings = { join: 0.01, straight, atZero: false };
        const got = cleanLines(before, settings);
        const sides = (lines: readonly DxfPolyline[]) => lines.flatMap((l) => l.x.slice(0, l.closed ? undefined : -1).map((_, i) => [l, i, (i + 1) % l.x.length] as const)); // prettier-ignore
        const after = sides(got.lines);
        for (const l of before) {
          if (new Set(l.x.map((x, i) => `${x} ${l.y[i]} ${l.z[i]}`)).size < 2) continue;
          for (let i = 0; i < l.x.length; i++) {
            const p = [l.x[i], l.y[i], l.z[i]];
            const off = Math.min(...after.filter(([a]) => a.layer === l.layer).map(([a, s, t]) => toSide(p, [a.x[s], a.y[s], a.z[s]], [a.x[t], a.y[t], a.z[t]]))); // prettier-ignore
            expect(off).toBeLessThanOrEqual(straight + 0.011);
          }
        }
        const again = cleanLines(got.lines, { ...settings, straight: 0 }).cleaned;
        expect([again.doubled, again.noLength, again.joined]).toEqual([0, 0, 0]);
      }),
    );
  });
});

function toSide(p: number[], a: number[], b: number[]): number {
  const [u, v] = [b.map((n, k) => n - a[k]), p.map((n, k) => n - a[k])];
  const square = u.reduce((sum, n) => sum + n * n, 0);
  const t = square ? Math.max(0, Math.min(1, u.reduce((sum, n, k) => sum + n * v[k], 0) / square)) : 0;
  return Math.hypot(...v.map((n, k) => n - t * u[k]));
}
