import { nextEdge } from './delaunay.ts';
import type { MeetingKind, MeetingPlan } from './meetings.ts';

/**
 * A terrain model: a triangulated irregular network over n vertices. Coordinates in metres, x east,
 * y north, z elevation. Triangles are counter-clockwise; half-edge e runs from `triangles[e]` to the
 * next corner of its triangle, `neighbours[e]` is the same side in the neighbour, −1 on the rim.
 */
export interface Surface {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  triangles: Uint32Array;
  neighbours: Int32Array;
  /** 1 for half-edges that lie on a breakline. */
  breakSides: Uint8Array;
  /** For each vertex the index of the point given, or NO_POINT for vertices that a boundary made. */
  point: Uint32Array;
}

export const NO_POINT = 0xffffffff;

/** Which elevation a place takes where breaklines that meet there have different ones. */
export const MEETING_RULES = ['first', 'mean', 'highest', 'lowest'] as const;
export type MeetingRule = (typeof MEETING_RULES)[number];

export interface SurfaceInput {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Breakline segments as pairs of point indices. */
  segments: Uint32Array;
  /** Points nearer than this in plan are reduced to one, m; 0 for exact coincidence only. */
  coincidence: number;
  /** The order in which points claim their place; null for the order given (`claimOrder`). */
  claim?: Uint32Array | null;
  /** Points that are one place stand at their mean, in plan and in elevation. */
  mean?: boolean;
  /** Triangles with a longer side that is no breakline are left out, m; null for no limit. */
  longestSide: number | null;
  /**
   * Last decimal of the coordinates, m: what deviates from a straight by less may do so for rounding alone. Breaklines
   * that miss each other by so much meet, and triangles at the rim that are thinner are left out.
   */
  rounding?: number;
}

/** How elevations are settled where several are given. */
export interface MeetingChoice {
  rule: MeetingRule;
  /** Elevations that differ by no more agree, m. */
  tolerance: number;
  /** What was decided of one meeting, m; null where nothing was. */
  decided?: (meeting: Omit<Meeting, 'kept' | 'decided'>) => number | null;
}
export const FIRST_COUNTS: MeetingChoice = { rule: 'first', tolerance: 0.005 };

/** A place where breaklines meet, or points stand over each other, at elevations that do not agree. */
export interface Meeting {
  x: number;
  y: number;
  kind: MeetingKind | 'place';
  /** The vertex's own elevation first, where it has one; then those of the segments through it, in the order given. */
  elevations: number[];
  /** The point given for an own elevation; NO_POINT where the place has none. For two points in one place both. */
  points: number[];
  /** Segments that the elevations behind the own one are of. */
  segments: number[];
  kept: number;
  /** Whether somebody decided it. */
  decided: boolean;
  vertex: number;
}

export interface SurfaceAccount {
  /** Pairs [kept, left out] of point indices. */
  coincident: Uint32Array;
  /** Triangles left out for their longest side. */
  tooLong: number;
  /** Triangles at the rim left out because only rounding keeps their corners from lying in line. */
  thin: number;
  /** Places where elevations disagree. */
  meetings: Meeting[];
  /** Places where breaklines meet and agree. */
  joined: number;
}

/** All of a surface that its elevations have no part in. */
export interface SurfacePlan {
  x: Float64Array;
  y: Float64Array;
  triangles: Uint32Array;
  neighbours: Int32Array;
  breakSides: Uint8Array;
  /** For each vertex the point given, NO_POINT where a meeting made it. */
  point: Uint32Array;
  coincident: Uint32Array;
  mean: boolean;
  tooLong: number;
  thin: number;
  meetings: MeetingPlan[];
  /** Ends of the breakline segments, by point, that meetings depend on. */
  segments: Uint32Array;
}

/** Side links of a triangle list whose links are not known: which half-edge is the same side seen from the neighbour. */
export function linkNeighbours(triangles: Uint32Array): Int32Array {
  const neighbours = new Int32Array(triangles.length).fill(-1);
  const open = new Map<string, number>();
  for (let e = 0; e < triangles.length; e++) {
    const a = triangles[e];
    const b = triangles[nextEdge(e)];
    const back = open.get(`${b} ${a}`);
    if (back === undefined) open.set(`${a} ${b}`, e);
    else {
      neighbours[e] = back;
      neighbours[back] = e;
      open.delete(`${b} ${a}`);
    }
  }
  return neighbours;
}

/** Triangles by themselves, not linked: x, y, z of three corners each, m. */
export function ofTriangles(places: Float64Array): Surface {
  const n = places.length / 3;
  const column = (k: number): Float64Array => Float64Array.from({ length: n }, (_, i) => places[3 * i + k]);
  return {
    x: column(0),
    y: column(1),
    z: column(2),
    triangles: Uint32Array.from({ length: n }, (_, i) => i),
    neighbours: new Int32Array(n).fill(-1),
    breakSides: new Uint8Array(n),
    point: new Uint32Array(n).fill(NO_POINT),
  };
}
