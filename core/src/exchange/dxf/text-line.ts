import { sinCos } from '#core/kernel';
import type { TextLine } from './content.ts';
import type { EntityFields } from './entity-fields.ts';

// Where the letters of a text lie (DXF reference, TEXT and MTEXT): fonts are not known, so that the length is about right.
// A text whose size or alignment cannot be read is a text all the same: nothing is spoilt by it.

/** How wide a letter is for its height, about. */
const LETTER = 0.75;

/** Where a text's letters hang: a place, the shares of their length before it, and of their height from it up to their middle. */
interface Anchor {
  x: number;
  y: number;
  along: number;
  up: number;
}

/** Of a text that says how high it is; undefined of one that does not, or is not drawn along the plan. */
export function textLine(of: EntityFields, words: string): TextLine | undefined {
  const height = said(of, 40, 0);
  if (!(height > 0) || of.plane()) return undefined;
  const letters = Math.max(...words.split('\n').map((l) => l.length));
  const length = LETTER * height * letters * (of.kind === 'TEXT' ? said(of, 41, 1) : 1);
  const [dx, dy] = directionOf(of);
  const { x, y, along, up } = of.kind === 'TEXT' ? anchorOfText(of) : anchorOfMtext(of);
  // From the anchor to the middle of the letters' height, then back to their beginning.
  const [mx, my] = [x - dy * up * height, y + dx * up * height];
  const from: [number, number] = [mx - dx * along * length, my - dy * along * length];
  const line: TextLine = { from, to: [from[0] + dx * length, from[1] + dy * length], height };
  return [...line.from, ...line.to].every(Number.isFinite) ? line : undefined;
}

/** The number of a group; NaN of one that is none. */
function said({ record }: EntityFields, code: number, absent: number): number {
  const i = record.indexOf(code);
  return i < 0 ? absent : record.numberAt(i);
}

function directionOf(of: EntityFields): [number, number] {
  if (of.kind === 'MTEXT' && of.record.has(11)) {
    const [x, y] = [said(of, 11, 0), said(of, 21, 0)];
    const length = Math.sqrt(x * x + y * y);
    if (length > 0) return [x / length, y / length];
  }
  const [sin, cos] = sinCos((said(of, 50, 0) * Math.PI) / 180);
  return [cos, sin];
}

/** By 71, row by row from the upper left one. */
function anchorOfMtext(of: EntityFields): Anchor {
  const at = said(of, 71, 1) - 1;
  const isOne = at >= 0 && at < 9;
  return { x: said(of, 10, NaN), y: said(of, 20, NaN), along: isOne ? (at % 3) / 2 : 0, up: isOne ? (Math.floor(at / 3) - 1) / 2 : -0.5 }; // prettier-ignore
}

/** Alignments across, by 72: between two places, from one to the other. */
const ALIGNED = 3;
const FIT = 5;
/** In the middle both ways. */
const MIDDLE = 4;

/** By 72 and 73: left, centre, right, aligned, middle, fit; baseline, bottom, middle, top. */
function anchorOfText(of: EntityFields): Anchor {
  const [across, up] = [said(of, 72, 0), said(of, 73, 0)];
  const bySecond = (across !== 0 || up !== 0) && across !== ALIGNED && across !== FIT && of.record.has(11);
  if (!bySecond) return { x: said(of, 10, NaN), y: said(of, 20, NaN), along: 0, up: 0.5 };
  return {
    x: said(of, 11, NaN),
    y: said(of, 21, NaN),
    along: across === 1 || across === MIDDLE ? 0.5 : across === 2 ? 1 : 0,
    up: across === MIDDLE || up === 2 ? 0 : up === 3 ? -0.5 : 0.5,
  };
}
