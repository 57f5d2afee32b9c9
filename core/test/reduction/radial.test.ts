import { describe, expect, it } from 'vitest';
import { readBookText } from '#core/book';
import { PLAIN_SETTINGS, reduce, type Known, type ReductionSettings } from '#core/reduction';

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
const SETTINGS: ReductionSettings = { ...PLAIN_SETTINGS, angleSpread: 10 * SECOND, refraction: 0 };
const book = (rows: string) => {
  const read = readBookText(`book 1\nunit m\nangle deg\norder EN\n${rows}\nend`)!;
  expect(read.problems).toEqual([]);
  return { id: 'b', records: read.records, instruments: read.instruments, targets: read.targets };
};
const run = (
  rows: string,
  control: Known[],
  settings: Partial<ReductionSettings> = {},
  decided: Record<number, 'used' | 'aside'> = {},
) => {
  const r = reduce([book(rows)], control, (_, row) => decided[row], { ...SETTINGS, ...settings });
  return { ...r, points: r.points.list() };
};

describe('radial reduction', () => {
  const control = [point('A', 0, 0), point('B', 0, 100), point('C', 100, 0), point('D', 100, 100)];

  it('puts a shot where sines and cosines say, with its precision', () => {
    const { points, setups } = run(
      'setup A hi=1.5\nback B circle=10 zenith=90 dist=100 th=1.5\nshot 1 circle=55 zenith=80 dist=50 th=2',
      control,
    );
    expect(setups[0].orientation).toBeCloseTo((-10 * Math.PI) / 180, 6);
    const flat = 50 * Math.sin((80 * Math.PI) / 180);
    expect(points[0].x).toBeCloseTo(flat * Math.SQRT1_2, 4);
    expect(points[0].y).toBeCloseTo(flat * Math.SQRT1_2, 4);
    expect(points[0].z).toBeCloseTo(10 + 1.5 + 50 * Math.cos((80 * Math.PI) / 180) - 2, 3);
    expect(points[0].sdPlan).toBeGreaterThan(0.001);
    expect(points[0].sdPlan).toBeLessThan(0.01);
  });

  it('is oriented by a circle reading alone: no zenith angle and no distance', () => {
    const { points, setups } = run('setup A hi=1.5\nback B circle=10 th=1.5\nshot 1 circle=55 zenith=90 dist=50 th=1.5\ncheck C circle=100', control); // prettier-ignore
    expect(setups[0].failed).toBeNull();
    expect(setups[0].orientation).toBeCloseTo((-10 * Math.PI) / 180, 6);
    expect(setups[0].sdOrientation).toBeLessThan(20 * SECOND);
    expect([points[0].waits, points[0].x > 35.3, points[0].sdPlan < 0.01]).toEqual([false, true, true]);
    expect(setups[0].checks[0]).toMatchObject({ number: 'C', within: true });
    // A station from three circles alone.
    const [x, y] = [30, 40];
    const circles = control.map((c) => `back ${c.number} circle=${((Math.atan2(c.x - x, c.y - y) * 180) / Math.PI + 720 - 20) % 360}`); // prettier-ignore
    const free = run(['setup F hi=1.5', ...circles].join('\n'), control).setups[0];
    expect(Math.hypot(free.station!.x - x, free.station!.y - y)).toBeLessThan(1e-4);
    expect(free.backsights.map((b) => b.within)).toEqual([true, true, true, true]);
  });

  it('weighs several backsights, and leaves one that does not fit undecided while others carry the setup', () => {
    const rows =
      'setup A hi=1.5\nback B circle=0 zenith=90 dist=100 th=1.5\nback C circle=90.001 zenith=90 dist=100 th=1.5\nback D circle=47 zenith=90 dist=141.42 th=1.5\nshot 1 circle=30 zenith=90 dist=50 th=1.5';
    const { setups, points } = run(rows, control);
    expect(setups[0].backsights.map((b) => b.state)).toEqual(['used', 'used', 'undecided']);
    expect(setups[0].waits).toBeNull();
    expect(points[0].waits).toBe(false);
    expect(Math.abs(setups[0].backsights[0].difference)).toBeLessThan(3 * SECOND);
  });

  it('lets the points of a setup wait whose only backsight is out of tolerance, until somebody decides', () => {
    const rows =
      'setup A hi=1.5\nback B circle=0 zenith=90 dist=100.2 th=1.5\nshot 1 circle=30 zenith=90 dist=50 th=1.5';
    const open = run(rows, control);
    expect(open.setups[0].waits).toBe('the backsight to B is undecided');
    expect(open.points[0].waits).toBe(true);
    const backRow = open.setups[0].backsights[0].row;
    expect(run(rows, control, {}, { [backRow]: 'used' }).points[0].waits).toBe(false);
    expect(run(rows, control, {}, { [backRow]: 'aside' }).setups[0].waits).toBe('every backsight is set aside');
    // Under the rule that asks, even a good one waits.
    expect(run(rows.replace('100.2', '100'), control, { rule: 'ask' }).setups[0].waits).not.toBeNull();
  });

  it('carries stations forward in whatever order the books hold them', () => {
    const forward =
      'setup A hi=1.5\nback B circle=0 zenith=90 dist=100 th=1.5\nshot P circle=45 zenith=90 dist=50 th=1.5';
    const onward =
      'setup P hi=1.4\nback A circle=0 zenith=90 dist=50 th=1.4\nshot 7 circle=180 zenith=90 dist=10 th=1.4';
    for (const rows of [`${forward}\n${onward}`, `${onward}\n${forward}`]) {
      const { points } = run(rows, control);
      const seven = points.find((p) => p.number === '7')!;
      expect(seven.x).toBeCloseTo(60 * Math.SQRT1_2, 3);
      expect(seven.y).toBeCloseTo(60 * Math.SQRT1_2, 3);
      expect(seven.sdPlan).toBeGreaterThan(points.find((p) => p.number === 'P')!.sdPlan);
    }
  });

  it('never gives a coordinate in silence where something is missing', () => {
    const kinds = (rows: string): string[] => run(rows, control).notes.map((n) => n.kind);
    expect(kinds('setup A hi=1.5\nshot 1 circle=30 zenith=90 dist=50 th=1.5')).toContain('no-backsight');
    expect(
      kinds('setup A hi=1.5\nback X circle=0 zenith=90 dist=50 th=1.5\nshot 1 circle=30 zenith=90 dist=50 th=1.5'),
    ).toContain('backsight-unknown');
    expect(kinds('setup Q hi=1.5\nback B circle=0 zenith=90 dist=50 th=1.5')).toContain('station-unknown');
    expect(
      kinds('setup A hi=1.5\nback B circle=0 zenith=90 dist=100 th=1.5\nshot 1 circle=30 zenith=0 dist=50 th=1.5'),
    ).toContain('zenith-impossible');
    const lacking = run(
      'setup A hi=1.5\nback B circle=0 zenith=90 dist=100 th=1.5\nshot 1 circle=30 zenith=90 dist=50',
      control,
    );
    expect(lacking.notes.map((n) => n.kind)).toContain('reading-missing');
    expect(lacking.points[0].z).toBeNaN();
    expect(
      run(
        'setup A hi=1.5\nback X circle=0 zenith=90 dist=50 th=1.5\nshot 1 circle=30 zenith=90 dist=50 th=1.5',
        control,
      ).points,
    ).toEqual([]);
    // Two setups of one name are two setups.
    expect(
      run(
        'setup A hi=1.5\nback B circle=0 zenith=90 dist=100 th=1.5\nsetup A hi=1.6\nback C circle=90 zenith=90 dist=100 th=1.6',
        control,
      ).setups.map((s) => s.height),
    ).toEqual([1.5, 1.6]);
  });

  it('an azimuth that was typed orients where the target is not known', () => {
    const { points } = run(
      'setup A hi=1.5\nazimuth X 90\nback X circle=0 zenith=90 dist=50 th=1.5\nshot 1 circle=0 zenith=90 dist=20 th=1.5',
      control,
    );
    expect(points[0].x).toBeCloseTo(20, 6);
  });
});
