// Geometry of a GeoPackage (OGC 12-128, clause 2.1.3): a head, then well-known binary (OGC 06-103r4; ISO/IEC 13249-3 for
// elevations, measures and arcs).

/** What a geometry draws; a place without an elevation has NaN. */
export interface Drawn {
  points: [number, number, number][];
  lines: { closed: boolean; x: number[]; y: number[]; z: number[]; bulge: number[] }[];
  /** Triangles of a surface, x y z of three corners. */
  triangles: number[][];
}

const DEEPEST = 8;
const ENVELOPE = [0, 32, 48, 48, 64];

/** @throws RangeError where it breaks off, Error with the reason of one that is not read */
export function geometryOf(blob: Uint8Array): Drawn {
  const out: Drawn = { points: [], lines: [], triangles: [] };
  if (blob[0] !== 0x47 || blob[1] !== 0x50) throw new Error('is no geometry of a GeoPackage');
  const flags = blob[3];
  const head = 8 + (ENVELOPE[(flags >> 1) & 7] ?? -1);
  if (head < 8) throw new Error('has an extent of a kind that is not known');
  if (flags & 0x10) return out;
  new Wkb(blob.subarray(head), out).geometry(0);
  return out;
}

type Course = Drawn['lines'][number];
const newCourse = (closed: boolean): Course => ({ closed, x: [], y: [], z: [], bulge: [] });

class Wkb {
  private readonly view: DataView;
  private at = 0;
  private little = true;
  private hasZ = false;
  private hasM = false;

  constructor(
    bytes: Uint8Array,
    private readonly out: Drawn,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  geometry(depth: number): void {
    if (depth > DEEPEST) throw new Error(`is nested more than ${DEEPEST} deep`);
    const kind = this.head();
    const { out } = this;
    switch (kind) {
      case 1: {
        const place = this.place();
        // A point of no numbers is an empty one.
        if (!Number.isNaN(place[0]) && !Number.isNaN(place[1])) out.points.push(place);
        return;
      }
      case 2:
        return void out.lines.push(this.course(newCourse(false)));
      case 8:
        return void out.lines.push(this.arcs(newCourse(false)));
      case 9:
        return void out.lines.push(this.compound(newCourse(false)));
      case 3:
        return this.times(() => out.lines.push(ring(this.course(newCourse(true)))));
      case 17:
        return this.times(() => this.triangle(this.course(newCourse(true))));
      case 10:
        return this.times(() => out.lines.push(ring(this.part(newCourse(true)))));
      case 4:
      case 5:
      case 6:
      case 7:
      case 11:
      case 12:
      case 15:
      case 16:
        return this.times(() => this.geometry(depth + 1));
      default:
        throw new Error(`is of kind ${kind}, which is not read`);
    }
  }

  private head(): number {
    this.little = this.view.getUint8(this.at) === 1;
    const said = this.view.getUint32(this.at + 1, this.little);
    this.at += 5;
    const plain = said & 0x1fffffff;
    const thousands = Math.floor(plain / 1000);
    this.hasZ = thousands === 1 || thousands === 3 || (said & 0x80000000) !== 0;
    this.hasM = thousands === 2 || thousands === 3 || (said & 0x40000000) !== 0;
    return plain % 1000;
  }

  /** As often as a number says; it cannot say more than there are bytes for. */
  private times(each: () => void): void {
    const count = this.count(4);
    for (let i = 0; i < count; i++) each();
  }

  private count(least: number): number {
    const count = this.view.getUint32(this.at, this.little);
    this.at += 4;
    if (count * least > this.view.byteLength - this.at) throw new RangeError('it breaks off');
    return count;
  }

  private place(): [number, number, number] {
    const { view, little } = this;
    const of = (): number => {
      const value = view.getFloat64(this.at, little);
      this.at += 8;
      return value;
    };
    const place: [number, number, number] = [of(), of(), this.hasZ ? of() : NaN];
    if (this.hasM) this.at += 8;
    return place;
  }

  private course(into: Course): Course {
    const count = this.count(16);
    for (let i = 0; i < count; i++) put(into, this.place());
    return into;
  }

  /** Arcs by three places each, the end of one the start of the next. */
  private arcs(into: Course): Course {
    const count = this.count(16);
    const places = Array.from({ length: count }, () => this.place());
    if (count % 2 === 0 && count > 0) throw new Error('has an arc without an end');
    places.forEach((place, i) => {
      const [before, behind] = [places[i - 1], places[i + 1]];
      if (i % 2 === 0) return put(into, place);
      const isCircle = before[0] === behind[0] && before[1] === behind[1];
      into.bulge[into.bulge.length - 1] = isCircle ? 1 : bulgeThrough(before, place, behind);
      // A whole circle ends where it began, its middle across from there: two halves.
      if (isCircle) {
        put(into, place);
        into.bulge[into.bulge.length - 1] = 1;
      }
    });
    return into;
  }

  /** Straights and arcs one after another. */
  private compound(into: Course): Course {
    this.times(() => this.part(into));
    return into;
  }

  private part(into: Course): Course {
    const kind = this.head();
    if (kind === 2) return this.course(into);
    if (kind === 8) return this.arcs(into);
    if (kind === 9) return this.compound(into);
    throw new Error(`has a part of kind ${kind}, which is not read`);
  }

  private triangle({ x, y, z }: Course): void {
    if (x.length === 4) this.out.triangles.push([0, 1, 2].flatMap((i) => [x[i], y[i], z[i]]));
  }
}

/** One more vertex; where a part begins as the last one ended it is there already. */
function put(into: Course, [x, y, z]: readonly [number, number, number]): void {
  if (!Number.isFinite(x) || !Number.isFinite(y)) throw new Error('has a vertex without a place');
  const last = into.x.length - 1;
  if (last >= 0 && into.x[last] === x && into.y[last] === y) return;
  into.x.push(x);
  into.y.push(y);
  into.z.push(Number.isFinite(z) ? z : NaN);
  into.bulge.push(0);
}

/** The last vertex of a ring is its first again. */
function ring(course: Course): Course {
  const last = course.x.length - 1;
  if (last > 1 && course.x[0] === course.x[last] && course.y[0] === course.y[last])
    for (const list of [course.x, course.y, course.z, course.bulge]) list.pop();
  return course;
}

/**
 * The bulge (DXF reference: tangent of a quarter of the angle, > 0 to the left) of an arc through three places. The angle at
 * the middle one between the two ends is half the angle that is left of the circle: its outer half is half the arc's.
 */
function bulgeThrough(a: readonly number[], m: readonly number[], b: readonly number[]): number {
  const [ux, uy, vx, vy] = [m[0] - a[0], m[1] - a[1], b[0] - m[0], b[1] - m[1]];
  const [cross, dot] = [ux * vy - uy * vx, ux * vx + uy * vy];
  if (cross === 0) return 0;
  // tan(w / 2) of the turn w at the middle, w being half the arc's angle.
  return cross / (Math.sqrt(cross * cross + dot * dot) + dot);
}
