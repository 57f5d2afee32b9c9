import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_CODE_LIST, indexCodes, nearestCodes, readDescription } from '#core/codes';
import { chordLength, buildLines, bulgesOfParts, bulgeThrough, chordPlaces, circleOf } from '#core/linework';

const index = indexCodes(DEFAULT_CODE_LIST);
const shots = (rows: [number, number, string][], group: (row: number) => number = () => 0) =>
  buildLines(
    {
      x: Float64Array.from(rows, (r) => r[0]),
      y: Float64Array.from(rows, (r) => r[1]),
      description: rows.map((r) => r[2]),
      off: () => false,
      group,
    },
    DEFAULT_CODE_LIST,
  );

describe('descriptions', () => {
  it('hold several codes, each with its line number, words and attributes', () => {
    const { items } = readDescription('kt2 BEG CUR/TR d=0.4 "by the gate" XQ9', index);
    expect(items.map((i) => [i.code, i.lineNumber, i.words.map((w) => w.meaning), i.known?.name ?? null])).toEqual([
      ['KT', '2', ['begin', 'curveBegin'], 'kerb, top'],
      ['TR', '', [], 'tree'],
      ['XQ', '9', [], null],
    ]);
    expect(items[1].attributes).toEqual({ d: '0.4' });
    expect(items.map((i) => i.at)).toEqual([0, 12, 35]);
  });

  it('never throw, whatever is typed', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 3000 }), (text) => void readDescription(text, index)));
    expect(readDescription('BEG END', index).problems).toHaveLength(2);
  });

  it('suggest the codes that one slip could have meant', () => {
    expect(nearestCodes('EDG', DEFAULT_CODE_LIST).map((c) => c.code)).toContain('ED');
    expect(nearestCodes('TK', DEFAULT_CODE_LIST)[0].code).toBe('KT');
    expect(nearestCodes('QQQQQQ', DEFAULT_CODE_LIST)).toHaveLength(0);
  });
});

describe('lines', () => {
  it('begin, run, end and close by their words; parallel lines are told apart by number', () => {
    const work = shots([
      [0, 0, 'KT1 BEG'],
      [0, 5, 'KT2 BEG'],
      [10, 0, 'KT1'],
      [10, 5, 'KT2 TR'],
      [20, 0, 'KT1 END'],
      [20, 5, 'KT2 CLOSE'],
      [50, 0, 'KT1'],
      [60, 0, 'KT1'],
    ]);
    expect(work.lines.map((l) => [l.key, l.rows, l.closed])).toEqual([
      ['KT1', [0, 2, 4], false],
      ['KT2', [1, 3, 5], true],
      ['KT1.2', [6, 7], false],
    ]);
    expect(work.pointCodes).toEqual([{ row: 3, code: 'TR', known: true }]);
  });

  it('do not run on from one file into the next', () => {
    const work = shots(
      [
        [0, 0, 'FN1'],
        [1, 0, 'FN1'],
        [9, 0, 'FN1'],
        [10, 0, 'FN1'],
      ],
      (row) => (row < 2 ? 0 : 1),
    );
    expect(work.lines.map((l) => l.rows)).toEqual([
      [0, 1],
      [2, 3],
    ]);
  });

  it('draw a curve that was never ended straight, and say where its course turns straight', () => {
    const arc = (i: number): [number, number] => [10 * Math.sin(i * 0.2), 10 - 10 * Math.cos(i * 0.2)];
    const straight = (i: number): [number, number] => [
      arc(5)[0] + i * Math.cos(1) * 3,
      arc(5)[1] + i * Math.sin(1) * 3,
    ];
    const rows: [number, number, string][] = [
      [-5, 0, 'ED1 BEG'],
      ...[0, 1, 2, 3, 4, 5].map((i): [number, number, string] => [...arc(i), i === 0 ? 'ED1 CUR' : 'ED1']),
      ...[1, 2, 3].map((i): [number, number, string] => [...straight(i), 'ED1']),
    ];
    const work = shots(rows);
    expect(work.lines[0].bulges.every((b) => b === 0)).toBe(true);
    expect(work.slips).toMatchObject([{ kind: 'curve-not-ended', line: 'ED1', beginRow: 1, likelyEndRow: 6 }]);
    rows[6][2] = 'ED1 CURX';
    expect(shots(rows).slips).toHaveLength(0);
    expect(shots(rows).lines[0].bulges.filter((b) => b > 0)).toHaveLength(5);
  });

  it('never throw, and use every shot of a line exactly once, in order', () => {
    const word = fc.constantFrom('KT1', 'KT2', 'ED1', 'TR', 'ZZ', 'BEG', 'END', 'CLOSE', 'CUR', 'CURX');
    const row = fc.tuple(
      fc.integer({ min: 0, max: 5 }),
      fc.integer({ min: 0, max: 5 }),
      fc.array(word, { maxLength: 6 }).map((w) => w.join(' ')),
    );
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), (rows) => {
        const work = shots(rows as [number, number, string][]);
        for (const line of work.lines) {
          expect(line.rows.length).toBeGreaterThan(1);
          expect(line.bulges).toHaveLength(line.rows.length);
          expect(line.bulges.every(Number.isFinite)).toBe(true);
          for (let i = 1; i < line.rows.length; i++) expect(line.rows[i]).toBeGreaterThanOrEqual(line.rows[i - 1]);
        }
      }),
      { numRuns: 500 },
    );
  });
});

describe('arcs', () => {
  const onCircle = (r: number, t: number) => ({ x: 100 + r * Math.cos(t), y: 200 + r * Math.sin(t) });

  it('pass through their three points: tan(θ/4), centre and radius by closed form', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 500, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        fc.double({ min: 0.2, max: 0.8, noNaN: true }),
        fc.boolean(),
        (r, t, sweep, share, left) => {
          const s = left ? sweep : -sweep;
          const [a, b, c] = [onCircle(r, t), onCircle(r, t + s * share), onCircle(r, t + s)];
          const bulge = bulgeThrough(a, b, c);
          expect(bulge).toBeCloseTo(Math.tan(s / 4), 7);
          const circle = circleOf(a, c, bulge);
          expect(circle.radius / r).toBeCloseTo(1, 6);
          expect(circle.x).toBeCloseTo(100, 3);
          const [first, second] = bulgesOfParts(a, b, c);
          expect(4 * Math.atan(first)).toBeCloseTo(s * share, 5);
          expect(4 * Math.atan(second)).toBeCloseTo(s * (1 - share), 5);
          for (const p of chordPlaces(a, c, bulge, 0.01))
            expect(Math.hypot(p.x - 100, p.y - 200) / r).toBeCloseTo(1, 6);
        },
      ),
    );
  });

  it('keep their chords within the sagitta', () => {
    const [a, c] = [onCircle(25, 0), onCircle(25, 2)];
    const places = [a, ...chordPlaces(a, c, Math.tan(0.5), 0.02), c];
    for (let i = 1; i < places.length; i++) {
      const middle = Math.hypot((places[i].x + places[i - 1].x) / 2 - 100, (places[i].y + places[i - 1].y) / 2 - 200);
      expect(25 - middle).toBeLessThanOrEqual(0.02);
    }
  });

  it('are straight, never wild, through points in line, coincident points, or most of a circle', () => {
    expect(bulgeThrough({ x: 0, y: 0 }, { x: 1, y: 1 }, { x: 2, y: 2 })).toBe(0);
    expect(bulgeThrough({ x: 0, y: 0 }, { x: 0, y: 0 }, { x: 2, y: 2 })).toBe(0);
    expect(bulgeThrough({ x: 0, y: 0 }, { x: 2, y: 2 }, { x: 0, y: 0 })).toBe(0);
    expect(bulgeThrough({ x: 0, y: 0 }, { x: 50, y: 0.01 }, { x: 0, y: 0.02 })).toBe(0);
  });
});

describe('the length of a line', () => {
  it('has the closing side of a closed line in it', () => {
    const [x, y] = [
      [0, 3, 3],
      [0, 0, 4],
    ];
    expect(chordLength({ x, y, closed: false })).toBe(7);
    expect(chordLength({ x, y, closed: true })).toBe(12);
  });
});
