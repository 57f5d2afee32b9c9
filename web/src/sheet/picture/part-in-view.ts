import { invertProjective, placeOf, type PictureSize, type Projective } from '#core/pictures';
import type { Part } from '../../work/picture/opened.ts';

/** A finer part is asked for where the whole is coarser than the screen by so much. */
const WORTH_IT = 1.25;
/** Of a part so much more than what is in view is asked for, on each side. */
const AROUND = 0.1;

/**
 * The part of a picture that is in view and how many pixels of it are wanted, where the whole as it is shown is too
 * coarse; null where it is not, or nothing of it is in view. `window`: west, south, east, north, m; `scale`: m in a pixel
 * of the screen; `whole`: pixels of the longest side of the picture as it is shown whole; `finest`: the most pixels to one
 * of the picture that tell more.
 */
export function partInView(
  picture: PictureSize & { matrix: Readonly<Projective> },
  [w, s, e, n]: readonly number[],
  scale: number,
  { whole, finest, most }: { whole: number; finest: number; most: number },
): { part: Part; most: number } | null {
  const back = invertProjective(picture.matrix);
  if (!back) return null;
  const weightAt = (x: number, y: number): number => back[6] * x + back[7] * y + back[8];
  const middle = placeOf(picture.matrix, picture.width / 2, picture.height / 2);
  const side = Math.sign(weightAt(middle.x, middle.y));
  const corners = [w, s, e, s, e, n, w, n];
  const [columns, rows]: [number[], number[]] = [[], []];
  for (let i = 0; i < corners.length; i += 2) {
    // A view that reaches over the horizon of a slanted picture is no near one.
    if (Math.sign(weightAt(corners[i], corners[i + 1])) !== side) return null;
    const at = placeOf(back, corners[i], corners[i + 1]);
    columns.push(at.x);
    rows.push(at.y);
  }
  const column = within(Math.min(...columns), Math.max(...columns), picture.width);
  const row = within(Math.min(...rows), Math.max(...rows), picture.height);
  if (!column || !row) return null;
  const part = { column: column.from, row: row.from, width: column.size, height: row.size };
  const across = Math.max(...columns) - Math.min(...columns);
  // Pixels of the screen to one of the picture.
  const wanted = Math.min(finest, (e - w) / scale / across);
  const shown = Math.min(finest, whole / Math.max(picture.width, picture.height));
  if (wanted < WORTH_IT * shown) return null;
  return { part, most: Math.min(most, Math.ceil(wanted * Math.max(part.width, part.height))) };
}

function within(from: number, to: number, size: number): { from: number; size: number } | null {
  const more = AROUND * (to - from);
  const [a, b] = [Math.max(0, Math.floor(from - more)), Math.min(size, Math.ceil(to + more))];
  return b > a ? { from: a, size: b - a } : null;
}
