import { INK_ON_PAPER } from '#core/codes';
import { cos, distance, sin } from '#core/kernel';
import { formatLength } from '#core/measure';
import type { Plot, ProjectDocument } from '#core/project';
import { widthOf } from './letters.ts';
import { SMALLEST, within, type Frame, type Mark } from './marks.ts';
import type { Box } from './obstacles.ts';
import { gridSpacing } from './paper.ts';

type OnPaper = (x: number, y: number) => [number, number];

/** No more crosses than anybody reads. */
const MOST_CROSSES = 4000;
/** Half a cross, mm. */
const ARM = 2;
const { slate: SLATE } = INK_ON_PAPER;

/**
 * Crosses of the coordinate grid, and along the rim, outside it, what each of its lines is: east and north in the project’s
 * unit, however the sheet is turned.
 */
export function gridMarks(doc: ProjectDocument, plot: Plot, f: Frame, onPaper: OnPaper): Mark[] {
  const { unit } = doc.settings;
  const step = plot.grid ?? gridSpacing(plot.scale, unit);
  if (!(step > 0)) return [];
  const reach = (distance(f.width, f.height) / 2) * (plot.scale / 1000);
  const [x0, x1] = [Math.ceil((plot.x - reach) / step), Math.floor((plot.x + reach) / step)];
  const [y0, y1] = [Math.ceil((plot.y - reach) / step), Math.floor((plot.y + reach) / step)];
  if ((x1 - x0) * (y1 - y0) > MOST_CROSSES) return [];
  const out: Mark[] = [];
  const arm = (ARM * plot.scale) / 1000;
  for (let i = x0; i <= x1; i++)
    for (let k = y0; k <= y1; k++) {
      const [x, y] = [i * step, k * step];
      if (!within(...onPaper(x, y), f)) continue;
      for (const [dx, dy] of [[arm, 0], [0, arm]]) // prettier-ignore
        out.push({ kind: 'course', places: [...onPaper(x - dx, y - dy), ...onPaper(x + dx, y + dy)], closed: false, width: 0.13, colour: SLATE, inside: f }); // prettier-ignore
    }
  const taken: Box[] = [];
  const label = (v: number): string => formatLength(v, unit, 0).replace(/[\u2009\u202f]/g, '');
  for (let i = x0; i <= x1; i++) out.push(...lineName(`E ${label(i * step)}`, onPaper(i * step, plot.y), onPaper(i * step, plot.y + 1), f, taken)); // prettier-ignore
  for (let k = y0; k <= y1; k++) out.push(...lineName(`N ${label(k * step)}`, onPaper(plot.x, k * step), onPaper(plot.x + 1, k * step), f, taken)); // prettier-ignore
  return out;
}

/** A grid line’s name where it leaves the frame below, to the left or above, the first that is free, with a tick inwards. */
function lineName(
  text: string,
  [ax, ay]: [number, number],
  [bx, by]: [number, number],
  f: Frame,
  taken: Box[],
): Mark[] {
  const long = distance(bx - ax, by - ay);
  const [dx, dy] = [(bx - ax) / long, (by - ay) / long];
  const width = widthOf(text, 'mono', SMALLEST);
  const [right, top] = [f.left + f.width, f.bottom + f.height];
  const gap = 1.2;
  for (const side of ['below', 'left', 'above'] as const) {
    const upright = side === 'left';
    const along = upright ? dx : dy;
    if (Math.abs(along) < 0.2) continue;
    const rim = side === 'below' ? f.bottom : side === 'above' ? top : f.left;
    const t = (rim - (upright ? ax : ay)) / along;
    const [x, y] = [ax + dx * t, ay + dy * t];
    if (upright ? y < f.bottom || y > top : x < f.left || x > right) continue;
    const box: Box = upright
      ? { left: rim - gap - SMALLEST, right: rim - gap, bottom: y - width / 2, top: y + width / 2 }
      : side === 'below'
        ? { left: x - width / 2, right: x + width / 2, bottom: rim - gap - SMALLEST, top: rim - gap }
        : { left: x - width / 2, right: x + width / 2, bottom: rim + gap, top: rim + gap + SMALLEST };
    if (taken.some((o) => o.left < box.right + 1 && box.left < o.right + 1 && o.bottom < box.top + 1 && box.bottom < o.top + 1)) continue; // prettier-ignore
    taken.push(box);
    const inwards = (upright ? dx : side === 'below' ? dy : -dy) > 0 ? 1 : -1;
    return [
      { kind: 'course', places: [x, y, x + dx * 3 * inwards, y + dy * 3 * inwards], closed: false, width: 0.2, colour: SLATE, inside: f }, // prettier-ignore
      upright
        ? { kind: 'text', x: rim - gap, y, size: SMALLEST, text, face: 'mono', colour: SLATE, align: 'middle', turn: Math.PI / 2 } // prettier-ignore
        : { kind: 'text', x, y: box.bottom, size: SMALLEST, text, face: 'mono', colour: SLATE, align: 'middle' },
    ];
  }
  return [];
}

/** The north arrow in a corner of the frame, and the box that it takes. */
export function northMarks(f: Frame, turn: number): { marks: Mark[]; box: Box } {
  const [cx, cy] = [f.left + f.width - 13, f.bottom + f.height - 14];
  const [s, c] = [sin(turn), cos(turn)];
  const ink = INK_ON_PAPER.ink;
  const at = (x: number, y: number): [number, number] => [cx + x * c + y * s, cy + y * c - x * s];
  const course = (places: number[][], closed: boolean): Mark => ({ kind: 'course', places: places.flatMap(([x, y]) => at(x, y)), closed, width: 0.3, colour: ink, ...(closed ? { fill: ink } : {}) }); // prettier-ignore
  const [tx, ty] = at(0, 9.5);
  return {
    marks: [
      course([[0, -7], [0, 4]], false), // prettier-ignore
      course([[-1.6, 3], [1.6, 3], [0, 7.5]], true), // prettier-ignore
      { kind: 'text', x: tx, y: ty - 1.5, size: 3, text: 'N', face: 'bold', colour: ink, align: 'middle' },
    ],
    box: { left: cx - 12, right: cx + 12, bottom: cy - 12, top: cy + 12.5 },
  };
}
