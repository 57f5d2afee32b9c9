import { describe, expect, it } from 'vitest';
import { findTraverses } from '#core/adjustment';
import { readBookText } from '#core/book';
import { seeded } from '../../../demo/src/random.ts';
import { PLAIN_SETTINGS, reduce, type Known, type Reduction } from '#core/reduction';

const DEGREE = Math.PI / 180;
const given = (number: string, x: number, y: number, z = 100): Known => ({
  number,
  x,
  y,
  z,
  sdPlan: 0.002,
  sdHeight: 0.002,
  from: 'control',
});
const run = (rows: string[], control: Known[]): Reduction => {
  const book = readBookText(['book 1', 'unit m', 'angle deg', ...rows, 'end'].join('\n'))!;
  expect(book.problems).toEqual([]);
  const how = { ...PLAIN_SETTINGS, refraction: 1 };
  return reduce([{ id: 'b', ...book }], control, () => undefined, how);
};

/** Setups along places, each sighting the one before and the one behind; slips by row of what is sighted. */
function walk(
  places: Known[],
  closing: Known | null,
  first: Known,
  slip: (from: string, to: string) => { angle?: number; distance?: number; rise?: number } = () => ({}),
): string[] {
  const rows: string[] = [];
  places.forEach((p, i) => {
    const isEnd = i === places.length - 1;
    rows.push(`setup ${p.number} hi=0`);
    const back = i === 0 ? first : places[i - 1];
    const ahead = isEnd ? closing : places[i + 1];
    for (const [role, q] of [
      ['back', back],
      ['shot', ahead],
    ] as const) {
      if (!q) continue;
      const { angle = 0, distance = 0, rise = 0 } = slip(p.number, q.number);
      const [dx, dy, dz] = [q.x - p.x, q.y - p.y, q.z - p.z + rise];
      const flat = Math.hypot(dx, dy) + distance;
      const circle = (Math.atan2(dx, dy) / DEGREE + angle + 720 + 13.25 * (i + 1)) % 360;
      const slope = Math.hypot(flat, dz);
      rows.push(
        `${role} ${q.number} circle=${circle.toFixed(9)} zenith=${(Math.atan2(flat, dz) / DEGREE).toFixed(9)} dist=${slope.toFixed(6)} th=0`,
      );
    }
  });
  return rows;
}
const A = given('A', 0, 0);
const Z = given('Z', -50, 10);
const T1 = given('T1', 80, 60, 101);
const T2 = given('T2', 190, 40, 102);
const T3 = given('T3', 260, 120, 101.5);
const B = given('B', 340, 60, 103);
const C = given('C', 420, 160, 103);

describe('traverses', () => {
  it('that link two given ends without error close in angle, plan and height, wherever they bend', () => {
    const r = run(walk([A, T1, T2, T3, B], C, Z), [A, Z, B, C]);
    const [t] = findTraverses(r, 0.001);
    expect(t.stations).toEqual(['A', 'T1', 'T2', 'T3', 'B']);
    expect(t.kind).toBe('link');
    expect(t.angular / DEGREE).toBeCloseTo(0, 7);
    expect(t.linear).toBeLessThan(1e-5);
    expect(t.dz).toBeCloseTo(0, 5);
    expect(t.length).toBeCloseTo(
      [A, T1, T2, T3].reduce((s, p, i) => s + Math.hypot([T1, T2, T3, B][i].x - p.x, [T1, T2, T3, B][i].y - p.y), 0),
      5,
    );
    t.compass.forEach((p, i) => {
      expect(p.x).toBeCloseTo([T1, T2, T3][i].x, 4);
      expect(p.y).toBeCloseTo([T1, T2, T3][i].y, 4);
    });
  });

  it('share an angular misclosure out equally, and say how large it was', () => {
    const r = run(
      walk([A, T1, T2, T3, B], C, Z, (from, to) => (from === 'T2' && to === 'T3' ? { angle: 0.01 } : {})),
      [A, Z, B, C],
    );
    const [t] = findTraverses(r, 0.001);
    expect(t.angular / DEGREE).toBeCloseTo(0.01, 6);
    expect(t.angles).toBe(5);
    expect(t.linear).toBeGreaterThan(0.001);
  });

  it('that come back to their start close on themselves', () => {
    const T4 = given('T4', 60, -50, 99);
    const rows = [
      ...walk([A, T1, T2, T4], A, Z),
      // The start stood on again, sighting the last station and the first reference.
      ...walk([A], null, T4),
      ...walk([A], null, Z).slice(1),
    ];
    const [t] = findTraverses(run(rows, [A, Z]), 0.001);
    expect(t.kind).toBe('closed');
    expect(t.stations).toEqual(['A', 'T1', 'T2', 'T4', 'A']);
    expect(t.linear).toBeLessThan(1e-5);
  });

  // Closed form: with a gap of (dx, dy) after legs of lengths l, the compass rule moves station k by −(dx, dy) Σl/L;
  // the transit rule by −dx Σ|Δx|/Σ|Δx| and −dy Σ|Δy|/Σ|Δy| (any surveying textbook).
  it('share a gap out by compass and transit rule as the textbook has it, and name the leg that it runs along', () => {
    const slip = (from: string, to: string) =>
      (from === 'T1' && to === 'T2') || (from === 'T2' && to === 'T1') ? { distance: 0.2, rise: 0 } : {};
    const r = run(walk([A, T1, T2, T3, B], C, Z, slip), [A, Z, B, C]);
    const [t] = findTraverses(r, 0.001);
    expect(t.linear).toBeCloseTo(0.2, 4);
    expect(t.ratio).toBeCloseTo(t.length / t.linear, 6);
    expect(t.suspect).toBe('the distance from T1 to T2');
    const lengths = t.legs.map((l) => l.distance);
    const total = lengths.reduce((s, v) => s + v, 0);
    const carriedT2 = r.known.get('T2')!;
    expect(t.compass[1].x - carriedT2.x).toBeCloseTo((-t.dx * (lengths[0] + lengths[1])) / total, 4);
    const dxs = [80, 110 * (1 + 0.2 / Math.hypot(110, 20)), 70, 80];
    const share = (dxs[0] + dxs[1]) / dxs.reduce((s, v) => s + v, 0);
    expect(t.transit[1].x - carriedT2.x).toBeCloseTo(-t.dx * share, 4);
  });

  // Textbook: carried from either end with the angles as read, the two ways meet at the station whose angle is wrong.
  it('name the station whose angle is wrong, searched in the raw angles, wherever it is', () => {
    for (const at of ['A', 'T1', 'T2', 'T3', 'B']) {
      const ahead = { A: 'T1', T1: 'T2', T2: 'T3', T3: 'B', B: 'C' }[at];
      const slip = (from: string, to: string) => (from === at && to === ahead ? { angle: 0.35 } : {});
      const [t] = findTraverses(run(walk([A, T1, T2, T3, B], C, Z, slip), [A, Z, B, C]), 0.001);
      expect(Math.abs(t.angular) / DEGREE).toBeCloseTo(0.35, 6);
      expect(t.suspects).toEqual([{ what: 'angle', at }]);
      expect(t.suspect).toBe(`the angle at ${at}`);
    }
  });

  it('name both stations where the misclosure is too small for the distance between them', () => {
    // 3 m apart: 0.4 degrees there are 21 mm, no more than distances leave.
    const near = given('T9', 192, 42.2, 102);
    const slip = (from: string, to: string) => (from === 'T2' && to === 'T9' ? { angle: 0.4 } : {});
    const [t] = findTraverses(run(walk([A, T1, T2, near, T3, B], C, Z, slip), [A, Z, B, C]), 0.001);
    expect(t.suspects).toEqual([
      { what: 'angle', at: 'T2' },
      { what: 'angle', at: 'T9' },
    ]);
    expect(t.suspect).toContain('cannot tell apart');
  });

  it('blame no distance for an angle that is off by little more than is usual', () => {
    // Legs of some 45 m: 72 seconds at one station, where centring alone may turn 36.
    const at = (number: string, x: number, y: number): Known => given(number, x, y);
    const [p, q, r] = [at('P', 20, -40), at('Q', 60, -50), at('R', 95, -20)];
    const [from, to, back, ahead] = [at('S', 0, 0), at('E', 80, 10), at('K', -70, -10), at('M', 60, 90)];
    for (const [name, next] of [
      ['P', 'Q'],
      ['Q', 'R'],
      ['R', 'E'],
    ]) {
      const slip = (u: string, v: string) => (u === name && v === next ? { angle: 0.02 } : {});
      const [t] = findTraverses(run(walk([from, p, q, r, to], ahead, back, slip), [from, to, back, ahead]), 0.001);
      expect(t.suspects).toEqual([]);
    }
  });

  it('name nothing where two angles are wrong', () => {
    const slip = (from: string, to: string) => (from === 'T1' && to === 'T2' ? { angle: 0.3 } : from === 'T3' && to === 'B' ? { angle: 0.4 } : {}); // prettier-ignore
    expect(findTraverses(run(walk([A, T1, T2, T3, B], C, Z, slip), [A, Z, B, C]), 0.001)[0].suspect).toBeNull();
  });

  it('of hundreds with one wrong angle or distance are named right, and clean ones are not doubted', () => {
    const random = seeded(5);
    const noise = (rows: string[]): string[] =>
      rows.map((r) => r.replace(/circle=([\d.]+)/, (_, v: string) => `circle=${((Number(v) + random.normal(3 / 3600) + 360) % 360).toFixed(9)}`).replace(/dist=([\d.]+)/, (_, v: string) => `dist=${(Number(v) + random.normal(0.002)).toFixed(6)}`)); // prettier-ignore
    const stations = [A, T1, T2, T3, B];
    const told = { right: 0, wrong: 0, missed: 0, clean: 0 };
    for (let i = 0; i < 300; i++) {
      const at = i % 4;
      const [from, to] = [stations[at].number, stations[at + 1].number];
      const size = (0.1 + random.next()) * (random.next() < 0.5 ? 1 : -1);
      // A distance that both ends measured alike: a prism constant, say, of one leg.
      const slip = (p: string, q: string) =>
        i % 2
          ? p === from && q === to ? { angle: size } : {}
          : [p, q].sort().join() === [from, to].sort().join() ? { distance: size } : {}; // prettier-ignore
      const [t] = findTraverses(run(noise(walk(stations, C, Z, slip)), [A, Z, B, C]), 0.001);
      const named = t.suspects.some((s) => (s.what === 'angle' ? i % 2 === 1 && s.at === from : i % 2 === 0 && s.from === from && s.to === to)); // prettier-ignore
      if (named) told.right++;
      else if (t.suspects.length) told.wrong++;
      else told.missed++;
      const [clean] = findTraverses(run(noise(walk(stations, C, Z)), [A, Z, B, C]), 0.001);
      if (clean.suspects.length) told.clean++;
    }
    expect(told.right).toBeGreaterThanOrEqual(285);
    expect(told.wrong).toBeLessThanOrEqual(6);
    expect(told.clean).toBeLessThanOrEqual(3);
  });

  it('are not seen where a chain ends in nothing given', () => {
    expect(findTraverses(run(walk([A, T1, T2], null, Z), [A, Z]), 0.001)).toEqual([]);
  });
});

describe('level runs and nets', () => {
  const level = (rows: string[], control: Known[]): Reduction => run(rows, control);

  it('carry heights and close on what is known, in proportion to the root of their length', () => {
    const r = level(
      [
        'level back A reading=1.500 dist=50',
        'level inter M reading=1.100 dist=20',
        'level fore P reading=1.000 dist=50',
        'level back P reading=1.400 dist=50',
        'level fore B reading=1.895 dist=50',
      ],
      [given('A', 0, 0, 10), given('B', 9, 9, 10)],
    );
    const [one] = r.levelling!.runs;
    expect([one.from, one.to, one.differences.length, one.length]).toEqual(['A', 'B', 2, 200]);
    expect(one.misclosure).toBeCloseTo(0.005, 9);
    expect(one.allowed).toBeCloseTo(0.01 * Math.sqrt(0.2), 12);
    expect(one.within).toBe(false);
    expect(r.notes.map((n) => n.kind)).toContain('level-misclosure');
    // The misclosure is shared out by length: half of it before P.
    const heights = new Map(r.levelling!.heights.map((h) => [h.number, h.z]));
    expect(heights.get('P')).toBeCloseTo(10.5 - 0.0025, 9);
    expect(heights.get('M')).toBeCloseTo(10.4, 9);
  });

  // Normal equations of the same net solved by hand: three equal runs meet in P; the weights are 1/length.
  it('are adjusted as a net: the weighted mean of every way to a point', () => {
    const r = level(
      [
        'level back A reading=1.000 dist=50',
        'level fore P reading=0.500 dist=50',
        'level back B reading=1.000 dist=100',
        'level fore P reading=0.496 dist=100',
        'level back C reading=1.000 dist=25',
        'level fore P reading=0.502 dist=25',
      ],
      [given('A', 0, 0, 10), given('B', 9, 9, 10), given('C', 5, 5, 10)],
    );
    const [p] = r.levelling!.heights;
    const weights = [1 / 100, 1 / 200, 1 / 50];
    const sum = weights.reduce((s, w) => s + w, 0);
    expect(p.z).toBeCloseTo((10.5 * weights[0] + 10.504 * weights[1] + 10.498 * weights[2]) / sum, 9);
    expect(p.sd).toBeCloseTo(0.003 * Math.sqrt(1 / (1000 * sum)), 9);
  });

  // A line of sight that rises by c over a sight: readings are too high by c·D, a difference by c·(behind − before).
  it('report a two-peg test, and loops of the net that do not close', () => {
    const c = 2e-4;
    const read = (role: string, number: string, staff: number, dist: number): string => `level ${role} ${number} reading=${(staff + c * dist).toFixed(5)} dist=${dist}`; // prettier-ignore
    const r = level(
      [
        read('back', 'A', 1.5, 30), read('fore', 'P', 1.0, 30),
        read('back', 'A', 1.4, 5), read('fore', 'P', 0.9, 55),
        read('back', 'P', 1.2, 30), read('fore', 'Q', 1.0, 30),
        read('back', 'Q', 1.0, 30), read('fore', 'A', 1.69, 30),
      ],
      [given('A', 0, 0, 10)],
    ); // prettier-ignore
    const [test] = r.levelling!.tests;
    expect([test.from, test.to]).toEqual(['A', 'P']);
    expect(test.collimation).toBeCloseTo(c, 9);
    expect(r.levelling!.freedom).toBe(2);
    const loop = r.levelling!.loops.find((l) => l.points.length === 4)!;
    expect(new Set(loop.points)).toEqual(new Set(['A', 'P', 'Q']));
    expect(Math.abs(loop.misclosure)).toBeCloseTo(0.01, 2);
  });

  it('give their heights to stations and shots, unless the run misses its end by too much', () => {
    const rows = (last: string) => [
      'level back A reading=1.500 dist=30',
      'level fore S reading=1.000 dist=30',
      'level back S reading=1.000 dist=30',
      `level fore B reading=${last} dist=30`,
      'setup A hi=1.6',
      'back B circle=45 zenith=90 dist=12.728 th=1.6',
      'shot S circle=0 zenith=90 dist=20 th=1.55',
    ];
    const control = [given('A', 0, 0, 10), given('B', 9, 9, 10)];
    const shot = (r: Reduction) => r.points.list().find((p) => p.number === 'S')!;
    expect(shot(level(rows('1.500'), control)).z).toBeCloseTo(10.5, 9);
    expect(shot(level(rows('1.600'), control)).z).toBeCloseTo(10.05, 3);
  });

  it('with readings that nothing known reaches, or without a reading back, are said and give no height', () => {
    const r = level(
      ['level fore Q reading=1.0', 'level back X reading=1.0', 'level fore Y reading=2.0'],
      [given('A', 0, 0, 10)],
    );
    expect(r.levelling!.heights).toEqual([]);
    expect(r.notes.map((n) => [n.kind, n.row])).toEqual([
      ['level-unreached', 4],
      ['level-unreached', 5],
    ]);
  });
});
