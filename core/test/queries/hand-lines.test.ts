import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { applyChange, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import { pairsOf, pipeRuns } from '#core/queries';
import {
  DEFAULT_CODE_LIST,
  learnWords,
  writeDescription,
  readDescription,
  indexCodes,
  WORD_PRESETS,
} from '#core/codes';
import { failedRead, readPoints } from '#core/exchange';
import {
  addVertex,
  besideCourse,
  chordPlaces,
  circleOf,
  courseToEdit,
  extended,
  filleted,
  joined,
  meetingsOf,
  placeVertex,
  removeVertex,
  reversed,
  splitAt,
  trimmed,
  type HandCourse,
} from '#core/linework';

const course = (places: [number, number, number?][], closed = false): HandCourse => ({
  closed,
  vertices: places.map(([x, y, bulge = 0]) => ({ ...placeVertex(x, y, 10), bulge })),
});
const places = (c: HandCourse): number[][] => c.vertices.map((v) => [v.x, v.y].map((n) => Math.round(n * 1e9) / 1e9));
const got = <T>(e: { ok: true; course: T } | { ok: false; reason: string }): T => {
  if (!e.ok) throw new Error(e.reason);
  return e.course;
};

describe('editing a line by hand', () => {
  it('adds a vertex into an arc without changing the arc', () => {
    const arc = course([[0, 0, 0.4], [10, 0]]); // prettier-ignore
    const [middle] = chordPlaces({ x: 0, y: 0 }, { x: 10, y: 0 }, 0.4, 1);
    const { vertices } = got(addVertex(arc, 0, placeVertex(middle.x, middle.y)));
    const whole = circleOf({ x: 0, y: 0 }, { x: 10, y: 0 }, 0.4);
    const part = circleOf(vertices[0], vertices[1], vertices[0].bulge);
    expect([part.x, part.y, part.radius].map((v, i) => v - [whole.x, whole.y, whole.radius][i])).toEqual([0, 0, 0].map(() => expect.closeTo(0, 9))); // prettier-ignore
    expect(removeVertex(course([[0, 0], [1, 1]]), 0)).toMatchObject({ ok: false }); // prettier-ignore
  });

  it('comes back when it is turned round twice', () => {
    const vertex = fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 }), fc.constantFrom(0, 0.2, -0.7)); // prettier-ignore
    fc.assert(
      fc.property(fc.array(vertex, { minLength: 2, maxLength: 9 }), fc.boolean(), (list, closed) => {
        const c = course(list, closed && list.length > 2);
        if (!c.closed) c.vertices.at(-1)!.bulge = 0;
        expect(reversed(reversed(c))).toEqual(c);
      }),
    );
  });

  it('rounds a corner: the arc touches both sides, by closed form', () => {
    const c = got(filleted(course([[0, 0], [10, 0], [10, 8]]), 1, 3)); // prettier-ignore
    expect(places(c)).toEqual([[0, 0], [7, 0], [10, 3], [10, 8]]); // prettier-ignore
    const { x, y, radius } = circleOf(c.vertices[1], c.vertices[2], c.vertices[1].bulge);
    expect([x, y, radius]).toEqual([expect.closeTo(7, 9), expect.closeTo(3, 9), expect.closeTo(3, 9)]);
    expect(4 * Math.atan(c.vertices[1].bulge)).toBeCloseTo(Math.PI / 2, 9);
    const right = got(filleted(course([[0, 0], [10, 0], [10, -8]]), 1, 3)); // prettier-ignore
    expect(right.vertices[1].bulge).toBeCloseTo(-c.vertices[1].bulge, 12);
    expect(filleted(course([[0, 0], [2, 0], [2, 2]]), 1, 5)).toMatchObject({ ok: false }); // prettier-ignore
    // Any angle: the middle of the arc is a radius from both sides.
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 2.9, noNaN: true }), fc.boolean(), (angle, left) => {
        const a = left ? angle : -angle;
        const turned = got(filleted(course([[-50, 0], [0, 0], [-50 * Math.cos(a), 50 * Math.sin(a)]]), 1, 0.5)); // prettier-ignore
        const arc = circleOf(turned.vertices[1], turned.vertices[2], turned.vertices[1].bulge);
        expect(arc.radius).toBeCloseTo(0.5, 7);
        expect(Math.abs(arc.y)).toBeCloseTo(0.5, 7);
      }),
    );
  });

  it('trims to a crossing and extends to one, keeping the part that is pointed at', () => {
    const across = course([[5, -5], [5, 5]]); // prettier-ignore
    const line = course([[0, 0], [10, 0]]); // prettier-ignore
    expect(places(got(trimmed(line, across, { x: 9, y: 0 })))).toEqual([[5, 0], [10, 0]]); // prettier-ignore
    expect(places(got(trimmed(line, across, { x: 1, y: 0 })))).toEqual([[0, 0], [5, 0]]); // prettier-ignore
    expect(places(got(extended(course([[0, 0], [3, 0]]), 'last', across)))).toEqual([[0, 0], [3, 0], [5, 0]]); // prettier-ignore
    expect(places(got(extended(course([[8, 1], [6, 1]]), 'last', across)))[2]).toEqual([5, 1]); // prettier-ignore
    expect(extended(course([[0, 0], [-3, 0]]), 'last', across)).toMatchObject({ ok: false }); // prettier-ignore
    // A half circle of 5 m round the origin is met by the straight y = 3 at x = ±4.
    const half = { x: [5, -5], y: [0, 0], bulges: [1, 0], closed: false };
    const straight = { x: [-9, 9], y: [-3, -3], bulges: [0, 0], closed: false };
    const up = { x: [5, -5], y: [0, 0], bulges: [-1, 0], closed: false };
    const found = [...meetingsOf(straight, half), ...meetingsOf(straight, up)].map((m) => [Math.abs(Math.round(m.x * 1e9) / 1e9), m.y]); // prettier-ignore
    expect(found).toEqual([[4, -3], [4, -3]]); // prettier-ignore
  });

  it('splits, joins and draws beside', () => {
    const line = course([[0, 0], [5, 0], [10, 0]]); // prettier-ignore
    const [a, b] = got(splitAt(line, 1));
    expect(places(got(joined(b, a)))).toEqual([[10, 0], [5, 0], [0, 0]]); // prettier-ignore
    const ring = got(splitAt(course([[0, 0], [4, 0], [4, 4]], true), 1)); // prettier-ignore
    expect(places(ring[0])).toEqual([[4, 0], [4, 4], [0, 0], [4, 0]]); // prettier-ignore
    expect(places(got(besideCourse(line, 2, 0.1)))).toEqual([[0, -2], [5, -2], [10, -2]]); // prettier-ignore
    expect(got(besideCourse(line, 2, 0.1)).vertices[0].z).toBeCloseTo(10.1, 12);
  });
});

const intake = (id: string): Intake => ({ id, fileId: id, fileName: `${id}.csv`, sha256: '0'.repeat(64), layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' }, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } }); // prettier-ignore
const chainOf = (doc: ProjectDocument, text: string) => runChain(doc, (i) => readPoints(text, i.layout)!);
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const done = applyChange(doc, change);
  if (!done.ok) throw new Error(done.reason);
  return done.document;
};
const FENCE = '1,0,0,5,KT1 BEG\n2,10,0,6,KT1\n3,20,0,7,KT1 END\n4,10,4,6.5,GR\n5,0,9,5,GR\n';

describe('lines by hand in a project', () => {
  const doc = { ...newDocument(), intakes: [intake('a')] };
  const first = chainOf(doc, FENCE);
  const line = first.linework.lines[0];
  const hand = courseToEdit(line, (row) => `a:${row + 1}`, [5, 6, 7]);
  const change: Change = {
    op: 'lines.hand',
    set: { KT1: { ...got(addVertex(hand, 1, { ...placeVertex(10, 4), point: 'a:4' })), code: 'KT', lineNumber: '1', replaces: { key: 'KT1', course: 'x' } } }, // prettier-ignore
    what: 'put point 4 into line KT1',
  };

  it('stand in the place of the coded line and follow its points when these move', () => {
    const edited = apply(doc, change);
    const { linework } = chainOf(edited, FENCE);
    expect(linework.lines.map((l) => [l.key, l.rows])).toEqual([['KT1', [0, 1, 3, 2]]]);
    const moved = chainOf(edited, FENCE.replace('4,10,4', '4,11,4.5')).linework.lines[0];
    expect([moved.x[2], moved.y[2]]).toEqual([11, 4.5]);
    const done = applyChange(doc, change);
    expect(done.ok && applyChange(done.document, done.inverse)).toMatchObject({ ok: true, document: doc });
  });

  it('are the remedy for two shots taken in the wrong order', () => {
    const text = '1,0,0,5,KT1 BEG\n2,10,10,6,KT1\n3,10,0,7,KT1\n4,0,10,6.5,KT1 END\n';
    const query = chainOf(doc, text).queries.find((q) => q.kind === 'crosses-itself')!;
    expect(query.remedies[0].label).toBe('Go through 3 before 2');
    const mended = chainOf(apply(doc, query.remedies[0].change), text);
    expect(mended.linework.lines[0].rows).toEqual([0, 2, 1, 3]);
    expect(mended.queries.some((q) => q.kind === 'crosses-itself' || q.kind === 'hand-line-stale')).toBe(false);
  });

  it('give the same lines in whatever order a store gives them back', () => {
    const lines = Object.fromEntries(['b', 'a', 'aa', 'B'].map((key, i) => [key, { code: 'KT1', lineNumber: null, closed: false, vertices: [placeVertex(i, 0), placeVertex(i, 9)], replaces: null }])); // prettier-ignore
    const of = (keys: string[]): string[] => {
      const doc = {
        ...newDocument(),
        handLines: Object.fromEntries(keys.map((k) => [k, lines[k]])),
      } as unknown as ProjectDocument;
      return runChain(doc, () => failedRead('')).linework.lines.map((l) => l.key);
    };
    expect(of(['b', 'a', 'aa', 'B'])).toEqual(of(['B', 'aa', 'b', 'a']));
    expect(of(['b', 'a', 'aa', 'B'])).toHaveLength(4);
  });

  it('say when their codes give another course by now, or a point is gone', () => {
    const edited = apply(doc, change);
    const stale = chainOf(edited, FENCE.replace('5,0,9,5,GR', '5,25,0,5,KT1 CON')).queries.find((q) => q.kind === 'hand-line-stale')!; // prettier-ignore
    expect(stale.text).toContain('4 points');
    expect(chainOf(apply(edited, stale.remedies[0].change), FENCE).linework.lines[0].rows).toEqual([0, 1, 2]);
    const off = apply(edited, { op: 'points.edit', edits: { 'a:4': { set: { off: true }, undo: [] } } });
    expect(chainOf(off, FENCE).linework.lines[0].rows).toEqual([0, 1, 2]);
  });
});

describe('two levels in one place', () => {
  const text = [
    '1,0,0,50,LD',
    '2,0.05,0.02,48.2,IV',
    '3,40,0,49.6,LD depth=1.7',
    '4,0,0,48.3,PI1 BEG',
    '5,40,0,48,PI1 END',
    '6,100,0,50,LD',
    '7,100,0,51,IV',
  ].join('\n');
  const doc = { ...newDocument(), intakes: [intake('a')] };
  const result = chainOf(doc, text);

  it('are read by the words of each file, though both say the same', () => {
    // Without line numbers LD1 is a code that the list lacks; with them it is a cover.
    const other = { ...intake('b'), words: { form: { place: 'after', number: 'none', joint: null, separators: '/', unit: 'm' } } } as Intake; // prettier-ignore
    const two = { ...newDocument(), intakes: [other, intake('a')] };
    const both = chainOf(two, '1,0,0,50,LD1 depth=1.5\n');
    expect(pairsOf(two, both.points).map((p) => p.upper)).toEqual([1]);
  });

  it('are found by their codes or by a typed depth; runs have inverts, lengths and gradients', () => {
    const pairs = pairsOf(doc, result.points);
    expect(pairs.map((p) => [p.upper, p.lower, Math.round((p.top - p.bottom) * 1000) / 1000])).toEqual([
      [0, 1, 1.8],
      [2, -1, 1.7],
      [5, 6, -1],
    ]);
    const [run] = pipeRuns(doc, result.points, result.linework.lines, pairs);
    expect(run.length).toBeCloseTo(40, 9);
    expect(run.gradient).toBeCloseTo((48.2 - 47.9) / 40, 12);
    expect(result.queries.filter((q) => q.kind === 'pair-wrong')).toHaveLength(1);
  });
});

describe('a crew’s words', () => {
  const said = ['KT1 BEG', 'KT1', 'KT1 CUR', 'KT1', 'KT1 CURX', 'KT1 END', 'TR', 'FN2 BEG', 'FN2', 'FN2 END', 'BW1 BEG', 'BW1', 'BW1 CLOSE', 'ED1 BEG', 'ED1 CUR', 'ED1', 'ED1 CURX', 'ED1 END', 'GR', 'WT1 BEG', 'WT1', 'WT1 END']; // prettier-ignore
  const index = indexCodes(DEFAULT_CODE_LIST);

  it('are proposed from how they are used, whatever form they stand in', () => {
    const crew = { begin: 'AAN', end: 'UIT', close: 'DICHT', curveBegin: 'BOCHT', curveEnd: 'RECHT' };
    for (const { words } of WORD_PRESETS) {
      const theirs = { ...crew, form: words.form };
      const sample = said.map((d) => writeDescription(readDescription(d, index).items, theirs).text);
      const learnt = learnWords(sample, DEFAULT_CODE_LIST, { form: undefined });
      const proposed = Object.fromEntries(learnt.unknown.map((u) => [u.word, u.proposed]));
      expect([words.form, learnt.form]).toEqual([words.form, words.form]);
      expect(proposed).toMatchObject({ AAN: 'begin', BOCHT: 'curveBegin', RECHT: 'curveEnd', UIT: 'end' });
      expect(learnt.codesKnown).toBe(learnt.codes);
    }
  });

  it('never make learning throw', () => {
    fc.assert(fc.property(fc.array(fc.string({ unit: 'binary', maxLength: 30 }), { maxLength: 40 }), (d) => void learnWords(d, DEFAULT_CODE_LIST))); // prettier-ignore
  });
});
