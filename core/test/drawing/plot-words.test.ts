import { beforeAll, describe, expect, it } from 'vitest';
import type { ChainResult } from '#core/chain';
import {
  gridOfWindows,
  layOutPlot,
  plotFrames,
  plotOnGround,
  seriesOf,
  shareOf,
  sheetNames,
  SMALLEST,
  stripOfWindows,
  usualPaper,
  widthOf,
  wrapped,
  type Box,
  type Mark,
  type PlotPage,
} from '#core/drawing';
import { applyChange, newDocument, PAPERS, type Plot, type ProjectDocument } from '#core/project';
import { ringArea } from '#core/kernel';
import { setPointsOf } from '#core/stages';
import { measureSurface } from '#core/terrain';
import { demoProject } from '#demo';
import { computed } from '../../../demo/test/demo-results.ts';

type Text = Extract<Mark, { kind: 'text' }>;
type Course = Extract<Mark, { kind: 'course' }>;

const plot: Plot = { id: 'p', title: 'Existing ground', paper: 'A3', upright: false, scale: 500, x: 4300, y: 7745, turn: 0, grid: null, contours: true, legend: true, client: '', drawnBy: 'I. K.', checkedBy: '', number: '7', note: '' }; // prettier-ignore
const facts = { project: 'Ostrel Lane', revision: 3, date: '2026-11-25' };
let doc: ProjectDocument;
let result: ChainResult;
const laid = (p: Partial<Plot>, d = doc): PlotPage =>
  layOutPlot(d, { ...plot, ...p }, { points: setPointsOf(result.points), lines: result.linework.lines, contours: result.contours.get(d.surfaces[0].id)!.list }, facts); // prettier-ignore
const texts = (page: PlotPage): Text[] => page.marks.filter((m) => m.kind === 'text');
const words = (page: PlotPage): string[] => texts(page).map((t) => t.text);
const ELEVATION = /^\d+\.\d{3}$/;

/** Where the letters are; of turned words the box around them. */
function boxOf({ x, y, size, text, face, align, turn = 0 }: Text): Box {
  const width = widthOf(text, face, size);
  const start = align === 'left' ? 0 : align === 'right' ? -width : -width / 2;
  const [s, c] = [Math.sin(turn), Math.cos(turn)];
  const corners = [[start, 0], [start + width, 0], [start, size], [start + width, size]].map(([u, v]) => [x + u * c - v * s, y + u * s + v * c]); // prettier-ignore
  const [xs, ys] = [corners.map((p) => p[0]), corners.map((p) => p[1])];
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) };
}
const meet = (a: Box, b: Box): boolean => a.left < b.right && b.left < a.right && a.bottom < b.top && b.bottom < a.top;
const isIn = (b: Box, f: { left: number; bottom: number; width: number; height: number }): boolean =>
  b.left >= f.left && b.right <= f.left + f.width && b.bottom >= f.bottom && b.top <= f.bottom + f.height;

beforeAll(async () => {
  ({ doc, result } = await computed(demoProject()));
});

describe('words on a plot', () => {
  const ways: [string, Partial<Plot>][] = [
    ['as it lies', {}],
    ['turned', { turn: 0.6 }],
    ['a corner of it, large', { scale: 200, x: 4270, y: 7720, turn: -1.1 }],
    ['in feet on another sheet', { scale: 480, paper: 'ARCH C', upright: true }],
  ];
  it.each(ways)('%s: are on the paper, clear of the rim, of lines and of each other, and large enough', (_, way) => {
    const page = laid(way);
    const { window, column } = plotFrames({ ...plot, ...way });
    const all = texts(page);
    const paper = { left: 0, bottom: 0, width: page.width, height: page.height };
    for (const t of all) {
      expect(t.size).toBeGreaterThanOrEqual(SMALLEST);
      expect(isIn(boxOf(t), paper)).toBe(true);
    }
    const ofPoints = all.filter((t) => ELEVATION.test(t.text));
    expect(ofPoints.length).toBeGreaterThan(50);
    // A hair smaller: contours end at the very rim of the words that they make room for.
    const boxes = ofPoints.map(boxOf).map((b) => ({ left: b.left + 0.01, right: b.right - 0.01, bottom: b.bottom + 0.01, top: b.top - 0.01 })); // prettier-ignore
    for (const b of boxes) expect(isIn(b, window)).toBe(true);
    expect(boxes.filter((b, i) => boxes.some((o, k) => k < i && meet(b, o)))).toEqual([]);
    // Kerbs, banks, walls: everything drawn in the window that is no leader, symbol or tick of the grid.
    const drawn = page.marks.filter((m): m is Course => m.kind === 'course' && m.inside !== undefined && m.width >= 0.12 && m.width !== 0.13 && m.width !== 0.18 && m.width !== 0.2); // prettier-ignore
    expect(drawn.length).toBeGreaterThan(20);
    const through = (b: Box): boolean => drawn.some(({ places }) => places.some((_, i) => i % 2 === 0 && i + 3 < places.length && shareOf([places[i], places[i + 1], places[i + 2], places[i + 3]], b) !== null)); // prettier-ignore
    expect(boxes.filter(through)).toEqual([]);
    for (const t of all) if (t.x > column.left) expect(isIn(boxOf(t), column)).toBe(true);
  });

  it('say the elevation of index contours along them, never upside down, and the interval in the legend', () => {
    const along = texts(laid({})).filter((t) => t.turn !== undefined && /^\d+\.\d\d$/.test(t.text));
    expect(along.length).toBeGreaterThan(5);
    for (const t of along) expect(Math.abs(t.turn!)).toBeLessThanOrEqual(Math.PI / 2);
    const levels = new Set(result.contours.get(doc.surfaces[0].id)!.list.filter((c) => c.index).map((c) => c.elevation.toFixed(2))); // prettier-ignore
    for (const t of along) expect(levels.has(t.text)).toBe(true);
    expect(words(laid({}))).toContain('contour, every 0.25 m');
    expect(words(laid({ contours: false })).join()).not.toContain('contour');
  });

  it('in the legend name what is in the window and nothing else, with a sign for codes that no list knows', () => {
    const whole = words(laid({}));
    for (const name of ['control', 'kerb, top', 'tree', 'not in the code list: DTT']) expect(whole).toContain(name);
    // A corner with the heap: no kerb, no quay, though half a diagonal reaches them.
    const heap = words(laid({ scale: 200, x: 4343, y: 7760, paper: 'A4' }));
    expect(heap).toContain('stockpile toe');
    for (const name of ['kerb, top', 'quay, coping', 'not in the code list: DTT']) expect(heap).not.toContain(name);
    const none = laid({ x: 9000, y: 9000 });
    expect(none.empty).toBe(true);
    expect(words(none)).toContain('nothing is in this window');
  });

  it('of a legend with sixty codes are all there, or counted', () => {
    const { codes } = doc.codeList;
    const many = Array.from({ length: 60 }, (_, i) => ({ ...codes.find((c) => c.code === 'GR')!, code: `Q${i}`, name: `sign ${i}` })); // prettier-ignore
    const rows = result.points.x.length;
    const points = { ...setPointsOf(result.points), description: (row: number) => `Q${row % 60}` };
    const sixty: ProjectDocument = { ...doc, codeList: { ...doc.codeList, codes: [...codes, ...many] } };
    const content = { points, lines: [], contours: [] };
    const named = (p: Plot) => layOutPlot(sixty, p, content, facts).marks.flatMap((m) => (m.kind === 'text' ? [m.text] : [])); // prettier-ignore
    expect(rows).toBeGreaterThan(60);
    const on = (list: string[]): number => list.filter((t) => /^sign \d+$/.test(t)).length;
    expect(on(named({ ...plot, paper: 'A1', scale: 250 }))).toBe(60);
    const small = named({ ...plot, paper: 'A4' });
    const left = Number(/and (\d+) more, on the code sheet/.exec(small.join())![1]);
    expect(on(small)).toBeGreaterThan(10);
    // Control stands in the legend too.
    expect(on(small) + left).toBeGreaterThanOrEqual(60);
  });

  it('of the title block are whole, however long they are', () => {
    const note = 'Elevations of covers were levelled. '.repeat(11).trim();
    const title = 'Ground and services along the northern bank between the two quays stage 2';
    const page = laid({ note, title, client: 'W'.repeat(80), drawnBy: 'A-very-long-double-name-of-the-draughtsman-in-charge', paper: 'A4' }); // prettier-ignore
    const { column } = plotFrames({ paper: 'A4', upright: false });
    const inBlock = texts(page).filter((t) => t.x > column.left).map((t) => t.text).join(' '); // prettier-ignore
    expect(inBlock).toContain(title.slice(0, 12));
    expect(inBlock.replace(/\s/g, '')).toContain(note.replace(/\s/g, ''));
    expect(inBlock.replace(/[^W]/g, '').length).toBeGreaterThanOrEqual(80);
    expect(inBlock).not.toContain('…');
  });

  it('name every grid line that leaves the frame below, left or above, turned or not', () => {
    for (const turn of [0, 0.6, -2]) {
      const named = new Set(words(laid({ turn })).filter((t) => /^[EN] \d+$/.test(t)));
      expect([...named].filter((t) => t.startsWith('E')).length).toBeGreaterThan(1);
      expect([...named].filter((t) => t.startsWith('N')).length).toBeGreaterThan(1);
      const { window } = plotFrames(plot);
      for (const t of texts(laid({ turn })).filter((m) => named.has(m.text))) expect(meet(boxOf(t), { left: window.left, bottom: window.bottom, right: window.left + window.width, top: window.bottom + window.height })).toBe(false); // prettier-ignore
    }
  });

  it('are wrapped whole: every letter, no line wider than its room', () => {
    for (const text of ['one two three', 'W'.repeat(50), 'a '.repeat(40), 'Łódź Привет '.repeat(9), ''])
      for (const room of [4, 20, 90]) {
        const lines = wrapped(text, 'text', 1.8, room);
        expect(lines.join('').replace(/\s/g, '')).toBe(text.replace(/\s/g, ''));
        for (const line of lines) expect(widthOf(line, 'text', 1.8) <= room || [...line].length === 1).toBe(true);
      }
  });
});

describe('a series of sheets', () => {
  it('covers everything in a grid, leaves out what is empty, and shows the sheets on an overview', () => {
    const base = { ...plot, paper: 'A4' as const, scale: 200, turn: 0.3 };
    const near = Array.from(result.points.x.keys()).filter((i) => Math.abs(result.points.x[i] - plot.x) < 500);
    const [x, y] = [near.map((i) => result.points.x[i]), near.map((i) => result.points.y[i])];
    const windows = gridOfWindows(base, x, y)!;
    const sheets = seriesOf(base, windows, 's', 'm');
    expect(sheets).toHaveLength(windows.length + 1);
    expect(new Set(sheetNames(sheets).values()).size).toBe(sheets.length);
    const inside = sheets.slice(1).map((p) => {
      const { window } = plotFrames(p);
      const [s, c] = [Math.sin(p.turn), Math.cos(p.turn)];
      const [w, h] = [(window.width * p.scale) / 2000, (window.height * p.scale) / 2000];
      return (x: number, y: number) => Math.abs((x - p.x) * c + (y - p.y) * s) <= w + 1e-6 && Math.abs(-(x - p.x) * s + (y - p.y) * c) <= h + 1e-6; // prettier-ignore
    });
    const used = inside.map(() => 0);
    for (let i = 0; i < x.length; i++) {
      const on = inside.flatMap((f, k) => (f(x[i], y[i]) ? [k] : []));
      expect(on.length).toBeGreaterThan(0);
      for (const k of on) used[k]++;
    }
    expect(Math.min(...used)).toBeGreaterThan(0);
    // One point a kilometre off would make hundreds of sheets: that is said instead.
    expect(gridOfWindows(base, [...x, 1e6], [...y, 0])).toBeNull();
    const applied = applyChange(doc, { op: 'drawing.series', id: 's', plots: sheets });
    if (!applied.ok) throw new Error(applied.reason);
    const overview = laid(sheets[0], applied.document);
    for (let i = 1; i <= windows.length; i++) expect(words(overview)).toContain(String(i));
    expect(words(overview).filter((t) => ELEVATION.test(t))).toEqual([]);
    const back = applyChange(applied.document, applied.inverse);
    expect(back.ok && back.document).toEqual(doc);
  });

  it('runs along a line, the line in the middle of each sheet, no two sheets more than an overlap apart', () => {
    const course = Array.from({ length: 200 }, (_, i) => [i * 10, 300 * Math.sin(i / 30)]).flat();
    const base = { ...plot, scale: 500 };
    const windows = stripOfWindows(base, course)!;
    expect(windows.length).toBeGreaterThan(8);
    const { window } = plotFrames(base);
    const [w, h] = [(window.width * 0.5) / 2, (window.height * 0.5) / 2];
    for (let i = 0; i < course.length; i += 2) {
      const on = windows.some(({ x, y, turn }) => {
        const [s, c] = [Math.sin(turn), Math.cos(turn)];
        const [dx, dy] = [course[i] - x, course[i + 1] - y];
        return Math.abs(dx * c + dy * s) <= w && Math.abs(-dx * s + dy * c) <= h;
      });
      expect(on).toBe(true);
    }
    for (const { turn } of windows) expect(Math.abs(turn)).toBeLessThanOrEqual(Math.PI / 2);
    expect(stripOfWindows({ ...base, scale: 5 }, course)).toBeNull();
  });

  it('is laid out and deleted as one change, among other plots, and says what stands in the way', () => {
    const one = applyChange(newDocument(), { op: 'drawing.plot', id: 'p', plot });
    if (!one.ok) throw new Error(one.reason);
    const sheets = seriesOf(plot, [{ x: 0, y: 0, turn: 0 }, { x: 100, y: 0, turn: 0 }], 's', 'm'); // prettier-ignore
    const laidOut = applyChange(one.document, { op: 'drawing.series', id: 's', plots: sheets });
    if (!laidOut.ok) throw new Error(laidOut.reason);
    expect(laidOut.document.drawing.plots.map((p) => p.number)).toEqual(['7', '7/0', '7/1', '7/2']);
    const gone = applyChange(laidOut.document, { op: 'drawing.series', id: 's', plots: [] });
    if (!gone.ok) throw new Error(gone.reason);
    expect(gone.document).toEqual(one.document);
    const back = applyChange(gone.document, gone.inverse);
    expect(back.ok && back.document).toEqual(laidOut.document);
    expect(applyChange(gone.document, { op: 'drawing.series', id: 's', plots: [] })).toMatchObject({ ok: false });
    expect(applyChange(one.document, { op: 'drawing.series', id: 't', plots: sheets })).toMatchObject({ ok: false });
  });
});

describe('paper', () => {
  it('of every kind holds its window and column, feet begin on inches, and sheets never share a file name', () => {
    for (const paper of PAPERS)
      for (const upright of [true, false]) {
        const { page, window, column } = plotFrames({ paper, upright });
        expect(window.width).toBeGreaterThan(80);
        expect(column.left + column.width).toBeLessThan(page[0]);
        expect(plotOnGround({ ...plot, paper, upright })[1]).toHaveLength(10);
      }
    expect([usualPaper('m'), usualPaper('ft'), usualPaper('usft')]).toEqual(['A3', 'ANSI B', 'ANSI B']);
    const names = sheetNames(['H/10 Łódź', 'H:10 Łódź', 'h 10 łódź', 'CON', ''].map((title, i) => ({ id: String(i), title, number: '' }))); // prettier-ignore
    expect([...names.values()]).toEqual(['H-10-Łódź', 'H-10-Łódź-2', 'h-10-łódź-3', 'CON-file', 'unnamed']);
  });
});

describe('the tints of a look on paper', () => {
  const look = { id: 'l', name: 'Steep', tintedBy: 'slope', shaded: false, sun: { bearing: 0, height: 45 }, stretch: 1 } as const; // prettier-ignore
  const tinted = (tintedBy: 'slope' | 'aspect' | 'elevation', p: Partial<Plot> = {}): PlotPage => {
    const drawn = { ...doc, drawing: { ...doc.drawing, looks: [{ ...look, tintedBy }] } };
    return layOutPlot(drawn, { ...plot, look: 'l', ...p }, { points: setPointsOf(result.points), lines: [], contours: [], surface: result.surfaces[0].surface }, facts); // prettier-ignore
  };
  const areaOfMarks = (page: PlotPage): number =>
    page.marks.reduce((sum, m) => sum + (m.kind === 'area' ? m.rings.reduce((s, r) => s + ringArea(Float64Array.from(r)), 0) : 0), 0); // prettier-ignore

  it('cover the surface at the scale of the sheet, under everything else', () => {
    for (const by of ['slope', 'elevation'] as const) {
      const page = tinted(by);
      // 1 : 500, a square metre is four square millimetres.
      expect(areaOfMarks(page)).toBeCloseTo(4 * measureSurface(result.surfaces[0].surface).planArea, 3);
      const last = page.marks.findLastIndex((m) => m.kind === 'area');
      expect(page.marks.slice(0, last).every((m) => m.kind === 'area')).toBe(true);
    }
  });

  it('are in the legend where they are seen, in words and units', () => {
    expect(words(tinted('slope')).join(' ')).toContain('slope % 2 – 5');
    expect(words(tinted('elevation')).join(' ')).toMatch(/elevation 59\.0 – 60\.\d m/);
    expect(words(tinted('aspect')).join(' ')).toContain('falls to SE');
    // A window where there is no ground.
    expect(words(tinted('slope', { x: 9000 })).join(' ')).not.toContain('slope %');
  });

  it('are not there without the look, or when it is gone', () => {
    expect(areaOfMarks(laid({}))).toBe(0);
    expect(areaOfMarks(laid({ look: 'gone' }))).toBe(0);
  });
});
