import { codeOfName } from './code-of-name.ts';

// What is ticked of a drawing, layer by layer and kind by kind, and what becomes of it.

/** Entities of one kind on one layer. */
export interface LayerAndKind {
  layer: string;
  kind: string;
  /** Of symbols, the block that they put there; absent: any. */
  block?: string;
  /** Of what is no symbol, the colour that it says itself, or BY_LAYER; absent: any. */
  drawnIn?: number;
}

/** The index of what is drawn in the colour of its layer (DXF reference, group 62). */
export const BY_LAYER = 256;
/** From here on a colour is red, green and blue of eight bits each. */
export const TRUE_COLOUR = 0x1000000;

/** What entities become: points with labels, points of the ground that nobody needs a number for, lines, lines that make a surface, plans of buildings, or what is seen under the drawing alone. */
export const TAKEN_AS = ['points', 'ground points', 'lines', 'breaklines', 'contours', 'boundary', 'footprints', 'underlay'] as const; // prettier-ignore
export type TakenAs = (typeof TAKEN_AS)[number];

/** What is ticked, as what, with which code; absent: as points or lines, whichever the whole is read as, by its layer. */
export interface TakenRow extends LayerAndKind {
  as?: TakenAs;
  code?: string;
  /** Of contours that are drawn in plan: their elevation as somebody typed it, m. */
  elevation?: number;
}

/** Rows ticked of a drawing at the most. */
export const MOST_TAKEN = 2000;

/** Layer and kind as one text, with the block of a symbol, the colour of anything else. */
export function keyOfTaken({ layer, kind, block, drawnIn }: LayerAndKind): string {
  const both = `${kind}\u0000${layer}`;
  if (block !== undefined) return `${both}\u0000${block}`;
  return drawnIn === undefined ? both : `${both}\u0000\u0000${drawnIn}`;
}

/** Finds the row that an entity belongs to: of its block or its colour, else of all of its layer and kind. */
export function rowFinder<T extends LayerAndKind>(rows: readonly T[]): (of: LayerAndKind) => T | undefined {
  const by = new Map(rows.map((r) => [keyOfTaken(r), r]));
  // Colours are looked for only where a row names one: most drawings are of layers alone.
  const byColour = rows.some((r) => r.drawnIn !== undefined);
  return ({ layer, kind, block, drawnIn = BY_LAYER }) =>
    (block !== undefined
      ? by.get(keyOfTaken({ layer, kind, block }))
      : byColour
        ? by.get(keyOfTaken({ layer, kind, drawnIn }))
        : undefined) ?? by.get(keyOfTaken({ layer, kind }));
}

/** Whether each row says what it becomes: then points and lines are read together. */
export const saysAs = (taken: readonly TakenRow[] | undefined): boolean => taken?.some((t) => t.as) ?? false;

/** Points with codes of their own: symbols have their block's name, points of LandXML and GeoJSON what they say. */
const CODED = new Set('INSERT CgPoint Point'.split(' '));
export const hasOwnCode = (kind: string): boolean => CODED.has(kind);

/** The code of what a row is taken as: the one it was given, else made of its layer; null of points that have their own, and of an underlay, which has none. */
export function codeOfTaken({ layer, kind, as, code }: TakenRow): string | null {
  if (as === 'underlay') return null;
  if (code) return codeOfName(code);
  return as && !(hasOwnCode(kind) && as === 'points') ? codeOfName(layer) : null;
}

/** Codes under which rows are taken as different things: a surface tells them by their code alone. */
export function mixedCodes(taken: readonly TakenRow[]): string[] {
  const as = new Map<string, TakenAs>();
  const mixed = new Set<string>();
  for (const t of taken) {
    const code = t.as ? codeOfTaken(t) : null;
    if (code === null) continue;
    if ((as.get(code) ?? t.as) !== t.as) mixed.add(code);
    as.set(code, t.as!);
  }
  return [...mixed].sort();
}

/** Kinds that come as points; all others come as lines or faces. Of LandXML and GeoJSON, as their elements are called. */
const AS_POINTS = new Set('POINT INSERT TEXT MTEXT CgPoint DataPoint Struct Sump Point'.split(' '));
export const comesAsPoints = (kind: string): boolean => AS_POINTS.has(kind);

/** Taken when somebody asks for them: symbols, texts and lowest levels of chambers as points, filled areas as their rims, sections. */
const ASKED_FOR = new Set('INSERT TEXT MTEXT HATCH SOLID TRACE Sump CrossSect'.split(' '));
export const isTakenUnasked = (kind: string): boolean => !ASKED_FOR.has(kind);
