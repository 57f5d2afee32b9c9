import { sinCos } from '#core/kernel';
import type { DxfPolyline } from './content.ts';

type Course = Pick<DxfPolyline, 'closed' | 'x' | 'y' | 'bulge'>;

/** A circle as a closed line of two arcs. */
export const circleOf = (cx: number, cy: number, radius: number): Course => ({
  closed: true,
  x: [cx + radius, cx - radius],
  y: [cy, cy],
  bulge: [1, 1],
});

/**
 * An arc counter-clockwise from one angle to another, degrees, as a line of one or two pieces: a bulge, the tangent of a
 * quarter of the angle (DXF reference), stays at most 1.
 */
export function arcOf(cx: number, cy: number, radius: number, from: number, to: number): Course {
  const sweep = (((to - from) % 360) + 360) % 360 || 360;
  const pieces = sweep > 180 ? 2 : 1;
  const [x, y]: [number[], number[]] = [[], []];
  for (let k = 0; k <= pieces; k++) {
    const [sin, cos] = sinCos(((from + (sweep * k) / pieces) * Math.PI) / 180);
    x.push(cx + radius * cos);
    y.push(cy + radius * sin);
  }
  const [sin, cos] = sinCos((sweep / pieces / 4 / 180) * Math.PI);
  return { closed: false, x, y, bulge: [...new Array<number>(pieces).fill(sin / cos), 0] };
}

/**
 * The middle of an arc and the bulge of its halves. A bulge is the tangent of a quarter of the angle, > 0 for an arc to the
 * left (DXF reference): that of half the arc comes of it by square roots.
 */
export function halfOf(ax: number, ay: number, bx: number, by: number, bulge: number) {
  return {
    mx: (ax + bx) / 2 + (bulge / 2) * (by - ay),
    my: (ay + by) / 2 - (bulge / 2) * (bx - ax),
    half: bulge / (1 + Math.sqrt(1 + bulge * bulge)),
  };
}

/** The bulge of an arc from a to b by its middle: what `halfOf` comes from. */
export function bulgeThroughMiddle(ax: number, ay: number, mx: number, my: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  return square === 0 ? 0 : (2 * ((mx - (ax + bx) / 2) * dy - (my - (ay + by) / 2) * dx)) / square;
}

/** Bulge of an arc of 5.6°: what lies in a tilted plane has chords no longer than that, for its arcs are none in plan. */
const SHORT = 0.0246;

/** A line with its arcs as chords. */
export function chorded(line: DxfPolyline): DxfPolyline {
  if (line.bulge.every((b) => b === 0)) return line;
  const out: DxfPolyline = { ...line, x: [], y: [], z: [], bulge: [] };
  const put = (x: number, y: number, z: number): void => {
    out.x.push(x);
    out.y.push(y);
    out.z.push(z);
    out.bulge.push(0);
  };
  line.x.forEach((x, i) => {
    put(x, line.y[i], line.z[i]);
    const next = (i + 1) % line.x.length;
    if (next === 0 && !line.closed) return;
    halved(x, line.y[i], line.x[next], line.y[next], line.bulge[i], (px, py) => put(px, py, line.z[i]));
  });
  return out;
}

/** Places between the ends of an arc, halved until its pieces are short. */
function halved(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  bulge: number,
  put: (x: number, y: number) => void,
): void {
  // prettier-ignore
  if (Math.abs(bulge) <= SHORT) return;
  const { mx, my, half } = halfOf(ax, ay, bx, by, bulge);
  halved(ax, ay, mx, my, half, put);
  put(mx, my);
  halved(mx, my, bx, by, half, put);
}
