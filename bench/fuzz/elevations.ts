// A small GeoTIFF of elevations, to be damaged: 3 × 2 floating numbers as they are (TIFF 6.0; OGC 19-008r4).

const [COLUMNS, ROWS] = [3, 2];
const HEIGHTS = [61, 62.5, 63, 60, -9999, 64.25];
const SHORT = 3;
const LONG = 4;
const DOUBLE = 12;

export function elevationTiff(): Uint8Array {
  const fields: [tag: number, type: number, values: number[]][] = [
    [256, SHORT, [COLUMNS]],
    [257, SHORT, [ROWS]],
    [258, SHORT, [32]],
    [259, SHORT, [1]],
    [273, LONG, [8]],
    [277, SHORT, [1]],
    [278, SHORT, [ROWS]],
    [279, LONG, [4 * HEIGHTS.length]],
    [339, SHORT, [3]],
    [33550, DOUBLE, [10, 10, 0]],
    [33922, DOUBLE, [0, 0, 0, 4200, 7800, 0]],
    [34735, SHORT, [1, 1, 0, 2, 1024, 0, 1, 1, 3076, 0, 1, 9001]],
  ];
  const directory = 8 + 4 * HEIGHTS.length;
  let far = directory + 2 + 12 * fields.length + 4;
  const bytes = new Uint8Array(far + 3 * 8 + 6 * 8 + 24);
  const view = new DataView(bytes.buffer);
  bytes.set([0x49, 0x49, 42]);
  view.setUint32(4, directory, true);
  HEIGHTS.forEach((h, i) => view.setFloat32(8 + 4 * i, h, true));
  view.setUint16(directory, fields.length, true);
  fields.forEach(([tag, type, values], i) => {
    const at = directory + 2 + 12 * i;
    const size = type === SHORT ? 2 : type === LONG ? 4 : 8;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, values.length, true);
    const isNear = size * values.length <= 4;
    if (!isNear) view.setUint32(at + 8, far, true);
    const from = isNear ? at + 8 : far;
    values.forEach((v, k) => {
      if (type === SHORT) view.setUint16(from + 2 * k, v, true);
      else if (type === LONG) view.setUint32(from + 4 * k, v, true);
      else view.setFloat64(from + 8 * k, v, true);
    });
    if (!isNear) far += size * values.length;
  });
  return bytes;
}
