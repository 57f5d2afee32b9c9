import { writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

type Volume = { above: number; below: number; net: number };
type Told = { toe: number[][]; toeFrom: string; planArea: number; volumes: Record<'lowest' | 'mean' | 'plane' | 'toe', Volume>; said: string[] }; // prettier-ignore

// A pyramid of 12 sides, 8 m from its middle to its corners, 5 m high, on ground at 60 m that reaches 8 m farther.
const N = 12;
const corner = (k: number, r: number): [number, number] => [500 + r * Math.sin((2 * Math.PI * k) / N), 900 + r * Math.cos((2 * Math.PI * k) / N)]; // prettier-ignore
const row = (n: string, [x, y]: [number, number], z: string | number, code: string): string =>
  `${n},${x},${y},${z},${code}`;
const HEAD = 'Number,East [m],North [m],Elevation [m],Code';
const toe = Array.from({ length: N }, (_, k) => row(`t${k}`, corner(k, 8), 60, 'HF'));
const beside = Array.from({ length: N }, (_, k) => row(`g${k}`, corner(k + 0.5, 16), 60, 'GR'));
const top = row('top', [500, 900], 65, 'GR');
const BODY = ((N / 2) * 64 * Math.sin((2 * Math.PI) / N) * 5) / 3;

beforeAll(() => {
  writeFileSync(at('heap.csv'), [HEAD, ...toe, top, ...beside, ''].join('\n'));
  writeFileSync(at('jumbled.csv'), [HEAD, ...toe.map((_, k) => toe[(k * 5) % N]), top, ...beside, row('x', [1, 2], '', 'HF'), ''].join('\n')); // prettier-ignore
});

describe('heap', () => {
  it('finds the toe and measures down to every base: a pyramid by its closed form', () => {
    const told = json<Told>('heap', at('heap.csv'));
    expect([told.toe.length, told.toeFrom, told.said]).toEqual([N, 'found', []]);
    expect(told.planArea).toBeCloseTo((BODY * 3) / 5, 8);
    for (const base of ['lowest', 'mean', 'plane', 'toe'] as const) {
      expect(told.volumes[base].above).toBeCloseTo(BODY, 8);
      expect(told.volumes[base].net).toBeCloseTo(BODY, 8);
    }
  });

  it('is as unsure as its shots: of the mean base by hand, with the toe pulling from both sides', () => {
    const told = json<Told & { sd: Record<string, number> }>('heap', at('heap.csv'), '--sd-height', '0.05');
    const area = (BODY * 3) / 5;
    // Raised by a metre the top adds a third of the area; a corner of the toe as much over its two triangles, less 1/12 of all below.
    const corner = (2 * area) / N / 3 - area / N;
    expect(told.sd.mean).toBeCloseTo(0.05 * Math.sqrt((area / 3) ** 2 + N * corner ** 2), 6);
    expect(told.sd.lowest).toBeGreaterThan(0.05 * area * 0.9);
    expect(dunrik('heap', at('heap.csv'), '--base', 'mean', '--sd-height', '0.05').out).toContain(`net ${BODY.toFixed(3)} m³ ± ${(1.96 * told.sd.mean).toFixed(3)}`); // prettier-ignore
  });

  it('takes the toe by its code, jumbled too, and says so', () => {
    const told = json<Told>('heap', at('jumbled.csv'), '--toe-code', 'hf', '--base', 'plane');
    expect(Object.keys(told.volumes)).toEqual(['plane']);
    expect(told.volumes.plane.net).toBeCloseTo(BODY, 8);
    expect(told.said).toEqual([
      '1 point has no elevation and no part in it',
      'the points of the toe cross in the order in which they were taken; they are joined by direction from their middle',
    ]);
  });

  it('takes a drawn toe, and says where it reaches off the survey', () => {
    const square = (half: number): string => {
      const ring = [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
        [-1, -1],
      ].map(([x, y]) => [500 + half * x, 900 + half * y]);
      const name = at(`square${half}.geojson`);
      writeFileSync(name, JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: [{ type: 'Feature', properties: {}, geometry: { type: 'Polygon', coordinates: [ring] } }] })); // prettier-ignore
      return name;
    };
    const told = json<Told>('heap', at('heap.csv'), '--toe', square(9));
    expect([told.planArea, told.toeFrom]).toEqual([expect.closeTo(324, 8), 'drawn']);
    expect(told.volumes.lowest.above).toBeCloseTo(BODY, 8);
    expect(dunrik('heap', at('heap.csv'), '--toe', square(40)).out).toContain('the boundary extends beyond the ground');
  });

  it('measures above the ground as it was before, and says what that does not lie under', () => {
    const ground = (name: string, west: number): void => {
      const corners = [[west, 880], [520, 880], [520, 920], [west, 920]].map((p, k) => row(`b${k}`, p as [number, number], 59, 'GR')); // prettier-ignore
      writeFileSync(at(`${name}.csv`), [HEAD, ...corners, ''].join('\n'));
      expect(dunrik('surface', at(`${name}.csv`), '-o', at(`${name}.xml`)).code).toBe(0);
    };
    ground('october', 480);
    ground('east-half', 500);
    const all = json<{ volumes: { earlier: Volume }; planArea: number }>('heap', at('heap.csv'), '--earlier', at('october.xml')); // prettier-ignore
    expect(all.volumes.earlier).toEqual({ above: expect.closeTo(BODY + all.planArea, 6), below: 0, net: expect.closeTo(BODY + all.planArea, 6) }); // prettier-ignore
    const half = dunrik('heap', at('heap.csv'), '--earlier', at('east-half.xml'));
    expect(half.out).toMatch(/earlier surface +above .* m³/);
    expect(half.out).toContain('does not lie under');
  });

  it('refuses what is no heap, in a sentence', () => {
    const refused = (...args: string[]): unknown[] => {
      const run = dunrik('heap', ...args);
      return [run.code, run.err.trim()];
    };
    writeFileSync(at('line.csv'), [HEAD, ...[0, 1, 2, 3].map((k) => row(`p${k}`, [k, k], k, 'A')), ''].join('\n'));
    writeFileSync(at('three.csv'), [HEAD, ...[0, 1, 2].map((k) => row(`p${k}`, [k, k * k], k, 'A')), ''].join('\n'));
    expect(refused(at('line.csv'))).toEqual([1, expect.stringContaining('The points lie in one line')]);
    expect(refused(at('three.csv'))).toEqual([
      1,
      expect.stringContaining('3 points with an elevation; a heap needs four'),
    ]);
    expect(refused(at('heap.csv'), '--toe-code', 'ZZ')).toEqual([
      1,
      expect.stringContaining('0 points have the code ZZ'),
    ]);
    expect(refused(at('heap.csv'), '--toe-code', 'HF', '--toe', 'x.csv')[0]).toBe(2);
    expect(refused(at('heap.csv'), '--base', 'middle')[0]).toBe(2);
  });
});
