import { clipToRing, measureSurface, triangleIndex, type Surface } from '#core/terrain';
import type { PlanBox } from './batters.ts';

/** Share of a box by which more than it is held. */
const MORE = 0.25;

/** What pads that are laid about one place need of the ground there, about their origin. */
interface HeldGround {
  ox: number;
  oy: number;
  box: PlanBox;
  near: Surface;
  ring: Float64Array;
  under: Surface;
  lowest: number;
  highest: number;
  /** Of the triangles that are near. */
  index: ReturnType<typeof triangleIndex>;
}

/** The ground about pads that are laid one after the other: at another level nearly the same of it is asked for again. */
export class NearGround {
  private held: HeldGround | null = null;

  constructor(readonly ground: Surface) {}

  /** The triangles that reach into a box about an origin, as a surface of its own about it, with the part of them inside a ring in the box. */
  about(box: Readonly<PlanBox>, ring: Float64Array, [ox, oy]: readonly [number, number]): HeldGround {
    const last = this.held;
    if (last && last.ox === ox && last.oy === oy && contains(last.box, box) && same(last.ring, ring)) return last;
    const wide = widened(box);
    const near = croppedAbout(this.ground, wide, ox, oy);
    const { lowest, highest } = measureSurface(near);
    this.held = {
      ox,
      oy,
      box: wide,
      near,
      ring,
      under: clipToRing(near, ring),
      lowest,
      highest,
      index: triangleIndex(near),
    };
    return this.held;
  }
}

const contains = ([w, s, e, n]: Readonly<PlanBox>, [west, south, east, north]: Readonly<PlanBox>): boolean => w <= west && s <= south && e >= east && n >= north; // prettier-ignore

function widened([west, south, east, north]: Readonly<PlanBox>): PlanBox {
  const [x, y] = [MORE * (east - west), MORE * (north - south)];
  return [west - x, south - y, east + x, north + y];
}

const same = (a: Float64Array, b: Float64Array): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

/** The triangles of a surface that reach into a box about an origin, as a surface of its own about it. */
function croppedAbout(s: Surface, box: Readonly<PlanBox>, ox: number, oy: number): Surface {
  const [west, south, east, north] = [box[0] + ox, box[1] + oy, box[2] + ox, box[3] + oy];
  const { x, y, triangles } = s;
  const number = new Int32Array(triangles.length / 3).fill(-1);
  const kept: number[] = [];
  for (let t = 0; t < number.length; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    if (x[a] < west && x[b] < west && x[c] < west) continue;
    if (x[a] > east && x[b] > east && x[c] > east) continue;
    if (y[a] < south && y[b] < south && y[c] < south) continue;
    if (y[a] > north && y[b] > north && y[c] > north) continue;
    number[t] = kept.length;
    kept.push(t);
  }
  const vertex = new Int32Array(x.length).fill(-1);
  const from: number[] = [];
  const corners = new Uint32Array(3 * kept.length);
  const neighbours = new Int32Array(3 * kept.length);
  const breakSides = new Uint8Array(3 * kept.length);
  for (let k = 0; k < kept.length; k++)
    for (let side = 0; side < 3; side++) {
      const [e, to] = [3 * kept[k] + side, 3 * k + side];
      const v = triangles[e];
      if (vertex[v] < 0) vertex[v] = from.push(v) - 1;
      corners[to] = vertex[v];
      const beside = s.neighbours[e];
      const t = beside < 0 ? -1 : number[(beside / 3) | 0];
      neighbours[to] = t < 0 ? -1 : 3 * t + (beside % 3);
      breakSides[to] = s.breakSides[e];
    }
  return {
    triangles: corners,
    neighbours,
    breakSides,
    x: Float64Array.from(from, (v) => x[v] - ox),
    y: Float64Array.from(from, (v) => y[v] - oy),
    z: Float64Array.from(from, (v) => s.z[v]),
    point: Uint32Array.from(from, (v) => s.point[v]),
  };
}
