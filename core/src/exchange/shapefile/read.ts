import { parseDbf, parseShp, type ShapeGeometry } from 'shpjs';
import type { FileContent } from '../content.ts';
import { clean, ELEVATION, LAYER, NUMBER, numberOf, textOf, type Attributes } from '../attributes.ts';
import { drawingFrom, inDegrees } from '../drawing-from.ts';
import type { DxfContent, DxfPoint, DxfPolyline } from '../dxf/content.ts';
import { shapefileParts, type ShapefileParts } from './parts.ts';
import { systemSaid } from './system.ts';

// A Shapefile as a drawing: points, lines and rims by layer. Its own elevations count, else those of an attribute.

const MOST_RECORDS = 5_000_000;

/** Geometry and attributes of a Shapefile in its own unit; what of it cannot be read is said. */
export function shapefileContent(bytes: Uint8Array): FileContent {
  const problems: { line: number; what: string }[] = [];
  let parts: ShapefileParts | null = null;
  let shapes: (ShapeGeometry | null)[] = [];
  try {
    parts = shapefileParts(bytes);
    shapes = shapesOf(parts.shp);
  } catch (error) {
    problems.push({ line: 0, what: `the Shapefile cannot be read: ${(error as Error).message}` });
    return { kind: 'dxf', content: contentOf([], [], problems, false, ''), unit: null, called: 'Shapefile' };
  }
  const whole = shapes.length > 0 || parts.shp.length <= 100;
  if (!whole) problems.push({ line: 0, what: 'its first record breaks off; ask for it whole' });
  const attributes = attributesOf(parts, shapes.length, problems);
  const said = systemSaid(parts.prj && new TextDecoder().decode(parts.prj.subarray(0, 10_000)));
  const made = drawn(shapes, attributes, parts.name || 'SHAPES', problems);
  if (said.degrees)
    return { kind: 'geojson', content: inDegrees(made.points, made.lines, 'Shapefile', problems), unit: null };
  const content = contentOf(made.points, made.lines, problems, whole, lettersOf(parts));
  return { kind: 'dxf', content, unit: said.unit, called: 'Shapefile', system: said.name };
}

/** Records that are there in full, in their order. */
function shapesOf(shp: Uint8Array): (ShapeGeometry | null)[] {
  const view = new DataView(shp.buffer, shp.byteOffset, shp.byteLength);
  if (shp.byteLength < 100) throw new Error('its header breaks off');
  let records = 0;
  for (let at = 100; at + 8 <= shp.byteLength; records++) {
    const length = view.getInt32(at + 4) * 2;
    if (length < 0 || records > MOST_RECORDS) throw new Error('the length of a record is none');
    at += 8 + length;
  }
  return parseShp(shp);
}

/** A row of attributes for each shape; none where they are missing or cannot be read, which is said. */
function attributesOf(parts: ShapefileParts, shapes: number, problems: { line: number; what: string }[]): Attributes[] {
  const { dbf } = parts;
  if (!dbf) {
    problems.push({ line: 0, what: 'its attributes (.dbf) are missing: everything is on one layer' });
    return [];
  }
  try {
    const view = new DataView(dbf.buffer, dbf.byteOffset, dbf.byteLength);
    const [records, head, row] = [view.getUint32(4, true), view.getUint16(8, true), view.getUint16(10, true)];
    // A row has a byte for each field at least, and one before them: what promises less would be looked through for ever.
    const fields = Math.max(0, Math.floor((head - 33) / 32));
    if (row < 1 + fields) throw new Error('its rows are shorter than their fields');
    if (head + records * row > dbf.byteLength + row) throw new Error(`it promises ${records} rows, and breaks off`);
    const rows = parseDbf(dbf, lettersOf(parts));
    if (rows.length !== shapes) problems.push({ line: 0, what: `it has ${shapes} shapes and ${rows.length} rows of attributes` }); // prettier-ignore
    return rows.map((r) => Object.fromEntries(Object.entries(r).map(([name, value]) => [clean(name).toUpperCase(), value]))); // prettier-ignore
  } catch (error) {
    problems.push({ line: 0, what: `its attributes (.dbf) cannot be read: ${(error as Error).message}` });
    return [];
  }
}

/** How its letters are written: as its .cpg says, else UTF-8 where they are that. */
function lettersOf({ dbf, cpg }: ShapefileParts): string {
  const said = cpg ? new TextDecoder().decode(cpg.subarray(0, 40)).trim() : '';
  if (said) return said;
  try {
    if (dbf) new TextDecoder('utf-8', { fatal: true }).decode(dbf.subarray(32));
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** The first of some attributes that the rows have. */
const fieldOf = (names: readonly string[], rows: readonly Attributes[]): string | null =>
  names.find((n) => rows.length > 0 && Object.hasOwn(rows[0], n)) ?? null;

function drawn(
  shapes: readonly (ShapeGeometry | null)[],
  rows: readonly Attributes[],
  name: string,
  problems: { line: number; what: string }[],
): { points: DxfPoint[]; lines: DxfPolyline[] } {
  const [layerField, numberField, elevationField] = [LAYER, NUMBER, ELEVATION].map((n) => fieldOf(n, rows));
  const points: DxfPoint[] = [];
  const lines: DxfPolyline[] = [];
  shapes.forEach((shape, i) => {
    if (!shape) return;
    const of = (field: string | null): unknown => (field === null ? undefined : rows[i]?.[field]);
    const layer = textOf(of(layerField)) || name;
    const number = textOf(of(numberField));
    const elevation = numberOf(of(elevationField));
    const point = ([x, y, z = elevation]: number[]): void => {
      if (Number.isFinite(x) && Number.isFinite(y))
        points.push({ layer, kind: 'POINT', x, y, z, ...(number ? { number } : {}) }); // prettier-ignore
      else problems.push({ line: i + 1, what: `shape ${i + 1} has no place` });
    };
    const line = (places: readonly number[][], closed: boolean): void => {
      const ends = closed && places.length > 3 && [0, 1].every((k) => places[0][k] === places[places.length - 1][k]) ? places.slice(0, -1) : places; // prettier-ignore
      if (ends.some((p) => !Number.isFinite(p[0]) || !Number.isFinite(p[1]))) return void problems.push({ line: i + 1, what: `shape ${i + 1} has a vertex without a place` }); // prettier-ignore
      const z = ends.map((p) => p[2] ?? elevation);
      const spatial = z.every((v) => Number.isFinite(v));
      lines.push({ layer, kind: 'POLYLINE', closed, spatial, x: ends.map((p) => p[0]), y: ends.map((p) => p[1]), z: spatial ? z : z.map(() => 0), bulge: z.map(() => 0) }); // prettier-ignore
    };
    switch (shape.type) {
      case 'Point':
        return point(shape.coordinates);
      case 'MultiPoint':
        return shape.coordinates.forEach(point);
      case 'LineString':
        return line(shape.coordinates, false);
      case 'MultiLineString':
        return shape.coordinates.forEach((p) => line(p, false));
      case 'Polygon':
        return shape.coordinates.forEach((ring) => line(ring, true));
      case 'MultiPolygon':
        return shape.coordinates.forEach((p) => p.forEach((ring) => line(ring, true)));
    }
  });
  return { points, lines };
}

const contentOf = (
  points: DxfPoint[],
  lines: DxfPolyline[],
  problems: { line: number; what: string }[],
  whole: boolean,
  encoding: string,
): DxfContent =>
  drawingFrom(points, lines, { encoding, unread: {}, problems: problems.slice(0, 200), problemCount: problems.length, whole }); // prettier-ignore
