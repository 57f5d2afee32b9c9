import { packColumns, unpackColumns, type Columns } from '#core/kernel';
import type { Contour } from '#core/terrain';

// Contours as one block of typed columns.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;
const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const u8 = (c: Columns, name: string): Uint8Array => c[name] as Uint8Array;

export function packContours(list: Contour[]): Uint8Array {
  const offsets = new Uint32Array(list.length + 1);
  list.forEach((l, i) => (offsets[i + 1] = offsets[i] + l.line.length));
  const places = new Float64Array(offsets[list.length]);
  list.forEach((l, i) => places.set(l.line, offsets[i]));
  return packColumns({
    offsets,
    places,
    elevation: Float64Array.from(list, (l) => l.elevation),
    flags: Uint8Array.from(list, (l) => (l.index ? 1 : 0) | (l.closed ? 2 : 0)),
  });
}

export function unpackContours(block: Uint8Array): Contour[] {
  const c = unpackColumns(block);
  const offsets = u32(c, 'offsets');
  const places = f64(c, 'places');
  const flags = u8(c, 'flags');
  return Array.from(f64(c, 'elevation'), (elevation, i) => ({
    elevation,
    index: (flags[i] & 1) !== 0,
    closed: (flags[i] & 2) !== 0,
    line: places.subarray(offsets[i], offsets[i + 1]),
  }));
}
