import { z } from 'zod';

/** Geometry of a GeoJSON file (RFC 7946 structure), coordinates as they stand in it. */
export interface GeoJsonContent {
  points: { x: number; y: number; z: number; properties: Record<string, unknown> }[];
  lines: { closed: boolean; coordinates: number[][]; properties: Record<string, unknown> }[];
  /** The first of them; `problemCount` is how many there were. */
  problems: { where: string; why: string }[];
  problemCount: number;
  /** Whether the file could be read at all. */
  whole: boolean;
  /** The system that it says its places are in; null where it says none, which means longitude and latitude on WGS 84. */
  system: { code: string | null; local: boolean } | null;
}

const position = z.array(z.number()).min(2);
const geometry: z.ZodType<Geometry> = z.lazy(() =>
  z.union([
    z.object({ type: z.literal('Point'), coordinates: position }),
    z.object({ type: z.literal('MultiPoint'), coordinates: z.array(position) }),
    z.object({ type: z.literal('LineString'), coordinates: z.array(position) }),
    z.object({ type: z.literal('MultiLineString'), coordinates: z.array(z.array(position)) }),
    z.object({ type: z.literal('Polygon'), coordinates: z.array(z.array(position)) }),
    z.object({ type: z.literal('MultiPolygon'), coordinates: z.array(z.array(z.array(position))) }),
  ]),
);
type Geometry =
  | { type: 'Point'; coordinates: number[] }
  | { type: 'MultiPoint'; coordinates: number[][] }
  | { type: 'LineString'; coordinates: number[][] }
  | { type: 'MultiLineString'; coordinates: number[][][] }
  | { type: 'Polygon'; coordinates: number[][][] }
  | { type: 'MultiPolygon'; coordinates: number[][][][] };
const featureSchema = z.object({
  type: z.literal('Feature'),
  geometry: geometry.nullable(),
  properties: z.record(z.string(), z.unknown()).nullish(),
});

/** Reads GeoJSON; features that cannot be read are named and the rest is kept. */
export function readGeoJson(text: string): GeoJsonContent {
  const out: GeoJsonContent = { points: [], lines: [], problems: [], problemCount: 0, whole: true, system: null };
  const problem = (where: string, why: string): void => {
    out.problemCount++;
    if (out.problems.length < 200) out.problems.push({ where, why });
  };
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch (error) {
    problem('file', `not JSON: ${(error as Error).message.slice(0, 120)}`);
    out.whole = false;
    return out;
  }
  out.system = systemOf(root);
  const list =
    root !== null && typeof root === 'object' && 'features' in root && Array.isArray(root.features)
      ? (root.features as unknown[])
      : [
          root !== null && typeof root === 'object' && 'geometry' in root
            ? root
            : { type: 'Feature', geometry: root, properties: {} },
        ];
  list.forEach((item, i) => {
    const read = featureSchema.safeParse(item);
    if (!read.success) {
      problem(`feature ${i + 1}`, reasonOf(item));
      return;
    }
    if (read.data.geometry) take(out, read.data.geometry, read.data.properties ?? {});
  });
  return out;
}

/** A member `crs` of the first edition (2008), or the member `system` that is written here. */
function systemOf(root: unknown): GeoJsonContent['system'] {
  const { crs, system } = (root ?? {}) as { crs?: { properties?: { name?: unknown } }; system?: unknown };
  const name = crs?.properties?.name;
  const code = typeof name === 'string' ? /EPSG:{1,2}(?:[\d.]*:)?(\d{4,6})$/i.exec(name.slice(0, 100))?.[1] : undefined;
  // Longitude and latitude on WGS 84 by its older names are what is meant anyway.
  if (code !== undefined && code !== '4326') return { code: `EPSG:${code}`, local: false };
  return typeof system === 'string' ? { code: null, local: system === LOCAL_METRES.name } : null;
}

/** By its beginning: an object that names a GeoJSON type. */
export const isGeoJson = (text: string): boolean =>
  /^\s{0,100}\{/.test(text) &&
  /"type"\s{0,20}:\s{0,20}"(?:FeatureCollection|Feature|GeometryCollection|(?:Multi)?(?:Point|LineString|Polygon))"/.test(text.slice(0, 4000)); // prettier-ignore

/** Why a feature cannot be read, in words. */
function reasonOf(item: unknown): string {
  const { geometry: g } = (item ?? {}) as { geometry?: { type?: unknown; coordinates?: unknown } };
  const type = typeof g?.type === 'string' ? g.type.slice(0, 40) : null;
  if (type === null) return 'it is not a feature with a geometry';
  if (!READ.has(type)) return `a geometry of type ${type} is not read`;
  return `the coordinates of its ${type} are not all numbers, two or three to a place`;
}
const READ = new Set(['Point', 'MultiPoint', 'LineString', 'MultiLineString', 'Polygon', 'MultiPolygon']);

function take(out: GeoJsonContent, g: Geometry, properties: Record<string, unknown>): void {
  const point = (p: number[]): unknown => out.points.push({ x: p[0], y: p[1], z: p[2] ?? NaN, properties });
  const line = (coordinates: number[][]): unknown => out.lines.push({ closed: false, coordinates, properties });
  // A ring repeats its first place; the flag says it instead.
  const ring = (coordinates: number[][]): unknown =>
    out.lines.push({ closed: true, coordinates: coordinates.slice(0, -1), properties });
  if (g.type === 'Point') point(g.coordinates);
  else if (g.type === 'MultiPoint') g.coordinates.forEach(point);
  else if (g.type === 'LineString') line(g.coordinates);
  else if (g.type === 'MultiLineString') g.coordinates.forEach(line);
  else if (g.type === 'Polygon') g.coordinates.forEach(ring);
  else g.coordinates.forEach((polygon) => polygon.forEach(ring));
}

export interface GeoJsonFeature {
  kind: 'Point' | 'LineString' | 'Polygon';
  coordinates: number[] | number[][] | number[][][];
  properties: Record<string, unknown>;
}

/** A system other than longitude and latitude on WGS 84: in words, and its code (`EPSG:32735`) where it is published. */
export interface GeoJsonSystem {
  name: string;
  code: string | null;
}

export const LOCAL_METRES: GeoJsonSystem = { name: 'local, metres: east, north, elevation', code: null };

/**
 * Writes a feature collection. RFC 7946 means longitude and latitude on WGS 84 (`system` null); another system is said
 * in a member `system` of the collection and, where it is published, in the `crs` of the format's first edition (2008),
 * which readers still know. RFC 7946, 7.1: no member is called as those of a geometry are.
 */
export function writeGeoJson(features: GeoJsonFeature[], system: GeoJsonSystem | null = LOCAL_METRES): string {
  const rows = features.map((f) =>
    JSON.stringify({
      type: 'Feature',
      geometry: { type: f.kind, coordinates: f.coordinates },
      properties: f.properties,
    }),
  );
  const code = /^EPSG:(\d{4,6})$/.exec(system?.code ?? '')?.[1];
  const crs = code ? `"crs":{"type":"name","properties":{"name":"urn:ogc:def:crs:EPSG::${code}"}},` : '';
  const said = system === null ? '' : `"system":${JSON.stringify(system.name)},${crs}`;
  return `{"type":"FeatureCollection",${said}"features":[\n${rows.join(',\n')}\n]}\n`;
}
