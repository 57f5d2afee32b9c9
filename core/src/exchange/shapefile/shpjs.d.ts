declare module 'shpjs' {
  type Position = number[];
  export type ShapeGeometry =
    | { type: 'Point'; coordinates: Position }
    | { type: 'MultiPoint' | 'LineString'; coordinates: Position[] }
    | { type: 'MultiLineString' | 'Polygon'; coordinates: Position[][] }
    | { type: 'MultiPolygon'; coordinates: Position[][][] };
  /** Null of a record without geometry. Without a projection coordinates stay as they are. */
  export function parseShp(shp: Uint8Array): (ShapeGeometry | null)[];
  export function parseDbf(dbf: Uint8Array, cpg?: string): Record<string, unknown>[];
}
