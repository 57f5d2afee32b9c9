import type { RationalCurve } from './rational-curve.ts';

/** Entities are of kinds as the DXF reference names them. */
interface OfDrawing {
  layer: string;
  kind: string;
  /** What it was to us when we wrote it, as its extended data say. */
  own?: string;
  /** The colour that it says itself: an index, or TRUE_COLOUR and red, green and blue; absent: that of its layer. */
  drawnIn?: number;
}

export interface DxfPoint extends OfDrawing {
  /** Its number, where the file gives points one: a DXF does not. */
  number?: string;
  /** What is said of it itself, whatever layer it is on. */
  description?: string;
  x: number;
  y: number;
  z: number;
}

export interface DxfPolyline extends OfDrawing {
  closed: boolean;
  /** What it is called itself, as a footprint after its lot. */
  name?: string;
  /** Whether z of each vertex means something. */
  spatial: boolean;
  x: number[];
  y: number[];
  z: number[];
  bulge: number[];
}

/** An ellipse, a part of one, or a spline: exactly as it is drawn. */
export interface DxfCurve extends OfDrawing {
  curve: RationalCurve;
  /** Whether its end is its beginning. */
  closed: boolean;
}

export interface DxfFace extends OfDrawing {
  /** Twelve numbers: x y z of four corners, the third one twice of a triangle. */
  corners: number[];
}

/** The line through the middle of a text's letters, from its beginning to its end, and how high they are; drawing units. */
export interface TextLine {
  from: [number, number];
  to: [number, number];
  height: number;
}

export interface DxfText extends OfDrawing {
  text: string;
  /** Where its letters lie, of one that says how high they are. */
  line?: TextLine;
  x: number;
  y: number;
  z: number;
}

/** A block, put somewhere. */
export interface DxfInsert extends OfDrawing {
  block: string;
  x: number;
  y: number;
  z: number;
  attributes: Record<string, string>;
  /** Along the block's own axes; below zero it is mirrored. */
  scale: [number, number, number];
  /** Radians, counter-clockwise in its plane. */
  rotation: number;
  columns: number;
  rows: number;
  /** Between columns and between rows, along its rotated axes. */
  spacing: [number, number];
  normal: [number, number, number];
}

/** The rims of a hatched or filled area. */
export interface DxfHatch extends OfDrawing {
  rings: DxfPolyline[];
}

/** What is drawn, in drawing units as they stand in the file; places in space, not in an entity's plane. */
export interface DxfEntities {
  points: DxfPoint[];
  polylines: DxfPolyline[];
  curves: DxfCurve[];
  faces: DxfFace[];
  texts: DxfText[];
  inserts: DxfInsert[];
  hatches: DxfHatch[];
}

/** A thing drawn once and put in many places. */
export interface DxfBlock {
  name: string;
  /** Its own place that comes to lie where it is put. */
  base: [number, number, number];
  /** The file that it is kept in, where that is another one. */
  external: string | null;
  entities: DxfEntities;
}

export interface DxfLayerState {
  /** As it is written. */
  name: string;
  /** Turned off or frozen: its maker does not see it. */
  hidden: boolean;
  /** Index of colour; null where none is said. */
  colour: number | null;
}

/** What a drawing holds in model space, and the blocks that it puts there. */
export interface DxfContent extends DxfEntities {
  version: string;
  /** How letters beyond ASCII are written. */
  encoding: string;
  /** $INSUNITS, or null where the file does not say. */
  units: number | null;
  blocks: Map<string, DxfBlock>;
  /** Layers as its table has them, by their names in capitals. */
  layerStates: Map<string, DxfLayerState>;
  /** Layers, in capitals, of what stands in blocks or in paper space. */
  layersElsewhere: Set<string>;
  /** Entities met, by kind and by layer. */
  kinds: Record<string, number>;
  layers: Record<string, number>;
  /** Kinds met that are not read, with how often. */
  unread: Record<string, number>;
  /** The same by layer. */
  unreadOn: Map<string, Map<string, number>>;
  /** Entities in paper space: sheets and their frames, no part of the site. */
  onPaper: number;
  /** The first of them; `problemCount` is how many there were. */
  problems: { line: number; what: string }[];
  problemCount: number;
  /** Whether the file was read to its end mark. */
  whole: boolean;
}

/** Takes what a drawing holds, one by one, in the order of the file. */
export interface DxfSink {
  point(entity: DxfPoint): void;
  polyline(entity: DxfPolyline): void;
  curve(entity: DxfCurve): void;
  face(entity: DxfFace): void;
  text(entity: DxfText): void;
  /** Its attributes follow it: they are there when the next entity comes. */
  insert(entity: DxfInsert): void;
  hatch(entity: DxfHatch): void;
}

/** Keeps all of it. */
export class Gathered implements DxfSink, DxfEntities {
  readonly points: DxfPoint[] = [];
  readonly polylines: DxfPolyline[] = [];
  readonly curves: DxfCurve[] = [];
  readonly faces: DxfFace[] = [];
  readonly texts: DxfText[] = [];
  readonly inserts: DxfInsert[] = [];
  readonly hatches: DxfHatch[] = [];

  point(entity: DxfPoint): void {
    this.points.push(entity);
  }
  polyline(entity: DxfPolyline): void {
    this.polylines.push(entity);
  }
  curve(entity: DxfCurve): void {
    this.curves.push(entity);
  }
  face(entity: DxfFace): void {
    this.faces.push(entity);
  }
  text(entity: DxfText): void {
    this.texts.push(entity);
  }
  insert(entity: DxfInsert): void {
    this.inserts.push(entity);
  }
  hatch(entity: DxfHatch): void {
    this.hatches.push(entity);
  }
}
