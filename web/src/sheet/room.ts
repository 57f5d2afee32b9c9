/** Pixels of the drawing from its upper left. */
export interface Pixel {
  x: number;
  y: number;
}
interface Size {
  width: number;
  height: number;
}
interface Room extends Pixel, Size {}

/** What a card takes of the upper right, or of the upper left where more of what it speaks of lies on the right. */
export const CARD: Size = { width: 300, height: 400 };
/** Between what is shown and the edge. */
const MARGIN = 50;
/** With less than this there is no room beside a card, px. */
const LEAST_BESIDE = 120;
/** How far from the middle a place is put that was left behind by one's way, as a share of the room. */
const AHEAD = 0.3;

/** What a card takes of the width; nothing where too little would be left beside it. */
export const takenByCard = ({ width }: Size): number => (width > CARD.width + LEAST_BESIDE ? CARD.width : 0);

/** Whether a place can be seen, clear of its card at the upper right or, where it lies there, at the upper left. */
export function isInTheClear(at: Pixel, { width, height }: Size): boolean {
  const inView = at.x > MARGIN && at.y > MARGIN && at.x < width - MARGIN && at.y < height - MARGIN;
  return inView && (at.y > CARD.height || at.x < width - CARD.width || at.x > CARD.width);
}

/** The larger of what is left beside a card and of what is left below it. */
function largestRoom({ width, height }: Size): Room {
  const inner = { x: MARGIN, y: MARGIN, width: width - 2 * MARGIN, height: height - 2 * MARGIN };
  const beside = { ...inner, width: width - CARD.width - MARGIN };
  const below = { ...inner, y: CARD.height, height: height - CARD.height - MARGIN };
  const area = (r: Room): number => (Math.min(r.width, r.height) < LEAST_BESIDE - MARGIN ? 0 : r.width * r.height);
  if (area(beside) === 0 && area(below) === 0) return inner;
  return area(beside) >= area(below) ? beside : below;
}

/**
 * Where a place is to be brought that is not in the clear: the middle of the largest room, or, where somebody walked out of
 * that room step by step, so much before it that the next steps have room too.
 */
export function whereToShow(at: Pixel, size: Size): Pixel {
  const room = largestRoom(size);
  const middle = { x: room.x + room.width / 2, y: room.y + room.height / 2 };
  const [dx, dy] = [(at.x - middle.x) / room.width, (at.y - middle.y) / room.height];
  if (Math.max(Math.abs(dx), Math.abs(dy)) > 1) return middle;
  const back = (d: number): number => Math.min(AHEAD, Math.max(-AHEAD, d));
  return { x: middle.x - back(dx) * room.width, y: middle.y - back(dy) * room.height };
}
