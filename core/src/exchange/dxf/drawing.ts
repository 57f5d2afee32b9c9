import type { DrawnInsert, SymbolBlock } from './blocks.ts';
import type { EntityLook } from './out.ts';
import type { Own } from './own.ts';

/** A drawing to be written: metres, x east, y north. Names of layers are cleaned for old readers. */
export interface Drawing {
  points: ({ layer: string; x: number; y: number; z: number; label: string; own?: Own } & Pick<EntityLook, 'colour'>)[];
  /** 3D lines with a place for every vertex (chorded arcs), and their plan with arcs as bulges, tan θ/4. */
  lines: DrawnLine[];
  contours: { elevation: number; closed: boolean; line: Float64Array; index: boolean }[];
  surface: { x: Float64Array; y: Float64Array; z: Float64Array; triangles: Uint32Array } | null;
  /** Texts beside points, by the drawing's rules: where their letters begin, and their height, m. */
  texts?: ({ layer: string; x: number; y: number; height: number; text: string; own?: Own } & Pick<
    EntityLook,
    'colour'
  >)[];
  /** Symbols with attributes, and the blocks that they are made of. */
  inserts?: DrawnInsert[];
  blocks?: SymbolBlock[];
  /** Drawing-exchange colour number of a layer, 1 … 255. */
  colours: Record<string, number>;
  /** Width of a layer's lines on paper, mm: written in the newer version, the older has none. */
  widths?: Record<string, number>;
  /** Metres for a millimetre on paper, by which dashes are laid out; without it lines are drawn solid. */
  perMm?: number;
  /** When the package that it goes out in was made; told with what its entities are to us. */
  sent?: string;
}

/** A line; its colour and style where they are not its layer's. */
export interface DrawnLine extends EntityLook {
  layer: string;
  closed: boolean;
  /** x, y, z, x, y, z … */
  spatial: number[];
  /** x, y, bulge, x, y, bulge … */
  plan: number[];
  /** Key of the line, and which of its parts between gaps this is. */
  own?: Pick<Own, 'key' | 'part'>;
}
