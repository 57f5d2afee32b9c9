import type { Stroke } from '#core/codes';
import { fromMetres } from '#core/measure';
import { layerAt, layerName } from './layer-name.ts';
import { type DxfOut, type EntityLook } from './out.ts';
import type { Own } from './own.ts';

/** A block: a symbol drawn from −1 to 1, with the names of its attributes. */
export interface SymbolBlock {
  name: string;
  strokes: readonly Stroke[];
  attributes: string[];
}

/** A symbol at its place, with what is said of it; its size is the symbol's whole width, m, `rotation` radians clockwise. */
export interface DrawnInsert extends Pick<EntityLook, 'colour'> {
  block: string;
  layer: string;
  x: number;
  y: number;
  z: number;
  size: number;
  rotation: number;
  attributes: Record<string, string>;
  own?: Own;
}

/** Strokes have the colour of the place where the symbol stands. */
const AS_PLACED = { colour: 0 };

/** Handles of block records, clear of the tables' own. */
const FIRST_RECORD = 0x40;

/** Names of attributes as old readers take them. */
const tagName = (name: string): string => layerName(name) || 'VALUE';

/** Writes symbols as blocks, and where they stand. */
export class BlockWriter {
  constructor(private readonly to: DxfOut) {}

  static recordOf = (index: number): string => (FIRST_RECORD + index).toString(16).toUpperCase();

  block({ name, strokes, attributes }: SymbolBlock, index: number): void {
    const { to } = this;
    const record = BlockWriter.recordOf(index);
    to.tag(0, 'BLOCK');
    if (to.modern) to.tag(5, to.nextHandle(), 330, record, 100, 'AcDbEntity');
    to.tag(8, '0');
    if (to.modern) to.tag(100, 'AcDbBlockBegin');
    const named = to.name(name);
    to.tag(2, named, 70, attributes.length ? 2 : 0, 10, '0.0', 20, '0.0', 30, '0.0', 3, named);
    if (to.modern) to.tag(1, '');
    to.owner = record;
    this.draw(strokes);
    attributes.forEach((a, i) => this.definition(a, i));
    to.owner = '1F';
    to.tag(0, 'ENDBLK');
    if (to.modern) to.tag(5, to.nextHandle(), 330, record, 100, 'AcDbEntity');
    to.tag(8, '0');
    if (to.modern) to.tag(100, 'AcDbBlockEnd');
  }

  private draw(strokes: readonly Stroke[]): void {
    const { to } = this;
    const n = (v: number): string => v.toFixed(4);
    for (const stroke of strokes) {
      if (stroke.kind === 'circle') {
        to.begin('CIRCLE', '0', 'AcDbCircle', AS_PLACED);
        to.tag(10, n(stroke.x), 20, n(stroke.y), 30, '0.0', 40, n(stroke.radius));
        continue;
      }
      const { places } = stroke;
      const sides = places.length / 2 - (stroke.closed ? 0 : 1);
      for (let i = 0; i < sides; i++) {
        const j = (i + 1) % (places.length / 2);
        to.begin('LINE', '0', 'AcDbLine', AS_PLACED);
        to.tag(10, n(places[2 * i]), 20, n(places[2 * i + 1]), 30, '0.0');
        to.tag(11, n(places[2 * j]), 21, n(places[2 * j + 1]), 31, '0.0');
      }
    }
  }

  private definition(name: string, i: number): void {
    const { to } = this;
    to.begin('ATTDEF', '0', 'AcDbText');
    to.tag(10, '1.2', 20, (-i * 1.2).toFixed(1), 30, '0.0', 40, '1.0', 1, '');
    if (to.modern) to.tag(100, 'AcDbAttributeDefinition');
    // Not drawn: what is said of a symbol is read, not seen.
    to.tag(3, to.textOf(name), 2, tagName(name), 70, 1);
  }

  insert({ block, layer: of, x, y, z, size, rotation, attributes, colour, own }: DrawnInsert): void {
    const { to } = this;
    const layer = layerAt(of, z);
    const said = Object.entries(attributes);
    to.begin('INSERT', layer, 'AcDbBlockReference', { colour });
    if (said.length) to.tag(66, 1);
    to.tag(2, to.name(block));
    to.place(x, y, Number.isNaN(z) ? 0 : z);
    const scale = (fromMetres(size, to.unit) / 2).toFixed(4);
    to.tag(41, scale, 42, scale, 43, scale);
    if (rotation !== 0) to.tag(50, ((-rotation / Math.PI) * 180).toFixed(4));
    to.own(own);
    if (said.length === 0) return;
    for (const [name, value] of said) {
      to.begin('ATTRIB', layer, 'AcDbText');
      to.place(x, y, 0);
      to.tag(40, scale, 1, to.textOf(value));
      if (to.modern) to.tag(100, 'AcDbAttribute');
      to.tag(2, tagName(name), 70, 1);
    }
    to.begin('SEQEND', layer);
  }
}
