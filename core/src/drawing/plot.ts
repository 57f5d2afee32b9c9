import { INK_ON_PAPER, STYLE_DASHES } from '#core/codes';
import { distance } from '#core/kernel';
import type { Line } from '#core/linework';
import { formatLength, METRES_IN } from '#core/measure';
import { groundOf, type Plot, type ProjectDocument } from '#core/project';
import { contourSettings } from '#core/stages';
import type { Surface } from '#core/terrain';
import { boxAt, placeLabels } from './labels.ts';
import { boxMark, SMALLEST, symbolMarks, within, type Frame, type Mark } from './marks.ts';
import { Obstacles, shareOf, type Box } from './obstacles.ts';
import { drawPlan, type Plan, type PlanContour, type PlanPoints } from './plan.ts';
import { titleBlock, type PlotFacts } from './plot-block.ts';
import { contourLabels } from './plot-contours.ts';
import { ontoPaper, plotFrames } from './plot-frames.ts';
import { gridMarks, northMarks } from './plot-grid.ts';
import { decimalsOf, legendMarks } from './plot-legend.ts';
import { windowsOf } from './series.ts';
import { tintMarks } from './tints.ts';

export interface PlotPage {
  width: number;
  height: number;
  /** Where the drawing itself lies. */
  window: Frame;
  marks: Mark[];
  /** What was left away, for a sentence. */
  labelsLeftAway: number;
  /** Nothing of the project is in its window. */
  empty: boolean;
}

export interface PlotContent {
  points: PlanPoints;
  lines: readonly Line[];
  contours: readonly PlanContour[];
  /** The plotted surface, where a look tints it. */
  surface?: Surface;
}

const NO_TINTS: ReturnType<typeof tintMarks> = { marks: [], entries: [] };

type OnPaper = (x: number, y: number) => [number, number];

/** Lays a plot out on paper at true scale: drawing, coordinate grid, north, legend, scale bar and title block. */
export function layOutPlot(doc: ProjectDocument, plot: Plot, content: PlotContent, facts: PlotFacts): PlotPage {
  const { page, window, column } = plotFrames(plot);
  const onPaper = ontoPaper(plot, window);
  const plan = planOnPaper(doc, plot, content, window, onPaper);
  const north = northMarks(window, plot.turn);
  const interval = intervalOf(doc, plot);
  const words = placeWords(doc, plan, window, north.box, interval);
  const block = titleBlock(doc, plot, facts, column);
  const legendFrame = { ...column, bottom: column.bottom + block.height, height: column.height - block.height };
  const look = doc.drawing.looks.find((l) => l.id === plot.look);
  const tints = look && content.surface ? tintMarks(content.surface, look, doc.settings.unit, window, onPaper) : NO_TINTS; // prettier-ignore
  const marks: Mark[] = [
    ...tints.marks,
    ...lineMarks(plan, window, words.words),
    ...plan.symbols.flatMap((s) => symbolMarks(s.strokes, s.x, s.y, s.size / 2, s.rotation + plot.turn, INK_ON_PAPER[s.ink], window)), // prettier-ignore
    ...words.marks,
    ...windowsOf(doc, plot, onPaper, window),
    ...gridMarks(doc, plot, window, onPaper),
    ...north.marks,
    boxMark(window, 0.35, INK_ON_PAPER.ink),
    boxMark(column, 0.35, INK_ON_PAPER.ink),
    ...block.marks,
    ...(plot.legend ? legendMarks(doc, { ...plan, tints: tints.entries }, interval, legendFrame) : []),
  ];
  const empty = plan.lines.length + plan.symbols.length + tints.marks.length === 0;
  return { width: page[0], height: page[1], window, marks, labelsLeftAway: words.leftAway, empty };
}

/** What is in the window, in millimetres on the sheet. */
function planOnPaper(doc: ProjectDocument, plot: Plot, content: PlotContent, window: Frame, onPaper: OnPaper): Plan {
  const reach = (distance(window.width, window.height) / 2) * (plot.scale / 1000);
  const around = { minX: plot.x - reach, minY: plot.y - reach, maxX: plot.x + reach, maxY: plot.y + reach };
  const contours = plot.contours ? content.contours : [];
  const plan = drawPlan(doc, content.points, content.lines, contours, around, 0.00005 * plot.scale);
  const box = boxOf(window);
  const lines = plan.lines.flatMap((line) => {
    const places: number[] = [];
    for (let i = 0; i < line.places.length; i += 2) places.push(...onPaper(line.places[i], line.places[i + 1]));
    return crosses(places, line.closed, box) ? [{ ...line, places }] : [];
  });
  const inWindow = <T extends { x: number; y: number }>(list: readonly T[]): T[] =>
    list.flatMap((v) => {
      const [x, y] = onPaper(v.x, v.y);
      return within(x, y, window) ? [{ ...v, x, y }] : [];
    });
  // An overview tells where the sheets are; what stands on them is read there.
  return { lines, symbols: inWindow(plan.symbols), labels: plot.overview ? [] : inWindow(plan.labels) };
}

const boxOf = (f: Frame): Box => ({ left: f.left, bottom: f.bottom, right: f.left + f.width, top: f.bottom + f.height }); // prettier-ignore

function crosses(places: readonly number[], closed: boolean, box: Box): boolean {
  const count = places.length / 2;
  for (let i = 0; i + (closed ? 0 : 1) < count; i++) {
    const k = ((i + 1) % count) * 2;
    if (shareOf([places[2 * i], places[2 * i + 1], places[k], places[k + 1]], box)) return true;
  }
  return false;
}

/** Elevations along contours and labels of points, clear of lines, symbols, the rim and each other. */
function placeWords(doc: ProjectDocument, plan: Plan, window: Frame, north: Box, interval: number | null) {
  const taken = new Obstacles();
  taken.addBox(north);
  for (const l of plan.lines) if (!l.contour) taken.addCourse(l.places, l.closed);
  const symbols = plan.symbols.map((s) => ({ x: s.x, y: s.y, radius: s.size * 0.45 }));
  for (const s of symbols) taken.addBox({ left: s.x - s.radius, right: s.x + s.radius, bottom: s.y - s.radius, top: s.y + s.radius }); // prettier-ignore
  const words = new Obstacles();
  const marks: Mark[] = [];
  // Contours first: they have few straight places, and without an elevation nobody can read them.
  for (const { x, y, turn, text, colour, boxes } of elevationsOf(doc, plan, interval, window, taken)) {
    marks.push({ kind: 'text', x, y, size: SMALLEST, text, face: 'mono', colour, align: 'middle', turn });
    for (const box of boxes) words.addBox(box);
  }
  const wanted = plan.labels.map((l) => ({ ...l, size: Math.max(SMALLEST, l.size) }));
  const inner = { left: window.left + 0.5, bottom: window.bottom + 0.5, right: window.left + window.width - 0.5, top: window.bottom + window.height - 0.5 }; // prettier-ignore
  const { placed, leftAway } = placeLabels(wanted, [], { taken, frame: inner });
  for (const l of placed) {
    const colour = INK_ON_PAPER[l.ink];
    words.addBox(boxAt(l, l.textX, l.textY));
    if (l.led) marks.push({ kind: 'course', places: [l.x, l.y, ...leaderEnd(l)], closed: false, width: 0.08, colour, inside: window }); // prettier-ignore
    marks.push({ kind: 'text', x: l.textX, y: l.textY, size: l.size, text: l.text, face: 'mono', colour, align: 'left' }); // prettier-ignore
  }
  return { marks, words, leftAway };
}

/** Elevations along index contours, with as many decimals as the interval has. */
function elevationsOf(doc: ProjectDocument, plan: Plan, interval: number | null, window: Frame, taken: Obstacles) {
  const { unit } = doc.settings;
  const decimals = decimalsOf((interval ?? 1) / METRES_IN[unit]);
  const index = plan.lines.filter((l) => l.contour?.index);
  const text = (metres: number): string => formatLength(metres, unit, decimals).replace(/[\u2009\u202f]/g, '');
  const colour = INK_ON_PAPER[index[0]?.ink ?? 'brass'];
  const along = contourLabels(index.map((l) => ({ places: l.places, text: text(l.contour!.elevation) })), window, taken); // prettier-ignore
  return along.map((label) => ({ ...label, colour }));
}

/** Where a leader meets its label: the end of its line of letters that is nearer to the point. */
function leaderEnd(l: { x: number; textX: number; textY: number; size: number; text: string }): [number, number] {
  const right = l.textX + l.text.length * l.size * 0.86;
  return [Math.abs(right - l.x) < Math.abs(l.textX - l.x) ? right : l.textX, l.textY + l.size * 0.4];
}

/** Lines; contours are broken where words are. */
function lineMarks(plan: Plan, window: Frame, words: Obstacles): Mark[] {
  return plan.lines.flatMap((l): Mark[] => {
    const dash = STYLE_DASHES[l.style];
    const mark = (places: number[], closed: boolean): Mark => ({ kind: 'course', places, closed, width: l.width, colour: INK_ON_PAPER[l.ink], inside: window, ...(dash.length ? { dash } : {}) }); // prettier-ignore
    if (!l.contour) return [mark(l.places, l.closed)];
    return words.outside(l.places, l.closed).map((piece) => mark(piece, false));
  });
}

/** Every how many metres the plotted surface is contoured; null where it is not. */
function intervalOf(doc: ProjectDocument, plot: Plot): number | null {
  const surface = doc.surfaces.find((s) => s.id === (plot.surface ?? groundOf(doc).id));
  return surface ? (contourSettings(doc, surface)?.interval ?? null) : null;
}
