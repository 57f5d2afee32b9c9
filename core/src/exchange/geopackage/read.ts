import { ELEVATION, LAYER, NUMBER, numberOf, textOf } from '../attributes.ts';
import type { FileContent } from '../content.ts';
import { drawingFrom, inDegrees, layerNamed } from '../drawing-from.ts';
import type { DxfFace, DxfPoint, DxfPolyline } from '../dxf/content.ts';
import { systemSaid, type SaidSystem } from '../shapefile/system.ts';
import { geometryOf, type Drawn } from './geometry.ts';
import { DamagedDatabase, SqliteFile, type Row } from './sqlite.ts';

// A GeoPackage (OGC 12-128) as a drawing: the features of its tables by layer, in the system of the first of them.

const MOST_PROBLEMS = 200;
const CALLED = 'GeoPackage';

class GeoPackageReader {
  readonly points: DxfPoint[] = [];
  readonly lines: DxfPolyline[] = [];
  readonly faces: DxfFace[] = [];
  readonly unread: Record<string, number> = Object.create(null) as Record<string, number>;
  readonly problems: { line: number; what: string }[] = [];
  problemCount = 0;
  system: SaidSystem | null = null;
  private srs: number | null = null;
  private features = 0;

  read(file: SqliteFile): void {
    const systems = new Map([...file.rows('gpkg_spatial_ref_sys')].map((r) => [Number(r.srs_id), r]));
    const geometries = new Map([...file.rows('gpkg_geometry_columns')].map((r) => [textOf(r.table_name), r]));
    const contents = [...file.rows('gpkg_contents')].sort((a, b) => (textOf(a.table_name) < textOf(b.table_name) ? -1 : 1)); // prettier-ignore
    const seen = new Set<string>();
    for (const { table_name: said, data_type: kind, identifier } of contents) {
      const table = textOf(said);
      if (seen.has(table)) continue;
      seen.add(table);
      const geometry = geometries.get(table);
      if (kind !== 'features' || !geometry) this.count(`table “${table}” of ${textOf(kind) || 'no kind'}`);
      else if (!file.has(table)) this.problem(0, `table “${table}” is named and not there`);
      else if (this.isInSystem(table, geometry, systems)) this.table(file, table, textOf(geometry.column_name), textOf(identifier) || table); // prettier-ignore
    }
  }

  /** The first table says the system; one that is in another cannot be drawn with it. */
  private isInSystem(table: string, geometry: Row, systems: ReadonlyMap<number, Row>): boolean {
    const srs = Number(geometry.srs_id);
    if (this.srs !== null && this.srs !== srs) {
      this.problem(0, `table “${table}” is in another system than the ones before it; it is left out`);
      return false;
    }
    if (this.srs === null) this.system = saidOf(srs, systems.get(srs));
    this.srs = srs;
    return true;
  }

  private table(file: SqliteFile, table: string, column: string, identifier: string): void {
    const before = this.features;
    try {
      for (const row of file.rows(table)) {
        const blob = row[column.toLowerCase()];
        if (blob !== null && blob !== undefined) this.feature(row, blob, identifier);
      }
    } catch (error) {
      this.problem(0, `table “${table}” is read as far as its first ${this.features - before} features: ${damageOf(error)}`); // prettier-ignore
    }
  }

  private feature(row: Row, blob: Row[string], table: string): void {
    const n = ++this.features;
    try {
      if (!(blob instanceof Uint8Array)) throw new Error('has a geometry that is none');
      this.draw(geometryOf(blob), row, table);
    } catch (error) {
      const why = error instanceof RangeError ? 'has a geometry that breaks off' : (error as Error).message;
      this.problem(n, `feature ${n} of “${table}” ${why}`);
    }
  }

  private draw({ points, lines, triangles }: Drawn, row: Row, table: string): void {
    const first = (names: readonly string[]): unknown => row[names.find((n) => n.toLowerCase() in row)?.toLowerCase() ?? '']; // prettier-ignore
    const layer = layerNamed(textOf(first(LAYER)), layerNamed(table));
    const number = textOf(first(NUMBER));
    const elevation = numberOf(first(ELEVATION));
    const z = (own: number): number => (Number.isNaN(own) ? elevation : own);
    for (const [x, y, h] of points) this.points.push({ layer, kind: 'POINT', x, y, z: z(h), ...(number ? { number } : {}) }); // prettier-ignore
    for (const l of lines) {
      const heights = l.z.map(z);
      const spatial = heights.length > 0 && heights.every((h) => !Number.isNaN(h));
      this.lines.push({ layer, kind: 'POLYLINE', ...l, spatial, z: spatial ? heights : heights.map(() => 0) });
    }
    for (const t of triangles)
      if (t.every(Number.isFinite)) this.faces.push({ layer, kind: '3DFACE', corners: [...t, ...t.slice(6)] });
  }

  private count(what: string): void {
    this.unread[what] = (this.unread[what] ?? 0) + 1;
  }

  private problem(line: number, what: string): void {
    this.problemCount++;
    if (this.problems.length < MOST_PROBLEMS) this.problems.push({ line, what });
  }
}

/** −1 is a plane without a place on the earth, 0 longitude and latitude of no system that is known (OGC 12-128). */
function saidOf(srs: number, row: Row | undefined): SaidSystem {
  if (srs === -1) return { degrees: false, unit: null, name: null };
  const said = systemSaid(textOf(row?.definition));
  const code = textOf(row?.organization).toUpperCase() === 'EPSG' ? `EPSG:${textOf(row?.organization_coordsys_id)}` : null; // prettier-ignore
  return { ...said, degrees: said.degrees || srs === 0, name: code ?? said.name ?? (textOf(row?.srs_name) || null) };
}

/** What is wrong with a database, in words; what is wrong here is thrown on. */
function damageOf(error: unknown): string {
  if (error instanceof DamagedDatabase) return error.message;
  if (error instanceof RangeError) return 'a page of it breaks off';
  throw error;
}

/** Geometry and attributes of a GeoPackage in its own unit; what of it cannot be read is said. */
export function geoPackageContent(bytes: Uint8Array): FileContent {
  const reader = new GeoPackageReader();
  let whole = true;
  try {
    const file = new SqliteFile(bytes);
    if (!file.has('gpkg_contents')) throw new DamagedDatabase('it is a database (SQLite) without the tables of a GeoPackage'); // prettier-ignore
    reader.read(file);
  } catch (error) {
    const why = damageOf(error);
    whole = reader.points.length + reader.lines.length > 0;
    reader.problems.unshift({ line: 0, what: `the GeoPackage cannot be read: ${why}` });
    reader.problemCount++;
  }
  const { points, lines, faces, problems, problemCount, unread, system } = reader;
  if (system?.degrees) return { kind: 'geojson', content: inDegrees(points, lines, CALLED, problems), unit: null };
  const content = {
    ...drawingFrom(points, lines, { encoding: 'utf-8', unread, problems, problemCount, whole }),
    faces,
  };
  return { kind: 'dxf', content, unit: system?.unit ?? null, called: CALLED, saysElevations: true, system: system?.name ?? null }; // prettier-ignore
}
