import { describe, expect, it } from 'vitest';
import { readBookText } from '#core/book';
import { runChain, type ChainResult } from '#core/chain';
import { applyChange, newDocument, plainIntake, type Change, type ProjectDocument } from '#core/project';
import { traverseKey } from '#core/stages';
import { failedRead, type ReadPoints } from '#core/exchange';
import { guessBookLayout, unitSaid } from '../../src/book/guess-layout.ts';

const DEGREE = Math.PI / 180;
type Place = [x: number, y: number, z: number];
const CONTROL: Record<string, Place> = { A: [0, 0, 10], B: [100, 5, 11], C: [60, 80, 12], D: [-40, 60, 9.5] };
const sight = (role: string, number: string, [x, y, z]: Place, from: string, more = ''): string => {
  const [sx, sy, sz] = CONTROL[from];
  const [dx, dy, rise] = [x - sx, y - sy, z + 1.5 - (sz + 1.6)];
  const flat = Math.hypot(dx, dy);
  return `${role} ${number} circle=${(((Math.atan2(dx, dy) / DEGREE) % 360) + 360) % 360} zenith=${Math.atan2(flat, rise) / DEGREE} dist=${Math.hypot(flat, rise).toFixed(5)} th=1.5 ${more}`;
};
function project(rows: string[]): { doc: ProjectDocument; run: (d: ProjectDocument) => ChainResult } {
  const book = readBookText(['book 1', 'unit m', 'angle deg', 'earth plane', ...rows, 'end'].join('\n'))!;
  expect(book.problems).toEqual([]);
  const names = Object.keys(CONTROL);
  const column = (i: number): Float64Array => Float64Array.from(names, (n) => CONTROL[n][i]);
  const control: ReadPoints = { ...failedRead(''), failure: undefined, rows: 4, number: names, x: column(0), y: column(1), z: column(2), description: names.map(() => ''), row: Uint32Array.of(1, 2, 3, 4) }; // prettier-ignore
  const read: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
  const doc: ProjectDocument = { ...newDocument(), intakes: [plainIntake('c', { purpose: 'control' }), plainIntake('b', { fileName: 'b.book', form: 'book' })] }; // prettier-ignore
  return { doc, run: (d) => runChain(d, (i) => (i.id === 'c' ? control : read)) };
}
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
/** The same place from A and from C, some millimetres apart in plan. */
const both = (z: number, codes: [string, string]): string[] => [
  'setup A hi=1.6',
  sight('back', 'B', CONTROL.B, 'A'),
  sight('shot', '101', [30, 40, 10.5], 'A', `code=${codes[0]}`),
  'setup C hi=1.6',
  sight('back', 'B', CONTROL.B, 'C'),
  sight('shot', '201', [30.003, 40, z], 'C', `code=${codes[1]}`),
];

describe('one place from two setups', () => {
  it('with two elevations is asked about, with both readings; the ground keeps none of them in silence', () => {
    const { doc, run } = project(both(11, ['GR', 'GR']));
    const asked = run(doc).queries.filter((q) => q.stage === 'book');
    // Once: that either target height would explain it says no more.
    expect(asked.map((q) => q.kind)).toEqual(['place-twice']);
    const [query] = asked;
    expect(query.text).toContain('0.003 m apart in plan and 0.500 m in elevation');
    expect(query.text).toContain('101 “GR” of b.book from A at 10.500 m');
    expect(query.text).toContain('201 “GR” of b.book from C at 11.000 m');
    const mended = apply(doc, query.remedies.find((r) => r.label === 'Exclude 201')!.change);
    expect(run(mended).queries.map((q) => q.kind)).not.toContain('place-twice');
  });

  it('is not asked about beside the height that explains it', () => {
    const [a, b, shot, ...rest] = both(10.5, ['GR', 'GR']);
    // A pole of 2.000 m before it; written down once too often.
    const pole = (n: string, z: number): string => sight('shot', n, [20, 30 + Number(n) / 10, z + 0.5], 'A').replace('th=1.5', 'th=2'); // prettier-ignore
    const { doc, run } = project([a, b, pole('1', 10.4), pole('2', 10.4), shot.replace('th=1.5', 'th=2'), ...rest]);
    const [query, ...others] = run(doc).queries.filter((q) => q.stage === 'book');
    expect(others).toEqual([]);
    expect(query.text).toMatch(/target height of 101/);
    expect(run(apply(doc, query.remedies[0].change)).queries.filter((q) => q.stage === 'book')).toEqual([]);
  });

  it('is not where it agrees, nor where the code list pairs both as two levels', () => {
    for (const [z, codes] of [
      [10.51, ['GR', 'GR']],
      [11, ['KF1', 'KT1']],
      [8, ['LD', 'IV']],
    ] as const) {
      // prettier-ignore
      const { doc, run } = project(both(z, [...codes]));
      expect(run(doc).queries.map((q) => q.kind)).not.toContain('place-twice');
    }
  });
});

describe('a traverse over what is allowed', () => {
  const T: Place = [40, 30, 10];
  const rows = [
    'setup A hi=1.6',
    sight('back', 'D', CONTROL.D, 'A'),
    sight('shot', 'T', T, 'A'),
    'setup T hi=1.6',
    ...['back A', 'shot C'].map((w) => {
      const [role, n] = w.split(' ');
      // Turned by the sighting of its end: a gap of some centimetres.
      const [dx, dy, rise] = [CONTROL[n][0] - T[0], CONTROL[n][1] - T[1], CONTROL[n][2] + 1.5 - (T[2] + 1.6)];
      const flat = Math.hypot(dx, dy) + (n === 'C' ? 0.16 : 0);
      return `${role} ${n} circle=${(((Math.atan2(dx, dy) / DEGREE) % 360) + 360) % 360} zenith=${Math.atan2(flat, rise) / DEGREE} dist=${Math.hypot(flat, rise).toFixed(5)} th=1.5`;
    }),
    'setup C hi=1.6',
    `back T circle=${(((Math.atan2(T[0] - CONTROL.C[0], T[1] - CONTROL.C[1]) / DEGREE) % 360) + 360) % 360} zenith=92 dist=${(Math.hypot(T[0] - CONTROL.C[0], T[1] - CONTROL.C[1]) + 0.16).toFixed(4)} th=1.5`,
    sight('check', 'B', CONTROL.B, 'C'),
  ];
  it('is not distributed by itself; on purpose it is, and the stations in force are those of the rule', () => {
    const { doc, run } = project(rows);
    const ruled = apply(doc, { op: 'settings.set', settings: { traverse: 'compass', checkPlan: 0.2, checkHeight: 5 } });
    const open = run(ruled);
    const [t] = open.traverses;
    const query = open.queries.find((q) => q.kind === 'traverse-misclosure')!;
    expect(query.text).toContain('It is not distributed');
    const at = (r: ChainResult): number => r.reduction!.known.get('T')!.x;
    expect(at(open)).not.toBeCloseTo(t.compass[0].x, 4);
    expect(query.remedies.map((r) => r.change)).toEqual([
      { op: 'record.decide', key: traverseKey(t), decision: 'used' },
    ]);
    const forced = run(apply(ruled, { ...query.remedies[0].change, why: 'the client has agreed' } as Change));
    expect(at(forced)).toBeCloseTo(t.compass[0].x, 9);
    expect(forced.queries.find((q) => q.kind === 'traverse-misclosure')!.text).toContain('distributed all the same');
  });
});

describe('a whole setup read in the other face than it says', () => {
  it('is one question, and one remedy exchanges them all', () => {
    const wrong = both(10.5, ['GR', 'GR']).slice(0, 3).map((r) => r.replace(' th=', ' face=2 th=')); // prettier-ignore
    const { doc, run } = project([...wrong, sight('check', 'C', CONTROL.C, 'A').replace(' th=', ' face=2 th=')]);
    const result = run(doc);
    expect(result.reduction!.points.count).toBe(0);
    const query = result.queries.find((q) => q.kind === 'setup-fails')!;
    expect(query.text).toContain('other face');
    const mended = run(apply(doc, query.remedies[0].change));
    expect(mended.reduction!.setups[0].failed).toBeNull();
    expect(mended.reduction!.setups[0].backsights[0].within).toBe(true);
    expect(mended.reduction!.points.at(0).x).toBeCloseTo(30, 3);
  });
});

describe('tagged text that states its unit in words', () => {
  it('is proposed in that unit', () => {
    const rows = ['HD,Linear Units=US Survey Feet', 'ST,A,IH=5.2', 'BS,B,HZ=0.0000,VA=90.0000,SD=100.00,TH=5.0', 'OB,1,HZ=10.0000,VA=90.0000,SD=50.00,TH=5.0']; // prettier-ignore
    expect(guessBookLayout(rows).layout.unit).toBe('usft');
    for (const [line, unit] of [
      ['# units: international feet', 'ft'],
      ['Distances in metres', 'm'],
      ['length unit = mm', 'mm'],
      ['foot of slope', null],
    ] as const)
      // prettier-ignore
      expect(unitSaid([line])).toBe(unit);
  });
});
