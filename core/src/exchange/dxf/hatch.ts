import { columnsOf } from '#core/kernel';
import { arcOf } from './arcs.ts';
import type { DxfPolyline, DxfSink } from './content.ts';
import type { EntityFields } from './entity-fields.ts';
import { inPlane } from './open-polyline.ts';
import { chordsOf, ellipse, faultOf, type RationalCurve } from './rational-curve.ts';

/** Flag of a path that is a polyline. */
const AS_POLYLINE = 2;
/** Of a curve's size: the rim of a hatch is for finding an area, its edges are followed to a thousandth. */
const SHARE = 0.001;

type Course = Pick<DxfPolyline, 'closed' | 'x' | 'y' | 'bulge'>;

/** Rims of a HATCH: paths that are polylines, or edges one behind the other (DXF reference). */
export function readHatch(of: EntityFields, sink: DxfSink): void {
  const walk = new Groups(of);
  const z = of.value(30);
  const within = of.plane();
  const paths = walk.count(91);
  const rings: DxfPolyline[] = [];
  for (let p = 0; p < paths && !of.spoilt && !walk.over; p++) {
    const flags = walk.next(92);
    const course = flags & AS_POLYLINE ? polylinePath(walk) : edgePath(walk);
    if (course.x.length > 1 && !of.spoilt) rings.push(inPlane({ layer: of.layer, kind: of.kind, spatial: false, ...course, z: course.x.map(() => z) }, within)); // prettier-ignore
  }
  if (!of.spoilt) sink.hatch({ layer: of.layer, kind: of.kind, rings, ...of.said() });
}

/** Goes through the groups of an entity in their order. */
class Groups {
  private i = 0;

  constructor(private readonly of: EntityFields) {}

  get over(): boolean {
    return this.i >= this.of.record.count;
  }

  /** The next group of a code, behind the last one; NaN, and the entity is spoilt, where there is none. */
  next(code: number): number {
    const { record } = this.of;
    while (this.i < record.count && record.codes[this.i] !== code) this.i++;
    return this.over ? this.of.spoil(`HATCH breaks off before a group ${code}`) : this.of.at(this.i++);
  }

  /** The next group if it is of this code; else what stands for it. */
  maybe(code: number, absent: number): number {
    return !this.over && this.of.record.codes[this.i] === code ? this.of.at(this.i++) : absent;
  }

  /** A count that the groups there are can hold. */
  count(code: number): number {
    const n = this.next(code);
    return n >= 0 && n <= this.of.record.count ? n : this.of.spoil(`HATCH says ${n} of what has its own groups`);
  }

  get spoilt(): boolean {
    return this.of.spoilt;
  }

  spoil(what: string): void {
    this.of.spoil(what);
  }
}

function polylinePath(walk: Groups): Course {
  const bulges = walk.next(72) !== 0;
  walk.next(73);
  const course: Course = { closed: true, x: [], y: [], bulge: [] };
  const n = walk.count(93);
  for (let i = 0; i < n && !walk.spoilt; i++) {
    course.x.push(walk.next(10));
    course.y.push(walk.next(20));
    course.bulge.push(bulges ? walk.maybe(42, 0) : 0);
  }
  return course;
}

function edgePath(walk: Groups): Course {
  const course: Course = { closed: true, x: [], y: [], bulge: [] };
  const n = walk.count(93);
  for (let i = 0; i < n && !walk.spoilt; i++) {
    const edge = EDGE[walk.next(72)];
    if (!edge) walk.spoil('HATCH has an edge of a kind that is not known');
    else append(course, edge(walk));
  }
  return course;
}

/** An edge begins where the one before it ends: that place is told once. */
function append(course: Course, edge: Course): void {
  edge.x.slice(0, -1).forEach((x, i) => {
    course.x.push(x);
    course.y.push(edge.y[i]);
    course.bulge.push(edge.bulge[i]);
  });
}

const turned = ({ closed, x, y, bulge }: Course): Course => ({
  closed,
  x: [...x].reverse(),
  y: [...y].reverse(),
  bulge: [
    ...bulge
      .slice(0, -1)
      .reverse()
      .map((b) => 0 - b),
    0,
  ],
});

const EDGE: Record<number, (walk: Groups) => Course> = {
  1: (walk) => {
    const [ax, ay, bx, by] = [walk.next(10), walk.next(20), walk.next(11), walk.next(21)];
    return { closed: false, x: [ax, bx], y: [ay, by], bulge: [0, 0] };
  },
  2: (walk) => {
    const [cx, cy, radius, from, to] = [walk.next(10), walk.next(20), walk.next(40), walk.next(50), walk.next(51)];
    // One that goes clockwise says its angles from the other side.
    return walk.next(73) ? arcOf(cx, cy, radius, from, to) : turned(arcOf(cx, cy, radius, -to, -from));
  },
  3: (walk) => {
    const [cx, cy, mx, my, share] = [walk.next(10), walk.next(20), walk.next(11), walk.next(21), walk.next(40)];
    const [from, to] = [walk.next(50), walk.next(51)].map((v) => (v * Math.PI) / 180);
    const forward = walk.next(73) !== 0;
    const [a, b] = forward ? [from, to] : [-to, -from];
    const sweep = b > a ? b - a : b - a + 2 * Math.PI;
    const course = chords(ellipse([cx, cy, 0], [mx, my, 0], [-my * share, mx * share, 0], a, a + sweep), Math.abs(mx) + Math.abs(my)); // prettier-ignore
    return forward ? course : turned(course);
  },
  4: (walk) => {
    const degree = walk.next(94);
    const rational = walk.next(73) !== 0;
    walk.next(74);
    const [knots, places] = [walk.count(95), walk.count(96)];
    const curve: RationalCurve = { degree, knots: [], control: [], weights: [] };
    for (let i = 0; i < knots && !walk.spoilt; i++) curve.knots.push(walk.next(40));
    for (let i = 0; i < places && !walk.spoilt; i++) {
      curve.control.push(walk.next(10), walk.next(20), 0);
      curve.weights.push(rational ? walk.maybe(42, 1) : 1);
    }
    const fault = walk.spoilt ? null : faultOf(curve);
    if (fault) walk.spoil(`the edge of a HATCH ${fault}`);
    const xs = curve.control.filter((_, i) => i % 3 === 0);
    return walk.spoilt ? { closed: false, x: [], y: [], bulge: [] } : chords(curve, Math.abs(xs[0] - xs[xs.length >> 1]) || 1); // prettier-ignore
  },
};

function chords(curve: RationalCurve, size: number): Course {
  const [x, y] = columnsOf(chordsOf(curve, size * SHARE));
  return { closed: false, x, y, bulge: x.map(() => 0) };
}
