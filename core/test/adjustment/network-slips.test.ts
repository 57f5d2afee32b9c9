import { describe, expect, it } from 'vitest';
import { adjustAndTest, type NetworkObservation, type NetworkPoint } from '#core/adjustment';
import { gridNetwork } from '../../../bench/networks.ts';
import { seeded } from '../../../demo/src/random.ts';

// The test comes first, with all observations in: who is left out was contradicted, and is named.

const LIMITS = { plan: 0.03, height: 0.05 };

function withSlip(size: number, seed: number) {
  const net = gridNetwork(5, seed);
  const random = seeded(seed);
  const inner = net.observations.filter((o) => o.to >= 0);
  const victim = inner[Math.floor(random.next() * inner.length)];
  const unit = victim.kind === 'direction' ? size / 90 : size;
  const by = unit * (random.next() < 0.5 ? 1 : -1);
  const observations = net.observations.map((o) => (o === victim ? { ...o, value: o.value + by } : o));
  return { net, observations, at: net.observations.indexOf(victim), by, kind: victim.kind };
}

describe('a network with one slip among its observations', () => {
  it('names it and is right without it, in hundreds of networks; a clean one names nothing', () => {
    const told = { right: 0, wrong: 0, missed: 0, clean: 0 };
    for (let seed = 1; seed <= 200; seed++) {
      const { net, observations, at, by } = withSlip(0.15, seed);
      const { adjustment, outliers } = adjustAndTest(net.points, observations, net.sets, LIMITS);
      if (!adjustment.ok) throw new Error(adjustment.reason);
      const named = outliers.map((o) => observations.indexOf(o.observation));
      if (named.length === 1 && named[0] === at) told.right++;
      else if (named.includes(at) || named.length === 0) told.missed++;
      else told.wrong++;
      if (named[0] === at) {
        expect(Math.abs(outliers[0].slip - by)).toBeLessThan(Math.abs(by) / 4);
        const worst = Math.max(
          ...adjustment.points.map((p, i) => Math.hypot(p.x - net.truth[i].x, p.y - net.truth[i].y)),
        );
        expect(worst).toBeLessThan(0.02);
      }
      if (seed <= 100 && adjustAndTest(net.points, net.observations, net.sets, LIMITS).outliers.length) told.clean++;
    }
    expect(told.right).toBeGreaterThanOrEqual(185);
    expect(told.wrong).toBeLessThanOrEqual(2);
    expect(told.clean).toBe(0);
  });

  it('of two in places apart names both', () => {
    const { net, observations, at } = withSlip(0.2, 7);
    const far = observations.findIndex((o, i) => i !== at && o.kind === 'distance' && ![o.from, o.to].some((k) => [observations[at].from, observations[at].to].includes(k))); // prettier-ignore
    const both = observations.map((o, i) => (i === far ? { ...o, value: o.value + 0.3 } : o));
    const { outliers } = adjustAndTest(net.points, both, net.sets, LIMITS);
    expect(new Set(outliers.map((o) => both.indexOf(o.observation)))).toEqual(new Set([at, far]));
  });

  it('says which others would explain it as well where geometry cannot tell', () => {
    // One new point between two given ones, on their line: both distances control each other alone.
    const point = (number: string, x: number, standing: NetworkPoint['standing']): NetworkPoint => ({ number, x, y: 0, z: 0, standing, sdPlan: 0, sdHeight: 0 }); // prettier-ignore
    const distance = (from: number, to: number, value: number): NetworkObservation => ({ kind: 'distance', from, to, set: -1, value, sd: 0.002, source: `${from}-${to}` }); // prettier-ignore
    const direction = (from: number, to: number, value: number): NetworkObservation => ({ kind: 'direction', from, to, set: from, value, sd: 1e-5, source: `${from}-${to}` }); // prettier-ignore
    const points = [point('A', 0, 'fixed'), point('P', 50, 'free'), point('B', 100, 'fixed')];
    const observations = [distance(0, 1, 50), distance(2, 1, 50.2), direction(0, 1, Math.PI / 2), direction(0, 2, Math.PI / 2)]; // prettier-ignore
    const { outliers } = adjustAndTest(points, observations, 3, LIMITS);
    expect(outliers).toHaveLength(1);
    expect(outliers[0].alike.map((o) => o.kind)).toEqual(['distance']);
  });
});
