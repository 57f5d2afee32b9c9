import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText, writeBookText } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { newDocument, plainIntake, type ProjectDocument } from '#core/project';
import { adjustReduction } from '#core/stages';
import { inverseSymmetric } from '#core/kernel';
import { failedRead, type ReadPoints } from '#core/exchange';
import { PLAIN_SETTINGS, reduce, type Known, type Reduction } from '#core/reduction';

const control: Known[] = [{ number: 'K1', x: 500, y: 900, z: 20, sdPlan: 0.002, sdHeight: 0.003, from: 'control' }];
const bookOf = (rows: string[], head = 'angle dms') =>
  readBookText(['book 1', 'unit m', head, 'order EN', ...rows, 'end'].join('\n'))!;
const run = (rows: string[], settings: Partial<typeof PLAIN_SETTINGS> = {}): Reduction => {
  const book = bookOf(rows);
  expect(book.problems).toEqual([]);
  return reduce([{ id: 'b', ...book }], control, () => undefined, { ...PLAIN_SETTINGS, ...settings });
};
const at = (r: Reduction, number: string) => r.points.list().find((p) => p.number === number)!;
const adjusted = (r: Reduction) => {
  const { adjustment, outliers } = adjustReduction(r, () => 'fixed', { checkPlan: 1, checkHeight: 1, centring: 0.001 });
  if (!adjustment.ok) throw new Error(adjustment.reason);
  return { adjustment, outliers };
};
const shot = (number: string, x: number, y: number, z: number, fix: string, more = 'sp=0.008 sh=0.012'): string =>
  `gnss ${number} ${x} ${y} ${z} fix=${fix} ${more}`;

describe('measurements by satellite of one number', () => {
  it('a fixed one beats a float one: the float one is kept, shown, and not in the mean', () => {
    const rows = [shot('7', 100, 200, 10, 'fixed'), shot('7', 100.06, 200, 10.05, 'float', 'sp=0.05 sh=0.08')];
    const r = run(rows);
    expect(at(r, '7')).toMatchObject({ x: 100, y: 200, z: 10, waits: false });
    const [mean] = r.gnss;
    expect(mean.readings.map((g) => [g.fix, g.used])).toEqual([['fixed', true], ['float', false]]); // prettier-ignore
    expect(mean.readings[1].dx).toBeCloseTo(0.06, 9);
    expect(r.notes.map((n) => n.kind)).toEqual(['gnss-left', 'gnss-poor']);
    expect(r.notes[0].text).toBe('1 of 2 measurements of 7 is not in the mean: not fixed, and another is');
    // Where the project takes all of them, they are weighed by what they state.
    expect(at(run(rows, { gnssMean: 'all' }), '7').x).toBeGreaterThan(100);
  });

  it('are held against each other pair by pair, by what they state', () => {
    const r = run([shot('7', 100, 200, 10, 'fixed'), shot('7', 100.002, 200, 10.001, 'fixed'), shot('7', 100.06, 200, 10, 'fixed')]); // prettier-ignore
    expect(r.notes.map((n) => [n.kind, n.rows])).toEqual([
      ['gnss-spread', [7, 5]],
      ['gnss-spread', [7, 6]],
    ]);
  });

  it('every poor one is named, each with its row', () => {
    const r = run([shot('7', 100, 200, 10, 'float', 'sp=0.2 sh=0.3'), shot('7', 100.01, 200, 10, 'float', 'sp=0.2 sh=0.3 tilt=20')]); // prettier-ignore
    expect(r.notes.filter((n) => n.kind === 'gnss-poor').map((n) => n.row)).toEqual([5, 6]);
  });

  it('promise the worse of what they state and of how far they agree', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.02, max: 0.02, noNaN: true }), { minLength: 2, maxLength: 8 }),
        (offs) => {
          const r = run(offs.map((v) => shot('7', 100 + Number(v.toFixed(4)), 200, 10, 'fixed')));
          const p = at(r, '7');
          const stated = 0.008 / Math.sqrt(offs.length);
          expect(p.sdPlan).toBeGreaterThanOrEqual(stated - 1e-7);
          const values = offs.map((v) => Number(v.toFixed(4)));
          const mean = values.reduce((s, v) => s + v, 0) / values.length;
          const squares = values.reduce((s, v) => s + (v - mean) ** 2, 0) / 2 / (values.length - 1);
          expect(p.sdPlan).toBeCloseTo(Math.max(stated, Math.sqrt(squares / values.length)), 6);
        },
      ),
    );
  });

  it('of two places under one number wait: their mean is nowhere', () => {
    expect(at(run([shot('7', 100, 200, 10, 'fixed'), shot('7', 140, 230, 11, 'fixed')]), '7').waits).toBe(true);
  });

  it('of control is compared with it, as a total station’s check is', () => {
    const good = run([shot('K1', 500.005, 900, 20.01, 'fixed')]);
    expect(good.gnss[0].control!.dz).toBeCloseTo(0.01, 9);
    expect(good.notes).toEqual([]);
    const off = run([shot('K1', 500.1, 900, 20.01, 'fixed')]);
    expect(off.notes.map((n) => [n.kind, n.values[0].toFixed(3)])).toEqual([['gnss-check', '0.100']]);
  });
});

describe('covariances between the axes of a position', () => {
  const two = [
    shot('7', 100, 200, 10, 'fixed', 'cov=144/100/400/60/-80/40'),
    shot('7', 100.012, 199.996, 10.018, 'fixed', 'cov=64/81/225/-20/30/50'),
  ];

  it('weigh the mean: it is that of a solver of its own', () => {
    const [p] = run(two).gnss;
    // numpy: Q = inv(ΣC⁻¹), m = Q·ΣC⁻¹x, of the readings above.
    expect(p.x).toBeCloseTo(100.0043111, 7);
    expect(p.y).toBeCloseTo(200.00039963, 7);
    expect(p.z).toBeCloseTo(10.00875864, 7);
    expect(p.sdPlan).toBeCloseTo(0.00584981, 7);
    expect(p.sdHeight).toBeCloseTo(0.01150815, 7);
    p.covariance!.forEach((v, i) =>
      expect(v * 1e6).toBeCloseTo([30.924798, 37.515822, 132.437465, 2.382285, 5.216671, 32.561362][i], 4),
    );
  });

  it('are the plain mean where there are none between the axes', () => {
    const plain = at(run([shot('7', 100, 200, 10, 'fixed'), shot('7', 100.004, 200.002, 10.006, 'fixed', 'sp=0.01 sh=0.02')]), '7'); // prettier-ignore
    const said = at(run([shot('7', 100, 200, 10, 'fixed', 'cov=64/64/144/0/0/0'), shot('7', 100.004, 200.002, 10.006, 'fixed', 'cov=100/100/400/0/0/0')]), '7'); // prettier-ignore
    for (const f of ['x', 'y', 'z', 'sdPlan', 'sdHeight'] as const) expect(said[f]).toBeCloseTo(plain[f], 9);
  });

  it('let two readings differ where they promise little, and not across it', () => {
    const long = 'cov=400/400/400/390/0/0';
    const spread = (x: number, y: number) =>
      run([shot('7', 100, 200, 10, 'fixed', long), shot('7', x, y, 10, 'fixed', long)], { checkPlan: 1 }).notes.length;
    expect(spread(100.05, 200.05)).toBe(0);
    expect(spread(100.05, 199.95)).toBe(1);
  });

  it('make the network’s place the one that all of it together wants least to leave', () => {
    const sighting = 'circle=30-00-04 zenith=91-00-00 dist=50.010 th=1.500';
    const setup = ['setup K1 hi=1.500', 'back K2 circle=0-00-00 zenith=90-00-00 dist=100.000 th=1.500', `check 7 ${sighting}`]; // prettier-ignore
    const [x7, y7, z7] = [525.02, 943.29, 19.15];
    const book = bookOf([shot('7', x7, y7, z7, 'fixed', 'cov=144/100/400/60/-80/40'), ...setup]);
    const both = [...control, { ...control[0], number: 'K2', y: 1000 }];
    const r = reduce([{ id: 'b', ...book }], both, () => undefined, PLAIN_SETTINGS);
    const { adjustment, outliers } = adjusted(r);
    expect(outliers).toEqual([]);
    const p = adjustment.points.find((q) => q.number === '7')!;
    expect(p.moved).toBeGreaterThan(0.003);
    const weight = inverseSymmetric([[144e-6, 60e-6, -80e-6], [60e-6, 100e-6, 40e-6], [-80e-6, 40e-6, 400e-6]])!; // prettier-ignore
    const sights = adjustment.observations.filter((o) => o.observation.to === adjustment.points.indexOf(p));
    expect(sights.map((o) => o.observation.kind)).toEqual(['direction', 'distance', 'rise']);
    const squares = (x: number, y: number, z: number): number => {
      const v = [x - x7, y - y7, z - z7];
      const said = { direction: Math.atan2(x - 500, y - 900) - adjustment.orientations[0], distance: Math.hypot(x - 500, y - 900), rise: z - 20 }; // prettier-ignore
      const own = v.reduce((s, a, i) => s + v.reduce((t, b, k) => t + a * b * weight[i][k], 0), 0);
      return sights.reduce((s, { observation: o }) => s + ((said[o.kind as 'rise'] - o.value) / o.sd) ** 2, own);
    };
    const h = 1e-6;
    const least = squares(p.x, p.y, p.z);
    for (const [dx, dy, dz] of [
      [h, 0, 0],
      [0, h, 0],
      [0, 0, h],
    ]) {
      // prettier-ignore
      const slope = squares(p.x + dx, p.y + dy, p.z + dz) - squares(p.x - dx, p.y - dy, p.z - dz);
      const bend = squares(p.x + dx, p.y + dy, p.z + dz) + squares(p.x - dx, p.y - dy, p.z - dz) - 2 * least;
      // Metres to the bottom of the valley along this axis.
      expect(Math.abs((slope / 2 / bend) * h)).toBeLessThan(1e-6);
    }
  });

  it('say no elevation a second time where levels gave it', () => {
    const rows = ['level back K1 reading=1.500 dist=20', 'level fore 7 reading=11.470 dist=20'];
    const { adjustment } = adjusted(run([shot('7', 100, 200, 10, 'fixed', 'cov=144/100/400/60/-80/40'), ...rows]));
    const p = adjustment.points.find((q) => q.number === '7')!;
    expect([p.x, p.y]).toEqual([100, 200]);
    expect(p.z).toBeCloseTo(10.03, 9);
    expect(adjustment.observations.map((o) => o.observation.kind)).toEqual(['east', 'north', 'rise']);
    expect(adjustment.freedom).toBe(0);
  });

  it('that no place can have are said, and not kept', () => {
    // Each pair of axes is possible by itself; the three together are not.
    const book = bookOf([shot('7', 100, 200, 10, 'fixed', 'cov=100/100/100/-90/90/90')]);
    expect(book.records[0].gnss!.covariance).toBeNull();
    expect(book.problems[0].reason).toContain('covariances');
  });
});

describe('a tilt', () => {
  it('is plain degrees whatever the book’s angles are, and comes back as it was', () => {
    for (const head of ['angle dms', 'angle deg', 'angle gon', 'angle packed']) {
      const book = bookOf([shot('7', 100, 200, 10, 'fixed', 'tilt=12.5')], head);
      expect(book.problems).toEqual([]);
      expect((book.records[0].gnss!.tilt * 180) / Math.PI).toBeCloseTo(12.5, 9);
      expect((readBookText(writeBookText(book))!.records[0].gnss!.tilt * 180) / Math.PI).toBeCloseTo(12.5, 4);
    }
  });

  it('that cannot be read is listed, and does not take the position with it', () => {
    const book = bookOf([shot('7', 100, 200, 10, 'fixed', 'tilt=steep')]);
    expect(book.problems).toHaveLength(1);
    expect(book.records).toHaveLength(1);
    expect(book.records[0].gnss!.tilt).toBeNaN();
  });
});

describe('the words about satellites', () => {
  it('are in the project’s unit', () => {
    const book = bookOf([shot('7', 100, 200, 10, 'float', 'sp=0.3048 sh=0.02')]);
    const read: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
    const doc: ProjectDocument = { ...newDocument({ unit: 'ft' }), intakes: [plainIntake('b', { form: 'book' })] };
    const result: ChainResult = runChain(doc, () => read);
    const text = result.queries.find((q) => q.kind === 'gnss-poor')!.text;
    expect(text).toContain('1.000 ft in plan');
    expect(text).not.toContain('mm');
  });
});
