import { cos, sin } from '#core/kernel';
import type { Plot } from '#core/project';
import type { Frame } from './marks.ts';
import { PAPER_SIZE } from './paper.ts';

const MARGIN = 10;
/** Left, where sheets are bound. */
const BOUND = 20;
/** Sheets no wider than this have a narrower column, mm. */
const NARROW = 300;

/** Where the drawing and the column beside it lie on a sheet. */
export function plotFrames(plot: Pick<Plot, 'paper' | 'upright'>): {
  page: [number, number];
  window: Frame;
  column: Frame;
} {
  const [short, long] = PAPER_SIZE[plot.paper];
  const [width, height] = plot.upright ? [short, long] : [long, short];
  const columnWidth = width < NARROW ? 54 : 68;
  const frame = { left: BOUND, bottom: MARGIN, width: width - BOUND - MARGIN, height: height - 2 * MARGIN };
  return {
    page: [width, height],
    window: { ...frame, width: frame.width - columnWidth },
    column: { ...frame, left: frame.left + frame.width - columnWidth, width: columnWidth },
  };
}

/** How the ground lies on a plot’s paper: metres to millimetres. A positive turn takes north clockwise. */
export function ontoPaper(
  plot: Pick<Plot, 'scale' | 'turn' | 'x' | 'y'>,
  window: Frame,
): (x: number, y: number) => [number, number] {
  // prettier-ignore
  const perMetre = 1000 / plot.scale;
  const [s, c] = [sin(plot.turn), cos(plot.turn)];
  const middle = { x: window.left + window.width / 2, y: window.bottom + window.height / 2 };
  return (x, y) => {
    const [dx, dy] = [(x - plot.x) * perMetre, (y - plot.y) * perMetre];
    return [middle.x + dx * c + dy * s, middle.y - dx * s + dy * c];
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
