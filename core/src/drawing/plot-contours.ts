import { atan2, cos, distance, sin } from '#core/kernel';
import { widthOf } from './letters.ts';
import { SMALLEST, type Frame } from './marks.ts';
import type { Box, Obstacles } from './obstacles.ts';

/** Between elevations along one contour, mm. */
const APART = 140;
/** How far a contour may bend away beneath its elevation, mm. */
const STRAIGHT = 0.9;
const MARGIN = 1;

/** A contour on paper, with what is written along it. */
export interface ContourOnPaper {
  places: readonly number[];
  text: string;
}

/** An elevation along a contour: the middle of its foot, and how it is turned so that it is read from below. */
export interface ContourLabel {
  x: number;
  y: number;
  turn: number;
  text: string;
  /** What it takes of the sheet. */
  boxes: Box[];
}

/** Elevations along contours where they run straight and nothing else is; `taken` has their places afterwards. */
export function contourLabels(contours: readonly ContourOnPaper[], frame: Frame, taken: Obstacles): ContourLabel[] {
  const out: ContourLabel[] = [];
  for (const { places, text } of contours) {
    const width = widthOf(text, 'mono', SMALLEST);
    let since = APART / 2;
    for (let i = 0; i + 3 < places.length; i += 2) {
      const step = distance(places[i + 2] - places[i], places[i + 3] - places[i + 1]);
      since += step;
      if (since < APART) continue;
      const found = labelAt(places, i / 2, text, width, frame, taken);
      if (!found) continue;
      out.push(found);
      for (const box of found.boxes) taken.addBox(box);
      since = 0;
    }
  }
  return out;
}

function labelAt(
  places: readonly number[],
  from: number,
  text: string,
  width: number,
  frame: Frame,
  taken: Obstacles,
): ContourLabel | null {
  // To where the contour is as far off as the words are wide.
  const [x0, y0] = [places[2 * from], places[2 * from + 1]];
  let to = from + 1;
  while (2 * to < places.length && distance(places[2 * to] - x0, places[2 * to + 1] - y0) < width + 2 * MARGIN) to++;
  if (2 * to >= places.length) return null;
  const [x1, y1] = [places[2 * to], places[2 * to + 1]];
  const long = distance(x1 - x0, y1 - y0);
  const [dx, dy] = [(x1 - x0) / long, (y1 - y0) / long];
  for (let k = from + 1; k < to; k++)
    if (Math.abs((places[2 * k] - x0) * dy - (places[2 * k + 1] - y0) * dx) > STRAIGHT) return null;
  // Never upside down.
  const turned = dx < 0 || (dx === 0 && dy < 0) ? -1 : 1;
  const turn = atan2(dy * turned, dx * turned);
  const reach = width / 2 + MARGIN;
  const [mx, my] = [x0 + dx * reach, y0 + dy * reach];
  const boxes = boxesAlong(mx, my, dx, dy, width);
  const inFrame = (b: Box): boolean => b.left >= frame.left + 1 && b.right <= frame.left + frame.width - 1 && b.bottom >= frame.bottom + 1 && b.top <= frame.bottom + frame.height - 1; // prettier-ignore
  if (!boxes.every((b) => inFrame(b) && taken.isFree(b))) return null;
  // The foot of the letters is half their height below the contour.
  const foot = SMALLEST / 2;
  return { x: mx + foot * sin(turn), y: my - foot * cos(turn), turn, text, boxes };
}

/** Words along a line as small boxes one after the other: one around all would fill a sheet where they lie askew. */
function boxesAlong(mx: number, my: number, dx: number, dy: number, width: number): Box[] {
  const half = SMALLEST * 0.72;
  const count = Math.max(2, Math.ceil(width / SMALLEST));
  return Array.from({ length: count }, (_, i) => {
    const at = ((i + 0.5) / count - 0.5) * width;
    const [x, y] = [mx + dx * at, my + dy * at];
    return { left: x - half, right: x + half, bottom: y - half, top: y + half };
  });
}
