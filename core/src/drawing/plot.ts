import { cos, distance, sin } from '#core/kernel';
import { INK_ON_PAPER, STYLE_DASHES, strokesOf, type Code, type Stroke } from '#core/codes';
import type { Plot, ProjectDocument } from '#core/project';
import { systemLine } from '#core/basis';
import { formatLength, METRES_IN, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import type { Line } from '#core/linework';
import { placeLabels } from './labels.ts';
import { EM, gridSpacing, PAPER_SIZE, scaleName } from './paper.ts';
import { drawPlan, type PlanContour, type PlanPoints } from './plan.ts';

type Colour = readonly [number, number, number];

/** What is put on paper, mm from its lower left corner, y up. The page and the printed sheet draw the same list. */
export type Mark =
  | { kind: 'course'; places: number[]; closed: boolean; width: number; colour: Colour; dash?: readonly number[]; fill?: Colour; inside?: Frame } // prettier-ignore
  | { kind: 'circle'; x: number; y: number; radius: number; width: number; colour: Colour; filled?: boolean; inside?: Frame } // prettier-ignore
  | { kind: 'text'; x: number; y: number; size: number; text: string; face: 'text' | 'bold' | 'mono'; colour: Colour; align: 'left' | 'right' | 'middle'; turn?: number; inside?: Frame }; // prettier-ignore

export interface Frame {
  left: number;
  bottom: number;
  width: number;
  height: number;
}

export interface PlotPage {
  width: number;
  height: number;
  /** Where the drawing itself lies. */
  window: Frame;
  marks: Mark[];
  /** What was left away, for a sentence. */
  labelsLeftAway: number;
}

export interface PlotContent {
  points: PlanPoints;
  lines: readonly Line[];
  contours: readonly PlanContour[];
}

export interface PlotFacts {
  project: string;
  revision: number;
  /** ISO date. */
  date: string;
}

const MARGIN = 10;
/** Left, where sheets are bound. */
const BOUND = 20;
const INK: Colour = INK_ON_PAPER.ink;
const SLATE: Colour = INK_ON_PAPER.slate;
const BLOCK_HEIGHT = 62;

/** Where the drawing and the column beside it lie on a sheet. */
export function plotFrames(plot: Pick<Plot, 'paper' | 'upright'>): {
  page: [number, number];
  window: Frame;
  column: Frame;
} {
  // prettier-ignore
  const [short, long] = PAPER_SIZE[plot.paper];
  const [width, height] = plot.upright ? [short, long] : [long, short];
  const columnWidth = plot.paper === 'A4' ? 52 : 66;
  const frame = { left: BOUND, bottom: MARGIN, width: width - BOUND - MARGIN, height: height - 2 * MARGIN };
  return {
    page: [width, height],
    window: { ...frame, width: frame.width - columnWidth },
    column: { ...frame, left: frame.left + frame.width - columnWidth, width: columnWidth },
  };
}

/** The rims of a plot's paper and of its window in the project, m: closed courses of x, y one after the other. */
export function plotOnGround(plot: Pick<Plot, 'paper' | 'upright' | 'scale' | 'turn' | 'x' | 'y'>): number[][] {
  const { page, window } = plotFrames(plot);
  const middle = { x: window.left + window.width / 2, y: window.bottom + window.height / 2 };
  const [s, c] = [sin(plot.turn), cos(plot.turn)];
  const metres = plot.scale / 1000;
  return [{ left: 0, bottom: 0, width: page[0], height: page[1] }, window].map(({ left, bottom, width, height }) => {
    const corners = [[0, 0], [width, 0], [width, height], [0, height], [0, 0]]; // prettier-ignore
    return corners.flatMap(([u, v]) => {
      const [dx, dy] = [(left + u - middle.x) * metres, (bottom + v - middle.y) * metres];
      return [plot.x + dx * c - dy * s, plot.y + dx * s + dy * c];
    });
  });
}

/** Lays a plot out on paper at true scale: drawing, coordinate grid, north, legend, scale bar and title block. */
export function layOutPlot(doc: ProjectDocument, plot: Plot, content: PlotContent, facts: PlotFacts): PlotPage {
  const { page, window, column } = plotFrames(plot);
  const perMetre = 1000 / plot.scale;
  const [s, c] = [sin(plot.turn), cos(plot.turn)];
  const middle = { x: window.left + window.width / 2, y: window.bottom + window.height / 2 };
  // A positive turn takes north clockwise.
  const onPaper = (x: number, y: number): [number, number] => {
    const [dx, dy] = [(x - plot.x) * perMetre, (y - plot.y) * perMetre];
    return [middle.x + dx * c + dy * s, middle.y - dx * s + dy * c];
  };
  const marks: Mark[] = [];
  const reach = distance(window.width, window.height) / 2 / perMetre;
  const plan = drawPlan(
    doc,
    content.points,
    content.lines,
    plot.contours ? content.contours : [],
    { minX: plot.x - reach, minY: plot.y - reach, maxX: plot.x + reach, maxY: plot.y + reach },
    0.00005 * plot.scale,
  );
  for (const line of plan.lines) {
    const places: number[] = [];
    for (let i = 0; i < line.places.length; i += 2) places.push(...onPaper(line.places[i], line.places[i + 1]));
    const dash = STYLE_DASHES[line.style];
    marks.push({ kind: 'course', places, closed: line.closed, width: line.width, colour: INK_ON_PAPER[line.ink], inside: window, ...(dash.length ? { dash } : {}) }); // prettier-ignore
  }
  const symbols = plan.symbols.flatMap((s) => {
    const [x, y] = onPaper(s.x, s.y);
    if (!within(x, y, window)) return [];
    marks.push(...symbolMarks(s.strokes, x, y, s.size / 2, s.rotation + plot.turn, INK_ON_PAPER[s.ink], window));
    return [{ x, y, radius: s.size * 0.45 }];
  });
  const wanted = plan.labels.flatMap((l) => {
    const [x, y] = onPaper(l.x, l.y);
    return within(x, y, window) ? [{ ...l, x, y }] : [];
  });
  const { placed, leftAway } = placeLabels(wanted, symbols);
  for (const l of placed) {
    const colour = INK_ON_PAPER[l.ink];
    if (l.led) marks.push({ kind: 'course', places: [l.x, l.y, l.textX, l.textY + l.size * 0.3], closed: false, width: 0.08, colour, inside: window }); // prettier-ignore
    marks.push({ kind: 'text', x: l.textX, y: l.textY, size: l.size, text: l.text, face: 'mono', colour, align: 'left', inside: window }); // prettier-ignore
  }
  marks.push(...gridMarks(doc, plot, window, onPaper));
  marks.push(...northMarks(window, plot.turn));
  marks.push(boxMark(window, 0.35), boxMark(column, 0.35));
  const bottom = column.bottom + BLOCK_HEIGHT;
  marks.push(...titleBlock(doc, plot, facts, { ...column, height: BLOCK_HEIGHT }));
  if (plot.legend) marks.push(...legend(doc, plan.codes, { ...column, bottom, height: column.height - BLOCK_HEIGHT }));
  return { width: page[0], height: page[1], window, marks, labelsLeftAway: leftAway };
}

const within = (x: number, y: number, f: Frame): boolean =>
  x >= f.left && x <= f.left + f.width && y >= f.bottom && y <= f.bottom + f.height;

const boxMark = (f: Frame, width: number): Mark => ({
  kind: 'course',
  places: [f.left, f.bottom, f.left + f.width, f.bottom, f.left + f.width, f.bottom + f.height, f.left, f.bottom + f.height], // prettier-ignore
  closed: true,
  width,
  colour: INK,
});

function symbolMarks(
  strokes: readonly Stroke[],
  x: number,
  y: number,
  half: number,
  turn: number,
  colour: Colour,
  inside?: Frame,
): Mark[] {
  // prettier-ignore
  const [s, c] = [sin(turn), cos(turn)];
  const at = (px: number, py: number): [number, number] => [x + half * (px * c + py * s), y + half * (py * c - px * s)]; // prettier-ignore
  const clip = inside ? { inside } : {};
  return strokes.map((stroke): Mark => {
    if (stroke.kind === 'circle') {
      const [cx, cy] = at(stroke.x, stroke.y);
      return { kind: 'circle', x: cx, y: cy, radius: stroke.radius * half, width: 0.18, colour, filled: stroke.filled, ...clip }; // prettier-ignore
    }
    const places: number[] = [];
    for (let i = 0; i < stroke.places.length; i += 2) places.push(...at(stroke.places[i], stroke.places[i + 1]));
    return {
      kind: 'course',
      places,
      closed: stroke.closed ?? false,
      width: 0.18,
      colour,
      ...(stroke.filled ? { fill: colour } : {}),
      ...clip,
    };
  });
}

/** No more crosses than anybody reads. */
const MOST_CROSSES = 4000;

/** Crosses of the coordinate grid, with coordinates where its lines leave the frame. */
function gridMarks(
  doc: ProjectDocument,
  plot: Plot,
  f: Frame,
  onPaper: (x: number, y: number) => [number, number],
): Mark[] {
  // prettier-ignore
  const { unit } = doc.settings;
  const step = plot.grid ?? gridSpacing(plot.scale, unit);
  if (!(step > 0)) return [];
  const out: Mark[] = [];
  const reach = (distance(f.width, f.height) / 2) * (plot.scale / 1000);
  const [x0, x1] = [Math.ceil((plot.x - reach) / step), Math.floor((plot.x + reach) / step)];
  const [y0, y1] = [Math.ceil((plot.y - reach) / step), Math.floor((plot.y + reach) / step)];
  if ((x1 - x0) * (y1 - y0) > MOST_CROSSES) return [];
  const label = (v: number): string => formatLength(v, unit, 0).replace(/[\u2009\u202f]/g, '');
  const grey: Colour = SLATE;
  for (let i = x0; i <= x1; i++)
    for (let k = y0; k <= y1; k++) {
      const [x, y] = onPaper(i * step, k * step);
      if (!within(x, y, f)) continue;
      for (const [dx, dy] of [
        [2, 0],
        [0, 2],
      ]) {
        const [ax, ay] = onPaper(i * step - (dx * plot.scale) / 1000, k * step - (dy * plot.scale) / 1000);
        const [bx, by] = onPaper(i * step + (dx * plot.scale) / 1000, k * step + (dy * plot.scale) / 1000);
        out.push({ kind: 'course', places: [ax, ay, bx, by], closed: false, width: 0.13, colour: grey, inside: f });
      }
    }
  if (Math.abs(plot.turn) > 1e-9) return out;
  for (let i = x0; i <= x1; i++) {
    const [x] = onPaper(i * step, plot.y);
    if (x > f.left + 2 && x < f.left + f.width - 14)
      out.push({ kind: 'text', x: x + 0.8, y: f.bottom + 1, size: 1.5, text: `E ${label(i * step)}`, face: 'mono', colour: grey, align: 'left' }, tick(x, f.bottom, 0, 3)); // prettier-ignore
  }
  for (let k = y0; k <= y1; k++) {
    const [, y] = onPaper(plot.x, k * step);
    if (y > f.bottom + 6 && y < f.bottom + f.height - 4)
      out.push({ kind: 'text', x: f.left + 1, y: y + 0.6, size: 1.5, text: `N ${label(k * step)}`, face: 'mono', colour: grey, align: 'left' }, tick(f.left, y, 3, 0)); // prettier-ignore
  }
  return out;
}

const tick = (x: number, y: number, dx: number, dy: number): Mark => ({ kind: 'course', places: [x, y, x + dx, y + dy], closed: false, width: 0.2, colour: SLATE }); // prettier-ignore

function northMarks(f: Frame, turn: number): Mark[] {
  const [cx, cy] = [f.left + f.width - 12, f.bottom + f.height - 14];
  const [s, c] = [sin(turn), cos(turn)];
  const at = (x: number, y: number): [number, number] => [cx + x * c + y * s, cy + y * c - x * s];
  const course = (places: number[][], closed: boolean): Mark => ({ kind: 'course', places: places.flatMap(([x, y]) => at(x, y)), closed, width: 0.3, colour: INK, ...(closed ? { fill: INK } : {}) }); // prettier-ignore
  const [tx, ty] = at(0, 9);
  return [
    course([[0, -7], [0, 4]], false), // prettier-ignore
    course([[-1.6, 3], [1.6, 3], [0, 7.5]], true), // prettier-ignore
    { kind: 'text', x: tx, y: ty - 0.9, size: 3, text: 'N', face: 'bold', colour: INK, align: 'middle' },
  ];
}

function titleBlock(doc: ProjectDocument, plot: Plot, facts: PlotFacts, f: Frame): Mark[] {
  const out: Mark[] = [];
  const x = f.left + 3;
  const room = f.width - 6;
  let y = f.bottom + f.height - 6.5;
  const put = (size: number, text: string, face: 'text' | 'bold' | 'mono' = 'text', colour = INK): void => {
    if (text) out.push({ kind: 'text', x, y, size, text: cut(text, room, size), face, colour, align: 'left' });
    y -= size * 1.9;
  };
  const { settings: s, basis } = doc;
  out.push({ kind: 'course', places: [f.left, f.bottom + f.height, f.left + f.width, f.bottom + f.height], closed: false, width: 0.35, colour: INK }); // prettier-ignore
  put(3.2, plot.title, 'bold');
  put(2.1, facts.project);
  if (plot.client) put(1.9, plot.client, 'text', SLATE);
  y -= 1;
  put(2.2, `${scaleName(plot.scale, s.unit)} on ${plot.paper}`, 'bold');
  out.push(...scaleBar(doc, plot, x, y - 1.2, room));
  y -= 8;
  put(1.5, systemLine(basis.system), 'text', SLATE);
  put(
    1.5,
    `${UNIT_NAME[s.unit]}; elevations ${basis.heights}${basis.geoid ? `, ${basis.geoid.name}` : ''}`,
    'text',
    SLATE,
  );
  for (const line of wrapped(plot.note, room, 1.5).slice(0, 3)) put(1.5, line, 'text', SLATE);
  y = f.bottom + 11.5;
  const pair = (name: string, value: string, at: number): void => {
    out.push({ kind: 'text', x: x + at, y, size: 1.3, text: name, face: 'text', colour: SLATE, align: 'left' });
    out.push({ kind: 'text', x: x + at, y: y - 3, size: 1.7, text: cut(value || '–', room / 2 - 2, 1.7), face: 'text', colour: INK, align: 'left' }); // prettier-ignore
  };
  pair('drawn', plot.drawnBy, 0);
  pair('checked', plot.checkedBy, room / 2);
  y -= 6;
  pair('revision, date', `${facts.revision}, ${facts.date}`, 0);
  pair('plot', plot.number, room / 2);
  return out;
}

/** A bar of round lengths, as long as goes into the room. */
function scaleBar(doc: ProjectDocument, plot: Plot, x: number, y: number, room: number): Mark[] {
  const { unit } = doc.settings;
  const perUnit = (METRES_IN[unit] * 1000) / plot.scale;
  const most = (room - 8) / perUnit / 4;
  const power = 10 ** Math.floor(Math.log10(most));
  const step = ([5, 2, 1].find((s) => s * power <= most) ?? 1) * power;
  const out: Mark[] = [];
  for (let i = 0; i < 4; i++) {
    const [a, b] = [x + i * step * perUnit, x + (i + 1) * step * perUnit];
    out.push({ kind: 'course', places: [a, y, b, y, b, y + 1.1, a, y + 1.1], closed: true, width: 0.18, colour: INK, ...(i % 2 ? {} : { fill: INK }) }); // prettier-ignore
  }
  for (const i of [0, 2, 4])
    out.push({ kind: 'text', x: x + i * step * perUnit, y: y - 2.6, size: 1.5, text: `${Number((i * step).toPrecision(6))}${i === 4 ? ` ${UNIT_SIGN[unit]}` : ''}`, face: 'mono', colour: INK, align: i === 0 ? 'left' : 'middle' }); // prettier-ignore
  return out;
}

function legend(doc: ProjectDocument, codes: readonly Code[], f: Frame): Mark[] {
  const out: Mark[] = [];
  const x = f.left + 3;
  let y = f.bottom + f.height - 6;
  out.push({ kind: 'text', x, y, size: 2.1, text: 'Legend', face: 'bold', colour: INK, align: 'left' });
  y -= 5.5;
  const room = Math.floor((y - f.bottom) / 4.6);
  const shown = codes.length > room ? codes.slice(0, Math.max(0, room - 1)) : codes;
  for (const c of shown) {
    const look = doc.drawing.layers[c.layer]?.ink ?? c.ink;
    const colour = INK_ON_PAPER[look];
    if (c.kind === 'line') {
      const dash = STYLE_DASHES[c.style];
      out.push({ kind: 'course', places: [x, y + 0.8, x + 11, y + 0.8], closed: false, width: doc.drawing.layers[c.layer]?.width ?? doc.drawing.lineWidth, colour, ...(dash.length ? { dash } : {}) }); // prettier-ignore
    } else
      out.push(...symbolMarks(strokesOf(c), x + 5.5, y + 0.8, doc.drawing.symbolSize / 2, c.rotation ?? 0, colour));
    out.push({ kind: 'text', x: x + 13.5, y, size: 1.6, text: cut(c.name || c.code, f.width - 18, 1.6), face: 'text', colour: INK, align: 'left' }); // prettier-ignore
    y -= 4.6;
  }
  if (shown.length < codes.length)
    out.push({ kind: 'text', x, y, size: 1.6, text: `and ${codes.length - shown.length} more`, face: 'text', colour: SLATE, align: 'left' }); // prettier-ignore
  return out;
}

/** Letters of the proportional face stand about half their size apart. */
const TEXT_WIDTH = 0.5 * EM.text;
const cut = (text: string, width: number, size: number): string => {
  const most = Math.max(3, Math.floor(width / (size * TEXT_WIDTH)));
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
};

function wrapped(text: string, width: number, size: number): string[] {
  const most = Math.max(3, Math.floor(width / (size * TEXT_WIDTH)));
  const out: string[] = [];
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const last = out.at(-1);
    if (last !== undefined && last.length + word.length + 1 <= most) out[out.length - 1] = `${last} ${word}`;
    else out.push(word);
  }
  return out;
}
