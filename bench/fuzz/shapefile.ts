import { strToU8, zipSync } from 'fflate';

/** A small Shapefile as a zip, to be damaged: a line of two parts in space, an area in plan, with attributes (ESRI, 1998; dBASE III). */
export function shapefile(): Uint8Array {
  const files = { 'a.shp': geometry(), 'a.dbf': attributes(), 'a.prj': strToU8('PROJCS["A",UNIT["metre",1]]'), 'a.cpg': strToU8('UTF-8') }; // prettier-ignore
  return zipSync(files, { level: 0 });
}

const LINE_IN_SPACE = 13;
/** Two lines: 0 0 5, 9 1 6; and 4 4 7, 5 5 8, 6 4 9. */
const PLACES = [[0, 0, 5], [9, 1, 6], [4, 4, 7], [5, 5, 8], [6, 4, 9]]; // prettier-ignore

function geometry(): Uint8Array {
  const n = PLACES.length;
  const content = 4 + 32 + 8 + 8 + 16 * n + 16 + 8 * n;
  const bytes = new Uint8Array(100 + 2 * (8 + content));
  const view = new DataView(bytes.buffer);
  view.setInt32(0, 9994);
  view.setInt32(24, bytes.length / 2);
  view.setInt32(28, 1000, true);
  view.setInt32(32, LINE_IN_SPACE, true);
  for (const k of [0, 1]) {
    const at = 100 + k * (8 + content);
    view.setInt32(at, k + 1);
    view.setInt32(at + 4, content / 2);
    view.setInt32(at + 8, LINE_IN_SPACE, true);
    view.setInt32(at + 44, 2, true);
    view.setInt32(at + 48, n, true);
    view.setInt32(at + 52, 0, true);
    view.setInt32(at + 56, 2, true);
    PLACES.forEach(([x, y, z], i) => {
      view.setFloat64(at + 60 + 16 * i, x, true);
      view.setFloat64(at + 68 + 16 * i, y, true);
      view.setFloat64(at + 60 + 16 * n + 16 + 8 * i, z, true);
    });
  }
  return bytes;
}

function attributes(): Uint8Array {
  const fields: [name: string, type: string, length: number][] = [['LAYER', 'C', 6], ['ELEV', 'N', 5]]; // prettier-ignore
  const rows = ['KERB    5.1', 'WALL       '];
  const head = 33 + 32 * fields.length;
  const bytes = new Uint8Array(head + rows.length * 12 + 1).fill(32, head);
  const view = new DataView(bytes.buffer);
  bytes.set([3, 126, 1, 1]);
  view.setUint32(4, rows.length, true);
  view.setUint16(8, head, true);
  view.setUint16(10, 12, true);
  fields.forEach(([name, type, length], i) => {
    bytes.set(strToU8(name), 32 + 32 * i);
    bytes[32 + 32 * i + 11] = type.charCodeAt(0);
    bytes[32 + 32 * i + 16] = length;
  });
  bytes[head - 1] = 13;
  rows.forEach((r, i) => bytes.set(strToU8(r), head + 12 * i + 1));
  return bytes;
}
