import type { GeoJsonContent } from './geojson/geojson.ts';
import type { DxfContent, DxfPoint, DxfPolyline } from './dxf/content.ts';

/** What a file that is no DXF says of itself. */
export interface SaidOfFile {
  encoding: string;
  unread: Record<string, number>;
  problems: { line: number; what: string }[];
  problemCount: number;
  whole: boolean;
}

/** As much of a name as a layer's has room for. */
const LONGEST_LAYER = 120;

/** A name as that of a layer. */
export const layerNamed = (name: string, otherwise = 'UNNAMED'): string => name.trim().slice(0, LONGEST_LAYER).trim() || otherwise; // prettier-ignore

/** Points and lines of any file as a drawing. */
export function drawingFrom(
  points: DxfPoint[],
  polylines: DxfPolyline[],
  { encoding, unread, problems, problemCount, whole }: SaidOfFile,
): DxfContent {
  const [kinds, layers]: Record<string, number>[] = [Object.create(null), Object.create(null)] as Record<string, number>[]; // prettier-ignore
  for (const { kind, layer } of [...points, ...polylines]) {
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    layers[layer] = (layers[layer] ?? 0) + 1;
  }
  const nothing = { curves: [], faces: [], texts: [], inserts: [], hatches: [] };
  const about = { version: '', units: null, blocks: new Map(), layerStates: new Map(), layersElsewhere: new Set(), unreadOn: new Map(), onPaper: 0 } as const; // prettier-ignore
  return { ...nothing, ...about, points, polylines, kinds, layers, encoding, unread, problems, problemCount, whole } as DxfContent; // prettier-ignore
}

/** A line of straights; a vertex without an elevation has NaN. */
export function polylineOf(
  layer: string,
  kind: string,
  closed: boolean,
  x: number[],
  y: number[],
  z: number[],
): DxfPolyline {
  const spatial = z.some((v) => !Number.isNaN(v));
  return { layer, kind, closed, spatial, x, y, z: spatial ? z : z.map(() => 0), bulge: z.map(() => 0) };
}

/** Longitude and latitude, as GeoJSON has them. */
export const inDegrees = (
  points: readonly DxfPoint[],
  lines: readonly DxfPolyline[],
  called: string,
  problems: readonly { what: string }[],
): GeoJsonContent => ({
  points: points.map(({ x, y, z, layer, number }) => ({ x, y, z, properties: { number: number ?? '', description: layer } })), // prettier-ignore
  lines: lines.map((l) => ({ closed: l.closed, coordinates: l.x.map((x, i) => (l.spatial ? [x, l.y[i], l.z[i]] : [x, l.y[i]])), properties: { layer: l.layer } })), // prettier-ignore
  problems: problems.slice(0, 200).map(({ what }) => ({ where: called, why: what })),
  problemCount: problems.length,
  whole: true,
  system: null,
});
