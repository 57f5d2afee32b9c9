/** Pixels of the drawing from its upper left. */
export interface Pixel {
  x: number;
  y: number;
}
interface Size {
  width: number;
  height: number;
}

/** What a card takes of the width, on the right or, where more of what it speaks of lies there, on the left; it may be as high as the drawing. */
export const CARD_WIDTH = 300;
/** Between what is shown and the edge. */
const MARGIN = 50;
/** With less than this there is no room beside a card, px. */
const LEAST_BESIDE = 120;
/** How far from the middle a place is put that was left behind by one's way, as a share of the room. */
const AHEAD = 0.3;

/** What a card takes of the width; nothing where too little would be left beside it. */
export const takenByCard = ({ width }: Pick<Size, 'width'>): number =>
  width > CARD_WIDTH + LEAST_BESIDE ? CARD_WIDTH : 0;

/** Whether a place can be seen, clear of its card on the right or, where it lies there, on the left. */
export function isInTheClear(at: Pixel, { width, height }: Size): boolean {
  const inView = at.x > MARGIN && at.y > MARGIN && at.x < width - MARGIN && at.y < height - MARGIN;
  return inView && (at.x < width - CARD_WIDTH || at.x > CARD_WIDTH);
}

/**
 * Where a place is to be brought that is not in the clear: the middle of what is left beside a card on the right, or, where
 * somebody walked out of that room step by step, so much before it that the next steps have room too.
 */
export function whereToShow(at: Pixel, size: Size): Pixel {
  const room = { width: size.width - takenByCard(size) - MARGIN, height: size.height - 2 * MARGIN };
  const middle = { x: MARGIN + room.width / 2, y: size.height / 2 };
  const [dx, dy] = [(at.x - middle.x) / room.width, (at.y - middle.y) / room.height];
  if (Math.max(Math.abs(dx), Math.abs(dy)) > 1) return middle;
  const back = (d: number): number => Math.min(AHEAD, Math.max(-AHEAD, d));
  return { x: middle.x - back(dx) * room.width, y: middle.y - back(dy) * room.height };
}
