import type { Plane } from './plane.ts';
import { chorded } from './arcs.ts';
import type { DxfFace, DxfPolyline, DxfSink } from './content.ts';

const POLYLINE = 'POLYLINE';
/** Flags of a POLYLINE, group 70 (DXF reference). */
const CLOSED = 1;
const SPLINE = 4;
const SPATIAL = 8;
const MESH = 16;
const CLOSED_ACROSS = 32;
const POLYFACE = 64;
/** Flags of its VERTEX: a control point of a spline, off the line; the record of a face; a place of a polyface mesh. */
const CONTROL = 16;
const FACE = 128;
const FACE_PLACE = 64;

/** Whether a VERTEX is the record of a face: it stands nowhere. */
export const isFaceRecord = (flags: number): boolean => (flags & (FACE | FACE_PLACE)) === FACE;

export interface PolylineVertex {
  x: number;
  y: number;
  /** Null where it says none. */
  z: number | null;
  bulge: number;
  flags: number;
  /** Numbers of vertices, from 1; below 0 where the side behind it is not seen. */
  face: number[];
  /** Line of the file. */
  line: number;
}

export interface PolylineHead {
  layer: string;
  own?: string;
  drawnIn?: number;
  flags: number;
  /** Of a line drawn in plan. */
  elevation: number;
  plane: Plane | null;
  /** Vertices of a mesh along and across, as drawn, and those of its smoothed form; 0 where it is not smoothed. */
  size: { m: number; n: number; smoothM: number; smoothN: number; smoothed: boolean };
  /** Something of it could not be read: it is left out. */
  spoilt: boolean;
}

/** A POLYLINE with what follows it until its SEQEND: a line, a mesh of M × N places, or a mesh of faces. */
export class OpenPolyline {
  private readonly vertices: PolylineVertex[] = [];
  spoilt: boolean;

  constructor(
    readonly head: PolylineHead,
    readonly line: number,
  ) {
    this.spoilt = head.spoilt;
  }

  add(vertex: PolylineVertex): void {
    this.vertices.push(vertex);
  }

  /** Puts it among what a drawing holds. */
  finish(into: DxfSink, problem: (line: number, what: string) => void): void {
    if (this.spoilt) return;
    const { flags, layer } = this.head;
    if (flags & POLYFACE) this.facesOfPolyface(into, problem);
    else if (flags & MESH) this.facesOfMesh(into, problem);
    else into.polyline(this.lineOf(layer));
  }

  private lineOf(layer: string): DxfPolyline {
    const { flags, elevation, plane, own, drawnIn } = this.head;
    const on = flags & SPLINE ? this.vertices.filter((v) => !(v.flags & CONTROL)) : this.vertices;
    const spatial = (flags & SPATIAL) !== 0;
    return inPlane(
      {
        layer,
        closed: (flags & CLOSED) !== 0,
        spatial,
        x: on.map((v) => v.x),
        y: on.map((v) => v.y),
        // In plan the line's own elevation counts; what its vertices say beside it is 0.
        z: on.map((v) => (spatial ? 0 : elevation) || (v.z ?? 0)),
        bulge: on.map((v) => v.bulge),
        kind: POLYLINE,
        ...(own === undefined ? {} : { own }),
        ...(drawnIn === undefined ? {} : { drawnIn }),
      },
      spatial ? null : plane,
    );
  }

  private facesOfPolyface(into: DxfSink, problem: (line: number, what: string) => void): void {
    const places = this.vertices.filter((v) => v.flags & FACE_PLACE);
    for (const { flags, face, line } of this.vertices) {
      if (!isFaceRecord(flags)) continue;
      const named = face.filter((k) => k !== 0).map(Math.abs);
      const lost = named.find((k) => !places[k - 1]);
      if (lost !== undefined) problem(line, `a face names vertex ${lost} of a mesh of ${places.length}; it is left out`);
      else if (named.length >= 3) into.face(faceOf(this.head.layer, named.map((k) => places[k - 1]))); // prettier-ignore
    }
  }

  private facesOfMesh(into: DxfSink, problem: (line: number, what: string) => void): void {
    const { flags, layer, size } = this.head;
    const { m, n } = size.smoothed ? { m: size.smoothM, n: size.smoothN } : size;
    const places = size.smoothed ? this.vertices.filter((v) => !(v.flags & CONTROL)) : this.vertices;
    if (m < 2 || n < 2 || m * n !== places.length) {
      problem(this.line, `a mesh of ${m} × ${n} has ${places.length} vertices; it is left out`);
      return;
    }
    const at = (i: number, k: number): PolylineVertex => places[(i % m) * n + (k % n)];
    for (let i = 0; i < (flags & CLOSED ? m : m - 1); i++)
      for (let k = 0; k < (flags & CLOSED_ACROSS ? n : n - 1); k++)
        into.face(faceOf(layer, [at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1)]));
  }
}

/** A face of three or four corners; a triangle says its third one twice. */
function faceOf(layer: string, corners: readonly PolylineVertex[]): DxfFace {
  const [a, b, c, d = c] = corners;
  return { layer, corners: [a, b, c, d].flatMap((v) => [v.x, v.y, v.z ?? 0]), kind: POLYLINE };
}

/** A line as it lies in a plane: seen from below its arcs turn the other way; tilted it lies in space, its arcs as chords. */
export function inPlane(line: DxfPolyline, plane: Plane | null): DxfPolyline {
  if (!plane) return line;
  const own = plane.fromBelow ? line : chorded(line);
  const places = own.x.map((x, i) => plane.at(x, own.y[i], own.z[i]));
  const [x, y, z] = [0, 1, 2].map((k) => places.map((p) => p[k]));
  return { ...own, x, y, z, spatial: !plane.fromBelow || own.spatial, bulge: own.bulge.map((b) => 0 - b) };
}
