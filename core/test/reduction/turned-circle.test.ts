import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText } from '#core/book';
import { PLAIN_SETTINGS, reduce, type Known, type Reduction } from '#core/reduction';

// Crews turn the circle between rounds; now and then it turns by itself. No coordinate may come from a mean of circles
// that were not read with one orientation.

const DEGREE = Math.PI / 180;
const given = (number: string, x: number, y: number, z = 100): Known => ({ number, x, y, z, sdPlan: 0.002, sdHeight: 0.002, from: 'control' }); // prettier-ignore
const S = given('S', 1000, 2000);
const control = [S, given('A', 1080, 2090), given('B', 1120, 1950), given('C', 930, 1960)];
const places: Record<string, [number, number]> = { ...Object.fromEntries(control.map((k) => [k.number, [k.x, k.y] as [number, number]])), P: [1040, 2030], Q: [970, 2055], R: [1031, 1942] }; // prettier-ignore

interface Reading {
  role?: string;
  number: string;
  /** Where it really points, when it is called something else. */
  truly?: string;
  round?: number;
  face?: 1 | 2;
  /** What the circle reads at grid north, degrees. */
  zero: number;
}

function sightingRow({ role = 'shot', number, truly = number, round = 0, face = 1, zero }: Reading): string {
  const [x, y] = places[truly];
  const [dx, dy] = [x - S.x, y - S.y];
  const circle = (Math.atan2(dx, dy) / DEGREE + zero + (face === 2 ? 180 : 0) + 720) % 360;
  return `${role} ${number} face=${face}${round ? ` round=${round}` : ''} circle=${circle.toFixed(8)} zenith=${face === 1 ? 90 : 270} dist=${Math.hypot(dx, dy).toFixed(5)} th=1.5`;
}

function run(readings: Reading[], turned: number[] = []): Reduction {
  const book = readBookText(['book 1', 'unit m', 'angle deg', 'setup S hi=1.5', ...readings.map(sightingRow), 'end'].join('\n'))!; // prettier-ignore
  expect(book.problems).toEqual([]);
  return reduce([{ id: 'b', ...book, turned: new Set(turned) }], control, () => undefined, { ...PLAIN_SETTINGS, refraction: 1 }); // prettier-ignore
}
/** How far a point is off the true place, m. */
function off(r: Reduction, number: string): number {
  const p = r.points.list().find((q) => q.number === number);
  return p ? Math.hypot(p.x - places[number][0], p.y - places[number][1]) : NaN;
}
const waits = (r: Reduction, number: string): boolean => r.points.list().find((q) => q.number === number)!.waits;
const round = (n: number, zero: number, names: [string, string?][]): Reading[] =>
  names.flatMap(([number, role]) => ([1, 2] as const).map((face) => ({ number, role, round: n, face, zero })));

const angle = fc.double({ min: 0, max: 359, noNaN: true });

describe('rounds between which the circle was turned', () => {
  it('each have an orientation of their own: every target lands where it stands, seen in one round or in all', () => {
    fc.assert(
      fc.property(angle, angle, angle, (a, b, c) => {
        const r = run([
          ...round(1, a, [['A', 'back'], ['P']]),
          ...round(2, b, [['A', 'back'], ['P'], ['Q']]),
          ...round(3, c, [['A', 'back'], ['P']]),
          // A shot after the rounds belongs to the circle as it was then.
          { number: 'R', zero: c },
        ]);
        for (const number of ['P', 'Q', 'R']) expect(off(r, number)).toBeLessThan(1e-4);
        expect(r.setups[0].waits).toBeNull();
        expect(r.notes).toEqual([]);
        expect(r.setups[0].backsights[0]).toMatchObject({ state: 'used', within: true });
      }),
      { numRuns: 60 },
    );
  });

  it('say by how much it was turned, and nothing where it was not', () => {
    const turned = run([...round(1, 10, [['A', 'back'], ['P']]), ...round(2, 70, [['A', 'back'], ['P']])]).setups[0];
    expect(turned.turns).toHaveLength(1);
    expect(turned.turns[0].by / DEGREE).toBeCloseTo(60, 6);
    expect(turned.turns[0].how).toBe('round');
    expect(run([...round(1, 10, [['A', 'back'], ['P']]), ...round(2, 10, [['A', 'back'], ['P']])]).setups[0].turns).toEqual([]); // prettier-ignore
  });

  it('without a target in common are tied by known points, and where there are none give no coordinate', () => {
    const known = run([...round(1, 10, [['A', 'back']]), ...round(2, 130, [['B', 'back'], ['Q']])]);
    expect(off(known, 'Q')).toBeLessThan(1e-4);
    // Round 3 shares nothing with others that were turned.
    const loose = run([
      ...round(1, 10, [['A', 'back'], ['P']]),
      ...round(2, 130, [['A', 'back'], ['P']]),
      ...round(3, 222, [['Q'], ['R']]),
    ]);
    expect(off(loose, 'P')).toBeLessThan(1e-4);
    expect(loose.points.list().map((p) => p.number)).toEqual(['P']);
    expect(loose.notes.map((n) => n.kind)).toEqual(['turn-unknown', 'turn-unknown']);
  });

  // ISO 17123-3 reduces each round to its own first direction: what a drift of the circle adds is not in the result.
  it('take a slow drift of the circle out, as ISO 17123-3 does', () => {
    const r = run([...round(1, 10, [['A', 'back'], ['B', 'check'], ['P']]), ...round(2, 10.004, [['A', 'back'], ['B', 'check'], ['P'], ['Q']])]); // prettier-ignore
    expect(off(r, 'P')).toBeLessThan(1e-4);
    expect(off(r, 'Q')).toBeLessThan(1e-4);
  });

  it('a station sighted under another’s name in one round does not turn that round, and waits itself', () => {
    const readings = [
      ...round(1, 10, [['A', 'back'], ['B', 'check'], ['P'], ['Q']]),
      ...round(2, 77, [['A', 'back'], ['B', 'check'], ['P']]),
      ...([1, 2] as const).map((face): Reading => ({ number: 'Q', truly: 'R', round: 2, face, zero: 77 })),
    ];
    const r = run(readings);
    expect(off(r, 'P')).toBeLessThan(1e-4);
    expect(waits(r, 'P')).toBe(false);
    expect(waits(r, 'Q')).toBe(true);
    expect(r.notes.map((n) => [n.kind, n.number])).toEqual([['spread-wide', 'Q']]);
  });
});

describe('a circle that turned in the middle of a setup', () => {
  const before: Reading[] = [
    { number: 'A', role: 'back', zero: 20 },
    { number: 'P', zero: 20 },
  ];
  it('at a backsight that is sighted again is taken from there on', () => {
    const r = run([...before, { number: 'A', role: 'back', zero: 81 }, { number: 'Q', zero: 81 }]);
    expect(r.setups[0].turns).toMatchObject([{ how: 'backsight', between: [] }]);
    for (const n of ['P', 'Q']) {
      expect(off(r, n)).toBeLessThan(1e-4);
      expect(waits(r, n)).toBe(false);
    }
  });

  it('unseen until the closing check lets the shots between wait, until somebody says where', () => {
    const rows = [...before, { number: 'Q', zero: 81 }, { number: 'A', role: 'check', zero: 81 }, { number: 'R', zero: 81 }]; // prettier-ignore
    const r = run(rows);
    const [turn] = r.setups[0].turns;
    expect(turn.how).toBe('hidden');
    expect(turn.by / DEGREE).toBeCloseTo(61, 6);
    expect(turn.between).toEqual([6, 7]);
    expect([waits(r, 'P'), waits(r, 'Q'), waits(r, 'R')]).toEqual([true, true, false]);
    expect(off(r, 'R')).toBeLessThan(1e-4);
    // Said to have turned before Q, everything is where it is.
    const said = run(rows, [7]);
    for (const n of ['P', 'Q', 'R']) {
      expect(off(said, n)).toBeLessThan(1e-4);
      expect(waits(said, n)).toBe(false);
    }
  });

  it('is not read from one sight that the next ones contradict, nor from another target under the same number', () => {
    const slip = run([...before, { number: 'A', role: 'check', zero: 21 }, { number: 'B', role: 'check', zero: 20 }, { number: 'A', role: 'check', zero: 20 }]); // prettier-ignore
    expect(slip.setups[0].turns).toEqual([]);
    expect(slip.setups[0].checks.map((c) => c.within)).toEqual([false, true, true]);
    const other = run([...before, { number: 'A', truly: 'B', role: 'check', zero: 20 }]);
    expect(other.setups[0].turns).toEqual([]);
    expect(other.setups[0].checks[0].within).toBe(false);
  });
});

describe('a reading under another’s number', () => {
  it('is told by the target that it points to', () => {
    const r = run([
      ...round(1, 10, [['A', 'back'], ['B', 'check'], ['P'], ['Q']]),
      ...round(2, 77, [['A', 'back'], ['B', 'check'], ['P']]),
      ...([1, 2] as const).map((face): Reading => ({ number: 'Q', truly: 'P', round: 2, face, zero: 77 })),
    ]);
    const note = r.notes.find((n) => n.kind === 'spread-wide')!;
    expect(note.others).toEqual([16, 17].map((n) => ({ row: n + 3, number: 'P' })));
  });
});

describe('what nothing controls', () => {
  it('is said: a setup by one direction alone, a station by as many readings as it takes', () => {
    const alone = sightingRow({ number: 'A', role: 'back', zero: 20 }).replace(/ dist=\S+/, '');
    const book = readBookText(['book 1', 'unit m', 'angle deg', 'setup S hi=1.5', alone, sightingRow({ number: 'P', zero: 20 }), 'end'].join('\n'))!; // prettier-ignore
    const r = reduce([{ id: 'b', ...book }], control, () => undefined, { ...PLAIN_SETTINGS, refraction: 1 });
    expect(r.notes.map((n) => n.kind)).toEqual(['uncontrolled']);
    // With its distance the backsight speaks for itself; a setup with a check too.
    expect(
      run([
        { number: 'A', role: 'back', zero: 20 },
        { number: 'P', zero: 20 },
      ]).notes,
    ).toEqual([]);
  });
});

describe('sights near the vertical', () => {
  // A pointing of σ across the sight turns the circle by σ / sin z, and leaves σ·D across however steep it is.
  it('give their place with the precision they have; straight up or down too', () => {
    const book = (zenith: number): Reduction => {
      const read = readBookText(['book 1', 'unit m', 'angle deg', 'setup S hi=1.5', sightingRow({ number: 'A', role: 'back', zero: 20 }), `shot P circle=80 zenith=${zenith} dist=40 th=0`, 'end'].join('\n'))!; // prettier-ignore
      return reduce([{ id: 'b', ...read }], control, () => undefined, { ...PLAIN_SETTINGS, refraction: 1 });
    };
    for (const zenith of [2, 178, 180]) {
      const [p] = book(zenith).points.list();
      expect(p.z).toBeCloseTo(100 + 1.5 + 40 * Math.cos(zenith * DEGREE), 4);
      expect(Math.hypot(p.x - S.x, p.y - S.y)).toBeCloseTo(40 * Math.sin(zenith * DEGREE), 3);
      expect(p.sdPlan).toBeGreaterThan((40 * 5 * DEGREE) / 3600 / 2);
      expect(p.sdPlan).toBeLessThan(0.01);
    }
    // Exactly 0 is written by an instrument that read none.
    expect(book(0).points.count).toBe(0);
    expect(book(0).notes.map((n) => n.kind)).toEqual(['zenith-impossible']);
  });
});

describe('faces exchanged on a backsight', () => {
  const wrong = (rows: string[]): Reduction => {
    const book = readBookText(['book 1', 'unit m', 'angle deg', 'setup S hi=1.5', ...rows, 'end'].join('\n'))!;
    return reduce([{ id: 'b', ...book }], control, () => 'used', { ...PLAIN_SETTINGS, refraction: 1 });
  };
  it('are said, and never used, whatever was decided', () => {
    const back = sightingRow({ number: 'A', role: 'back', zero: 20 }).replace('zenith=90', 'zenith=91');
    const r = wrong([back.replace('face=1', 'face=2'), sightingRow({ number: 'B', role: 'back', zero: 20 }), sightingRow({ number: 'P', zero: 20 })]); // prettier-ignore
    expect(r.setups[0].backsights.map((b) => [b.number, b.slip, b.state])).toEqual([
      ['A', 'face', 'undecided'],
      ['B', null, 'used'],
    ]);
    expect(off(r, 'P')).toBeLessThan(1e-3);
    const alone = wrong([back.replace('face=1', 'face=2'), sightingRow({ number: 'P', zero: 20 })]);
    expect(alone.setups[0].failed).toContain('other face');
    expect(alone.points.count).toBe(0);
  });

  it('a circle that reads half a turn off is a face, not another bearing', () => {
    const half = sightingRow({ number: 'B', role: 'back', zero: 200 });
    const r = wrong([sightingRow({ number: 'A', role: 'back', zero: 20 }), half, sightingRow({ number: 'C', role: 'back', zero: 20 })]); // prettier-ignore
    expect(r.setups[0].backsights.map((b) => b.slip)).toEqual([null, 'face', null]);
  });
});
