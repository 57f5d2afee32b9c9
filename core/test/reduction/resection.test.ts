import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { resect, type Known, type ResectionSight } from '#core/reduction';

const SECOND = Math.PI / 648_000;

const point = (number: string, x: number, y: number, z = 10): Known => ({
  number,
  x,
  y,
  z,
  sdPlan: 0.002,
  sdHeight: 0.002,
  from: 'control',
});

describe('free stations', () => {
  const targets = [point('A', 0, 0), point('B', 120, 10), point('C', 60, 90), point('D', -30, 70)];
  const sight = (t: Known, x: number, y: number, o: number, range: boolean): ResectionSight => ({
    target: t,
    circle: Math.atan2(t.x - x, t.y - y) - o,
    horizontal: range ? Math.hypot(t.x - x, t.y - y) : NaN,
    rise: t.z - 12,
    sdDirection: 3 * SECOND,
    sdDistance: 0.002,
    sdRise: 0.003,
  });

  it('are found from distances and directions, or from three directions alone, wherever they stand', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -150, max: 250, noNaN: true }),
        fc.double({ min: -150, max: 250, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (x, y, o) => {
          fc.pre(targets.every((t) => Math.hypot(t.x - x, t.y - y) > 5));
          const found = resect(targets.map((t) => sight(t, x, y, o, true)));
          expect(found.ok && Math.hypot(found.x - x, found.y - y)).toBeLessThan(1e-6);
          expect(found.ok && Math.abs(found.z - 12)).toBeLessThan(1e-9);
          const directions = resect(targets.map((t) => sight(t, x, y, o, false)));
          if (directions.ok) expect(Math.hypot(directions.x - x, directions.y - y)).toBeLessThan(1e-3);
        },
      ),
    );
  });

  it('name the danger circle', () => {
    // A station on the circle through three known points sees them under the same angles wherever it stands there.
    const on = (a: number): [number, number] => [50 + 60 * Math.cos(a), 40 + 60 * Math.sin(a)];
    const three = [0.3, 1.9, 3.6].map((a, i) => point(`K${i}`, ...on(a)));
    const [x, y] = on(5.1);
    const found = resect(three.map((t) => sight(t, x, y, 0.4, false)));
    expect(found.ok ? '' : found.reason).toContain('danger circle');
  });

  it('solve for a scale when it is free, and need two known points', () => {
    const scaled = targets.map((t) => ({
      ...sight(t, 20, 30, 1, true),
      horizontal: 1.0002 * Math.hypot(t.x - 20, t.y - 30),
    }));
    const found = resect(scaled, true);
    expect(found.ok && found.scale).toBeCloseTo(1 / 1.0002, 7);
    expect(resect([sight(targets[0], 1, 1, 0, true)]).ok).toBe(false);
  });
});
