import { packColumns, unpackColumns, type Columns } from '#core/kernel';
import type { Surface } from '#core/terrain';

// A surface as one block of typed columns.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;
const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const u8 = (c: Columns, name: string): Uint8Array => c[name] as Uint8Array;

export function packSurface(s: Surface): Uint8Array {
  return packColumns({ ...s });
}

export function unpackSurface(block: Uint8Array): Surface {
  const c = unpackColumns(block);
  return {
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    triangles: u32(c, 'triangles'),
    neighbours: c.neighbours as Int32Array,
    breakSides: u8(c, 'breakSides'),
    point: u32(c, 'point'),
  };
}
