import {
  onceFor,
  packColumns,
  stringColumn,
  stringsOf,
  unpackColumns,
  type Columns,
  type StringColumn,
} from '#core/kernel';
import type { PointTable } from './points.ts';

// The point table as one block of typed columns.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;
const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const u8 = (c: Columns, name: string): Uint8Array => c[name] as Uint8Array;
const text = (c: Columns, name: string): string[] => stringsOf(c[name] as StringColumn);

/** Numbers and codes stay as they are while heights change. */
const packedText = onceFor((values: readonly string[]) => stringColumn(values));

export function packPoints(p: PointTable): Uint8Array {
  return packColumns({ ...p, number: packedText(p.number), description: packedText(p.description) });
}

export function unpackPoints(block: Uint8Array): PointTable {
  const c = unpackColumns(block);
  return {
    intake: u32(c, 'intake'),
    fileRow: u32(c, 'fileRow'),
    number: text(c, 'number'),
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    description: text(c, 'description'),
    state: u8(c, 'state'),
    edited: u8(c, 'edited'),
    light: u8(c, 'light'),
    sdPlan: c.sdPlan as Float32Array,
    sdHeight: c.sdHeight as Float32Array,
    date: u32(c, 'date'),
  };
}
