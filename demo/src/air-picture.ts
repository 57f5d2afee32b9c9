import { encode } from 'fast-png';
import { seeded } from './random.ts';

/** Pixels, and m that one is. */
const SIDE = 640;
const PIXEL = 0.08;
/** The two crosses painted on the yard stand so far apart, m, west and east of the middle and south of it. */
export const CROSSES = { apart: 40, south: 21 };
/** m between the contours that its flight gave. */
const STEP = 1;

type Ground = (u: number, v: number) => number;

/** Digits as rows of three pixels, the highest bit at the left. */
const DIGITS = ['75557', '26227', '71747', '71717', '55711', '74717', '74757', '71111', '75757', '75717'];

/**
 * A picture from the air, north up: shade, grain, contours with their elevations and two painted crosses.
 * @param ground elevation over the site's axes, m
 * @param middle the place in its middle, m
 */
export function airPicture(
  ground: Ground,
  middle: { u: number; v: number },
): { png: Uint8Array; side: number; pixel: number } {
  // prettier-ignore
  const data = new Uint8Array(SIDE * SIDE);
  const at = (column: number, row: number): [number, number] => [
    middle.u + (column + 0.5 - SIDE / 2) * PIXEL,
    middle.v - (row + 0.5 - SIDE / 2) * PIXEL,
  ];
  shade(data, ground, at);
  for (const { column, row } of crossPixels())
    for (let k = -9; k <= 9; k++) for (const [c, r] of [[column + k, row], [column, row + k]]) paint(data, c, r, 255); // prettier-ignore
  for (const { column, row, text } of labels(ground, at)) write(data, column, row, text);
  return { png: encode({ width: SIDE, height: SIDE, data, channels: 1, depth: 8 }), side: SIDE, pixel: PIXEL };
}

/** Pixels of the middles of the two crosses, the western first. */
export function crossPixels(): { column: number; row: number }[] {
  const half = CROSSES.apart / 2 / PIXEL;
  const row = Math.round(SIDE / 2 + CROSSES.south / PIXEL);
  return [-half, half].map((by) => ({ column: SIDE / 2 + by, row }));
}

function shade(data: Uint8Array, ground: Ground, at: (c: number, r: number) => [number, number]): void {
  const random = seeded(831);
  for (let row = 0; row < SIDE; row++)
    for (let column = 0; column < SIDE; column++) {
      const [u, v] = at(column, row);
      const [here, east, south] = [ground(u, v), ground(u + PIXEL, v), ground(u, v - PIXEL)];
      // Light from the north west: what falls towards it is bright.
      const light = 150 + 110 * ((east - here) / PIXEL + (here - south) / PIXEL) * 0.7;
      const isContour = [east, south].some((z) => Math.floor(z / STEP) !== Math.floor(here / STEP));
      paint(data, column, row, isContour ? 45 : Math.min(235, Math.max(60, light + random.normal(9))));
    }
}

/** Elevations of the contours, east of the middle where each is met. */
function labels(ground: Ground, at: (c: number, r: number) => [number, number]) {
  const out: { column: number; row: number; text: string }[] = [];
  const row = SIDE / 2;
  for (let column = SIDE / 2 + 20; column < SIDE - 30; column++) {
    const [here, next] = [column, column + 1].map((c) => Math.floor(ground(...at(c, row)) / STEP));
    // One above, one below, since the lower ones are close to each other.
    if (here !== next)
      out.push({
        column: column + 4,
        row: row + (out.length % 2 ? -20 : 6),
        text: String(Math.max(here, next) * STEP),
      });
  }
  return out;
}

function write(data: Uint8Array, column: number, row: number, text: string): void {
  [...text].forEach((digit, place) => {
    [...DIGITS[Number(digit)]].forEach((bits, y) => {
      for (let x = 0; x < 3; x++) {
        if (!(Number(bits) & (4 >> x))) continue;
        for (let k = 0; k < 9; k++) paint(data, column + 12 * place + 3 * x + (k % 3), row + 3 * y + Math.floor(k / 3), 20); // prettier-ignore
      }
    });
  });
}

function paint(data: Uint8Array, column: number, row: number, grey: number): void {
  if (column >= 0 && row >= 0 && column < SIDE && row < SIDE) data[row * SIDE + column] = grey;
}
