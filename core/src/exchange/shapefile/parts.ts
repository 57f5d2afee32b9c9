import { unzipSync, zipSync } from 'fflate';

// A Shapefile is several files of one name: geometry (.shp), attributes (.dbf), system (.prj), code page (.cpg). Here they are one:
// a zip of them, or the geometry alone.

export interface ShapefileParts {
  name: string;
  shp: Uint8Array;
  dbf: Uint8Array | null;
  prj: Uint8Array | null;
  cpg: Uint8Array | null;
}

/** First number of the geometry, big-endian (ESRI Shapefile Technical Description, 1998). */
const isGeometry = (bytes: Uint8Array): boolean =>
  bytes[0] === 0 && bytes[1] === 0 && bytes[2] === 0x27 && bytes[3] === 0x0a;
const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;

const ENDINGS = ['shp', 'dbf', 'prj', 'cpg'] as const;
/** Files that come with it and say nothing that is read: indexes, descriptions. */
const BESIDE = /\.(shx|sbn|sbx|qix|qpj|fix|shp\.xml)$/i;
const LARGEST = 256 * 1024 * 1024;

const endingOf = (name: string): string => name.slice(name.lastIndexOf('.') + 1).toLowerCase();
const stemOf = (name: string): string => name.slice(name.lastIndexOf('/') + 1).replace(/(\.shp)?\.[^.]+$/i, '');

/** Whether a file belongs to a Shapefile by its name. */
export const isShapefilePart = (name: string): boolean =>
  (ENDINGS as readonly string[]).includes(endingOf(name)) || BESIDE.test(name);
/** Files of one Shapefile have this in common. */
export const shapefileStem = (name: string): string => stemOf(name).toLowerCase();

/** Files of one Shapefile as one file. */
export function packShapefile(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const wanted = [...files].filter(([name]) => (ENDINGS as readonly string[]).includes(endingOf(name)));
  return zipSync(Object.fromEntries(wanted), { level: 0 });
}

/** Whether a file is a Shapefile: its geometry, or a zip with the files of one. */
export function isShapefile(bytes: Uint8Array): boolean {
  if (isGeometry(bytes)) return true;
  if (!isZip(bytes)) return false;
  try {
    return namesIn(bytes).some((n) => endingOf(n) === 'shp');
  } catch {
    return false;
  }
}

function namesIn(zip: Uint8Array): string[] {
  const names: string[] = [];
  unzipSync(zip, { filter: ({ name }) => (names.push(name), false) });
  return names;
}

/** The parts of a Shapefile, of a zip the first one in it; throws what is wrong, in words. */
export function shapefileParts(bytes: Uint8Array): ShapefileParts {
  if (isGeometry(bytes)) return { name: '', shp: bytes, dbf: null, prj: null, cpg: null };
  const first = namesIn(bytes).filter((n) => endingOf(n) === 'shp').sort()[0]; // prettier-ignore
  let left = LARGEST;
  const files = unzipSync(bytes, {
    filter: ({ name, originalSize }) => {
      if (shapefileStem(name) !== shapefileStem(first) || !(ENDINGS as readonly string[]).includes(endingOf(name))) return false; // prettier-ignore
      left -= originalSize;
      if (left < 0) throw new Error('it unpacks to more than 256 MB. Split it');
      return true;
    },
  });
  const part = (ending: string): Uint8Array | null => Object.entries(files).find(([n]) => endingOf(n) === ending)?.[1] ?? null; // prettier-ignore
  return { name: stemOf(first), shp: part('shp')!, dbf: part('dbf'), prj: part('prj'), cpg: part('cpg') };
}
