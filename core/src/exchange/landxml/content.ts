import type { ArcInLine } from './course/piece.ts';
// What a LandXML file holds, in the file's own unit. East before north, whatever the file's order; an elevation that is not
// said is NaN.

export interface LandXmlTin {
  name: string;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Indices into the arrays, three a face. */
  faces: Uint32Array;
}

export interface LandXmlPoint {
  name: string;
  code: string;
  x: number;
  y: number;
  z: number;
  /** What a surface was made of has no number; absent of a point of CgPoints. */
  kind?: 'DataPoint';
  /** What else it says of itself: its own description, or the name of its group. */
  desc?: string;
}

/** A manhole, chamber or other structure of a pipe network: its cover, and the lowest pipe or sump in it. */
export interface LandXmlChamber {
  name: string;
  desc: string;
  network: string;
  x: number;
  y: number;
  rim: number;
  sump: number;
}

/** Lines are of the element that they come from. */
export type LandXmlLineKind =
  'Breakline' | 'Contour' | 'Boundary' | 'PlanFeature' | 'Parcel' | 'Alignment' | 'Profile' | 'CrossSect' | 'Pipe';

export interface LandXmlLine {
  kind: LandXmlLineKind;
  name: string;
  /** Its description, where it has one. */
  code?: string;
  /** x y z, x y z …; arcs as chords. */
  spatial: number[];
  /** Which of its vertices stand for an arc. */
  arcs?: ArcInLine[];
}

/** An alignment and how its chainage runs. */
export interface LandXmlAlignment {
  name: string;
  /** Along the curves. */
  length: number;
  /** Chainage where it starts. */
  start: number;
  /** Where chainage jumps: at this distance along it, from one figure to the other. */
  equations: { along: number; back: number; ahead: number }[];
}

export interface LandXmlRead {
  /** How its letters are written. */
  encoding: string;
  /** linearUnit as the file states it, or empty. */
  linearUnit: string;
  project: string;
  /** The coordinate system and the vertical datum as the file names them, or empty. */
  system: string;
  verticalDatum: string;
  points: LandXmlPoint[];
  breaklines: LandXmlLine[];
  /** Plan features, parcels, alignments in plan; contours and boundaries of surfaces. */
  features: LandXmlLine[];
  /** Lines in space along alignments, as their profiles have it, and across them. */
  profiles: LandXmlLine[];
  crossSections: LandXmlLine[];
  /** The same as they are drawn: offsets to the right and elevations by chainage, in the unit of the file. */
  sectionDrawings: { alignment: string; chainage: number; surface: string; list: readonly number[] }[];
  chambers: LandXmlChamber[];
  pipes: LandXmlLine[];
  alignments: LandXmlAlignment[];
  surfaces: LandXmlTin[];
  /** Elements met that are not read, with how often. */
  unread: Record<string, number>;
  /** The first of them; `problemCount` is how many there were. */
  problems: { line: number; what: string }[];
  problemCount: number;
  /** Whether the file was read to its end. */
  whole: boolean;
}

export type Problem = (what: string) => void;
