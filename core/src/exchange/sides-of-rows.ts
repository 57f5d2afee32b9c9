import { SAGITTA, chords } from './chords.ts';
import { bulgeThroughMiddle } from './dxf/arcs.ts';
import { DRAWN_WORDS } from './drawn-lines.ts';

/** Rows that were read of `rowsOfLines`. */
interface LineRows {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  row: ArrayLike<number>;
  description: readonly string[];
}

const [BEGIN, CLOSE, CURVE, CURVE_END] = [DRAWN_WORDS.begin, DRAWN_WORDS.close, DRAWN_WORDS.curveBegin, DRAWN_WORDS.curveEnd]; // prettier-ignore

/**
 * Sides of lines among rows, as x, y of their two ends; at most so many lines, evenly taken; arcs as their chords. Rows whose
 * description ends in no word of a line are points.
 */
export function sidesOfRows({ x, y, row, description }: LineRows, from: number, mostSides: number): Float64Array {
  const step = Math.max(1, Math.ceil((x.length - from) / mostSides));
  const out: number[] = [];
  const side = (a: number, b: number): number => out.push(x[a], y[a], x[b], y[b]);
  /** Where the line and where the arc at hand begin; no arc: −1. */
  let [begin, arc] = [from, -1];
  for (let i = from, line = 0; i < x.length; i++) {
    const words = wordsOf(description[i]);
    if (words.includes(BEGIN)) {
      [begin, arc] = [i, -1];
      line++;
    } else if (line % step === 0 && row[i] === row[i - 1] + 1) {
      if (arc < 0) side(i - 1, i);
      else if (i - arc === 2) {
        pushArc(out, x, y, arc);
        arc = i;
      }
      if (words.includes(CLOSE)) side(i, begin);
    } else arc = -1;
    if (words.includes(CURVE_END)) arc = -1;
    if (words.includes(CURVE)) arc = i;
  }
  return Float64Array.from(out);
}

/** Words behind the code. */
function wordsOf(description: string): readonly string[] {
  const space = description.indexOf(' ');
  return space < 0 ? [] : description.slice(space + 1).split(' ');
}

/** The arc through vertices i, i + 1 and i + 2. */
function pushArc(out: number[], x: ArrayLike<number>, y: ArrayLike<number>, i: number): void {
  const [ax, ay, bx, by] = [x[i], y[i], x[i + 2], y[i + 2]];
  const bulge = bulgeThroughMiddle(ax, ay, x[i + 1], y[i + 1], bx, by);
  let [px, py] = [ax, ay];
  for (const [qx, qy] of [...chords(ax, ay, bx, by, bulge, SAGITTA).map((c) => c.at), [bx, by]]) {
    out.push(px, py, qx, qy);
    [px, py] = [qx, qy];
  }
}
