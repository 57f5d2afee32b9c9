import { distance, ringArea, ringCrossesItself } from '#core/kernel';
import { buildSurface, clipToRing, type Surface } from '#core/terrain';
import { slopesMissing, type PadCorners, type PadShape } from './pad-shape.ts';

/** A place across a line: so far to its right (left is negative), so much higher than it, m. */
export interface TemplatePlace {
  offset: number;
  height: number;
}

/** A bank or a ditch: a template carried along a line, square to it, with batters from its two outer places. */
export interface StripShape extends Pick<PadShape, 'cutSlope' | 'fillSlope' | 'corners' | 'sagitta' | 'benches'> {
  /** x, y, z of the line's places, m. */
  course: readonly number[][];
  /** From left to right; two places at the least. */
  template: readonly TemplatePlace[];
}

export type FormedStrip = { ok: true; corners: PadCorners; plane: Surface; level: number } | { ok: false; reason: string }; // prettier-ignore

/** Places of a line nearer than this are one, m. */
const TOGETHER = 1e-6;
/** m² */
const NO_AREA = 1e-6;
/** An offset line at a bend is no farther out than this many times its offset. */
const MOST_MITRE = 8;

/** The surface that a template makes along a line, and its rim counter-clockwise, about the line's first place; or why it makes none. */
export function formedStrip(shape: StripShape): FormedStrip {
  const no = (reason: string): FormedStrip => ({ ok: false, reason });
  const { course, template } = shape;
  const missing = slopesMissing(shape);
  if (missing) return no(missing);
  if (template.length < 2 || template.some(({ offset }, i) => i > 0 && !(offset > template[i - 1].offset)))
    return no('A template has two places or more, from left to right, each farther to the right than the one before.');
  const places = course.filter((p, i) => i === 0 || distance(p[0] - course[i - 1][0], p[1] - course[i - 1][1]) > TOGETHER); // prettier-ignore
  if (places.length < 2) return no('The line has no two places.');
  const [ox, oy] = places[0];
  const local = places.map(([x, y, z]) => [x - ox, y - oy, z]);
  const across = local.map((_, i) => squareAt(local, i));
  const rows = template.map(({ offset, height }) =>
    local.map(([x, y, z], i) => [x + offset * across[i][0], y + offset * across[i][1], z + height]),
  );
  // Along the right side, across the end, back along the left and across the beginning: counter-clockwise.
  const inner = rows.slice(1, -1);
  const rim = [
    ...rows.at(-1)!,
    ...inner.toReversed().map((r) => r.at(-1)!),
    ...rows[0].toReversed(),
    ...inner.map((r) => r[0]),
  ];
  const ring = Float64Array.from(rim.flatMap(([x, y]) => [x, y]));
  if (ringCrossesItself(ring) || !(ringArea(ring) > NO_AREA)) return no('The sides of the strip cross: a bend of its line is too sharp, or its places are too near to each other, for its width.'); // prettier-ignore
  return {
    ok: true,
    level: places[0][2],
    corners: { x: rim.map((p) => p[0]), y: rim.map((p) => p[1]), z: rim.map((p) => p[2]), ox, oy },
    plane: between(rows, ring),
  };
}

/** What a metre to the right of a line is at one of its places; at a bend so long that both sides keep their offset. */
function squareAt(line: readonly number[][], i: number): [number, number] {
  const right = (k: number): [number, number] => {
    const [dx, dy] = [line[k + 1][0] - line[k][0], line[k + 1][1] - line[k][1]];
    const length = distance(dx, dy);
    return [dy / length, -dx / length];
  };
  if (i === 0) return right(0);
  if (i === line.length - 1) return right(i - 1);
  const [a, b] = [right(i - 1), right(i)];
  const sum = [a[0] + b[0], a[1] + b[1]];
  const cos = a[0] * b[0] + a[1] * b[1];
  const size = distance(sum[0], sum[1]);
  if (size < TOGETHER) return a;
  const length = Math.min(MOST_MITRE, size / (1 + cos));
  return [(sum[0] / size) * length, (sum[1] / size) * length];
}

/** The triangles between offset lines, with breaklines along each of them and across at every place of the line. */
function between(rows: readonly (readonly number[][])[], ring: Float64Array): Surface {
  const along = rows[0].length;
  const all = rows.flat();
  const segments: number[] = [];
  for (let r = 0; r < rows.length; r++)
    for (let i = 0; i < along; i++) {
      if (i + 1 < along) segments.push(r * along + i, r * along + i + 1);
      if (r + 1 < rows.length) segments.push(r * along + i, (r + 1) * along + i);
    }
  const { surface } = buildSurface({
    x: Float64Array.from(all, (p) => p[0]),
    y: Float64Array.from(all, (p) => p[1]),
    z: Float64Array.from(all, (p) => p[2]),
    segments: Uint32Array.from(segments),
    longestSide: null,
    coincidence: 0,
  });
  // A part that is twisted is folded along its diagonal: that too is kept.
  const own = clipToRing(surface, ring);
  return { ...own, breakSides: own.breakSides.slice().fill(1) };
}
