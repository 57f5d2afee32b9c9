import { spawnSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { trendOf, volumesOverTime } from '#core/quantities';
import { square, surfaceOf } from '../bodies.ts';

const flat = (z: number) => surfaceOf(square(5, z));

describe('a heap over time', () => {
  it('holds above its base what it holds, and what came and went adds up, in whatever order it is given', () => {
    const steps = volumesOverTime([{ day: 60, surface: flat(3) }, { day: 0, surface: flat(2) }, { day: 30, surface: flat(5) }], { level: 1 }); // prettier-ignore
    expect(steps.map((s) => [s.day, s.above, s.came, s.went])).toEqual([
      [0, 100, null, null],
      [30, 400, 300, 0],
      [60, 200, 0, 200],
    ]);
  });

  it('volumes differ by came − went, whatever the surfaces are', () => {
    const z = fc.array(fc.integer({ min: 0, max: 300 }), { minLength: 9, maxLength: 9 });
    fc.assert(
      fc.property(fc.array(z, { minLength: 2, maxLength: 5 }), (all) => {
        const bumpy = (h: number[]) => surfaceOf(Array.from({ length: 9 }, (_, i) => [10 * (i % 3), 10 * Math.floor(i / 3), h[i] / 100])); // prettier-ignore
        const steps = volumesOverTime(
          all.map((h, day) => ({ day, surface: bumpy(h) })),
          null,
        );
        for (let i = 1; i < steps.length; i++) {
          const [a, b] = [steps[i - 1], steps[i]];
          expect(b.above - b.below - (a.above - a.below)).toBeCloseTo(b.came! - b.went!, 6);
        }
        // Above the first of them there is nothing on its day.
        expect(steps[0].above + steps[0].below).toBe(0);
      }),
    );
  });
});

describe('the line through volumes', () => {
  it('goes through two dates, and says nothing of how sure it is', () => {
    const trend = trendOf([0, 10], [500, 400])!;
    expect(trend.rate).toBe(-10);
    expect(trend.ratePlusMinus).toBeNull();
    expect(trend.at(20)).toEqual({ volume: 300, plusMinus: null });
    expect(trend.empty).toBe(50);
    expect(trendOf([0, 10], [400, 500])!.empty).toBeNull();
    expect(trendOf([3, 3], [1, 2])).toBeNull();
    expect(trendOf([3], [1])).toBeNull();
  });

  it('has the intervals of ordinary least squares, as R gives them', () => {
    const [days, volumes] = [[0, 31, 59, 90, 120], [812, 745, 771, 640, 598]]; // prettier-ignore
    const script = `d <- c(${days.join(',')}); v <- c(${volumes.join(',')}); m <- lm(v ~ d); cat(coef(m)[2], confint(m)[2, 2] - coef(m)[2], predict(m, data.frame(d = 151), interval = "prediction"))`;
    const run = spawnSync('Rscript', ['-e', script], { encoding: 'utf8' });
    const [rate, half, at, low] = run.stdout.trim().split(' ').map(Number);
    const trend = trendOf(days, volumes)!;
    expect(trend.rate).toBeCloseTo(rate, 5);
    // R’s quantile has more digits than the table.
    expect(trend.ratePlusMinus! / half).toBeCloseTo(1, 3);
    expect(trend.at(151).volume).toBeCloseTo(at, 2);
    expect(trend.at(151).plusMinus! / (at - low)).toBeCloseTo(1, 3);
  });
});
