import { distance } from '#core/kernel';
import { placeOf, type Projective } from './projective.ts';

/** A picture's size in pixels. */
export interface PictureSize {
  width: number;
  height: number;
}

/** How much of the view a picture takes that nobody has placed yet. */
const SHARE_OF_VIEW = 0.8;

/** A picture in the middle of what is in view (west, south, east, north, m), the right way up: not to scale. */
export function placedInView({ width, height }: PictureSize, [w, s, e, n]: readonly number[]): Projective {
  const pixel = SHARE_OF_VIEW * Math.min((e - w) / width, (n - s) / height);
  const [x, y] = [(w + e) / 2 - (pixel * width) / 2, (s + n) / 2 + (pixel * height) / 2];
  return [pixel, 0, x, 0, -pixel, y, 0, 0, 1];
}

/** Two places in the picture, pixels, and how long it is between them, m. */
export interface KnownLength {
  from: readonly [number, number];
  to: readonly [number, number];
  length: number;
}

/**
 * A picture brought to scale by a known length: the middle between both places stays where it is, and the picture keeps
 * the direction that it lies in. Null where both are one place.
 */
export function scaledByLength(now: Readonly<Projective>, { from, to, length }: KnownLength): Projective | null {
  const pixels = distance(to[0] - from[0], to[1] - from[1]);
  if (!(pixels > 0 && length > 0)) return null;
  const [c, r] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  const middle = placeOf(now, c, r);
  const [right, down] = [placeOf(now, c + 1, r), placeOf(now, c, r + 1)];
  const step = distance(right.x - middle.x, right.y - middle.y);
  if (!(step > 0)) return null;
  const pixel = length / pixels;
  const [a, d] = [(pixel * (right.x - middle.x)) / step, (pixel * (right.y - middle.y)) / step];
  // Down is to the right of rightwards, but in a picture that is seen from behind: that one stays so.
  const isBehind = (right.x - middle.x) * (down.y - middle.y) - (right.y - middle.y) * (down.x - middle.x) > 0;
  const [b, e] = isBehind ? [-d, a] : [d, -a];
  return [a, b, middle.x - a * c - b * r, d, e, middle.y - d * c - e * r, 0, 0, 1];
}

/** A picture whose places are told in a unit of so many metres, in metres. */
export const inMetres = (m: Readonly<Projective>, metres: number): Projective =>
  m.map((v, i) => (i < 6 ? v * metres : v)) as Projective;
