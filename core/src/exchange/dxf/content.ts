export interface DxfPolyline {
  layer: string;
  closed: boolean;
  /** Whether z of each vertex means something. */
  spatial: boolean;
  x: number[];
  y: number[];
  z: number[];
  bulge: number[];
}

/** What a drawing holds in model space, in drawing units as they stand in the file; places in space, not in an entity's plane. */
export interface DxfContent {
  version: string;
  /** $INSUNITS, or null where the file does not say. */
  units: number | null;
  points: { layer: string; x: number; y: number; z: number }[];
  polylines: DxfPolyline[];
  /** Twelve numbers a face. */
  faces: { layer: string; corners: number[] }[];
  texts: { layer: string; text: string; x: number; y: number; z: number }[];
  /** Symbols with what is said of them. */
  inserts: { layer: string; block: string; x: number; y: number; z: number; attributes: Record<string, string> }[];
  /** Entities met, by kind and by layer. */
  kinds: Record<string, number>;
  layers: Record<string, number>;
  /** Kinds met that are not read, with how often. */
  unread: Record<string, number>;
  /** Entities in paper space: sheets and their frames, no part of the site. */
  onPaper: number;
  /** The first of them; `problemCount` is how many there were. */
  problems: { line: number; what: string }[];
  problemCount: number;
  /** Whether the file was read to its end mark. */
  whole: boolean;
}
