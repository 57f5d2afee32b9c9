import { INK_ON_PAPER } from '#core/codes';
import { atan2, cos, distance, sin } from '#core/kernel';
import type { Plot, ProjectDocument } from '#core/project';
import type { LengthUnit } from '#core/measure';
import type { Frame, Mark } from './marks.ts';
import { fittingScale } from './paper.ts';
import { plotFrames, plotOnGround } from './plot-frames.ts';

/** Sheets that one series may have: a hundred with their overview, or so many that nobody meant it. */
export const MOST_SHEETS = 99;
/** By how much neighbouring sheets overlap, mm on paper. */
export const OVERLAP = 15;

/** A window of a sheet: its middle, m, and by how much north is turned. */
export interface SheetWindow {
  x: number;
  y: number;
  turn: number;
}

/** How large a plot’s window is on the ground, m. */
const sizeOf = (plot: Pick<Plot, 'paper' | 'upright' | 'scale'>): [number, number] => {
  const { window } = plotFrames(plot);
  return [(window.width * plot.scale) / 1000, (window.height * plot.scale) / 1000];
};

/**
 * Windows side by side over everything at `x`, `y` (m), in rows from the top left, with the turn of the plot that they are
 * made after; those with nothing in them are left out. Null when they would be too many.
 */
export function gridOfWindows(
  plot: Pick<Plot, 'paper' | 'upright' | 'scale' | 'turn'>,
  x: ArrayLike<number>,
  y: ArrayLike<number>,
): SheetWindow[] | null {
  const { turn } = plot;
  const [s, c] = [sin(turn), cos(turn)];
  // Along the sheet and up it.
  const u = Float64Array.from(x, (v, i) => v * c + y[i] * s);
  const v = Float64Array.from(x, (w, i) => -w * s + y[i] * c);
  const [u0, u1, v0, v1] = [least(u), most(u), least(v), most(v)];
  if (!Number.isFinite(u0 + v0)) return [];
  const [width, height] = sizeOf(plot);
  const overlap = (OVERLAP * plot.scale) / 1000;
  const [columns, rows] = [countOf(u1 - u0, width, overlap), countOf(v1 - v0, height, overlap)];
  if (columns * rows > MOST_SHEETS * 4) return null;
  const [stepU, stepV] = [width - overlap, height - overlap];
  const middle = (low: number, high: number, i: number, count: number, step: number): number => (low + high) / 2 + (i - (count - 1) / 2) * step; // prettier-ignore
  const out: SheetWindow[] = [];
  for (let row = rows - 1; row >= 0; row--)
    for (let column = 0; column < columns; column++) {
      const mu = middle(u0, u1, column, columns, stepU);
      const mv = middle(v0, v1, row, rows, stepV);
      let used = false;
      for (let i = 0; i < u.length && !used; i++) used = Math.abs(u[i] - mu) <= width / 2 && Math.abs(v[i] - mv) <= height / 2; // prettier-ignore
      if (used) out.push({ x: mu * c - mv * s, y: mu * s + mv * c, turn });
    }
  return out.length > MOST_SHEETS ? null : out;
}

const countOf = (length: number, window: number, overlap: number): number =>
  Math.max(1, Math.ceil((length - overlap) / (window - overlap) - 1e-9));

function least(values: Float64Array): number {
  let out = Infinity;
  for (const v of values) if (v < out) out = v;
  return out;
}
const most = (values: Float64Array): number => -least(values.map((v) => -v));

/**
 * Windows one after the other along a course (x, y, x, y …, m), each turned so that the course runs along it and stays within
 * its middle part. Null when they would be too many.
 */
export function stripOfWindows(
  plot: Pick<Plot, 'paper' | 'upright' | 'scale'>,
  places: readonly number[],
): SheetWindow[] | null {
  // prettier-ignore
  const [width, height] = sizeOf(plot);
  const overlap = (OVERLAP * plot.scale) / 1000;
  const course = resampled(places, (width - overlap) / 200);
  const last = course.length / 2 - 1;
  const out: SheetWindow[] = [];
  let from = 0;
  while (from < last) {
    let to = from + 1;
    while (to < last && goesInto(course, from, to + 1, width - overlap, height * 0.7)) to++;
    const [x1, y1, x2, y2] = [course[2 * from], course[2 * from + 1], course[2 * to], course[2 * to + 1]];
    const raw = atan2(y2 - y1, x2 - x1);
    // Never so that words stand on their heads.
    const turn = raw > Math.PI / 2 ? raw - Math.PI : raw <= -Math.PI / 2 ? raw + Math.PI : raw;
    const [s, c] = [sin(turn), cos(turn)];
    let [low, high] = [0, 0];
    for (let k = from; k <= to; k++) {
      const off = -(course[2 * k] - x1) * s + (course[2 * k + 1] - y1) * c;
      [low, high] = [Math.min(low, off), Math.max(high, off)];
    }
    const side = (low + high) / 2;
    out.push({ x: (x1 + x2) / 2 - side * s, y: (y1 + y2) / 2 + side * c, turn });
    if (out.length > MOST_SHEETS) return null;
    from = to;
  }
  return out;
}

/** Whether a course from one place to another stays within a box along its chord. */
function goesInto(course: readonly number[], from: number, to: number, length: number, height: number): boolean {
  const [x1, y1] = [course[2 * from], course[2 * from + 1]];
  const [dx, dy] = [course[2 * to] - x1, course[2 * to + 1] - y1];
  const chord = distance(dx, dy);
  if (chord > length || chord === 0) return false;
  let [low, high, back, ahead] = [0, 0, 0, chord];
  for (let k = from; k <= to; k++) {
    const [px, py] = [course[2 * k] - x1, course[2 * k + 1] - y1];
    const [along, off] = [(px * dx + py * dy) / chord, (py * dx - px * dy) / chord];
    [low, high, back, ahead] = [Math.min(low, off), Math.max(high, off), Math.min(back, along), Math.max(ahead, along)];
  }
  return high - low <= height && ahead - back <= length;
}

/** A course with places no farther apart than `step`. */
function resampled(places: readonly number[], step: number): number[] {
  const out = [places[0], places[1]];
  for (let i = 2; i < places.length; i += 2) {
    const [x1, y1, x2, y2] = [places[i - 2], places[i - 1], places[i], places[i + 1]];
    const count = Math.max(1, Math.ceil(distance(x2 - x1, y2 - y1) / step));
    for (let k = 1; k <= count; k++) out.push(x1 + ((x2 - x1) * k) / count, y1 + ((y2 - y1) * k) / count);
  }
  return out;
}

/** Sheets after a plot over some windows, behind an overview that shows where each of them is. */
export function seriesOf(plot: Plot, windows: readonly SheetWindow[], series: string, unit: LengthUnit): Plot[] {
  const sheets = windows.map((w, i): Plot => ({
    ...plot,
    ...w,
    id: `${series}-${i + 1}`,
    series,
    title: shortened(plot.title, `, sheet ${i + 1} of ${windows.length}`),
    number: shortened(plot.number, `/${i + 1}`, 40),
  }));
  const corners = sheets.flatMap((p) => plotOnGround(p)[1]);
  const xs = corners.filter((_, i) => i % 2 === 0);
  const ys = corners.filter((_, i) => i % 2 === 1);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const { window } = plotFrames(plot);
  const scale = fittingScale((x1 - x0) * 1.05, (y1 - y0) * 1.05, [window.width, window.height], unit);
  const overview: Plot = { ...plot, id: `${series}-0`, series, overview: true, turn: 0, x: (x0 + x1) / 2, y: (y0 + y1) / 2, scale, title: shortened(plot.title, ', overview'), number: shortened(plot.number, '/0', 40) }; // prettier-ignore
  return [overview, ...sheets];
}

const shortened = (words: string, end: string, most = 80): string => words.slice(0, most - end.length) + end;

/** On an overview, the windows of the other sheets of its series with their numbers. */
export function windowsOf(
  doc: Pick<ProjectDocument, 'drawing'>,
  plot: Plot,
  onPaper: (x: number, y: number) => [number, number],
  inside: Frame,
): Mark[] {
  if (!plot.overview) return [];
  const colour = INK_ON_PAPER.pole;
  return doc.drawing.plots
    .filter((p) => p.series === plot.series && !p.overview)
    .flatMap((sheet): Mark[] => {
      const rim = plotOnGround(sheet)[1];
      const places: number[] = [];
      for (let i = 0; i < rim.length; i += 2) places.push(...onPaper(rim[i], rim[i + 1]));
      const [x, y] = onPaper(sheet.x, sheet.y);
      return [
        { kind: 'course', places, closed: true, width: 0.4, colour, inside },
        { kind: 'text', x, y: y - 2, size: 4, text: sheet.number.split('/').at(-1)!, face: 'bold', colour, align: 'middle' }, // prettier-ignore
      ];
    });
}
