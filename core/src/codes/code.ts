import type { Stroke } from './strokes.ts';
import type { LineWords } from './words.ts';

export const SYMBOLS = [
  'dot',
  'cross',
  'square',
  'triangle',
  'diamond',
  'ring',
  'crown',
  'lid',
  'mast',
  'peg',
] as const;

export type SymbolName = (typeof SYMBOLS)[number];

export const LINE_STYLES = ['solid', 'dashed', 'dotted', 'long-dashed', 'dash-dot'] as const;

export type LineStyle = (typeof LINE_STYLES)[number];

/** Ink names rather than colours, so that day and night each draw them to be read. */
export const INKS = ['ink', 'slate', 'pole', 'pine', 'brass', 'lake', 'plum', 'moss'] as const;

export type Ink = (typeof INKS)[number];

export const ATTRIBUTE_TYPES = ['text', 'number', 'whole', 'choice', 'yes-no'] as const;

/** What may be said about a shot of this code, by `name=value`. */
export interface CodeAttribute {
  name: string;
  type: (typeof ATTRIBUTE_TYPES)[number];
  /** Of a choice. */
  choices?: string[];
  required?: boolean;
}

/** A line that is drawn beside each line of the code: `across` m to the right of its course, `height` m above it. */
export interface CodeOffset {
  code: string;
  across: number;
  height: number;
}

export const LABEL_PARTS = ['number', 'elevation', 'code'] as const;

/** What one code means. */
export interface Code {
  code: string;
  name: string;
  kind: 'point' | 'line';
  /** Codes that belong together in lists and on the crew’s sheet. */
  group?: string;
  /** Layer of its lines, or of its points where it is a point. */
  layer: string;
  /** Layer of the points that its lines go through; absent: the same. */
  pointLayer?: string;
  ink: Ink;
  symbol: SymbolName;
  /** A symbol of one's own, in the place of `symbol`. */
  strokes?: Stroke[];
  /** Symbol size against the ordinary one. */
  scale?: number;
  /** Radians clockwise from north. */
  rotation?: number;
  style: LineStyle;
  /** Lines of this code are breaklines of the ground. */
  breakline: boolean;
  /** Elevations of this code's points belong to the ground. */
  ground: boolean;
  attributes?: CodeAttribute[];
  /** What is written beside its points; absent: what the sheet shows of all. An attribute by its name. */
  label?: string[];
  /** Further lines, one for each offset. */
  offsets?: CodeOffset[];
  /** The code measured below this one in the same place: a chamber’s invert under its cover, a wall’s foot under its top. */
  lower?: string;
  /** Its lines are pipes from chamber to chamber. */
  pipe?: boolean;
}

export interface CodeList {
  codes: Code[];
  words: LineWords;
  /** The kept list that it was copied from. */
  from?: { id: string; name: string; revision: number };
}
