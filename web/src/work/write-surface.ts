import { tintedAreas } from '#core/drawing';
import { writeDxf, writeGeoJson, writeGeoTiff, writeGlb, writeLandXml, writeText, type GeoJsonFeature, type GeoJsonSystem } from '#core/exchange'; // prettier-ignore
import type { NamedLook } from '#core/project';
import { fromMetres, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { areaOfSurface, areasByElevation, areasBySlope, gridOf, type Contour, type Polygon, type Surface, type TintArea } from '#core/terrain'; // prettier-ignore

/** What of a surface is written, and in which form. */
export const SURFACE_FILES = {
  triangles: { name: 'triangles, LandXML', ending: 'xml' },
  points: { name: 'points, text', ending: 'csv' },
  contours: { name: 'contours, DXF', ending: 'dxf' },
  boundary: { name: 'boundary, GeoJSON', ending: 'geojson' },
  elevations: { name: 'areas by elevation, GeoJSON', ending: 'geojson' },
  slopes: { name: 'areas by slope, GeoJSON', ending: 'geojson' },
  look: { name: 'areas as a look tints them, GeoJSON', ending: 'geojson' },
  grid: { name: 'grid of elevations, GeoTIFF', ending: 'tif' },
  model: { name: 'model in 3D, binary glTF', ending: 'glb' },
} as const;
export type SurfaceFile = keyof typeof SURFACE_FILES;

export interface WriteAsked {
  file: SurfaceFile;
  name: string;
  unit: LengthUnit;
  order: 'EN' | 'NE';
  decimals: number;
  /** Side of a cell of the grid, m. */
  cell: number;
  /** Elevations between areas, m; slopes, rise over run. */
  steps: readonly number[];
  /** Numbers and descriptions by vertex; ground-only vertices have none. */
  points: { number: string; description: string }[];
  /** Number of the first vertex that has none, and what all of those are called. */
  from: number;
  description: string;
  contours: readonly Contour[];
  /** The look whose tints are written. */
  look: NamedLook | null;
  system: GeoJsonSystem;
  epsg: number | null;
  made: string;
}

/** A surface as a file. Throws RangeError with a sentence where what was asked makes none. */
export function writeSurface(s: Surface, asked: WriteAsked): Uint8Array {
  const text = (t: string): Uint8Array => new TextEncoder().encode(t);
  switch (asked.file) {
    case 'triangles':
      return text(writeLandXml({ project: asked.name, made: asked.made, points: [], breaklines: [], surfaces: [{ name: asked.name, surface: s }] }, asked.unit, asked.decimals + 1)); // prettier-ignore
    case 'points':
      return text(pointsText(s, asked));
    case 'contours':
      return text(writeDxf({ points: [], lines: [], contours: [...asked.contours], surface: null, colours: {} }, { version: '2000', unit: asked.unit, decimals: asked.decimals + 1, textHeight: 0 })); // prettier-ignore
    case 'boundary':
      return text(
        writeGeoJson(
          areaOfSurface(s).map((p) => polygon(p, { surface: asked.name })),
          asked.system,
        ),
      );
    case 'elevations':
      return text(writeGeoJson(tinted(areasByElevation(s, asked.steps), (v) => Number(fromMetres(v, asked.unit).toFixed(4)), `elevation ${UNIT_SIGN[asked.unit]}`), asked.system)); // prettier-ignore
    case 'slopes':
      return text(writeGeoJson(tinted(areasBySlope(s, asked.steps), (v) => Number((100 * v).toFixed(2)), 'slope %'), asked.system)); // prettier-ignore
    case 'look': {
      const { look, unit } = asked;
      if (!look) throw new RangeError('Choose a look that the project keeps.');
      const areas = tintedAreas(s, look.tintedBy, unit);
      return text(writeGeoJson(areas.flatMap(({ name, hex, polygons }) => polygons.map((p) => polygon(p, { look: look.name, area: name, fill: hex }))), asked.system)); // prettier-ignore
    }
    case 'grid':
      return writeGeoTiff(gridOf(s, asked.cell), asked.epsg);
    case 'model':
      return writeGlb(s, asked.name);
  }
}

const tinted = (areas: readonly TintArea[], value: (v: number) => number, what: string): GeoJsonFeature[] =>
  areas.flatMap(
    ({ from, to, polygons }) =>
    polygons.map((p) => polygon(p, { [`${what} from`]: value(from), [`${what} to`]: to === Infinity ? null : value(to) })), // prettier-ignore
  );

const polygon = (rings: Polygon, properties: Record<string, unknown>): GeoJsonFeature => ({
  kind: 'Polygon',
  coordinates: rings.map((ring) => {
    const places = Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i], ring[2 * i + 1]]);
    return [...places, places[0]];
  }),
  properties,
});

/** The vertices of a surface as it has them, moved ones where they were put; those without a number get the next free one. */
function pointsText(s: Surface, { points, from, description, unit, order, decimals }: WriteAsked): string {
  const used = new Uint8Array(s.x.length);
  for (const v of s.triangles) used[v] = 1;
  const taken = new Set(points.map((p) => p.number).filter(Boolean));
  let next = from;
  const rows = [];
  for (let v = 0; v < used.length; v++) {
    if (!used[v]) continue;
    let { number, description: own } = points[v] ?? { number: '', description: '' };
    if (!number) {
      while (taken.has(String(next))) next++;
      number = String(next++);
      own = description;
    }
    rows.push({ number, x: s.x[v], y: s.y[v], z: s.z[v], description: own });
  }
  return writeText(rows, { order: order === 'EN' ? ['P', 'E', 'N', 'Z', 'D'] : ['P', 'N', 'E', 'Z', 'D'], decimals, unit, separator: ',', headings: true }); // prettier-ignore
}
