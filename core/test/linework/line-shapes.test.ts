import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_CODE_LIST, type CodeList } from '#core/codes';
import {
  buildLines,
  chordPlaces,
  directionAt,
  elevationsBetween,
  LineMemory,
  parallelOf,
  planOf,
  SIDE,
  vertex,
  WHY,
  type Line,
} from '#core/linework';

type Shot = [x: number, y: number, description: string, number?: string];
const build = (shots: Shot[], list: CodeList = DEFAULT_CODE_LIST, memory?: LineMemory) =>
  buildLines(
    {
      x: Float64Array.from(shots, (s) => s[0]),
      y: Float64Array.from(shots, (s) => s[1]),
      description: shots.map((s) => s[2]),
      number: shots.map((s, i) => s[3] ?? String(i + 1)),
      off: () => false,
      group: () => 0,
    },
    list,
    memory,
  );
const elevationsOf = (line: Line, z: ArrayLike<number>) => elevationsBetween(line, (row) => z[row]);
const rounded = (values: number[]): number[] => values.map((v) => Math.round(v * 1e9) / 1e9);
const corners = (l: Line): number[][] => l.x.map((x, i) => rounded([x, l.y[i]]));
/** Area by the trapezoid rule, m², positive counter-clockwise. */
const area = (l: Line): number =>
  l.x.reduce((sum, x, i) => {
    const j = (i + 1) % l.x.length;
    return sum + (x * l.y[j] - l.x[j] * l.y[i]) / 2;
  }, 0);

describe('words that shape a line', () => {
  it('make a rectangle of two shots and a width, to the right or to the left', () => {
    const [line] = build([
      [10, 10, 'BW1 BEG'],
      [13, 14, 'BW1 RECT 2'],
      [50, 50, 'BW1'],
    ]).lines;
    expect(line.closed).toBe(true);
    expect(area(line)).toBeCloseTo(-10, 9);
    expect(corners(line)[2]).toEqual([14.6, 12.8]);
    expect(line.why).toEqual([WHY.code, WHY.code, WHY.rectangle, WHY.rectangle]);
    const [left] = build([[10, 10, 'BW1 RECT -2'], [13, 14, 'BW1']]).lines; // prettier-ignore
    expect(area(left)).toBeCloseTo(10, 9);
  });

  it('make a rectangle of three shots: the third gives the width, square to the first side', () => {
    const [line] = build([[0, 0, 'BW1 BEG'], [8, 0, 'BW1'], [8.3, 5, 'BW1 RECT']]).lines; // prettier-ignore
    expect(corners(line)).toEqual([[0, 0], [8, 0], [8, 5], [0, 5]]); // prettier-ignore
    expect(elevationsOf(line, [10, 11, 12])).toEqual([10, 11, 12, 10]);
  });

  it('put a square corner where the course meets the next shot at right angles', () => {
    const [line] = build([[0, 0, 'WT1 BEG'], [6, 0, 'WT1 SQ'], [10, -4, 'WT1 END']]).lines; // prettier-ignore
    expect(corners(line)[2]).toEqual([10, 0]);
    expect(elevationsOf(line, [1, 2, 4])).toEqual([1, 2, 3, 4]);
  });

  it('leave gaps, hide sides, join to a number and go on with a line that ended', () => {
    const work = build([
      [0, 0, 'FN1 BEG'],
      [10, 0, 'FN1 GAP'],
      [14, 0, 'FN1'],
      [20, 0, 'FN1 HID'],
      [30, 0, 'FN1 END'],
      [30, 9, 'FN1 CON', '77'],
      [5, 5, 'WT1 BEG'],
      [9, 9, 'WT1 JOIN 77 END'],
    ]);
    const [fence, wall] = work.lines;
    expect(fence.sides).toEqual([SIDE.drawn, SIDE.gap, SIDE.drawn, SIDE.hidden, SIDE.drawn, SIDE.drawn]);
    expect(planOf(fence).map((p) => p.places.length / 3)).toEqual([2, 2, 2]);
    expect(wall.rows).toEqual([6, 7, 5]);
    expect(wall.why[2]).toBe(WHY.joined);
    expect(work.slips).toEqual([]);
    expect(build([[0, 0, 'WT1 BEG'], [1, 1, 'WT1 JOIN 99']]).slips).toMatchObject([{ kind: 'join-unknown', number: '99' }]); // prettier-ignore
  });

  it('draw one arc through three shots, and leave a course smoothly', () => {
    const at = (t: number): [number, number] => [10 * Math.sin(t), 10 - 10 * Math.cos(t)];
    const [three] = build([[...at(0), 'KT1 BEG CUR3'], [...at(0.4), 'KT1'], [...at(1), 'KT1'], [20, 20, 'KT1 END']]).lines; // prettier-ignore
    expect(4 * Math.atan(three.bulges[0])).toBeCloseTo(0.4, 9);
    expect(4 * Math.atan(three.bulges[1])).toBeCloseTo(0.6, 9);
    expect(three.bulges[2]).toBe(0);
    // Closed form: a course eastward, a circle of 10 m: the arc to any place on it leaves without a kink.
    const [smooth] = build([[-9, 0, 'KT1 BEG'], [0, 0, 'KT1 CURT'], [...at(0.7), 'KT1'], [...at(1.6), 'KT1 CURX']]).lines; // prettier-ignore
    expect(4 * Math.atan(smooth.bulges[1])).toBeCloseTo(0.7, 9);
    expect(4 * Math.atan(smooth.bulges[2])).toBeCloseTo(0.9, 9);
  });

  it('draw smooth curves of arcs that meet without a kink and pass through every shot', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 2, max: 30 }), fc.integer({ min: -8, max: 8 })), { minLength: 3, maxLength: 12 }), // prettier-ignore
        (steps) => {
          let x = 0;
          const shots = steps.map(([dx, y], i): Shot => [(x += dx), y, i === 0 ? 'BT1 BEG SMOOTH' : i === steps.length - 1 ? 'BT1 CURX' : 'BT1']); // prettier-ignore
          const [line] = build(shots).lines;
          expect(line.rows.filter((r) => r >= 0)).toEqual(shots.map((_, i) => i));
          const n = line.x.length;
          for (let i = 1; i + 1 < n; i++) {
            // A side that no two arcs join is straight.
            if (line.bulges[i - 1] === 0 || line.bulges[i] === 0) continue;
            const a = directionAt(vertex(line, i - 1), vertex(line, i), line.bulges[i - 1], 'end')!;
            const b = directionAt(vertex(line, i), vertex(line, i + 1), line.bulges[i], 'start')!;
            expect(a.x * b.x + a.y * b.y).toBeGreaterThan(1 - 2e-6);
          }
        },
      ),
      // The joint of its second side would fall on its end.
      { examples: [[[[2, 0], [3, 5], [4, -7], [6, 0], [2, 0], [2, 0], [2, 0]]]] }, // prettier-ignore
    );
  });

  it('draw lines beside: parallel to sides, with the centre of arcs, higher by what was said', () => {
    const at = (r: number, t: number): [number, number] => [r * Math.sin(t), r * Math.cos(t)];
    const [line, beside] = build([[...at(20, 0), 'KT1 BEG OFF 0.5 -0.12 CUR3'], [...at(20, 0.5), 'KT1'], [...at(20, 1), 'KT1 END']]).lines; // prettier-ignore
    expect(beside.key).toBe('KT1/1');
    // The course turns right about the centre 0, 0: to its right the radius is smaller.
    beside.x.forEach((x, i) => expect(Math.hypot(x, beside.y[i])).toBeCloseTo(19.5, 9));
    expect(beside.bulges[0]).toBeCloseTo(line.bulges[0], 9);
    expect(elevationsOf(beside, [5, 6, 7])).toEqual([4.88, 5.88, 6.88]);
    for (const p of chordPlaces(vertex(beside, 0), vertex(beside, 1), beside.bulges[0], 0.001))
      expect(Math.hypot(p.x, p.y)).toBeCloseTo(19.5, 6);
  });

  it('keep a closed line beside another at its distance: area by closed form', () => {
    const [square] = build([[0, 0, 'FN1 BEG'], [10, 0, 'FN1'], [10, 10, 'FN1'], [0, 10, 'FN1 CLOSE']]).lines; // prettier-ignore
    const inside = parallelOf(square, -1, 0, { key: 'i', code: 'FN', lineNumber: '', why: WHY.offset });
    expect(area(inside)).toBeCloseTo(64, 9);
    expect(area(parallelOf(square, 1, 0, { key: 'o', code: 'FN', lineNumber: '', why: WHY.offset }))).toBeCloseTo(
      144,
      9,
    );
  });

  it('draw the further lines that a code asks for', () => {
    const list = structuredClone(DEFAULT_CODE_LIST);
    list.codes.find((c) => c.code === 'KT')!.offsets = [{ code: 'KF', across: 0.1, height: -0.12 }];
    const { lines } = build([[0, 0, 'KT1 BEG'], [10, 0, 'KT1 END']], list); // prettier-ignore
    expect(lines.map((l) => [l.key, l.code])).toEqual([['KT1', 'KT'], ['KT1/KF', 'KF']]); // prettier-ignore
    expect(corners(lines[1])).toEqual([[0, -0.1], [10, -0.1]]); // prettier-ignore
  });
});

describe('slips', () => {
  const kinds = (shots: Shot[]) => build(shots).slips.map((s) => s.kind);

  it('are named: ends without begins, words at odds, crossings, ways back, jumps', () => {
    expect(kinds([[0, 0, 'KT1 END'], [5, 0, 'KT1']])).toEqual(['end-without-begin', 'single-point-line', 'single-point-line']); // prettier-ignore
    expect(kinds([[0, 0, 'KT1 BEG'], [5, 0, 'KT1 CLOSE END']])).toEqual(['words-at-odds']); // prettier-ignore
    expect(kinds([[0, 0, 'TR BEG'], [5, 0, 'GR']])).toEqual(['word-on-point']); // prettier-ignore
    expect(kinds([[0, 0, 'KT1 BEG'], [5, 0, 'KT1 KT1']])).toEqual(['line-twice']); // prettier-ignore
    expect(kinds([[0, 0, 'KT1 BEG'], [5, 0, 'KT1'], [5, 5, 'KT1'], [2, -3, 'KT1']])).toEqual(['crosses-itself']); // prettier-ignore
    expect(kinds([[0, 0, 'KT1 BEG'], [5, 0, 'KT1'], [1, 0.1, 'KT1']])).toEqual(['doubles-back']); // prettier-ignore
    const walk = (n: number): Shot[] => Array.from({ length: n }, (_, i) => [i * 2, 0, 'KT1']);
    expect(kinds([...walk(6), [60, 0, 'KT1']])).toEqual(['long-jump']);
    const between = Array.from({ length: 50 }, (_, i): Shot => [i, 50, 'GR']);
    expect(kinds([...walk(4), ...between, [60, 0, 'KT1'], [62, 0, 'KT1']])).toEqual(['line-comes-back']);
  });

  it('of two shots taken in the other order name the pair', () => {
    const work = build([[0, 0, 'KT1 BEG'], [5, 0, 'KT1'], [15, 1, 'KT1'], [10, 0, 'KT1'], [20, 0, 'KT1'], [10, 5, 'KT1']]); // prettier-ignore
    expect(work.slips.every((s) => s.kind === 'crosses-itself' || s.kind === 'doubles-back')).toBe(true);
  });

  it('are found on a line of fifty thousand shots, whichever way it runs, without going through all pairs', () => {
    for (const turn of [0, 1]) {
      const shots = Array.from({ length: 50_000 }, (_, i): Shot => (turn ? [i % 2, i, 'KT1'] : [i, i % 2, 'KT1']));
      expect(build(shots).slips).toEqual([]);
    }
    const same = Array.from({ length: 20_000 }, (_, i): Shot => [0, i % 3, 'KT1']);
    expect(build(same).lines).toHaveLength(1);
  });

  it('never throw: thousands of begins, arcs through coincident points, every word in every place', () => {
    const begins = Array.from({ length: 5000 }, (_, i): Shot => [i % 7, i % 5, 'KT1 BEG CUR']);
    expect(build(begins).lines).toEqual([]);
    const same = Array.from({ length: 50 }, (_, i): Shot => [1, 1, i === 0 ? 'KT1 BEG SMOOTH' : i === 49 ? 'KT1 CURX' : 'KT1']); // prettier-ignore
    expect(build(same).lines[0].bulges.every((b) => b === 0)).toBe(true);
    const word = fc.constantFrom(...Object.values(DEFAULT_CODE_LIST.words).map(String), 'KT1', 'KT2', 'ED1', 'TR', 'ZZ', '1', '0.5', '-2'); // prettier-ignore
    const shot = fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 4 }), fc.array(word, { maxLength: 8 }).map((w) => w.join(' '))); // prettier-ignore
    fc.assert(
      fc.property(fc.array(shot, { maxLength: 40 }), (shots) => {
        for (const line of build(shots as Shot[]).lines) {
          const n = line.x.length;
          expect([line.y, line.rows, line.bulges, line.why, line.sides].every((c) => c.length === n)).toBe(true);
          expect([...line.x, ...line.y, ...line.bulges].every(Number.isFinite)).toBe(true);
          // No wild arc: none of more than three quarters of a circle.
          expect(line.bulges.every((b) => Math.abs(b) < 2.5)).toBe(true);
          expect(elevationsOf(line, new Float64Array(shots.length)).every(Number.isFinite)).toBe(true);
        }
      }),
      { numRuns: 600 },
    );
  });
});

describe('an edit', () => {
  it('shapes only the lines concerned, and the result is what building all anew gives', () => {
    const shots: Shot[] = Array.from({ length: 600 }, (_, i) => [i % 20, Math.floor(i / 20) * 5, `KT${1 + Math.floor(i / 20)}${i % 20 === 0 ? ' BEG' : ''}`]); // prettier-ignore
    const memory = new LineMemory();
    const first = build(shots, DEFAULT_CODE_LIST, memory);
    expect(memory.shaped).toBe(30);
    const edited = shots.map((s, i): Shot => (i === 105 ? [s[0], s[1], 'GR'] : s));
    const after = build(edited, DEFAULT_CODE_LIST, memory);
    expect(memory.shaped).toBe(1);
    expect(after).toEqual(build(edited));
    expect(build(shots, DEFAULT_CODE_LIST, memory)).toEqual(first);
    expect(memory.shaped).toBe(1);
  });
});
