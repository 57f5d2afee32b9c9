import Flatbush from 'flatbush';
import { distance, distanceToSide, orientation } from '#core/kernel';

/** A contour as somebody drew it, m. */
export interface GivenContour {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  elevation: number;
  /** Its last vertex goes back to its first. */
  closed: boolean;
}

export type EndOf = 'first' | 'last';

/** What is wrong with a contour, and where; contours by their places in the list. */
export type ContourFault = { x: number; y: number; contour: number } & (
  | { kind: 'double'; other: number }
  | { kind: 'closing-side'; cuts: number[] }
  | { kind: 'cross'; others: number[]; places: number; through: boolean }
  | { kind: 'elevation'; fits: number | null; neighbours: number[] }
  | { kind: 'open'; end: EndOf }
  | { kind: 'gap'; end: EndOf; other: number; otherEnd: EndOf; length: number }
);

/** Sides of all contours, found by where they are. */
export class Sides {
  readonly count: number;
  readonly ax: Float64Array;
  readonly ay: Float64Array;
  readonly bx: Float64Array;
  readonly by: Float64Array;
  /** The contour of each, and the place of its first vertex within that. */
  readonly of: Int32Array;
  readonly at: Int32Array;
  private readonly index: Flatbush;

  constructor(readonly contours: readonly GivenContour[]) {
    const sidesOf = (c: GivenContour): number => Math.max(0, c.closed ? c.x.length : c.x.length - 1);
    const count = (this.count = contours.reduce((n, c) => n + sidesOf(c), 0));
    [this.ax, this.ay, this.bx, this.by] = Array.from({ length: 4 }, () => new Float64Array(count));
    [this.of, this.at] = [new Int32Array(count), new Int32Array(count)];
    this.index = new Flatbush(Math.max(1, count));
    let s = 0;
    contours.forEach((c, k) => {
      for (let i = 0; i < sidesOf(c); i++, s++) {
        const j = (i + 1) % c.x.length;
        [this.ax[s], this.ay[s], this.bx[s], this.by[s]] = [c.x[i], c.y[i], c.x[j], c.y[j]];
        [this.of[s], this.at[s]] = [k, i];
        this.index.add(Math.min(c.x[i], c.x[j]), Math.min(c.y[i], c.y[j]), Math.max(c.x[i], c.x[j]), Math.max(c.y[i], c.y[j])); // prettier-ignore
      }
    });
    if (count === 0) this.index.add(0, 0, 0, 0);
    this.index.finish();
  }

  /** Sides whose boxes a box meets. */
  within(west: number, south: number, east: number, north: number): number[] {
    return this.count === 0 ? [] : this.index.search(west, south, east, north);
  }

  /** Whether a side is the one that closes its contour. */
  closes(s: number): boolean {
    const c = this.contours[this.of[s]];
    return c.closed && this.at[s] === c.x.length - 1;
  }

  /** How far a place is from a side, m. */
  off(s: number, x: number, y: number): number {
    return distanceToSide([x, y, 0], [this.ax[s], this.ay[s], 0], [this.bx[s], this.by[s], 0]);
  }
}

/** x, y … of the convex hull of all vertices, clockwise (Andrew's monotone chain). */
function hullOf(contours: readonly GivenContour[]): number[] {
  const places = contours.flatMap((c) => Array.from(c.x, (x, i): [number, number] => [x, c.y[i]]));
  places.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly [number, number][]): [number, number][] => {
    const out: [number, number][] = [];
    for (const p of list) {
      while (out.length > 1 && orientation(...out[out.length - 2], ...out[out.length - 1], ...p) >= 0) out.pop();
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(places), ...half([...places].reverse())].flat();
}

/** How far inside the hull of all contours a place is, m. */
export function insideness(contours: readonly GivenContour[]): (x: number, y: number) => number {
  const hull = hullOf(contours);
  const n = hull.length / 2;
  return (x, y) => {
    let least = Infinity;
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      const [ux, uy] = [hull[2 * j] - hull[2 * i], hull[2 * j + 1] - hull[2 * i + 1]];
      const off = (ux * (y - hull[2 * i + 1]) - uy * (x - hull[2 * i])) / (distance(ux, uy) || 1);
      least = Math.min(least, Math.abs(off));
    }
    return least;
  };
}

/** The middle one of how long sides are; 1 m where there are none. */
export function usualSide({ count, ax, ay, bx, by }: Sides): number {
  const lengths = Float64Array.from({ length: count }, (_, s) => distance(bx[s] - ax[s], by[s] - ay[s])).filter((l) => l > 0); // prettier-ignore
  return lengths.length ? lengths.sort()[lengths.length >> 1] : 1;
}
