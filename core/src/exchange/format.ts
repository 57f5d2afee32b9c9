import { isGtx, isNtv2, isTiff } from '#core/basis';
import { isBookText } from '#core/book';
import { dxfContent, geoJsonContent, landXmlContent, type FileContent } from './content.ts';
import { isDxf } from './dxf/read.ts';
import { geoPackageContent } from './geopackage/read.ts';
import { isSqlite } from './geopackage/sqlite.ts';
import { isTextGrid } from './grid/text-grid.ts';
import { isGeoJson } from './geojson/geojson.ts';
import { isLandXmlDrawing, isLandXmlSurvey } from './landxml/recognise.ts';
import { isShapefile } from './shapefile/parts.ts';
import { shapefileContent } from './shapefile/read.ts';
import { isSpreadsheet } from './spreadsheet.ts';

// The register of formats: what a received file is, by what it holds; what may come of it; how it is read. Page, server
// and command line ask here; a new format is one more object.

/** What a file may be a source of. */
export type SourceKind = 'points' | 'book' | 'drawing' | 'surface' | 'cloud' | 'picture' | 'grid';

export type FormatName =
  | 'spreadsheet'
  | 'book'
  | 'survey'
  | 'landxml'
  | 'geojson'
  | 'dxf'
  | 'shapefile'
  | 'geopackage'
  | 'grid'
  | 'text'
  | 'gtx'
  | 'ntv2'
  | 'tiff'
  | 'las'
  | 'picture';

export interface Format {
  name: FormatName;
  /** As people call it. */
  called: string;
  /** Endings that files of it go by, where the command line is told nothing else. */
  endings: readonly string[];
  holds: readonly SourceKind[];
  /** Whether a file is one of these, by what it holds. `text` is null of what is no text. */
  recognise: (bytes: Uint8Array, text: string | null) => boolean;
  /** What it holds besides rows: points by name, lines, surfaces. */
  content?: (text: string) => FileContent;
  /** The same of a format that is read from its bytes. */
  contentOfBytes?: (bytes: Uint8Array) => FileContent;
  /** Where it goes instead, or that it is not read yet, of what no rows come of. */
  instead?: string;
}

const GRIDS_GO = 'Import it under Basis, Meaning, with the geoid and the datum grids.';
const begins = (bytes: Uint8Array, sign: string): boolean => [...sign].every((c, i) => bytes[i] === c.charCodeAt(0));

/** In the order in which they are tried: a LandXML file with readings is a book before it is a drawing. */
export const FORMATS: readonly Format[] = [
  {
    name: 'ntv2',
    called: 'datum grid (NTv2)',
    endings: ['.gsb'],
    holds: ['grid'],
    recognise: isNtv2,
    instead: GRIDS_GO,
  },
  {
    name: 'tiff',
    called: 'GeoTIFF grid',
    endings: ['.tif', '.tiff'],
    holds: ['grid', 'picture'],
    recognise: isTiff,
    instead: `${GRIDS_GO} A picture in this form lies under the drawing: import it by itself.`,
  },
  {
    name: 'gtx',
    called: 'geoid grid (GTX)',
    endings: ['.gtx'],
    holds: ['grid'],
    recognise: isGtx,
    instead: GRIDS_GO,
  },
  {
    name: 'las',
    called: 'point cloud (LAS)',
    endings: ['.las', '.laz'],
    holds: ['cloud'],
    recognise: (bytes) => begins(bytes, 'LASF'),
    instead: 'Point clouds are not read yet: ask the sender for its ground points as text, east, north, elevation.',
  },
  {
    name: 'picture',
    called: 'picture',
    endings: ['.png', '.jpg', '.jpeg'],
    holds: ['picture'],
    recognise: (bytes) => begins(bytes, '\x89PNG') || begins(bytes, '\xff\xd8\xff'),
    instead: 'It lies under the drawing: import it by itself, or together with its world file.',
  },
  {
    name: 'shapefile',
    called: 'Shapefile',
    endings: ['.shp'],
    holds: ['points', 'drawing'],
    recognise: (bytes) => isShapefile(bytes),
    contentOfBytes: shapefileContent,
  },
  {
    name: 'geopackage',
    called: 'GeoPackage',
    endings: ['.gpkg'],
    holds: ['points', 'drawing'],
    recognise: (bytes) => isSqlite(bytes),
    contentOfBytes: geoPackageContent,
  },
  {
    name: 'spreadsheet',
    called: 'spreadsheet',
    endings: ['.xlsx'],
    holds: ['points', 'book'],
    recognise: (bytes) => isSpreadsheet(bytes),
  },
  {
    name: 'book',
    called: 'field book',
    endings: [],
    holds: ['book'],
    recognise: (_, text) => text !== null && isBookText(text),
  },
  {
    name: 'survey',
    called: 'LandXML with readings',
    endings: [],
    holds: ['book'],
    recognise: (_, text) => text !== null && isLandXmlSurvey(text),
  },
  {
    name: 'landxml',
    called: 'LandXML',
    endings: ['.xml'],
    holds: ['points', 'surface', 'drawing'],
    recognise: (bytes) => isLandXmlDrawing(bytes),
    contentOfBytes: landXmlContent,
  },
  {
    name: 'geojson',
    called: 'GeoJSON',
    endings: ['.geojson', '.json'],
    holds: ['points', 'drawing'],
    recognise: (_, text) => text !== null && isGeoJson(text),
    content: geoJsonContent,
  },
  {
    name: 'dxf',
    called: 'drawing (DXF)',
    endings: ['.dxf'],
    holds: ['points', 'drawing'],
    recognise: isDxf,
    contentOfBytes: dxfContent,
  },
  {
    name: 'grid',
    called: 'elevation grid',
    endings: ['.asc'],
    holds: ['points'],
    recognise: (_, text) => text !== null && isTextGrid(text),
  },
  {
    name: 'text',
    called: 'text',
    endings: ['.csv', '.txt'],
    holds: ['points', 'book'],
    recognise: (_, text) => text !== null,
  },
];

/** The format of a file by what it holds; null of what no format knows. */
export const formatOf = (bytes: Uint8Array, text: string | null): Format | null =>
  FORMATS.find((f) => f.recognise(bytes, text)) ?? null;

/** The format that a file name ends like; text where none does. */
export function formatOfEnding(fileName: string): Format {
  const lower = fileName.toLowerCase();
  return FORMATS.find((f) => f.endings.some((e) => lower.endsWith(e))) ?? FORMATS[FORMATS.length - 1];
}
