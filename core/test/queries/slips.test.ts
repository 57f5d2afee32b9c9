import { describe, expect, it } from 'vitest';
import { readBookText } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { applyChange, newDocument, type Intake, type ProjectDocument } from '#core/project';
import type { Query, QueryKind } from '#core/queries';
import { failedRead, type ReadPoints } from '#core/exchange';

// One small site, whose true places are known to the test. A slip is planted in the book; it has to be found, named,
// and its first remedy has to bring every shot back to where it truly is.

const DEGREE = Math.PI / 180;
type Place = [x: number, y: number, z: number];
const KNOWN: Record<string, Place> = { A: [0, 0, 10], B: [100, 5, 11], C: [60, 80, 12], D: [-40, 60, 9.5] };
/** A kerb that goes on evenly, and a fence beside it. */
const KERB: Place[] = Array.from({ length: 9 }, (_, i) => [10 + 6 * i, 20 + 0.4 * i, 10.2 + 0.05 * i]);
const FENCE: Place[] = Array.from({ length: 9 }, (_, i) => [10 + 6 * i, 26 + 0.4 * i, 10.6]);

const HEAD = ['book 1', 'unit m', 'angle deg'];
interface Sight {
  role: string;
  number: string;
  at: Place;
  from: Place;
  turn: number;
  hi?: number;
  th?: number;
  code?: string;
  face?: 1 | 2;
  said?: 1 | 2;
}
function sight({ role, number, at, from, turn, hi = 1.6, th = 1.5, code, face, said }: Sight): string {
  const [dx, dy] = [at[0] - from[0], at[1] - from[1]];
  const flat = Math.hypot(dx, dy);
  // The test's own plain geometry: no air, no curvature (k = 1).
  const rise = at[2] + th - (from[2] + hi);
  let circle = (((Math.atan2(dx, dy) / DEGREE - turn) % 360) + 360) % 360;
  let zenith = Math.atan2(flat, rise) / DEGREE;
  if (face === 2) [circle, zenith] = [(circle + 180) % 360, 360 - zenith];
  return `${role} ${number} circle=${circle.toFixed(8)} zenith=${zenith.toFixed(8)} dist=${Math.hypot(flat, rise).toFixed(5)} th=${th}${face ? ` face=${said ?? face}` : ''}${code ? ` code="${code}"` : ''}`;
}
const shotsFrom = (from: Place, turn: number, hi = 1.6): string[] =>
  [...KERB.map((at, i) => ['KT1', at, 101 + i] as const), ...FENCE.map((at, i) => ['FN1', at, 201 + i] as const)].map(
    ([code, at, n]) => sight({ role: 'shot', number: String(n), at, from, turn, hi, code }),
  );
const at = (n: string): Place => KNOWN[n];
const setupA = (turn = 33): string[] => [
  'setup A hi=1.6',
  sight({ role: 'back', number: 'B', at: at('B'), from: at('A'), turn }),
  sight({ role: 'check', number: 'C', at: at('C'), from: at('A'), turn }),
  ...shotsFrom(at('A'), turn),
];

function project(rows: string[], known = Object.keys(KNOWN), angle = 'angle deg') {
  const book = readBookText([...HEAD.slice(0, 2), angle, ...rows, 'end'].join('\n'))!;
  const layout = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P' as const, 'E' as const, 'N' as const, 'Z' as const], unit: 'm' as const }; // prettier-ignore
  const intake = (id: string, form: 'points' | 'book', purpose: Intake['purpose']): Intake => ({ id, fileId: id, fileName: `${id}.txt`, sha256: '0'.repeat(64), layout, purpose, form, on: true, numbers: { all: 'both', each: {} } }); // prettier-ignore
  const control: ReadPoints = {
    ...failedRead(''),
    failure: undefined,
    number: known,
    x: Float64Array.from(known, (n) => KNOWN[n][0]),
    y: Float64Array.from(known, (n) => KNOWN[n][1]),
    z: Float64Array.from(known, (n) => KNOWN[n][2]),
    description: known.map(() => ''),
    row: Uint32Array.from(known, (_, i) => i + 1),
    rows: known.length,
  };
  const read: ReadPoints = { ...failedRead(''), failure: undefined, refused: book.problems, refusedCount: book.problemCount, rows: book.rows, book }; // prettier-ignore
  const doc: ProjectDocument = {
    ...newDocument({ refraction: 1 }),
    intakes: [intake('c', 'points', 'control'), intake('b', 'book', 'survey')],
  };
  return { doc, run: (d: ProjectDocument): ChainResult => runChain(d, (i) => (i.id === 'c' ? control : read)), book };
}

const TRUE = new Map([...KERB.map((p, i) => [101 + i, p] as const), ...FENCE.map((p, i) => [201 + i, p] as const)]);
/** The largest error of any shot that is there, and how many are used. */
function worst({ points }: ChainResult): { off: number; used: number } {
  let off = 0;
  let used = 0;
  points.number.forEach((n, row) => {
    const t = TRUE.get(Number(n));
    if (!t || points.state[row] !== 0) return;
    used++;
    off = Math.max(off, Math.hypot(points.x[row] - t[0], points.y[row] - t[1], points.z[row] - t[2]));
  });
  return { off, used };
}
function found(rows: string[], kind: QueryKind, known?: string[]) {
  const { doc, run } = project(rows, known);
  const result = run(doc);
  const query = result.queries.find((q) => q.kind === kind);
  expect(result.queries.map((q) => q.kind)).toContain(kind);
  return { doc, run, result, query: query! };
}
function mended({ doc, run, query }: ReturnType<typeof found>): ChainResult {
  const applied = applyChange(doc, query.remedies[0].change);
  if (!applied.ok) throw new Error(applied.reason);
  return run(applied.document);
}
const quiet = (r: ChainResult): Query[] => r.queries.filter((q) => q.stage === 'book' || q.kind === 'off-course');

describe('slips of a crew', () => {
  it('are none where there is none: no query, every shot where it truly is', () => {
    const { doc, run } = project(setupA());
    const r = run(doc);
    expect(quiet(r)).toEqual([]);
    expect(worst(r).off).toBeLessThan(2e-4);
    expect(worst(r).used).toBe(18);
  });

  it('a reading that says the other face is no wild point: it is named, and right once mended', () => {
    const wrong = sight({ role: 'shot', number: '105', at: KERB[4], from: at('A'), turn: 33, code: 'KT1', face: 2, said: 1 }); // prettier-ignore
    const rows = setupA().map((r) => (r.startsWith('shot 105') ? wrong : r));
    const f = found(rows, 'face-wrong');
    expect(f.query.text).toContain('other face');
    expect(f.result.points.number).not.toContain('105');
    expect(worst(mended(f))).toEqual({ off: expect.closeTo(0, 3), used: 18 });
  });

  it.each(['back', 'check'])(
    'a %s beside good backsights, read in the other face than it says, is named as that',
    (role) => {
      for (const [face, said] of [
        [2, 1],
        [1, 2],
      ] as const) {
        const wrong = sight({ role, number: 'D', at: at('D'), from: at('A'), turn: 33, face, said });
        const f = found([...setupA().slice(0, 2), wrong, ...setupA().slice(2)], 'face-wrong');
        expect(f.query.text).toContain('other face');
        expect(f.result.queries.filter((q) => q.stage === 'book')).toHaveLength(1);
        expect(worst(mended(f))).toEqual({ off: expect.closeTo(0, 3), used: 18 });
        expect(quiet(mended(f))).toEqual([]);
      }
    },
  );

  it('a known point off by satellite is asked about once, and its coordinates are not typed over', () => {
    const { doc, run } = project([...setupA(), 'gnss D -39.9 60 9.5 sp=0.008 sh=0.012 fix=fixed sats=15']);
    const asked = run(doc).queries.filter((q) => q.stage === 'book' || q.stage === 'basis');
    expect(asked.map((q) => q.text)).toEqual([expect.stringContaining('D, measured by satellite, differs from control by 0.100 m')]); // prettier-ignore
    expect(asked[0].remedies.map((r) => r.label).join()).not.toContain('coordinates');
  });

  it('a typed azimuth that turns a whole cluster is named, and known points orient it instead', () => {
    const turn = 33;
    const rows = [
      'setup A hi=1.6',
      'azimuth T 90',
      // The tree that it was typed to truly lies at 92 degrees.
      sight({ role: 'back', number: 'T', at: [50, -1.746, 12], from: at('A'), turn }),
      sight({ role: 'check', number: 'C', at: at('C'), from: at('A'), turn }),
      sight({ role: 'check', number: 'B', at: at('B'), from: at('A'), turn }),
      ...shotsFrom(at('A'), turn),
    ];
    const f = found(rows, 'typed-holds');
    expect(f.query.text).toContain('azimuth to T was typed');
    expect(worst(f.result).off).toBeGreaterThan(0.5);
    expect(worst(mended(f)).off).toBeLessThan(1e-3);
  });

  it('typed coordinates that hold a cluster are named, and the station is found from what it sights', () => {
    const from: Place = [30, -20, 10.3];
    const rows = [
      'point S 31.5 -20.8 10.3',
      'setup S hi=1.6',
      ...(['A', 'B', 'C'] as const).map((n) => sight({ role: n === 'A' ? 'back' : 'check', number: n, at: at(n), from, turn: 5 })), // prettier-ignore
      ...shotsFrom(from, 5),
    ];
    const f = found(rows, 'typed-holds');
    expect(f.query.text).toContain('coordinates of S were typed');
    expect(worst(mended(f)).off).toBeLessThan(2e-3);
  });

  it('two setups of one name on two points are told apart', () => {
    const [one, two]: Place[] = [
      [30, -20, 10.3],
      [20, 70, 11],
    ];
    const both = (from: Place, turn: number, more: string[]): string[] => [
      'setup S hi=1.6',
      ...(['A', 'B', 'C'] as const).map((n) => sight({ role: 'back', number: n, at: at(n), from, turn })),
      ...more,
    ];
    const rows = [...both(one, 5, shotsFrom(one, 5)), ...both(two, 50, [])];
    const f = found(rows, 'station-twice');
    expect(f.query.text).toContain('is called S too');
    const again = mended(f);
    expect(again.reduction!.setups.map((s) => s.failed ?? s.waits)).toEqual([null, null]);
    expect(Math.hypot(again.reduction!.setups[1].station!.x - two[0], again.reduction!.setups[1].station!.y - two[1])).toBeLessThan(0.002); // prettier-ignore
  });

  it('a shot coded for the wrong line is named with the line that it lies on', () => {
    const rows = setupA().map((r) => (r.startsWith('shot 205') ? r.replace('FN1', 'KT1') : r));
    // Taken on the way along the kerb, as crews do.
    const wrong = rows.splice(
      rows.findIndex((r) => r.startsWith('shot 205')),
      1,
    );
    rows.splice(
      rows.findIndex((r) => r.startsWith('shot 106')),
      0,
      ...wrong,
    );
    const f = found(rows, 'off-course');
    expect(f.query.text).toContain('Line FN1 passes through it');
    const again = mended(f);
    expect(again.queries.map((q) => q.kind)).not.toContain('off-course');
  });

  it('a setup that is left out takes its sightings with it, and never lends them to the setup before', () => {
    const rows = [...setupA(), 'setup B hi=1.6', sight({ role: 'back', number: 'A', at: at('A'), from: at('B'), turn: 9 }), sight({ role: 'shot', number: '950', at: [50, 50, 11], from: at('B'), turn: 9 })]; // prettier-ignore
    const { doc, run } = project(rows);
    expect(run(doc).points.number).toContain('950');
    const row = HEAD.length + rows.indexOf('setup B hi=1.6') + 1;
    const left = applyChange(doc, { op: 'points.edit', edits: { [`b:${row}`]: { set: { off: true }, undo: [] } } });
    if (!left.ok) throw new Error(left.reason);
    const r = run(left.document);
    expect(r.points.number).not.toContain('950');
    expect(worst(r)).toEqual({ off: expect.closeTo(0, 3), used: 18 });
    expect(r.reduction!.setups.map((s) => s.number)).toEqual(['A']);
  });

  it('a bend of a line is no slip', () => {
    const bent: Place[] = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => (i < 4 ? [10 + 6 * i, 20, 10] : [28, 20 + 6 * (i - 3), 10])); // prettier-ignore
    const rows = [...setupA().slice(0, 3), ...bent.map((p, i) => sight({ role: 'shot', number: String(301 + i), at: p, from: at('A'), turn: 33, code: 'KT1' }))]; // prettier-ignore
    const { doc, run } = project(rows);
    expect(run(doc).queries.map((q) => q.kind)).not.toContain('off-course');
  });

  it('one wrong height on a short breakline stands out, though its neighbours stand off too', () => {
    const rows = setupA().map((r) => (r.startsWith('shot 105') ? r.replace('th=1.5', 'th=3.5') : r));
    const f = found(rows, 'target-height');
    expect(f.query.text).toContain('Shot 105 of');
    expect(f.query.text).toContain('2.000 m too low');
    expect(f.query.remedies[0].label).toBe('Target height 1.500 m');
  });
});

describe('books that are read wrong', () => {
  const oneSetup = (form: (deg: number) => string): string[] =>
    setupA().map((r) => r.replace(/(circle|zenith)=([\d.]+)/g, (_, k: string, v: string) => `${k}=${form(Number(v))}`));

  it('gon that say degrees, degrees that say gon: asked about before anyone uses a point', () => {
    for (const [rows, angle] of [
      [oneSetup((v) => (v / 0.9).toFixed(6)), 'angle deg'],
      [oneSetup((v) => v.toFixed(6)), 'angle gon'],
    ] as const) {
      const { doc, run } = project([...rows], undefined, angle);
      const kinds = run(doc)
        .queries.filter((q) => q.weight === 'stop')
        .map((q) => q.kind);
      expect(kinds).toContain('angles-gon');
    }
  });

  it('degrees, minutes and seconds written as decimals', () => {
    const packed = (deg: number): string => {
      const total = Math.round(deg * 3600);
      return `${Math.floor(total / 3600)}.${String(Math.floor(total / 60) % 60).padStart(2, '0')}${String(total % 60).padStart(2, '0')}`;
    };
    const { doc, run } = project(oneSetup(packed));
    expect(run(doc).queries.map((q) => q.kind)).toContain('angles-packed');
  });

  it('no backsight, one that nobody knows, circles over a turn, zenith zero, no heights, records out of order', () => {
    const cases: [rows: string[], said: string][] = [
      [setupA().filter((r) => !r.startsWith('back')), 'no backsight'],
      [setupA().map((r) => r.replace('back B', 'back Q')), 'no coordinates of Q are known'],
      [['setup A hi=1.6', 'back B circle=361 zenith=90 dist=100 th=1.5'], 'not within one turn'],
      [[...setupA(), 'shot 900 circle=10 zenith=0 dist=5 th=1.5'], 'exactly 0'],
      [setupA().map((r) => r.replace(' hi=1.6', '')), 'no instrument height'],
      [[...setupA(), 'shot 900 circle=10 zenith=90 dist=5'], 'no target height'],
      [['shot 900 circle=10 zenith=90 dist=5 th=1.5', ...setupA()], 'before any setup'],
    ];
    for (const [rows, said] of cases) {
      const { doc, run, book } = project(rows);
      const r = run(doc);
      const texts = [...r.queries.map((q) => q.text), ...book.problems.map((p) => p.reason)].join('\n');
      expect([said, texts.includes(said)]).toEqual([said, true]);
      // Whatever came out is right or has no elevation.
      r.points.number.forEach((n, row) => {
        const t = TRUE.get(Number(n));
        if (!t || r.points.state[row] !== 0) return;
        expect(Math.hypot(r.points.x[row] - t[0], r.points.y[row] - t[1])).toBeLessThan(0.01);
        if (!Number.isNaN(r.points.z[row])) expect(Math.abs(r.points.z[row] - t[2])).toBeLessThan(0.01);
      });
    }
  });
});
