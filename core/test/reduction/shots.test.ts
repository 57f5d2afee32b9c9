import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText, type Book } from '#core/book';
import { PLAIN_SETTINGS, reduce, ReductionMemory, type Reduction } from '#core/reduction';

const control = [
  { number: 'A', x: 1000, y: 2000, z: 50 },
  { number: 'B', x: 1080, y: 2060, z: 52 },
  { number: '7', x: 1010, y: 2030, z: 51 },
].map((c) => ({ ...c, sdPlan: 0.002, sdHeight: 0.003, from: 'control' as const }));

const HEAD = [
  'book 1',
  'unit m',
  'angle deg',
  'instrument I direction=3 zenith=4 distance=1 ppm=1.5 constant=0.002',
  'target small constant=-0.0175',
  'weather t=31 p=950 h=40',
  'setup A hi=1.612 instrument=I',
  'back B circle=10 zenith=89 dist=100 th=1.5',
];

function readRows(rows: string[]): Book {
  const book = readBookText([...HEAD, ...rows, 'end'].join('\n'))!;
  expect(book.problems).toEqual([]);
  return book;
}

function reduceBook({ records, instruments, targets }: Book, memory: ReductionMemory | null = null): Reduction {
  const settings = { ...PLAIN_SETTINGS, factor: 0.9996 };
  return reduce([{ id: 'b', records, instruments, targets }], control, () => 'used', settings, [], memory);
}

const reduced = (rows: string[]): Reduction => reduceBook(readRows(rows));

interface Shot {
  circle: number;
  zenith: number;
  dist: number;
  th: number;
  target: string;
}
const shot = fc.record<Shot>({
  circle: fc.double({ min: 0, max: 359.9, noNaN: true }),
  zenith: fc.double({ min: 50, max: 130, noNaN: true }),
  dist: fc.double({ min: 0.5, max: 900, noNaN: true }),
  th: fc.double({ min: 0, max: 3, noNaN: true }),
  target: fc.constantFrom('', ' target=small'),
});
const row = (s: Shot, number: string): string =>
  `shot ${number} circle=${s.circle.toFixed(5)} zenith=${s.zenith.toFixed(5)} dist=${s.dist.toFixed(4)} th=${s.th.toFixed(3)}${s.target}`;
/** The same target in face 2: half a turn on, and the zenith from the other side. */
const turnedOver = (s: Shot): Shot => ({ ...s, circle: (s.circle + 180) % 360, zenith: 360 - s.zenith });

describe('shots in one face', () => {
  it('are reduced as pointings in faces and rounds are, by whatever way they go', () => {
    fc.assert(
      fc.property(fc.array(shot, { minLength: 1, maxLength: 12 }), (shots) => {
        const rows = shots.map((s, i) => row(s, `${i + 101}`));
        const plain = reduced(rows).points;
        // One target in both faces, with no error in them, and the setup's sightings are grouped before they are reduced.
        const grouped = reduced([...rows, 'shot 99 circle=20 zenith=80 dist=30 th=1 face=1', 'shot 99 circle=200 zenith=280 dist=30 th=1 face=2']).points; // prettier-ignore
        expect(plain.count).toBe(shots.length);
        expect(grouped.count).toBe(shots.length + 1);
        const by = new Map(grouped.list().map((p) => [p.number, p]));
        for (const p of plain.list()) {
          const q = by.get(p.number)!;
          for (const field of ['x', 'y', 'z'] as const) expect(p[field]).toBeCloseTo(q[field], 9);
          for (const field of ['sdPlan', 'sdHeight'] as const) expect(p[field]).toBeCloseTo(q[field], 6);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('go to control as checks, in the order observed, and give no point', () => {
    const seven = 'circle=30 zenith=90 dist=31.6 th=1.5';
    const { setups, points, sights } = reduced([
      `shot 101 ${seven}`,
      `shot 7 ${seven}`,
      `check B circle=10 zenith=89 dist=100 th=1.5`,
      `shot 7 ${seven}`,
    ]);
    expect(points.list().map((p) => p.number)).toEqual(['101']);
    expect(setups[0].checks.map((c) => [c.number, c.row])).toEqual([['7', 10], ['B', 11], ['7', 12]]); // prettier-ignore
    expect(sights.map((s) => s.number).sort()).toEqual(['7', '7', 'B', 'B']);
  });
});

describe('faces that a book does not state', () => {
  it('are known by the zenith, wherever in the setup they come', () => {
    fc.assert(
      fc.property(fc.array(shot, { minLength: 1, maxLength: 6 }), fc.nat(5), fc.boolean(), (shots, at, failing) => {
        const over = shots[at % shots.length];
        const rows = shots.map((s, i) => row(s, `${i + 101}`));
        const number = `${(at % shots.length) + 101}`;
        const back = failing ? ['setup A hi=1.5', 'back nobody circle=0 zenith=90 dist=10 th=1.5'] : [];
        const said = reduced([...back, ...rows, `${row(turnedOver(over), number)} face=2`]);
        const unsaid = reduced([...back, ...rows, row(turnedOver(over), number)]);
        expect(unsaid.points.list()).toEqual(said.points.list());
        expect(unsaid.setups).toEqual(said.setups);
        expect(said.setups.at(-1)!.errors.pairs).toBe(1);
        expect(unsaid.notes).toEqual(said.notes);
        expect(said.points.count).toBe(failing ? 0 : shots.length);
      }),
      { numRuns: 60 },
    );
  });

  it('also on a shot of control', () => {
    const one = 'shot 7 circle=30 zenith=88 dist=31.6 th=1.5';
    const two = 'shot 7 circle=210 zenith=272 dist=31.6 th=1.5';
    const { setups } = reduced([one, two]);
    expect(setups[0].checks.map((c) => c.number)).toEqual(['7']);
    expect(setups).toEqual(reduced([one, `${two} face=2`]).setups);
  });
});

/** An edit of readings, in radians and metres; some of them are none. */
const edit = fc.record(
  {
    circle: fc.double({ min: 0, max: 6, noNaN: true }),
    zenith: fc.double({ min: 0.5, max: 5.5, noNaN: true }),
    distance: fc.constantFrom(NaN, 0, 12.5, 340),
    height: fc.constantFrom(NaN, 0, 1.5),
    number: fc.constantFrom('7', 'B', '555'),
    deleted: fc.constant(false),
  },
  { requiredKeys: [] },
);

describe('a reduction that remembers', () => {
  it('gives what one gives that does not, after any edit, and reduces no more than the setup that was edited', () => {
    fc.assert(
      fc.property(fc.array(shot, { minLength: 2, maxLength: 6 }), fc.nat(5), edit, (shots, at, reading) => {
        const book = readRows([
          ...shots.map((s, i) => row(s, i === 1 ? '7' : `${i + 101}`)),
          'setup B hi=1.5',
          'back A circle=0 zenith=91 dist=100 th=1.5',
          'shot 900 circle=40 zenith=90 dist=20 th=1.5',
        ]);
        const memory = new ReductionMemory();
        reduceBook(book, memory);
        const before = memory.sightings;
        const edited = HEAD.length + 1 + (at % shots.length);
        const records = book.records.map((r) => (r.row === edited ? { ...r, ...reading } : r));
        const kept = reduceBook({ ...book, records }, memory);
        // The other setup, of two sightings, is taken as it was.
        expect(memory.sightings - before).toBe(1 + shots.length);
        const fresh = reduceBook({ ...book, records });
        expect(kept.points.list()).toEqual(fresh.points.list());
        expect(kept.setups).toEqual(fresh.setups);
        expect(kept.sights).toEqual(fresh.sights);
        expect(kept.notes).toEqual(fresh.notes);
      }),
      { numRuns: 40 },
    );
  });
});
