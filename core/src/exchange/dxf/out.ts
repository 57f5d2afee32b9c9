import { fromMetres, type LengthUnit } from '#core/measure';
import type { LineStyle } from '#core/codes';
import { layerName } from './layer-name.ts';
import { APPLICATION, APPLICATION_GROUP, ownText, type Own } from './own.ts';
import { escaped } from './text.ts';

export const MODEL_SPACE = '1F';
export const PAPER_SPACE = '1B';

/** What an entity says of itself where it differs from its layer: colour number, 0 as the symbol's place has it. */
export interface EntityLook {
  colour?: number;
  style?: LineStyle;
}

export const lineTypeName = (style: LineStyle): string => style.toUpperCase();

/** Group codes and values as they are written, for version R12 or 2000; entities belong to `owner`. */
export class DxfOut {
  readonly out: string[] = [];
  handle = 0x1000;
  owner = MODEL_SPACE;

  constructor(
    readonly modern: boolean,
    readonly unit: LengthUnit,
    readonly decimals: number,
    /** When the package that it goes out in was made. */
    private readonly sent?: string,
  ) {}

  tag(...pairs: (string | number)[]): void {
    for (let i = 0; i < pairs.length; i += 2) this.out.push(String(pairs[i]).padStart(3), String(pairs[i + 1]));
  }

  nextHandle(): string {
    return (this.handle++).toString(16).toUpperCase();
  }

  /** A name of a layer or block, and a text, as this version has them. */
  name(name: string): string {
    return layerName(name, this.modern);
  }
  textOf(text: string): string {
    return escaped(text);
  }

  number(metres: number): string {
    return fromMetres(metres, this.unit).toFixed(this.decimals);
  }

  place(x: number, y: number, z: number, shift = 0): void {
    this.out.push(` ${10 + shift}`, this.number(x), ` ${20 + shift}`, this.number(y), ` ${30 + shift}`, this.number(z));
  }

  /** Says of the entity just written what it is to us; its groups are complete before it. */
  own(own: Own | undefined): void {
    if (!own) return;
    this.tag(APPLICATION_GROUP, APPLICATION, 1000, escaped(ownText(own)));
    if (this.sent) this.tag(1000, this.sent);
  }

  /** Begins an entity; `look` where it is not drawn as its layer says. */
  begin(kind: string, layer: string, subclass?: string, look: EntityLook = {}): void {
    this.tag(0, kind);
    if (this.modern) this.tag(5, this.nextHandle(), 330, this.owner, 100, 'AcDbEntity');
    this.tag(8, this.name(layer));
    if (look.style && look.style !== 'solid') this.tag(6, lineTypeName(look.style));
    if (look.colour !== undefined) this.tag(62, look.colour);
    if (this.modern && subclass) this.tag(100, subclass);
  }
}
