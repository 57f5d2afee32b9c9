import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  compareLists,
  DEFAULT_CODE_LIST,
  readSymbol,
  strokePath,
  SYMBOL_STROKES,
  SYMBOLS,
  type Stroke,
} from '#core/codes';
import { runChain } from '#core/chain';
import {
  applyChange,
  newDocument,
  type Change,
  type Intake,
  type Plot,
  type PointSet,
  type ProjectDocument,
} from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';
import { bestOfEach, matches, membersOf, movedByFigures, packPoints, setPointsOf, unpackPoints } from '#core/stages';
import { gridSpacing, layOutPlot, placeLabels, PAPER_SIZE, scaleName, type Mark, type WantedLabel } from '#core/drawing'; // prettier-ignore
import { readCodeTable, readPoints, writeCodeTable } from '#core/exchange';
import { drawingOf } from '#core/handover';

const label = (x: number, y: number, text: string, moved: [number, number] | null = null): WantedLabel => ({ key: `${x} ${y} ${text}`, text, layer: 'T', ink: 'ink', x, y, size: 1.6, corner: 'up-right', moved }); // prettier-ignore

describe('labels', () => {
  it('never stand on each other, those moved by hand apart, and all that find no place are counted', () => {
    const place = fc.tuple(fc.double({ min: 0, max: 60, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true }), fc.integer({ min: 1, max: 99999 })); // prettier-ignore
    fc.assert(
      fc.property(fc.array(place, { maxLength: 60 }), (list) => {
        const { placed, leftAway } = placeLabels(
          list.map(([x, y, n]) => label(x, y, String(n))),
          [],
        );
        expect(placed.length + leftAway).toBe(list.length);
        const boxes = placed.map((l) => ({ left: l.textX, right: l.textX + l.text.length * (0.6 / 0.698) * 1.6, bottom: l.textY, top: l.textY + 1.6 })); // prettier-ignore
        for (let i = 0; i < boxes.length; i++)
          for (let k = 0; k < i; k++)
            expect(boxes[i].left < boxes[k].right && boxes[k].left < boxes[i].right && boxes[i].bottom < boxes[k].top && boxes[k].bottom < boxes[i].top).toBe(false); // prettier-ignore
      }),
    );
  });

  it('stay where a person put them, with a line back to their point when they stand far off', () => {
    const { placed } = placeLabels([label(10, 10, '1', [12, 3]), label(21.9, 13, '2')], []);
    expect(placed[0]).toMatchObject({ textX: 22, textY: 13, led: true });
    // Its own corner is taken, so it goes below.
    expect(placed[1].textY).toBeLessThan(13);
  });
});

const intake: Intake = { id: 'a', fileId: 'a', fileName: 'a.csv', sha256: '0'.repeat(64), layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' }, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } }; // prettier-ignore
const TEXT =
  '1,100,200,5,KT1 BEG\n2,130,240,6,KT1 END\n3,110,210,7,TR girth=0.4\n4,120,230,8,GR\n2,130.02,240,6.1,GR\n';
const doc: ProjectDocument = { ...newDocument(), intakes: [intake] };
const chainOf = (d: ProjectDocument) => runChain(d, (i) => readPoints(TEXT, i.layout)!);
const plot: Plot = { id: 'p', title: 'Quay', paper: 'A3', upright: false, scale: 500, x: 115, y: 220, turn: 0, grid: null, contours: true, legend: true, client: '', drawnBy: 'I. K.', checkedBy: '', number: '7', note: '' }; // prettier-ignore
const apply = (d: ProjectDocument, change: Change): ProjectDocument => {
  const done = applyChange(d, change);
  if (!done.ok) throw new Error(done.reason);
  // What is undone is the document that was.
  const back = applyChange(done.document, done.inverse);
  expect(back.ok && back.document).toEqual(d);
  return done.document;
};
const laid = (d: ProjectDocument, p: Plot) => {
  const { points, linework, contours } = chainOf(d);
  return layOutPlot(
    d,
    p,
    {
      points: setPointsOf(points),
      lines: linework.lines,
      contours: contours.get('ground')!.list,
    },
    { project: 'P', revision: 3, date: '2026-11-25' },
  );
};
const texts = (marks: Mark[]): string[] => marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []));
const kerb = (marks: Mark[]): number[] =>
  marks.flatMap((m) => (m.kind === 'course' && m.inside && m.places.length === 4 && m.width === 0.25 ? [m.places] : []))[0]; // prettier-ignore

describe('a plot', () => {
  it('is at true scale, in metric and imperial scales, turned or not', () => {
    for (const [scale, turn] of [
      [500, 0],
      [240, 0.7],
      [1000, -1.2],
    ]) {
      const [x1, y1, x2, y2] = kerb(laid(doc, { ...plot, scale, turn }).marks);
      // 50 m between the two shots.
      expect((Math.hypot(x2 - x1, y2 - y1) * scale) / 1000).toBeCloseTo(50, 9);
      const bearing = Math.atan2(30, 40) + turn;
      expect(Math.atan2(x2 - x1, y2 - y1)).toBeCloseTo(bearing, 9);
    }
    expect([scaleName(500, 'm'), scaleName(240, 'ft'), scaleName(500, 'ft')]).toEqual(['1 : 500', '1 in = 20 ft', '1 : 500']); // prettier-ignore
    expect(PAPER_SIZE.A0[0] * PAPER_SIZE.A0[1]).toBeCloseTo(999_949, -2);
  });

  it('stays on its paper, names what it shows, and hides what is hidden', () => {
    const page = laid(doc, plot);
    expect([page.width, page.height]).toEqual([420, 297]);
    expect(texts(page.marks)).toEqual(expect.arrayContaining(['Quay', '1 : 500 on A3', 'kerb, top', 'tree', 'ground', 'N', 'E 100', '5.000', '3, 2026-11-25'])); // prettier-ignore
    for (const m of page.marks) if (m.kind === 'text') expect(m.x).toBeLessThan(420);
    const hidden = apply(doc, { op: 'drawing.layer', layer: 'TREE', look: { visible: false } });
    expect(texts(laid(hidden, plot).marks)).not.toContain('tree');
    expect(drawingOf(hidden, chainOf(hidden), { points: true, lines: true, contours: false, surface: false }).points.map((p) => p.label)).not.toContain('3'); // prettier-ignore
    expect([gridSpacing(500, 'm'), gridSpacing(1000, 'm')]).toEqual([50, 100]);
  });

  it('keeps what a person changed of it as changes that can be taken back', () => {
    const one = apply(doc, { op: 'drawing.plot', id: 'p', plot });
    const two = apply(one, { op: 'drawing.label', key: 'a:3:elevation', to: [4, -2] });
    apply(two, { op: 'drawing.plot', id: 'p', plot: null });
    apply(two, { op: 'drawing.set', drawing: { symbolSize: 3 } });
    expect(laid(two, plot).marks.some((m) => m.kind === 'text' && m.text === '7.000')).toBe(true);
  });

  it('draws symbols of strokes that lie in their square', () => {
    for (const name of SYMBOLS)
      for (const s of SYMBOL_STROKES[name]) {
        const reach = s.kind === 'circle' ? s.radius : Math.max(...s.places.map(Math.abs));
        expect(reach).toBeLessThanOrEqual(0.9);
        expect(strokePath(s)).toMatch(/^M-?[\d.]+ -?[\d.]+/);
      }
  });
});

describe('a symbol of one’s own', () => {
  const svg = (inside: string, box = 'viewBox="0 0 24 24"'): string => `<svg xmlns="http://www.w3.org/2000/svg" ${box}>${inside}</svg>`; // prettier-ignore
  const strokes = (text: string): readonly Stroke[] => {
    const read = readSymbol(text);
    if (!read.ok) throw new Error(read.reason);
    return read.strokes;
  };

  it('comes from an SVG: the view box’s middle in the middle, y up, groups turned and scaled, curves as chords', () => {
    expect(strokes(svg('<path fill="none" stroke="black" d="M12 2v20M2 12h20"/>'))).toEqual([
      { kind: 'course', places: [0, 0.8333, 0, -0.8333] },
      { kind: 'course', places: [-0.8333, 0, 0.8333, 0] },
    ]);
    expect(strokes(svg('<g transform="translate(12 12) scale(2)"><rect x="-3" y="-3" width="6" height="6"/></g>'))).toEqual([{ kind: 'course', places: [-0.5, 0.5, 0.5, 0.5, 0.5, -0.5, -0.5, -0.5], closed: true, filled: true }]); // prettier-ignore
    // A circle's chords stand on it to a thousandth, and none is longer than a sixth of it.
    const [ring] = strokes(svg('<circle cx="12" cy="12" r="9" fill="none" stroke="red"/>'));
    if (ring.kind !== 'course') throw new Error('not chords');
    for (let i = 0; i < ring.places.length; i += 2) expect(Math.hypot(ring.places[i], ring.places[i + 1])).toBeCloseTo(0.75, 3); // prettier-ignore
    expect(ring.places.length).toBeGreaterThan(40);
    // Quadratic: half way it is a quarter of the ends and half of the handle.
    const [bow] = strokes(svg('<path fill="none" stroke="black" d="M0 12Q12 0 24 12"/>'));
    expect(bow.kind === 'course' && bow.places.slice(10, 12)).toEqual([0, 0.5]);
  });

  it('refuses in a sentence what is no symbol, and opens nothing that it refers to', () => {
    const refused = (text: string): string => {
      const read = readSymbol(text);
      return read.ok ? 'read' : read.reason;
    };
    expect(refused('<!DOCTYPE svg [<!ENTITY a "b">]><svg/>')).toContain('document type');
    expect(refused('<html/>')).toContain('not SVG but <html>');
    expect(refused('<svg><g></svg>')).toContain('well-formed');
    expect(refused(svg('<image href="http://x/y.png"/>'))).toContain('no shapes');
    expect(refused(svg('<path d="M0 0L"/>'))).toContain('path cannot be read');
    expect(refused(svg('<g transform="scale(1e300)"><path transform="scale(1e300)" d="M0 0L1 1"/></g>'))).toContain('farther than numbers'); // prettier-ignore
    expect(refused(svg('<path d="M0 0L1 1"/>'.repeat(61)))).toContain('more than 60 shapes');
    expect(refused(svg(`<path d="M0 0${'L1 1'.repeat(3001)}"/>`))).toContain('corners');
    expect(refused('<g>'.repeat(50).replace('<g>', '<svg>'))).toContain('deeper');
    expect(readSymbol(svg('<line x2="9" y2="9" stroke="red"/><text>a</text>'))).toMatchObject({ ok: true, left: ['1 text'] }); // prettier-ignore
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (t) => void readSymbol(svg(`<path d="${t}"/>`)))); // prettier-ignore
    fc.assert(fc.property(fc.string({ maxLength: 300 }), (t) => void readSymbol(t)));
  });

  it('is the same on the plot, in the drawing and through the table of codes', () => {
    const own = strokes(svg('<path d="M2 22L12 2L22 22z"/>'));
    const codeList = { ...doc.codeList, codes: doc.codeList.codes.map((c) => (c.code === 'TR' ? { ...c, strokes: [...own] } : c)) }; // prettier-ignore
    const d = apply(doc, { op: 'codes.set', codeList });
    const back = readCodeTable(writeCodeTable(codeList.codes));
    expect(back.problems).toEqual([]);
    expect(back.codes.find((c) => c.code === 'TR')!.strokes).toEqual(own);
    const out = drawingOf(d, chainOf(d), {
      points: true,
      lines: false,
      contours: false,
      surface: false,
      symbols: true,
    });
    expect(out.blocks!.find((b) => b.name === 'TR')!.strokes).toEqual(own);
    const filled = laid(d, plot).marks.filter(
      (m) => m.kind === 'course' && m.fill && m.places.length === 6 && m.width === 0.18,
    );
    // The tree on the map, and in the legend.
    expect(filled).toHaveLength(2);
    expect(compareLists(doc.codeList, codeList).changed.map((c) => c.fields)).toEqual([['strokes']]);
  });
});

describe('two days in one book', () => {
  const BOOK = 'book 1\nunit m\nangle deg\npoint A 100 200 5\npoint B 100 300 5\nsetup A hi=1.5 time=2026-07-20T08:00\nback B circle=0 zenith=90 dist=100 th=1.5\nshot 1 circle=40 zenith=90 dist=30 th=1.5 code=TR time=2026-07-20T08:10\nshot 2 circle=80 zenith=90 dist=30 th=1.5 code="KT1 BEG" time=2026-07-21T09:00\nshot 3 circle=120 zenith=90 dist=30 th=1.5 code="KT1 END" time=2026-07-22\nend\n'; // prettier-ignore
  const second: PointSet = { id: 's', name: 'Second day', rule: { dates: ['2026-07-21', '2026-07-22'] }, byHandOnly: false, more: [], without: [], ink: 'plum', hidden: false }; // prettier-ignore
  const project = async (set: PointSet): Promise<[ProjectDocument, ReturnType<typeof runChain>]> => {
    const empty = newDocument();
    const drawing = { ...empty.drawing, labels: { ...empty.drawing.labels, number: { ...empty.drawing.labels.number, on: true } } }; // prettier-ignore
    const d: ProjectDocument = { ...empty, drawing, intakes: [{ ...intake, form: 'book', fileName: 'a.book' }], pointSets: [set] }; // prettier-ignore
    const reading = await readByPlan(new TextEncoder().encode(BOOK), readingPlan(d.basis, d.intakes[0]), {});
    if (!reading?.ok) throw new Error('not read');
    return [d, runChain(d, () => reading.read)];
  };
  const parts = { points: true, lines: true, contours: false, surface: false, symbols: true, labels: true };
  const plotOf = ([d, r]: [ProjectDocument, ReturnType<typeof runChain>]) => layOutPlot(d, plot, { points: setPointsOf(unpackPoints(packPoints(r.points))), lines: r.linework.lines, contours: [] }, { project: 'P', revision: 1, date: '2026-07-23' }); // prettier-ignore

  it('are told apart by the dates of their shots on the plot and in the drawing that goes out', async () => {
    const [d, r] = await project(second);
    expect([...r.points.date]).toEqual([20260720, 20260721, 20260722]);
    const out = drawingOf(d, r, parts);
    // The tree of the first day has its layer's colour; the others, of another layer, say that they differ from it.
    expect(out.inserts?.map((i) => i.colour)).toEqual([undefined]);
    const kerbs = out.points.map((p) => p.colour ?? out.colours[p.layer]);
    expect(kerbs).toEqual([200, 200]);
    expect(out.lines.map((l) => l.colour ?? out.colours[l.layer])).not.toContain(200);
    const hidden = await project({ ...second, hidden: true });
    expect(drawingOf(...hidden, parts).points).toEqual([]);
    const numbers = (p: ReturnType<typeof plotOf>): string[] => texts(p.marks).filter((t) => ['1', '2', '3'].includes(t)); // prettier-ignore
    expect(numbers(plotOf([d, r]))).toEqual(expect.arrayContaining(['1', '2', '3']));
    expect(numbers(plotOf(hidden))).not.toContain('2');
    expect(numbers(plotOf(hidden))).toContain('1');
  });
});

describe('sets of points', () => {
  const { points } = chainOf(doc);
  const set = (part: Partial<PointSet>): PointSet => ({ id: 's', name: 'S', rule: {}, byHandOnly: false, more: [], without: [], ink: null, hidden: false, ...part }); // prettier-ignore
  const rows = (part: Partial<PointSet>) => [...membersOf(set(part), doc, { ...setPointsOf(points), date: points.x.map((_, r) => 20260501 + r) }).entries()].flatMap(([i, m]) => (m ? [i] : [])); // prettier-ignore

  it('follow every part of their rule, and what was put in and taken out by hand', () => {
    expect(rows({})).toEqual([0, 1, 2, 3, 4]);
    expect(rows({ rule: { codes: ['K*'] } })).toEqual([0, 1]);
    expect(rows({ rule: { numbers: [2, 3] } })).toEqual([1, 2, 4]);
    expect(rows({ rule: { elevations: [6.05, 7] } })).toEqual([2, 4]);
    expect(rows({ rule: { area: [105, 205, 125, 205, 125, 235, 105, 235] } })).toEqual([2, 3]);
    expect(rows({ rule: { dates: ['2026-05-02', '2026-05-03'] } })).toEqual([1, 2]);
    expect(rows({ rule: { codes: ['TR'] }, more: ['a:1'], without: ['a:3'] })).toEqual([0]);
    expect(rows({ byHandOnly: true, more: ['a:4'] })).toEqual([3]);
    expect(['K*', '*T', 'KT', '**', 'K*T*'].every((p) => matches(p, 'KT'))).toBe(true);
    expect(['T*', 'K', 'KTT', '*K', ''].some((p) => matches(p, 'KT'))).toBe(false);
    expect(matches('*A'.repeat(15), 'A'.repeat(2000) + 'B')).toBe(false);
    apply(doc, { op: 'points.set', id: 's', set: set({}) });
  });

  it('give the best of each number: control before the mean before a single shot', () => {
    const best = bestOfEach(doc, setPointsOf(points), [0, 1, 2, 3, 4]);
    expect(best.map((b) => b.kind)).toEqual(['single', 'mean', 'single', 'single']);
    expect([best[1].x, best[1].z]).toEqual([expect.closeTo(130.01, 9), expect.closeTo(6.05, 9)]);
  });

  it('are turned, scaled and shifted about a place: lengths times the factor, angles as they were', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        (turn, scale) => {
          const m = { about: { x: 100, y: 200 }, turn, scale, shift: { x: 3, y: -4, z: 1 } };
          const [a, b] = [[110, 200], [100, 230]].map(([x, y]) => movedByFigures(m, Math.sin(turn), Math.cos(turn), x, y, 5)); // prettier-ignore
          expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeCloseTo(scale * Math.hypot(10, 30), 9);
          expect(a.z).toBe(6);
          // Clockwise: what lay east of the middle lies south of east after a small turn.
          expect(Math.atan2(a.x - 103, a.y - 196)).toBeCloseTo(Math.atan2(Math.cos(turn), -Math.sin(turn)), 9);
        },
      ),
    );
  });

  it('of light points ask for no number and carry no label', () => {
    const light = apply(doc, { op: 'intake.light', id: 'a', light: true });
    const result = chainOf(light);
    expect(result.queries.some((q) => q.kind === 'number-twice')).toBe(false);
    expect(texts(laid(light, plot).marks)).not.toContain('5.000');
    const full = apply(light, { op: 'points.edit', edits: { 'a:1': { set: { full: true }, undo: [] } } });
    expect(texts(laid(full, plot).marks)).toContain('5.000');
  });
});

describe('a code list as a table', () => {
  it('comes back as it was written', () => {
    const list = structuredClone(DEFAULT_CODE_LIST.codes);
    list[1] = { ...list[1], offsets: [{ code: 'KF', across: 0.1, height: -0.12 }], label: ['number', 'elevation'], rotation: Math.PI / 4, scale: 1.5, pointLayer: 'KERB-POINTS' }; // prettier-ignore
    const back = readCodeTable(writeCodeTable(list));
    expect(back.problems).toEqual([]);
    expect(compareLists({ codes: list, words: {} }, { codes: back.codes, words: {} })).toEqual({ added: [], gone: [], changed: [], words: [] }); // prettier-ignore
  });

  it('names the row that does not hold, and never throws', () => {
    expect(readCodeTable('code,kind,ink\nKT,line,blue\nTR,tree,\nOK,point,\nOK,line,').problems).toEqual([
      { row: 2, reason: 'ink “blue” is none of ink, slate, pole, pine, brass, lake, plum, moss' },
      { row: 3, reason: 'kind “tree” is none of point, line' },
      { row: 5, reason: 'code OK stands in row 4 already' },
    ]);
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => void readCodeTable(`code,kind,offsets,attributes\n${text}`))); // prettier-ignore
  });

  it('refuses row by row what a project would refuse, says columns it does not read, and loses no code in silence', () => {
    const rows = [
      'code,name,kind,layer,label,scale,wdith',
      `AA,${'n'.repeat(81)},point,L,,,`,
      `BB,,line,${'L'.repeat(32)},,,`,
      'CC,,point,P,a b c d e f g,,',
      'DD,,point,P,,0x2,',
      'EE,,point,P,,2,9',
    ];
    const read = readCodeTable(rows.join('\n'));
    expect(read.codes.map((c) => c.code)).toEqual(['EE']);
    expect(read.problems.map((p) => [p.row, p.reason])).toEqual([
      [1, expect.stringContaining('column 7, “wdith”, is not read') as string],
      [2, 'the name has 81 characters; at most 80 are kept'],
      [3, 'the layer has 32 characters; at most 31 are kept'],
      [4, expect.stringContaining('label') as string],
      [5, 'scale “0x2” is not a number'],
    ]);
    const many = readCodeTable(['code', ...Array.from({ length: 2003 }, (_, i) => `C${i}`)].join('\n'));
    expect([many.codes.length, many.problems.length, many.problems[0].row]).toEqual([2000, 3, 2002]);
  });
});
