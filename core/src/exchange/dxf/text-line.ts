import { sinCos } from '#core/kernel';
import type { TextLine } from './content.ts';
import type { EntityFields } from './entity-fields.ts';

// Where the letters of a text lie (DXF reference, TEXT and MTEXT): fonts are not known, so that the length is about right.

/** How wide a letter is for its height, about. */
const LETTER = 0.75;

/** Of a text that says how high it is; undefined of one that does not, or is not drawn along the plan. */
export function textLine(of: EntityFields, words: string): TextLine | undefined {
  const { record, kind } = of;
  const height = of.value(40);
  if (!(height > 0) || of.plane()) return undefined;
  const letters = Math.max(...words.split('\n').map((l) => l.length));
  const length = LETTER * height * letters * (kind === 'TEXT' ? of.value(41, 1) : 1);
  const [dx, dy] = directionOf(of);
  const [anchorX, anchorY, along, up] = kind === 'TEXT' ? anchorOfText(of) : [...of.places(10).slice(0, 2), ...MTEXT_ANCHOR[record.has(71) ? of.value(71) : 1] ?? MTEXT_ANCHOR[1]]; // prettier-ignore
  // From the anchor to the middle of the letters' height, then back to their beginning.
  const [mx, my] = [anchorX - dy * up * height, anchorY + dx * up * height];
  const from: [number, number] = [mx - dx * along * length, my - dy * along * length];
  const line: TextLine = { from, to: [from[0] + dx * length, from[1] + dy * length], height };
  return [...line.from, ...line.to].every(Number.isFinite) ? line : undefined;
}

function directionOf(of: EntityFields): [number, number] {
  if (of.kind === 'MTEXT' && of.record.has(11)) {
    const [x, y] = of.places(11);
    const length = Math.sqrt(x * x + y * y);
    if (length > 0) return [x / length, y / length];
  }
  const [sin, cos] = sinCos((of.value(50) * Math.PI) / 180);
  return [cos, sin];
}

/** Shares of the length before the anchor, and of the height from it up to the middle: by 71, row by row from the upper left one. */
const MTEXT_ANCHOR: Record<number, [number, number]> = {
  1: [0, -0.5], 2: [0.5, -0.5], 3: [1, -0.5],
  4: [0, 0], 5: [0.5, 0], 6: [1, 0],
  7: [0, 0.5], 8: [0.5, 0.5], 9: [1, 0.5],
}; // prettier-ignore

/** By 72 and 73: left, centre, right, aligned, middle, fit; baseline, bottom, middle, top. */
function anchorOfText(of: EntityFields): [number, number, number, number] {
  const [across, up] = [of.value(72), of.value(73)];
  const second = (across !== 0 || up !== 0) && of.record.has(11);
  const [x, y] = second && across !== 3 && across !== 5 ? of.places(11) : of.places(10);
  if (!second || across === 3 || across === 5) return [x, y, 0, 0.5];
  const along = across === 1 || across === 4 ? 0.5 : across === 2 ? 1 : 0;
  return [x, y, along, across === 4 || up === 2 ? 0 : up === 3 ? -0.5 : 0.5];
}
