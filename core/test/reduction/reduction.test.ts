import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { recordsOfSetup, readBookText } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { applyChange, editEntries, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import { bookReport, reportPoints } from '#core/report';
import { readByPlan, readingPlan, packRead, unpackRead } from '#core/sources';
import { editedRecords, STATE, packReduction, unpackReduction } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import { formatAngle } from '#core/measure';
import {
  faceErrors,
  groupRefractivity,
  PLAIN_SETTINGS,
  reduce,
  reduceSlope,
  resect,
  seaLevelFactor,
  trueReading,
  vapourPressure,
  velocityPpm,
  type Known,
  type ReductionSettings,
  type ResectionSight,
} from '#core/reduction';
import { kessaFiles, kessaProject } from '#demo';

const SECOND = Math.PI / 648_000;
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};

describe('corrections', () => {
  it('curvature and refraction are (1 − k) D² / 2R: 5.9 mm, 68 mm · …, at 300 m, 1 km, 5 km (textbook, k = 0.13)', () => {
    for (const d of [100, 1000, 5000]) {
      const { rise } = reduceSlope(d, Math.PI / 2, 0.13, 6_371_000);
      expect(rise).toBeCloseTo((0.87 * d * d) / (2 * 6_371_000), 9);
    }
    // On the level a kilometre away the ground has fallen 78.5 mm without refraction.
    expect(reduceSlope(1000, Math.PI / 2, 0).rise).toBeCloseTo(0.0785, 4);
    expect(seaLevelFactor(500)).toBeCloseTo(1 - 500 / 6_371_500, 12);
  });

  it('a steep sight is shortened towards the station: D² sin 2z (2 − k) / 4R', () => {
    const flat = reduceSlope(2000, (70 * Math.PI) / 180, 0.13);
    const plain = 2000 * Math.sin((70 * Math.PI) / 180);
    expect(plain - flat.horizontal).toBeCloseTo(
      ((2 - 0.13) * 2000 * 2000 * Math.sin((140 * Math.PI) / 180)) / (4 * 6_371_000),
      9,
    );
  });

  it('the air changes a distance by about 1 ppm a degree and 0.3 ppm a hectopascal (common practice)', () => {
    const at = (temperature: number, pressure: number, humidity = 60): number =>
      velocityPpm({ temperature, pressure, humidity }, 0.658);
    expect(at(12, 1013.25)).toBeCloseTo(0, 9);
    expect(at(13, 1013.25) - at(12, 1013.25)).toBeGreaterThan(0.9);
    expect(at(13, 1013.25) - at(12, 1013.25)).toBeLessThan(1.1);
    expect(at(12, 1003.25) - at(12, 1013.25)).toBeCloseTo(2.8, 0);
    // Saturation pressure at 20 °C is 23.4 hPa (standard tables).
    expect(vapourPressure({ temperature: 20, pressure: 1013, humidity: 100 })).toBeCloseTo(23.4, 0);
    // Visible red under standard air: some 300 parts per million less 17 for 15 °C.
    expect(groupRefractivity({ temperature: 0, pressure: 1013.25, humidity: 0 }, 0.658)).toBeCloseTo(299.25, 0);
  });

  it('index and collimation come out of both faces, and are taken off single readings', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        fc.double({ min: 1, max: 2.1, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        (circle, zenith, index, collimation) => {
          const [i, c] = [index * SECOND, collimation * SECOND];
          const turn = (a: number): number => ((a % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
          const of = (face: 1 | 2) => ({
            ...BLANK,
            face,
            circle: turn(face === 1 ? circle + c / Math.sin(zenith) : circle + Math.PI - c / Math.sin(zenith)),
            zenith: (face === 1 ? zenith : 2 * Math.PI - zenith) + i,
          });
          const errors = faceErrors([of(1), of(2)]);
          expect(errors.index).toBeCloseTo(i, 10);
          expect(errors.collimation).toBeCloseTo(c, 10);
          for (const face of [1, 2] as const) {
            const t = trueReading(of(face), errors);
            expect(Math.abs(Math.sin((t.circle - circle) / 2))).toBeLessThan(1e-7);
            expect(t.zenith).toBeCloseTo(zenith, 9);
          }
        },
      ),
    );
  });
});

const BLANK = readBookText(
  'book 1\nunit m\nangle dms\nsetup 1 hi=1\nshot 2 circle=0-00-00 zenith=90-00-00 dist=1 th=1\nend',
)!.records[1];

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

describe('Kessa Bank', () => {
  const demo = kessaProject();
  const start = demo.changes.reduce(apply, newDocument());
  const reads = new Map<string, ReadPoints>();
  const readOf = (i: Intake): ReadPoints => reads.get(i.id)!;
  let first: ChainResult;
  beforeAll(async () => {
    for (const i of start.intakes) {
      const reading = await readByPlan(
        demo.files.find((f) => f.id === i.fileId)!.bytes,
        readingPlan(start.basis, i),
        {},
      );
      if (!reading?.ok) throw new Error('not read');
      reads.set(i.id, unpackRead(packRead(reading.read)));
    }
    first = runChain(start, readOf);
  });

  for (const slip of kessaFiles().slips)
    it(`${slip.kind} at ${slip.where} is found and named`, () => {
      // A carried station waits for its own setup first.
      const seen = [first, runChain(mend(start, 2), readOf)].flatMap((r) => r.queries);
      expect(seen.some((q) => q.kind === slip.kind && q.text.includes(slip.where))).toBe(true);
    });

  function mend(doc: ProjectDocument, most: number): ProjectDocument {
    let out = doc;
    for (let turn = 0; turn < most; turn++) {
      const query = runChain(out, readOf).queries.find((q) => q.weight !== 'note' && q.remedies.length && !q.accepted);
      if (!query) break;
      out = apply(out, query.remedies[0].change);
    }
    return out;
  }

  it('keeps points of an undecided setup out of lines and ground', () => {
    const { points, linework, reduction } = first;
    const waiting = reduction!.setups.findIndex((s) => s.number === 'KB4');
    const rows = reduction!.points.list().filter((p) => p.setup === waiting);
    expect(rows.length).toBeGreaterThan(20);
    for (let r = 0; r < points.x.length; r++)
      if (rows.some((p) => p.row === points.fileRow[r] && start.intakes[points.intake[r]].id === p.book))
        expect(points.state[r]).toBe(STATE.waits);
    expect(linework.lines.some((l) => l.key.startsWith('BT3'))).toBe(false);
  });

  it('mended by its first remedies gives the true ground, 95 % of it within the stated precision', () => {
    const result = runChain(mend(start, 12), readOf);
    expect(result.queries.filter((q) => q.weight === 'stop' && !q.accepted)).toEqual([]);
    const truth = new Map(kessaFiles().truth.map((m) => [m.number, m]));
    let [count, plan, height] = [0, 0, 0];
    const { points: p } = result;
    for (let r = 0; r < p.x.length; r++) {
      const m = truth.get(p.number[r]);
      if (!m || Number.isNaN(p.sdPlan[r])) continue;
      count++;
      // 95 % of a two-dimensional normal lies within 2.45 standard deviations of one axis, of a height within 1.96.
      if (Math.hypot(p.x[r] - m.x, p.y[r] - m.y) <= 2.45 * p.sdPlan[r]) plan++;
      if (Math.abs(p.z[r] - m.z) <= 1.96 * p.sdHeight[r]) height++;
    }
    expect(count).toBeGreaterThan(150);
    expect(plan / count).toBeGreaterThanOrEqual(0.95);
    expect(height / count).toBeGreaterThanOrEqual(0.95);
  });

  it('an edited height previews, applies and is taken back to the same bits; what is computed is not typed over', () => {
    const one = start.intakes.find((i) => i.fileName === 'kessa-one.book')!;
    const shot = first.reduction!.points.list().find((p) => p.book === one.id && p.number === '104')!;
    const key = `${one.id}:${shot.row}`;
    const change: Change = {
      op: 'points.edit',
      edits: { [key]: { set: { height: 2.1 }, undo: [] } },
      why: 'pole read again',
    };
    const applied = applyChange(start, change);
    if (!applied.ok) throw new Error(applied.reason);
    const after = runChain(applied.document, readOf);
    const rowOf = (r: ChainResult): number =>
      r.points.fileRow.findIndex((row, i) => row === shot.row && r.points.intake[i] === start.intakes.indexOf(one));
    expect(after.points.z[rowOf(after)] - first.points.z[rowOf(first)]).toBeCloseTo(1.5 - 2.1, 9);
    const back = applyChange(applied.document, applied.inverse);
    expect(back.ok && back.document).toEqual(start);
    const typed = apply(start, { op: 'points.edit', edits: { [key]: { set: { z: 99 }, undo: [] } } });
    const result = runChain(typed, readOf);
    expect(result.points.z[rowOf(result)]).toBe(first.points.z[rowOf(first)]);
  });

  it('mended, all of it adjusts together with a variance factor that chance explains, and reports every setup', () => {
    const doc = mend(start, 12);
    const { reduction, network, traverses, points, queries } = runChain(doc, readOf);
    expect(network?.ok).toBe(true);
    if (!network?.ok) return;
    expect(network.varianceFactor).toBeGreaterThan(network.bounds[0]);
    expect(network.varianceFactor).toBeLessThan(network.bounds[1]);
    const truth = new Map(kessaFiles().truth.map((m) => [m.number, m]));
    const peg = network.points.find((p) => p.number === 'T1')!;
    expect(Math.hypot(peg.x - truth.get('T1')!.x, peg.y - truth.get('T1')!.y)).toBeLessThan(3 * peg.ellipse.major);
    const whole = unpackReduction(packReduction({ reduction, traverses }));
    const columns = reportPoints(doc, points, whole, {
      number: (row) => points.number[row],
      code: (row) => points.description[row],
    });
    const told = { name: 'Kessa', revision: 9 };
    const report = bookReport(doc, whole, columns, queries, told, 'known');
    // Every point that came out is in the long report, with the coordinates of the point table.
    const long = bookReport(doc, whole, columns, queries, told, 'all').rows.filter((r) => r.kind === 'point');
    expect(long.length).toBe(reduction!.points.count);
    expect(long.find((r) => r.cells[0] === '104')!.cells[4]).toBe(points.z[points.number.indexOf('104')].toFixed(3));
    // With readings: every sighting that counts, as it was observed, each point right behind the reading that gave it.
    const now = new Map(doc.intakes.flatMap((i) => (reads.get(i.id)?.book ? [[i.id, editedRecords(doc, i.id, reads.get(i.id)!.book!.records)] as const] : []))); // prettier-ignore
    const full = bookReport(doc, whole, columns, queries, told, 'readings', { readingsOf: (book, row) => recordsOfSetup(now.get(book)!, row) }).rows; // prettier-ignore
    expect(full.filter((r) => r.kind === 'point')).toHaveLength(long.length);
    const sightings = [...now.values()].flat().filter((r) => r.kind === 'sighting' && !r.deleted);
    expect(full.filter((r) => r.kind === 'reading').map((r) => r.cells[0])).toEqual(sightings.map((r) => r.number));
    const at = full.findIndex((r) => r.kind === 'point' && r.cells[0] === '104');
    const shot = sightings.find((r) => r.number === '104')!;
    expect(full[at - 1]).toMatchObject({ kind: 'reading', cells: ['104', 'shot, face 1', formatAngle(shot.circle, 'dms', 0), formatAngle(shot.zenith, 'dms', 0), shot.distance.toFixed(3), `target ${shot.height.toFixed(3)}`] }); // prettier-ignore
    expect(report.rows.filter((r) => r.kind === 'setup').map((r) => r.cells[0])).toEqual([
      'KB1',
      'KB4',
      'FS1',
      'T1',
      'KB5',
      'TR1',
      'TR2',
      'KB6',
    ]);
    expect(report.rows.filter((r) => r.kind === 'backsight' && r.cells[0] === 'KB3')).not.toEqual([]);
    // Traverse and levelling close within what the project allows, and are said to.
    expect(
      report.rows.filter((r) => r.kind === 'traverse' || r.kind === 'level').map((r) => [r.cells[0], r.marked]),
    ).toEqual([
      ['KB5 – TR1 – TR2 – KB6', false],
      ['KB5 → KB6', false],
    ]);
    // What was changed by hand is said with its record, behind the setups.
    const edits = report.rows.filter((r) => r.kind === 'edit');
    expect(edits.length).toBe(editEntries(doc).length);
    expect(report.rows.findIndex((r) => r.kind === 'edit')).toBeGreaterThan(
      report.rows.findLastIndex((r) => r.kind === 'check'),
    );
  });

  it('a pole that was long for one shot is named, mended by the height that the crew used too', () => {
    const two = start.intakes.find((i) => i.fileName === 'kessa-two.book')!;
    const shot = first.reduction!.points.list().find((p) => p.book === two.id && p.number === '405')!;
    const key = `${two.id}:${shot.row}`;
    const tight = apply(start, { op: 'settings.set', settings: { spike: 0.5 } });
    const wrong = apply(tight, { op: 'points.edit', edits: { [key]: { set: { height: 2.8 }, undo: [] } } });
    const spikeOf = (r: ChainResult) =>
      r.queries.find((q) => q.kind === 'target-height' && q.text.startsWith('Shot 405 '));
    const query = spikeOf(runChain(wrong, readOf));
    expect(query?.remedies[0].label).toBe('Target height 1.800 m');
    expect(spikeOf(runChain(apply(wrong, query!.remedies[0].change), readOf))).toBeUndefined();
  });

  it('packs and unpacks without a bit lost', () => {
    const block = packReduction({ reduction: first.reduction });
    const r = unpackReduction(block);
    expect(r.setups).toEqual(first.reduction!.setups);
    expect([...r.row]).toEqual(first.reduction!.points.list().map((p) => p.row));
  });
});
