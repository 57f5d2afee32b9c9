import type { FileUnit } from '#core/measure';
import type { DxfContent } from './dxf/content.ts';
import { readDxf } from './dxf/read.ts';
import { readGeoJson, type GeoJsonContent } from './geojson/geojson.ts';
import type { LandXmlRead, LandXmlTin } from './landxml/content.ts';
import { readLandXmlBytes } from './landxml/bytes.ts';
import { unitOfLandXml } from './landxml/unit.ts';

/** What a file of drawn or named things holds, in its own unit; null where it does not say which. */
export type FileContent =
  | {
      kind: 'dxf';
      content: DxfContent;
      unit: FileUnit | null;
      /** Points that are made of other things: symbols, elevations that are texts. */
      named?: NamedPlace[];
      /** What the file is, where it is no DXF. */
      called?: string;
      /** The system that it says its numbers are in. */
      system?: string | null;
      /** Where there is no elevation it says none: 0 is one. */
      saysElevations?: boolean;
      /** Ready-made surfaces besides its faces. */
      surfaces?: LandXmlTin[];
    }
  | { kind: 'landxml'; content: LandXmlRead; unit: FileUnit | null }
  | { kind: 'geojson'; content: GeoJsonContent; unit: FileUnit | null };

/** $INSUNITS of a drawing that are read (DXF reference); 0 and others say nothing. */
const DRAWING_UNITS: Record<number, FileUnit> = { 1: 'in', 2: 'ft', 4: 'mm', 5: 'cm', 6: 'm', 21: 'usft' };

export const drawingUnit = (units: number | null): FileUnit | null => DRAWING_UNITS[units ?? 0] ?? null;

export const dxfContent = (bytes: Uint8Array): FileContent => {
  const content = readDxf(bytes);
  return { kind: 'dxf', content, unit: drawingUnit(content.units) };
};
export const landXmlContent = (bytes: Uint8Array): FileContent => {
  const content = readLandXmlBytes(bytes);
  return { kind: 'landxml', content, unit: unitOfLandXml(content.linearUnit) };
};
export const geoJsonContent = (text: string): FileContent => {
  const content = readGeoJson(text);
  return { kind: 'geojson', content, unit: content.system?.local ? 'm' : null };
};

export interface NamedPlace {
  number: string;
  x: number;
  y: number;
  z: number;
  description: string;
  /** Of the ground, and nobody needs a number for it. */
  ground?: boolean;
}

/** Points of a file, in its own unit: of a drawing with their layers, of the others with what they say. */
export function pointsIn(file: FileContent): NamedPlace[] {
  if (file.kind === 'dxf') return [...file.content.points.map((p) => ({ ...p, number: p.number ?? '', description: p.description ?? p.layer })), ...(file.named ?? [])]; // prettier-ignore
  if (file.kind === 'landxml') return file.content.points.map((p) => ({ ...p, number: p.name, description: p.code }));
  return file.content.points.map(({ x, y, z, properties: said }) => ({ x, y, z, number: text(said.number), description: text(said.description) })); // prettier-ignore
}

const text = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

/** What a file says that could not be read, where, and why. */
export interface NotRead {
  notRead: { where: string; why: string }[];
  count: number;
  /** Kinds met that are not read at all, with how often. */
  unread: Record<string, number>;
  /** Whether it was read to its end. */
  whole: boolean;
}

export function notReadOf(file: FileContent): NotRead {
  const { problemCount: count, whole } = file.content;
  if (file.kind === 'geojson') return { notRead: file.content.problems, count, unread: {}, whole };
  const { problems, unread } = file.content;
  // A Shapefile counts its shapes, a GeoPackage its features; what is wrong with all of it is of none.
  const place = placeIn(file);
  return {
    notRead: problems.map((p) => ({ where: p.line ? `${place} ${p.line}` : 'file', why: p.what })),
    count,
    unread,
    whole,
  };
}

const placeIn = (file: FileContent): string => file.kind !== 'dxf' || !file.called ? 'line' : file.called === 'Shapefile' ? 'shape' : 'feature'; // prettier-ignore

/** What a file holds besides its points, in words; null where it holds nothing else. */
export function besidesPoints(file: FileContent): string | null {
  const counts: [string, string, number][] =
    file.kind === 'dxf'
      ? [['line', 'lines', file.content.polylines.length + file.content.curves.length], ['face', 'faces', file.content.faces.length], ['text', 'texts', file.content.texts.length], ['symbol', 'symbols', file.content.inserts.length], ['filled area', 'filled areas', file.content.hatches.length]] // prettier-ignore
      : file.kind === 'landxml'
        ? [['surface', 'surfaces', file.content.surfaces.length], ['breakline', 'breaklines', file.content.breaklines.length], ['plan feature', 'plan features', file.content.features.length]] // prettier-ignore
        : [['line', 'lines', file.content.lines.length]];
  const unread = file.kind === 'geojson' ? [] : Object.entries(file.content.unread);
  if (file.kind === 'dxf' && file.content.onPaper) unread.unshift(['in paper space', file.content.onPaper]);
  const said = counts.filter(([, , n]) => n > 0).map(([one, many, n]) => `${n} ${n === 1 ? one : many}`);
  const all = [...said, ...unread.slice(0, 8).map(([kind, n]) => `${n} ${kind}`)];
  return all.length ? all.join(', ') : null;
}
