import { STYLE_DASHES, type LineStyle } from '#core/codes';
import { fromMetres, type LengthUnit } from '#core/measure';
import { BlockWriter } from './blocks.ts';
import { extentOf } from './extent.ts';
import { layoutOf, writeObjects } from './layouts.ts';
import { layerAt } from './layer-name.ts';
import { APPLICATION, type Own } from './own.ts';
import { DxfOut, lineTypeName, MODEL_SPACE, PAPER_SPACE, type EntityLook } from './out.ts';
import type { Drawing } from './drawing.ts';

export type DxfVersion = 'R12' | '2000';

export interface DxfSettings {
  version: DxfVersion;
  unit: LengthUnit;
  decimals: number;
  /** Text height of point labels, in drawing units; 0 for none. */
  textHeight: number;
}

export const PLAN_SUFFIX = '-PLAN';
export const CONTOUR_LAYER = 'CONTOUR';
export const INDEX_CONTOUR_LAYER = 'CONTOUR-INDEX';
export const SURFACE_LAYER = 'GROUND-FACES';
export const LABEL_LAYER = 'POINT-NUMBER';

/** Writes a drawing in the drawing exchange format, ASCII, version R12 (AC1009) or 2000 (AC1015). */
export function writeDxf(drawing: Drawing, settings: DxfSettings): string {
  return new DxfWriter(drawing, settings).write();
}

/** Line widths that the newer version knows, hundredths of a millimetre. */
const LINE_WEIGHTS = [0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211]; // prettier-ignore
const lineWeight = (mm: number): number =>
  LINE_WEIGHTS.reduce((best, w) => (Math.abs(w - mm * 100) < Math.abs(best - mm * 100) ? w : best));

/** $INSUNITS: 6 metres, 2 feet, 21 US survey feet. */
const INSUNITS: Record<LengthUnit, number> = { m: 6, ft: 2, usft: 21 };

/** Width over height of a screen. */
const SCREEN = 1.6;

class DxfWriter extends DxfOut {
  private readonly extent: ReturnType<typeof extentOf>;

  constructor(
    private readonly drawing: Drawing,
    private readonly settings: DxfSettings,
  ) {
    super(settings.version === '2000', settings.unit, settings.decimals, drawing.sent);
    this.extent = extentOf(drawing);
  }

  write(): string {
    const layers = this.layers();
    // Entities first: the header of the newer version states the next free handle.
    this.entities();
    const entities = this.out.splice(0);
    this.header();
    if (this.modern) this.tag(0, 'SECTION', 2, 'CLASSES', 0, 'ENDSEC');
    this.tables(layers);
    this.blocks();
    this.tag(0, 'SECTION', 2, 'ENTITIES');
    const front = this.out.splice(0);
    this.tag(0, 'ENDSEC');
    if (this.modern) writeObjects(this);
    this.tag(0, 'EOF');
    return [...front, ...entities, ...this.out, ''].join('\n');
  }

  /** Line styles that occur and can be laid out. */
  private styles(): Exclude<LineStyle, 'solid'>[] {
    if (this.drawing.perMm === undefined) return [];
    const used = new Set(this.drawing.lines.map((l) => l.style ?? 'solid'));
    return (Object.keys(STYLE_DASHES) as LineStyle[]).filter((s) => s !== 'solid' && used.has(s)) as Exclude<LineStyle, 'solid'>[]; // prettier-ignore
  }

  private layers(): Map<string, number> {
    const found = new Map<string, number>([['0', 7]]);
    const add = (name: string, colour = 7): void =>
      void found.set(this.name(name), this.drawing.colours[name] ?? colour);
    const own = (layer: string, z: number): void => void found.set(this.name(layerAt(layer, z)), this.drawing.colours[layer] ?? 7); // prettier-ignore
    for (const p of this.drawing.points) own(p.layer, p.z);
    if (this.settings.textHeight > 0 && this.drawing.points.length) add(LABEL_LAYER, 8);
    for (const t of this.drawing.texts ?? []) add(t.layer);
    for (const i of this.drawing.inserts ?? []) own(i.layer, i.z);
    for (const l of this.drawing.lines) {
      add(l.layer);
      found.set(this.name(l.layer + PLAN_SUFFIX), this.drawing.colours[l.layer] ?? 7);
    }
    if (this.drawing.contours.length) {
      add(CONTOUR_LAYER, 32);
      add(INDEX_CONTOUR_LAYER, 30);
    }
    if (this.drawing.surface) add(SURFACE_LAYER, 8);
    return found;
  }

  private header(): void {
    this.tag(0, 'SECTION', 2, 'HEADER', 9, '$ACADVER', 1, this.modern ? 'AC1015' : 'AC1009');
    if (this.modern) {
      this.tag(9, '$DWGCODEPAGE', 3, 'ANSI_1252', 9, '$INSUNITS', 70, INSUNITS[this.settings.unit]);
      this.tag(9, '$MEASUREMENT', 70, this.settings.unit === 'm' ? 1 : 0);
      this.tag(9, '$HANDSEED', 5, (this.handle + 0x1000).toString(16).toUpperCase());
    }
    // What a reader zooms to when it opens the file.
    const { least, most } = this.extent;
    const at = (variable: string, place: readonly number[]): void =>
      this.tag(9, variable, ...place.flatMap((v, k) => [10 * (k + 1), this.number(v)]));
    at('$EXTMIN', least);
    at('$EXTMAX', most);
    at('$LIMMIN', least.slice(0, 2));
    at('$LIMMAX', most.slice(0, 2));
    this.tag(0, 'ENDSEC');
  }

  private table(name: string, handle: string, records: (() => void)[]): void {
    this.tag(0, 'TABLE', 2, name);
    if (this.modern) this.tag(5, handle, 330, 0, 100, 'AcDbSymbolTable');
    this.tag(70, records.length);
    if (this.modern && name === 'DIMSTYLE') this.tag(100, 'AcDbDimStyleTable', 71, 0);
    for (const record of records) record();
    this.tag(0, 'ENDTAB');
  }

  private record(kind: string, owner: string, subclass: string, name: string, flags = 0, handle?: string): void {
    this.tag(0, kind);
    if (this.modern) this.tag(5, handle ?? this.nextHandle(), 330, owner, 100, 'AcDbSymbolTableRecord', 100, subclass);
    this.tag(2, name, 70, flags);
  }

  private tables(layers: Map<string, number>): void {
    this.tag(0, 'SECTION', 2, 'TABLES');
    this.table('VPORT', '8', [() => this.viewport()]);
    const lineTypes = this.modern ? ['ByBlock', 'ByLayer', 'Continuous'] : ['CONTINUOUS'];
    this.table('LTYPE', '5', [
      ...lineTypes.map((name) => () => {
        this.record('LTYPE', '5', 'AcDbLinetypeTableRecord', name);
        this.tag(3, '', 72, 65, 73, 0, 40, '0.0');
      }),
      ...this.styles().map((style) => () => this.lineType(style)),
    ]);
    const widths = new Map(Object.entries(this.drawing.widths ?? {}).map(([name, mm]) => [this.name(name), mm]));
    this.table(
      'LAYER',
      '2',
      [...layers].map(([name, colour]) => () => {
        this.record('LAYER', '2', 'AcDbLayerTableRecord', name);
        this.tag(62, colour, 6, this.modern ? 'Continuous' : 'CONTINUOUS');
        const width = widths.get(name) ?? widths.get(name.replace(PLAN_SUFFIX, ''));
        if (this.modern && width !== undefined) this.tag(370, lineWeight(width));
      }),
    );
    this.table('STYLE', '3', [
      () => {
        this.record('STYLE', '3', 'AcDbTextStyleTableRecord', 'STANDARD');
        this.tag(40, '0.0', 41, '1.0', 50, '0.0', 71, 0, 42, '2.5', 3, 'txt', 4, '');
      },
    ]);
    if (this.modern) {
      this.table('VIEW', '6', []);
      this.table('UCS', '7', []);
      this.applications(['ACAD']);
      this.table('DIMSTYLE', 'A', [() => this.dimensionStyle()]);
      this.table('BLOCK_RECORD', '1', [
        () => this.blockRecord('*Model_Space', MODEL_SPACE),
        () => this.blockRecord('*Paper_Space', PAPER_SPACE),
        ...(this.drawing.blocks ?? []).map(
          (b, i) => () => this.blockRecord(this.name(b.name), BlockWriter.recordOf(i)),
        ),
      ]);
    }
    if (!this.modern) this.applications([]);
    this.tag(0, 'ENDSEC');
  }

  /** Applications whose extended data the drawing holds: ours where anything of it is known to us. */
  private applications(others: readonly string[]): void {
    const { points, lines, inserts = [], texts = [] } = this.drawing;
    const ours = [points, lines, inserts, texts].some((list: readonly { own?: unknown }[]) => list.some((e) => e.own));
    const names = ours ? [...others, APPLICATION] : others;
    if (names.length) this.table('APPID', '9', names.map((name) => () => this.record('APPID', '9', 'AcDbRegAppTableRecord', name))); // prettier-ignore
  }

  /** Dashes and gaps as they are on paper at the drawing's scale, in drawing units. */
  private lineType(style: Exclude<LineStyle, 'solid'>): void {
    const lengths = STYLE_DASHES[style].map((mm) => fromMetres(mm * this.drawing.perMm!, this.unit));
    this.record('LTYPE', '5', 'AcDbLinetypeTableRecord', lineTypeName(style));
    this.tag(3, style, 72, 65, 73, lengths.length, 40, lengths.reduce((a, b) => a + b, 0).toFixed(4));
    lengths.forEach((length, i) => {
      this.tag(49, (i % 2 === 0 ? length : -length).toFixed(4));
      if (this.modern) this.tag(74, 0);
    });
  }

  private blockRecord(name: string, handle: string): void {
    this.tag(0, 'BLOCK_RECORD', 5, handle, 330, 1, 100, 'AcDbSymbolTableRecord', 100, 'AcDbBlockTableRecord', 2, name);
    if (handle === MODEL_SPACE || handle === PAPER_SPACE) this.tag(340, layoutOf(handle));
  }

  /** The one view: plan, all of the drawing in it. */
  private viewport(): void {
    const { least, most } = this.extent;
    const [width, height] = [0, 1].map((k) => Math.max(most[k] - least[k], 1));
    this.record('VPORT', '8', 'AcDbViewportTableRecord', '*ACTIVE');
    this.tag(10, '0.0', 20, '0.0', 11, '1.0', 21, '1.0');
    this.tag(12, this.number((least[0] + most[0]) / 2), 22, this.number((least[1] + most[1]) / 2));
    this.tag(13, '0.0', 23, '0.0', 14, '1.0', 24, '1.0', 15, '1.0', 25, '1.0');
    this.tag(16, '0.0', 26, '0.0', 36, '1.0', 17, '0.0', 27, '0.0', 37, '0.0');
    this.tag(40, this.number(Math.max(height, width / SCREEN) * 1.05), 41, SCREEN.toFixed(3), 42, '50.0');
    this.tag(43, '0.0', 44, '0.0', 50, '0.0', 51, '0.0', 71, 0, 72, 100, 73, 1, 74, 1, 75, 0, 76, 0, 77, 0, 78, 0);
  }

  private dimensionStyle(): void {
    this.tag(
      0,
      'DIMSTYLE',
      105,
      this.nextHandle(),
      330,
      'A',
      100,
      'AcDbSymbolTableRecord',
      100,
      'AcDbDimStyleTableRecord',
    );
    this.tag(2, 'STANDARD', 70, 0);
  }

  private blocks(): void {
    this.tag(0, 'SECTION', 2, 'BLOCKS');
    if (this.modern)
      for (const [name, record, paper] of [
        ['*Model_Space', MODEL_SPACE, 0],
        ['*Paper_Space', PAPER_SPACE, 1],
      ] as const) {
        this.tag(0, 'BLOCK', 5, this.nextHandle(), 330, record, 100, 'AcDbEntity');
        if (paper) this.tag(67, 1);
        this.tag(8, '0', 100, 'AcDbBlockBegin', 2, name, 70, 0, 10, '0.0', 20, '0.0', 30, '0.0', 3, name, 1, '');
        this.tag(0, 'ENDBLK', 5, this.nextHandle(), 330, record, 100, 'AcDbEntity');
        if (paper) this.tag(67, 1);
        this.tag(8, '0', 100, 'AcDbBlockEnd');
      }
    const writer = new BlockWriter(this);
    (this.drawing.blocks ?? []).forEach((block, i) => writer.block(block, i));
    this.tag(0, 'ENDSEC');
  }

  private entities(): void {
    const { points, lines, contours, surface } = this.drawing;
    for (const p of points) this.point(p);
    for (const t of this.drawing.texts ?? [])
      this.text(t.layer, t.x, t.y, 0, fromMetres(t.height, this.unit), t.text, { colour: t.colour }, t.own);
    const inserts = new BlockWriter(this);
    for (const i of this.drawing.inserts ?? []) inserts.insert(i);
    for (const line of lines) {
      const { colour, style } = line;
      const look = this.drawing.perMm === undefined ? { colour } : { colour, style };
      this.spatialLine(line.layer, line.spatial, line.closed, look, line.own && { ...line.own, kind: 'line' });
      this.planLine(line.layer + PLAN_SUFFIX, line.plan, line.closed, look, line.own && { ...line.own, kind: 'plan' });
    }
    for (const c of contours) {
      const spatial: number[] = [];
      // A closed contour repeats its first place; the closing flag says it instead.
      const end = c.closed ? c.line.length - 2 : c.line.length;
      for (let i = 0; i < end; i += 2) spatial.push(c.line[i], c.line[i + 1], c.elevation);
      this.spatialLine(c.index ? INDEX_CONTOUR_LAYER : CONTOUR_LAYER, spatial, c.closed);
    }
    if (surface) for (let t = 0; t < surface.triangles.length; t += 3) this.face(surface, t);
  }

  private point(p: Drawing['points'][number]): void {
    const z = Number.isNaN(p.z) ? 0 : p.z;
    this.begin('POINT', layerAt(p.layer, p.z), 'AcDbPoint', { colour: p.colour });
    this.place(p.x, p.y, z);
    this.own(p.own);
    const height = this.settings.textHeight;
    if (height <= 0 || p.label === '') return;
    this.text(LABEL_LAYER, p.x, p.y, z, height, p.label, undefined, p.own && { ...p.own, kind: 'label' });
  }

  /** A text; its height in drawing units. */
  private text(
    layer: string,
    x: number,
    y: number,
    z: number,
    height: number,
    text: string,
    look?: EntityLook,
    own?: Own,
  ): void {
    // prettier-ignore
    this.begin('TEXT', layer, 'AcDbText', look);
    this.place(x, y, z);
    this.tag(40, height.toFixed(3), 1, this.textOf(text));
    if (this.modern) this.tag(100, 'AcDbText');
    this.own(own);
  }

  private spatialLine(layer: string, places: number[], closed: boolean, look?: EntityLook, own?: Own): void {
    if (places.length < 6) return;
    this.begin('POLYLINE', layer, 'AcDb3dPolyline', look);
    this.tag(66, 1, 10, '0.0', 20, '0.0', 30, '0.0', 70, closed ? 9 : 8);
    this.own(own);
    for (let i = 0; i < places.length; i += 3) {
      this.begin('VERTEX', layer, 'AcDbVertex');
      if (this.modern) this.tag(100, 'AcDb3dPolylineVertex');
      this.place(places[i], places[i + 1], places[i + 2]);
      this.tag(70, 32);
    }
    this.begin('SEQEND', layer);
  }

  private planLine(layer: string, places: number[], closed: boolean, look: EntityLook, own?: Own): void {
    if (places.length < 6) return;
    if (this.modern) {
      this.begin('LWPOLYLINE', layer, 'AcDbPolyline', look);
      this.tag(90, places.length / 3, 70, closed ? 1 : 0);
    } else {
      this.begin('POLYLINE', layer, undefined, look);
      this.tag(66, 1, 10, '0.0', 20, '0.0', 30, '0.0', 70, closed ? 1 : 0);
      this.own(own);
    }
    for (let i = 0; i < places.length; i += 3) {
      if (!this.modern) this.begin('VERTEX', layer);
      this.tag(10, this.number(places[i]), 20, this.number(places[i + 1]));
      if (!this.modern) this.tag(30, '0.0');
      if (places[i + 2] !== 0) this.tag(42, places[i + 2].toFixed(9));
    }
    if (this.modern) this.own(own);
    else this.begin('SEQEND', layer);
  }

  private face(s: NonNullable<Drawing['surface']>, t: number): void {
    this.begin('3DFACE', SURFACE_LAYER, 'AcDbFace');
    for (let k = 0; k < 4; k++) {
      const v = s.triangles[t + Math.min(k, 2)];
      this.place(s.x[v], s.y[v], s.z[v], k);
    }
  }
}
