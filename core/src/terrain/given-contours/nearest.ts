import { distance } from '#core/kernel';
import type { Sides } from './contour.ts';

/** What lies beside a contour at one of its places: the nearest contour to the left and to the right. */
export interface Beside {
  x: number;
  y: number;
  left: Hit | null;
  right: Hit | null;
}

export interface Hit {
  contour: number;
  distance: number;
}

/** Places along a contour that are looked from. */
const SAMPLES = 15;
/** Looked so far in turns, each so many times the one before. */
const WIDER = 4;
const TURNS = 6;

/** Looks from contours to what is nearest. */
export class Nearest {
  private readonly beside = new Map<number, Beside[]>();

  /** @param step m; the usual length of a side; contours that are `without` are not seen, nor the sides that close `opened` ones */
  constructor(
    readonly sides: Sides,
    readonly step: number,
    readonly without: ReadonlySet<number>,
    private readonly opened: ReadonlySet<number>,
  ) {}

  /** What is beside a contour, at the middles of some of its sides, evenly over their number. */
  along(k: number): Beside[] {
    const known = this.beside.get(k);
    if (known) return known;
    const { x, y, closed } = this.sides.contours[k];
    const n = closed && !this.opened.has(k) ? x.length : x.length - 1;
    const out: Beside[] = [];
    for (let q = 0; q < Math.min(SAMPLES, n); q++) {
      const i = Math.floor(((q + 0.5) * n) / Math.min(SAMPLES, n));
      const j = (i + 1) % x.length;
      const [dx, dy] = [x[j] - x[i], y[j] - y[i]];
      const long = distance(dx, dy);
      if (long === 0) continue;
      out.push(this.at((x[i] + x[j]) / 2, (y[i] + y[j]) / 2, dx / long, dy / long, k));
    }
    this.beside.set(k, out);
    return out;
  }

  /** What is beside a place, to both sides of a direction. */
  at(x: number, y: number, dx: number, dy: number, k: number): Beside {
    return { x, y, left: this.look(x, y, -dy, dx, k), right: this.look(x, y, dy, -dx, k) };
  }

  /** The first contour in a direction; null where there is none, or where one's own comes first. */
  private look(x: number, y: number, dx: number, dy: number, k: number): Hit | null {
    let reach = 4 * this.step;
    for (let turn = 0; turn < TURNS; turn++, reach *= WIDER) {
      const found = this.firstWithin(x, y, dx, dy, reach, k);
      if (found) return found.contour === k ? null : found;
    }
    return null;
  }

  private firstWithin(x: number, y: number, dx: number, dy: number, reach: number, k: number): Hit | null {
    const { ax, ay, bx, by, of } = this.sides;
    const [ex, ey] = [x + dx * reach, y + dy * reach];
    let best: Hit | null = null;
    for (const s of this.sides.within(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey))) {
      if (this.without.has(of[s]) || (this.opened.has(of[s]) && this.sides.closes(s))) continue;
      // How far each end of the side is to the left of the ray.
      const a = dx * (ay[s] - y) - dy * (ax[s] - x);
      const b = dx * (by[s] - y) - dy * (bx[s] - x);
      if (a > 0 === b > 0) continue;
      const share = a / (a - b);
      const far = dx * (ax[s] + share * (bx[s] - ax[s]) - x) + dy * (ay[s] + share * (by[s] - ay[s]) - y);
      // The side that is looked from.
      if (far <= (of[s] === k ? this.step * 1e-6 : -this.step * 1e-6) || far > reach) continue;
      if (!best || far < best.distance) best = { contour: of[s], distance: far };
    }
    return best;
  }
}
