import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText } from '#core/book';
import { PLAIN_SETTINGS, reduce, resect, type Decision, type Known, type Reduction, type ResectionSight } from '#core/reduction'; // prettier-ignore
import { seeded } from '../../../demo/src/random.ts';

// A free station with one bad sight: each observation is held against the others, the one is named, its points wait.

const SECOND = Math.PI / 648_000;
const DEGREE = Math.PI / 180;
const given = (number: string, x: number, y: number, z = 12): Known => ({ number, x, y, z, sdPlan: 0, sdHeight: 0.002, from: 'control' }); // prettier-ignore
const five = [given('A', 0, 0), given('B', 120, 10), given('C', 60, 90), given('D', -30, 70), given('E', 40, -60)];
const AT = { x: 35, y: 20 };

/** Sights with noise of the stated size; `slip` is added to one distance, metres, or one circle, radians. */
function sightsOf(
  seed: number,
  slip: { at: number; distance?: number; circle?: number },
  targets = five,
): ResectionSight[] {
  // prettier-ignore
  const random = seeded(seed);
  return targets.map((target, i) => {
    const [dx, dy] = [target.x - AT.x, target.y - AT.y];
    const own: { distance?: number; circle?: number } = i === slip.at ? slip : {};
    return {
      target,
      circle: Math.atan2(dx, dy) - 0.7 + random.normal(5 * SECOND) + (own.circle ?? 0),
      horizontal: Math.hypot(dx, dy) + random.normal(0.002) + (own.distance ?? 0),
      rise: target.z - 11,
      sdDirection: 5 * SECOND,
      sdDistance: 0.002,
      sdRise: 0.003,
    };
  });
}

interface Outside {
  all: { x: number; y: number; squares: number };
  without: { sight: number; what: string; x: number; y: number; orientation: number };
}
function byNumpy(sights: ResectionSight[]): Outside {
  const told = sights.map((s) => {
    const far = Math.hypot(s.target.x - AT.x, s.target.y - AT.y);
    // Centring of a millimetre, as the resection reckons with.
    return { x: s.target.x, y: s.target.y, circle: s.circle, distance: s.horizontal, sdDirection: s.sdDirection + 0.001 / far, sdDistance: s.sdDistance }; // prettier-ignore
  });
  const script = join(import.meta.dirname, 'free_station.py');
  const input = JSON.stringify({ sights: told, start: [AT.x + 1, AT.y - 1, 0.7] });
  return JSON.parse(execFileSync('/usr/bin/python3', [script], { input, encoding: 'utf8' })) as Outside;
}

describe('a bad sight in a free station', () => {
  it('is the one that an independent solver finds by leaving out each in turn, and the station is where that puts it', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const sights = sightsOf(
        seed,
        seed % 2 ? { at: seed % 5, distance: 0.1 } : { at: seed % 5, circle: 200 * SECOND },
      );
      const outside = byNumpy(sights);
      const found = resect(sights);
      if (!found.ok) throw new Error(found.reason);
      expect(found.doubts).toMatchObject([{ sight: outside.without.sight, what: outside.without.what, sure: true }]);
      // Weights change a little with the station's place: 0.01 mm.
      expect(Math.hypot(found.x - outside.without.x, found.y - outside.without.y)).toBeLessThan(1e-5);
      expect(Math.hypot(found.x - AT.x, found.y - AT.y)).toBeLessThan(0.006);
      // With all of them in, it was spoilt.
      expect(Math.hypot(outside.all.x - AT.x, outside.all.y - AT.y)).toBeGreaterThan(0.008);
    }
  });

  it('is named in hundreds of stations, and nothing is named where nothing is wrong', () => {
    const told = { right: 0, wrong: 0, missed: 0, clean: 0 };
    for (let seed = 1; seed <= 300; seed++) {
      const at = seed % 5;
      const bad = resect(sightsOf(seed, seed % 2 ? { at, distance: (seed % 3 ? 1 : -1) * 0.08 } : { at, circle: 0.0015 })); // prettier-ignore
      const named = bad.ok ? bad.doubts.filter((d) => d.sure) : [];
      if (named.length === 1 && named[0].sight === at && named[0].what === (seed % 2 ? 'distance' : 'direction'))
        told.right++; // prettier-ignore
      else if (named.length) told.wrong++;
      else told.missed++;
      const clean = resect(sightsOf(seed + 1000, { at: -1 }));
      if (!clean.ok || clean.doubts.length) told.clean++;
    }
    expect(told.right).toBeGreaterThanOrEqual(294);
    expect(told.wrong).toBeLessThanOrEqual(3);
    expect(told.clean).toBe(0);
  });

  it('that the others cannot tell apart is named with the other ones, and nothing is left out', () => {
    // Two distances and two directions: one reading more than is needed.
    const two = sightsOf(3, { at: 0, distance: 0.2 }, five.slice(0, 2));
    const found = resect(two);
    expect(found.ok && found.doubts.length).toBeGreaterThan(1);
    expect(found.ok && found.doubts.every((d) => !d.sure)).toBe(true);
    expect(found.ok && new Set(found.doubts.map((d) => d.sight)).size).toBe(2);
  });

  const rows = (slip: number, th = 1.5): string[] => [
    'setup F hi=1.5',
    ...five.map((t, i) => {
      const [dx, dy] = [t.x - AT.x, t.y - AT.y];
      const circle = (Math.atan2(dx, dy) / DEGREE + 400) % 360;
      return `back ${t.number} circle=${circle.toFixed(6)} zenith=90 dist=${(Math.hypot(dx, dy) + (i === 2 ? slip : 0)).toFixed(4)} th=${i === 3 ? th : 1.5}`;
    }),
    'shot 1 circle=100 zenith=90 dist=20 th=1.5',
  ];
  const run = (text: string[], decided: Record<number, Decision> = {}): Reduction => {
    const book = readBookText(['book 1', 'unit m', 'angle deg', ...text, 'end'].join('\n'))!;
    return reduce([{ id: 'b', ...book }], five, (_, row) => decided[row], { ...PLAIN_SETTINGS, refraction: 1 });
  };

  it('lets the points of its setup wait until somebody decides; the good ones are not blamed', () => {
    const open = run(rows(0.1));
    const [setup] = open.setups;
    expect(setup.waits).toBe('the distance to C does not fit the other sights that the station was found from');
    expect(setup.backsights.map((b) => b.within)).toEqual([true, true, false, true, true]);
    expect(Math.hypot(setup.station!.x - AT.x, setup.station!.y - AT.y)).toBeLessThan(0.001);
    expect(open.points.list().every((p) => p.waits)).toBe(true);
    const row = setup.backsights[2].row;
    for (const decision of ['aside', 'direction'] as const) {
      const done = run(rows(0.1), { [row]: decision });
      expect(done.setups[0].waits).toBeNull();
      expect(Math.hypot(done.setups[0].station!.x - AT.x, done.setups[0].station!.y - AT.y)).toBeLessThan(0.001);
    }
    // Used all the same, it takes part, on somebody's word.
    const used = run(rows(0.1), { [row]: 'used' });
    expect(used.setups[0].waits).toBeNull();
    expect(Math.hypot(used.setups[0].station!.x - AT.x, used.setups[0].station!.y - AT.y)).toBeGreaterThan(0.01);
  });

  it('in height alone is named too, and the station has the height that the others agree on', () => {
    const [setup] = run(rows(0, 1.8)).setups;
    expect(setup.doubts).toMatchObject([{ number: 'D', what: 'height', sure: true }]);
    expect(setup.station!.z).toBeCloseTo(12, 3);
    expect(setup.waits).toContain('the height to D');
  });
});

describe('a free station by directions alone', () => {
  const see = (targets: Known[], x: number, y: number): ResectionSight[] =>
    targets.map((target) => ({
      target,
      circle: Math.atan2(target.x - x, target.y - y) + 1,
      horizontal: NaN,
      rise: NaN,
      sdDirection: 3 * SECOND,
      sdDistance: 0.002,
      sdRise: NaN,
    }));

  it('is found from three points in one line, wherever it stands beside the line', () => {
    const line = [given('K', 0, 0), given('L', 50, 25), given('M', 120, 60)];
    fc.assert(
      fc.property(
        fc.double({ min: -80, max: 200, noNaN: true }),
        fc.double({ min: 15, max: 90, noNaN: true }),
        (t, off) => {
          // prettier-ignore
          const [x, y] = [t * 0.894 - off * 0.447, t * 0.447 + off * 0.894];
          const found = resect(see(line, x, y));
          // 3″ over a hundred metres, much more where the rays meet at a narrow angle.
          if (found.ok) expect(Math.hypot(found.x - x, found.y - y)).toBeLessThan(1e-4);
          else expect(Math.abs(t - 50)).toBeGreaterThan(60);
        },
      ),
    );
  });

  it('is found where it stands in line with two of them', () => {
    const three = [given('K', 0, 0), given('L', 100, 0), given('M', 40, 80)];
    for (const x of [30, 150]) {
      const found = resect(see(three, x, 0));
      expect(found.ok && Math.hypot(found.x - x, found.y)).toBeLessThan(1e-4);
    }
  });

  // Any textbook: a point on the circle through the three sees them under the same angles from everywhere on it.
  it('on the danger circle is refused with that reason, and the user reads it', () => {
    const on = (a: number): [number, number] => [50 + 60 * Math.cos(a), 40 + 60 * Math.sin(a)];
    const three = [0.3, 1.9, 3.6].map((a, i) => given(`K${i}`, ...on(a)));
    const [x, y] = on(5.1);
    const rows = see(three, x, y).map((s) => `back ${s.target.number} circle=${(((s.circle / DEGREE) % 360) + 360) % 360} zenith=90 th=1.5`); // prettier-ignore
    const book = readBookText(['book 1', 'unit m', 'angle deg', 'setup F hi=1.5', ...rows, 'end'].join('\n'))!;
    expect(book.problems).toEqual([]);
    const r = reduce([{ id: 'b', ...book }], three, () => undefined, PLAIN_SETTINGS);
    expect(r.setups[0].failed).toContain('danger circle');
    expect(r.setups[0].failed).not.toContain('nobody knows');
  });
});
