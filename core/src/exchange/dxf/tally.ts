import { columnsOf, nthSmallest } from '#core/kernel';
import type { DxfCurve, DxfFace, DxfHatch, DxfInsert, DxfPoint, DxfPolyline, DxfSink, DxfText } from './content.ts';
import { BY_LAYER, keyOfTaken, type LayerAndKind } from '../taken.ts';
import type { DxfFacts } from './read.ts';

/** West, south, east, north. */
export type Box = [number, number, number, number];

/** Entities of one kind on one layer, in the drawing's own unit. */
export interface LayerKind {
  layer: string;
  kind: string;
  /** Of symbols, their block, where a layer has several and few enough to choose among. */
  block?: string;
  /** Of anything else, the colour that it says itself, BY_LAYER of what says none: where there are several, and few enough. */
  drawnIn?: number;
  count: number;
  /** Null of what is not read. */
  box: Box | null;
  /** Of those that say an elevation. */
  lowest: number | null;
  highest: number | null;
  /** Entities with no elevation: what is drawn in plan at 0. */
  flat: number;
  /** Entities that lie far from nearly all of the drawing. */
  far: number;
  read: boolean;
  /** Its layer is turned off or frozen. */
  hidden: boolean;
  /** Index of its layer's colour; null where none is said. */
  colour: number | null;
}

/** Blocks of a layer that are listed one by one at the most. */
const MOST_BLOCKS = 20;
/** Parts of all entities, from each end, that do not say how wide a drawing is. */
const TAIL = 0.05;
/** As many times as wide as nearly all of it is: what is farther from its middle lies away from it. */
const FAR = 10;

class Row {
  count = 0;
  readonly box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  lowest = Infinity;
  highest = -Infinity;
  flat = 0;
  /** East and north of one place of each. */
  readonly places = new Places();

  constructor(
    readonly layer: string,
    readonly kind: string,
    readonly drawnIn?: number,
  ) {}

  /** One place of the entity at hand. */
  place(x: number, y: number, z: number): void {
    const { box } = this;
    if (x < box[0]) box[0] = x;
    if (y < box[1]) box[1] = y;
    if (x > box[2]) box[2] = x;
    if (y > box[3]) box[3] = y;
    if (z < this.lowest) this.lowest = z;
    if (z > this.highest) this.highest = z;
  }
}

class Places {
  count = 0;
  xy = new Float64Array(32);

  add(x: number, y: number): void {
    if (2 * this.count === this.xy.length) {
      const wider = new Float64Array(2 * this.xy.length);
      wider.set(this.xy);
      this.xy = wider;
    }
    this.xy[2 * this.count] = x;
    this.xy[2 * this.count + 1] = y;
    this.count++;
  }
}

/** Counts what a drawing holds, layer by layer and kind by kind, and keeps nothing of it but one place an entity. */
export class DxfTally implements DxfSink {
  /** How often each block is put in model space. */
  readonly puts = new Map<string, number>();
  private readonly rows = new Map<string, Map<string, Row>>();
  /** The same of symbols by their blocks, of each layer. */
  private readonly blocks = new Map<string, Map<string, Row>>();

  /** `byColour`: keys of layers and kinds that are counted colour by colour. */
  constructor(private readonly byColour: ReadonlySet<string> = new Set()) {}

  point(of: DxfPoint): void {
    this.places(of, [of.x], [of.y], [of.z]);
  }

  polyline(line: DxfPolyline): void {
    const { spatial, x, y, z } = line;
    const row = this.row(line);
    let flat = !spatial;
    for (let i = 0; i < x.length; i++) {
      // Drawn in plan, 0 says nothing.
      const said = spatial || z[i] !== 0;
      row.place(x[i], y[i], said ? z[i] : NaN);
      if (said) flat = false;
    }
    this.counted(row, x[0], y[0], flat);
  }

  curve(of: DxfCurve): void {
    const [x, y, z] = columnsOf(of.curve.control);
    this.places(of, x, y, z);
  }

  face({ layer, kind, corners }: DxfFace): void {
    const row = this.row({ layer, kind });
    // Of a face 0 is an elevation as any other.
    for (let k = 0; k < 12; k += 3) row.place(corners[k], corners[k + 1], corners[k + 2]);
    this.counted(row, corners[0], corners[1], false);
  }

  text(of: DxfText): void {
    this.places(of, [of.x], [of.y], [of.z]);
  }

  insert({ layer, kind, block, x, y, z, columns, rows }: DxfInsert): void {
    this.puts.set(block, (this.puts.get(block) ?? 0) + columns * rows);
    this.places({ layer, kind }, [x], [y], [z]);
    const known = this.blocks.get(layer);
    // One more than are listed says enough: a drawing may have a block for every symbol.
    if (known && known.size > MOST_BLOCKS && !known.has(block)) return;
    const row = rowIn(this.blocks, block, { layer, kind });
    row.place(x, y, z === 0 ? NaN : z);
    this.counted(row, x, y, z === 0);
  }

  hatch(of: DxfHatch): void {
    const [x, y, z] = (['x', 'y', 'z'] as const).map((k) => of.rings.flatMap((r) => r[k]));
    this.places(of, x, y, z);
  }

  private places(of: LayerAndKind, x: number[], y: number[], z: number[]): void {
    const row = this.row(of);
    const flat = z.every((v) => v === 0);
    for (let i = 0; i < x.length; i++) row.place(x[i], y[i], flat ? NaN : z[i]);
    this.counted(row, x[0], y[0], flat);
  }

  private counted(row: Row, x: number | undefined, y: number, flat: boolean): void {
    row.count++;
    if (flat) row.flat++;
    if (x !== undefined) row.places.add(x, y);
  }

  private row({ layer, kind, drawnIn = BY_LAYER }: LayerAndKind): Row {
    const apart = this.byColour.size > 0 && this.byColour.has(keyOfTaken({ layer, kind }));
    return apart ? rowIn(this.rows, `${kind} ${drawnIn}`, { layer, kind, drawnIn }) : rowIn(this.rows, kind, { layer, kind }); // prettier-ignore
  }

  /** Its rows by layer and kind, and how far nearly all of it goes; of what is not read the number alone. */
  table({ unreadOn, layerStates }: Pick<DxfFacts, 'unreadOn' | 'layerStates'>): { rows: LayerKind[]; box: Box | null } {
    const rows = [...this.rows.values()].flatMap((of) => [...of.values()]);
    const isFar = farFrom(rows.map((r) => r.places));
    const listed = rows.flatMap((row): { row: Row; block?: string }[] => {
      const blocks = row.kind === 'INSERT' ? this.blocks.get(row.layer) : undefined;
      const areFew = blocks && blocks.size > 1 && blocks.size <= MOST_BLOCKS;
      return areFew ? [...blocks].map(([block, of]) => ({ row: of, block })) : [{ row }];
    });
    const stateOf = (layer: string): Pick<LayerKind, 'hidden' | 'colour'> => {
      const { hidden = false, colour = null } = layerStates.get(layer.toUpperCase()) ?? {};
      return { hidden, colour };
    };
    const read = listed.map(({ row, block }): LayerKind => {
      const { layer, kind, drawnIn, count, box, lowest, highest, flat, places } = row;
      let far = 0;
      for (let i = 0; i < places.count; i++) if (isFar(places.xy[2 * i], places.xy[2 * i + 1])) far++;
      const said = highest >= lowest;
      return { layer, kind, ...(block === undefined ? {} : { block }), ...(drawnIn === undefined ? {} : { drawnIn }), count, box: box[0] <= box[2] ? box : null, lowest: said ? lowest : null, highest: said ? highest : null, flat, far, read: true, ...stateOf(layer) }; // prettier-ignore
    });
    const unread = [...unreadOn].flatMap(
      ([layer, kinds]) =>
      [...kinds].map(([kind, count]): LayerKind => ({ layer, kind, count, box: null, lowest: null, highest: null, flat: 0, far: 0, read: false, ...stateOf(layer) })), // prettier-ignore
    );
    const by = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
    const all = [...read, ...unread].sort(
      (a, b) =>
        by(a.layer, b.layer) || by(a.kind, b.kind) || by(a.block ?? '', b.block ?? '') || (a.drawnIn ?? 0) - (b.drawnIn ?? 0), // prettier-ignore
    );
    return { rows: all, box: boxOf(rows.map((r) => r.box)) };
  }
}

function rowIn(rows: Map<string, Map<string, Row>>, key: string, { layer, kind, drawnIn }: LayerAndKind): Row {
  let of = rows.get(layer);
  if (!of) rows.set(layer, (of = new Map<string, Row>()));
  let row = of.get(key);
  if (!row) of.set(key, (row = new Row(layer, kind, drawnIn)));
  return row;
}

function boxOf(boxes: readonly Box[]): Box | null {
  const all: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [w, s, e, n] of boxes) {
    all[0] = Math.min(all[0], w);
    all[1] = Math.min(all[1], s);
    all[2] = Math.max(all[2], e);
    all[3] = Math.max(all[3], n);
  }
  return all[0] <= all[2] ? all : null;
}

/** Whether a place lies away from nearly all others: more than ten times as far from their middle as 90 % of them spread. */
function farFrom(lists: readonly Places[]): (x: number, y: number) => boolean {
  const total = lists.reduce((n, p) => n + p.count, 0);
  if (total < 3) return () => false;
  const along = (k: 0 | 1): { middle: number; reach: number } => {
    const all = new Float64Array(total);
    let at = 0;
    for (const { xy, count } of lists) for (let i = 0; i < count; i++) all[at++] = xy[2 * i + k];
    const part = (share: number): number => nthSmallest(all, Math.floor(share * (total - 1)));
    return { middle: part(0.5), reach: part(1 - TAIL) - part(TAIL) };
  };
  const [x, y] = [along(0), along(1)];
  const reach = FAR * Math.max(x.reach, y.reach);
  return (px, py) => reach > 0 && (Math.abs(px - x.middle) > reach || Math.abs(py - y.middle) > reach);
}
