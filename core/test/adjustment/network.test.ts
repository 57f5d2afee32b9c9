import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  adjustNetwork,
  chiSquareBounds,
  ellipseOf,
  type Adjusted,
  type NetworkObservation,
  type NetworkPoint,
} from '#core/adjustment';
import { lowOrder, Skyline } from '#core/kernel';
import { gridNetwork } from '../../../bench/networks.ts';

const SCRIPT = fileURLToPath(new URL('./network.py', import.meta.url));
interface Outside {
  points: number[][];
  sd: number[][];
  redundancy: number[];
  squares: number;
}
const numpy = (
  points: readonly NetworkPoint[],
  observations: readonly NetworkObservation[],
  sets: number,
  free = false,
): Outside =>
  JSON.parse(
    execFileSync('/usr/bin/python3', [SCRIPT], {
      input: JSON.stringify({ points, observations, sets, free }),
      encoding: 'utf8',
      maxBuffer: 1 << 28,
    }),
  ) as Outside;

const ok = (a: ReturnType<typeof adjustNetwork>): Adjusted => {
  if (!a.ok) throw new Error(a.reason);
  return a;
};

describe('networks', () => {
  for (const size of [3, 5, 9])
    it(`of ${size * size} stations are what numpy’s least squares makes of them`, () => {
      const { points, observations, sets } = gridNetwork(size, 77 + size);
      const ours = ok(adjustNetwork(points, observations, sets));
      const theirs = numpy(points, observations, sets);
      ours.points.forEach((p, i) => {
        expect(Math.abs(p.x - theirs.points[i][0])).toBeLessThan(1e-6);
        expect(Math.abs(p.y - theirs.points[i][1])).toBeLessThan(1e-6);
        expect(Math.abs(p.z - theirs.points[i][2])).toBeLessThan(1e-6);
        expect(Math.abs(p.sdX - theirs.sd[i][0])).toBeLessThan(1e-7);
        expect(Math.abs(p.sdZ - theirs.sd[i][2])).toBeLessThan(1e-7);
      });
      ours.observations.forEach((o, i) => expect(Math.abs(o.redundancy - theirs.redundancy[i])).toBeLessThan(1e-5));
      expect(ours.varianceFactor * ours.freedom).toBeCloseTo(theirs.squares, 3);
    });

  it('free in themselves have the precision that inner constraints give (numpy’s pseudo-inverse)', () => {
    const { points, observations, sets } = gridNetwork(4, 21);
    const free = points.map((p): NetworkPoint => ({ ...p, standing: 'free' }));
    const between = observations.filter((o) => o.to >= 0);
    const ours = ok(adjustNetwork(free, between, sets));
    const theirs = numpy(free, between, sets, true);
    ours.points.forEach((p, i) => {
      expect(Math.abs(p.sdX - theirs.sd[i][0])).toBeLessThan(2e-6);
      expect(Math.abs(p.sdY - theirs.sd[i][1])).toBeLessThan(2e-6);
      expect(Math.abs(p.sdZ - theirs.sd[i][2])).toBeLessThan(2e-6);
    });
    // Shift in three directions and a turn are the datum's.
    expect(ours.freedom).toBe(between.length - (ours.unknowns - 4));
  });

  it('have redundancy numbers that sum to the degrees of freedom (Baarda), and a variance factor near one', () => {
    const { points, observations, sets } = gridNetwork(8, 5);
    const a = ok(adjustNetwork(points, observations, sets));
    expect(a.freedom).toBe(observations.length - a.unknowns);
    expect(a.observations.reduce((s, o) => s + o.redundancy, 0)).toBeCloseTo(a.freedom, 4);
    expect(a.varianceFactor).toBeGreaterThan(a.bounds[0]);
    expect(a.varianceFactor).toBeLessThan(a.bounds[1]);
    expect(a.kept).toBeLessThan((a.unknowns * a.unknowns) / 4);
  });

  it('name the observation that was falsified', () => {
    const { points, observations, sets } = gridNetwork(5, 9);
    for (const at of [4, 40, 77]) {
      const wrong = observations.map((o, i) => (i === at ? { ...o, value: o.value + 25 * o.sd } : o));
      const a = ok(adjustNetwork(points, wrong, sets));
      expect(a.doubtful).toBe(at);
      expect(a.observations[at].standardised).toBeGreaterThan(8);
    }
  });

  it('of control that is weighted stand off it by little; without control they keep their shape', () => {
    const { points, observations, sets, truth } = gridNetwork(4, 21);
    const weighted = points.map((p) =>
      p.standing === 'fixed' ? { ...p, standing: 'weighted' as const, sdPlan: 0.002, sdHeight: 0.002 } : p,
    );
    const coordinates = weighted.flatMap((p, i): NetworkObservation[] =>
      p.standing === 'weighted'
        ? (['east', 'north', 'elevation'] as const).map((kind) => ({
            kind,
            from: i,
            to: -1,
            set: -1,
            value: kind === 'east' ? p.x : kind === 'north' ? p.y : p.z,
            sd: 0.002,
            source: 'control',
          }))
        : [],
    );
    const a = ok(adjustNetwork(weighted, [...observations, ...coordinates], sets));
    for (const p of a.points) expect(p.sdX).toBeGreaterThan(0);
    const free = ok(
      adjustNetwork(
        points.map((p) => ({ ...p, standing: 'free' as const })),
        observations,
        sets,
      ),
    );
    const span = (list: { x: number; y: number }[]): number =>
      Math.hypot(list[0].x - list.at(-1)!.x, list[0].y - list.at(-1)!.y);
    expect(Math.abs(span(free.points) - span(truth))).toBeLessThan(0.01);
  });

  it('say which station hangs in the air, and refuse what has no weight', () => {
    const { points, observations, sets } = gridNetwork(3, 2);
    const lonely = [...points, { ...points[4], number: 'LOOSE', standing: 'free' as const, x: 5, y: 5 }];
    const one: NetworkObservation = {
      kind: 'distance',
      from: 0,
      to: points.length,
      set: -1,
      value: 20,
      sd: 0.002,
      source: '',
    };
    const a = adjustNetwork(lonely, [...observations, one], sets);
    expect(a.ok ? '' : a.reason).toContain('LOOSE is not determined');
    expect(adjustNetwork(points, [{ ...observations[0], sd: 0 }], sets).ok).toBe(false);
    expect(adjustNetwork([], [], 0).ok).toBe(false);
  });
});

describe('statistics', () => {
  it('chi-square bounds are those of tables: 95 % for 5, 10, 30, 100 degrees of freedom', () => {
    // Percentage points 0.025 and 0.975 of chi-square, any table.
    const tables: [number, number, number][] = [
      [5, 0.8312, 12.8325],
      [10, 3.247, 20.483],
      [30, 16.791, 46.979],
      [100, 74.222, 129.561],
    ];
    for (const [f, low, high] of tables) {
      const [a, b] = chiSquareBounds(f);
      expect(Math.abs((a * f) / low - 1)).toBeLessThan(0.01);
      expect(Math.abs((b * f) / high - 1)).toBeLessThan(0.005);
    }
  });

  it('ellipses turn with their covariance', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 1, noNaN: true }),
        fc.double({ min: 0.001, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 3.1, noNaN: true }),
        (a, b, bearing) => {
          fc.pre(a > b * 1.01);
          const [s, c] = [Math.sin(bearing), Math.cos(bearing)];
          const e = ellipseOf(a * a * s * s + b * b * c * c, a * a * c * c + b * b * s * s, (a * a - b * b) * s * c);
          expect(e.major).toBeCloseTo(a, 9);
          expect(e.minor).toBeCloseTo(b, 6);
          expect(Math.abs(Math.sin(e.bearing - bearing))).toBeLessThan(1e-6);
        },
      ),
    );
  });
});

describe('the skyline', () => {
  it('factors, solves and inverts as a full matrix does', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 25 }), fc.integer({ min: 1, max: 1e6 }), (n, seed) => {
        let state = seed;
        const next = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
        const first = Int32Array.from({ length: n }, (_, i) => Math.max(0, i - Math.floor(next() * 6)));
        const m = new Skyline(first);
        const full = Array.from({ length: n }, () => new Array<number>(n).fill(0));
        for (let i = 0; i < n; i++)
          for (let j = first[i]; j <= i; j++) {
            const v = i === j ? 12 + next() : next() - 0.5;
            m.add(i, j, v);
            full[i][j] = full[j][i] = v;
          }
        expect(m.factor()).toBe(-1);
        const x = Float64Array.from({ length: n }, next);
        const b = Float64Array.from(full, (row) => row.reduce((s, v, j) => s + v * x[j], 0));
        m.solve(b);
        b.forEach((v, i) => expect(Math.abs(v - x[i])).toBeLessThan(1e-12));
        const inverse = m.inverse();
        for (let i = 0; i < n; i++) {
          const e = new Float64Array(n);
          e[i] = 1;
          m.solve(e);
          for (let j = first[i]; j <= i; j++) expect(Math.abs(inverse.get(i, j) - e[j])).toBeLessThan(1e-12);
        }
      }),
      { numRuns: 200 },
    );
    const order = lowOrder([[1], [0, 2], [1], []]);
    expect([...order].sort()).toEqual([0, 1, 2, 3]);
  });
});
