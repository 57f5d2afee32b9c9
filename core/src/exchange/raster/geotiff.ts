/** Values on a regular grid, rows from north to south, west to east in each; NaN where there is none. */
export interface GridValues {
  /** North-west corner of the first cell, and side of a cell, m. */
  west: number;
  north: number;
  cell: number;
  columns: number;
  rows: number;
  values: Float32Array;
}

/** Cells without a value. */
export const NO_VALUE = -9999;

const SHORT = 3;
const LONG = 4;
const DOUBLE = 12;
const ASCII = 2;
const SIZE: Record<number, number> = { [SHORT]: 2, [LONG]: 4, [DOUBLE]: 8, [ASCII]: 1 };

/**
 * A grid as a GeoTIFF (OGC 19-008r4, TIFF 6.0): one band of 32-bit floats, uncompressed, little-endian, a value for the area of
 * each cell. `epsg` names the projected system; without one the coordinates are told and their system is not.
 */
export function writeGeoTiff(grid: GridValues, epsg: number | null): Uint8Array {
  const { west, north, cell, columns, rows, values } = grid;
  const nodata = [...`${NO_VALUE}\0`].map((c) => c.charCodeAt(0));
  const geoKeys = epsg === null ? [] : [1, 1, 0, 3, 1024, 0, 1, 1, 1025, 0, 1, 1, 3072, 0, 1, epsg];
  const tags: [tag: number, type: number, values: readonly number[]][] = [
    [256, LONG, [columns]],
    [257, LONG, [rows]],
    [258, SHORT, [32]],
    [259, SHORT, [1]],
    [262, SHORT, [1]],
    // Where the values begin: filled in below.
    [273, LONG, [0]],
    [277, SHORT, [1]],
    [278, LONG, [rows]],
    [279, LONG, [4 * columns * rows]],
    [339, SHORT, [3]],
    [33550, DOUBLE, [cell, cell, 0]],
    [33922, DOUBLE, [0, 0, 0, west, north, 0]],
    ...(geoKeys.length ? [[34735, SHORT, geoKeys] as [number, number, number[]]] : []),
    [42113, ASCII, nodata],
  ];
  const directory = 8;
  let beyond = directory + 2 + 12 * tags.length + 4;
  const placed = tags.map(([, type, list]) => {
    const bytes = SIZE[type] * list.length;
    if (bytes <= 4) return -1;
    const at = beyond;
    beyond += bytes + (bytes % 2);
    return at;
  });
  const data = beyond + (beyond % 4 ? 4 - (beyond % 4) : 0);
  tags.find(([tag]) => tag === 273)![2] = [data];
  const out = new Uint8Array(data + 4 * columns * rows);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, directory, true);
  view.setUint16(directory, tags.length, true);
  const put = (at: number, type: number, v: number): void => {
    if (type === SHORT) view.setUint16(at, v, true);
    else if (type === LONG) view.setUint32(at, v, true);
    else if (type === DOUBLE) view.setFloat64(at, v, true);
    else view.setUint8(at, v);
  };
  tags.forEach(([tag, type, list], i) => {
    const entry = directory + 2 + 12 * i;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, list.length, true);
    const at = placed[i] < 0 ? entry + 8 : placed[i];
    if (placed[i] >= 0) view.setUint32(entry + 8, at, true);
    list.forEach((v, k) => put(at + k * SIZE[type], type, v));
  });
  for (let i = 0; i < values.length; i++)
    view.setFloat32(data + 4 * i, Number.isNaN(values[i]) ? NO_VALUE : values[i], true);
  return out;
}
