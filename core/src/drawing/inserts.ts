import { strokesOf, type Ink } from '#core/codes';
import type { ProjectDocument } from '#core/project';
import type { DrawnInsert, SymbolBlock } from '#core/exchange';
import { formatLength } from '#core/measure';
import type { LayerLook } from './layers.ts';
import type { PointLook } from './plan.ts';

/** Colour numbers of the drawing exchange format for our inks, chosen to be seen on dark and light screens. */
const COLOUR_NUMBER: Record<Ink, number> = {
  ink: 7,
  slate: 8,
  pole: 1,
  pine: 94,
  brass: 32,
  lake: 150,
  plum: 200,
  moss: 74,
};

/** Colours of layers as they come to be used; whatever has another ink than its layer says so itself. */
export class LayerInks {
  readonly colours: Record<string, number> = {};

  constructor(private readonly look: (layer: string) => LayerLook) {}

  /** The colour number of something on a layer; undefined where it is the layer's own. */
  colourOn(layer: string, ink: Ink): number | undefined {
    this.colours[layer] ??= COLOUR_NUMBER[this.look(layer).ink ?? ink];
    const colour = COLOUR_NUMBER[ink];
    return colour === this.colours[layer] ? undefined : colour;
  }
}

/** A point that may go out as a symbol; metres, its colour where it is not its layer's. */
export interface PlacedPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  look: PointLook;
  colour: number | undefined;
  /** What it is to us when the drawing comes back. */
  own?: DrawnInsert['own'];
}

/**
 * Points of codes that have a symbol as inserts, as large as on paper at the plot scale, each with its attributes by
 * name, number and elevation among them. `taken` are indices of the points that are symbols.
 */
export function insertsOf(
  doc: ProjectDocument,
  points: readonly PlacedPoint[],
): { inserts: DrawnInsert[]; blocks: SymbolBlock[]; taken: Set<number> } {
  const blocks = new Map<string, SymbolBlock>();
  const inserts: DrawnInsert[] = [];
  const taken = new Set<number>();
  const perMm = doc.settings.plotScale / 1000;
  points.forEach(({ number, x, y, z, look, colour, own }, i) => {
    const item = look.items.find((it) => it.known?.kind === 'point');
    if (!item?.known) return;
    const { code, scale = 1, rotation = 0, attributes = [] } = item.known;
    if (!blocks.has(code)) blocks.set(code, { name: code, strokes: strokesOf(item.known), attributes: ['number', 'elevation', ...attributes.map((a) => a.name)] }); // prettier-ignore
    taken.add(i);
    inserts.push({
      block: code,
      layer: look.layer,
      colour,
      x,
      y,
      z,
      size: doc.drawing.symbolSize * scale * perMm,
      rotation,
      ...(own ? { own } : {}),
      attributes: {
        number,
        elevation: Number.isNaN(z) ? '' : formatLength(z, doc.settings.unit, doc.settings.elevationDecimals).replace(/[\u2009\u202f]/g, ''), // prettier-ignore
        ...Object.fromEntries(attributes.map((a) => [a.name, item.attributes[a.name] ?? ''])),
      },
    });
  });
  return { inserts, blocks: [...blocks.values()], taken };
}
