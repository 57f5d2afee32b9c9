import type { StringColumn } from './strings.ts';

export type TypedArray = Float64Array | Float32Array | Uint32Array | Int32Array | Uint8Array;
export type Columns = Record<string, TypedArray | StringColumn>;

const MAGIC = 0x4b525544; // "DURK", read as little-endian
const KINDS = { f64: Float64Array, f32: Float32Array, u32: Uint32Array, i32: Int32Array, u8: Uint8Array } as const;
type Kind = keyof typeof KINDS;
type Entry = { name: string; kind: Kind; length: number } | { name: string; kind: 'str'; rows: number; length: number };

const kindOf = (a: TypedArray): Kind => (Object.keys(KINDS) as Kind[]).find((k) => a instanceof KINDS[k])!;

/**
 * Lays named columns into one little-endian block: magic, header length, a JSON header, then each
 * column on an 8-byte boundary. See docs/formats/columns.md.
 */
export function packColumns(columns: Columns): Uint8Array {
  const entries: Entry[] = [];
  const parts: Uint8Array[] = [];
  const view = (a: TypedArray): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
  for (const name of Object.keys(columns)) {
    const column = columns[name];
    if ('offsets' in column) {
      entries.push({ name, kind: 'str', rows: column.offsets.length - 1, length: column.bytes.length });
      parts.push(view(column.offsets), column.bytes);
    } else {
      entries.push({ name, kind: kindOf(column), length: column.length });
      parts.push(view(column));
    }
  }
  const header = new TextEncoder().encode(JSON.stringify(entries));
  let size = padded(8 + header.length);
  for (const part of parts) size += padded(part.length);
  const out = new Uint8Array(size);
  const head = new DataView(out.buffer);
  head.setUint32(0, MAGIC, true);
  head.setUint32(4, header.length, true);
  out.set(header, 8);
  let at = padded(8 + header.length);
  for (const part of parts) {
    out.set(part, at);
    at += padded(part.length);
  }
  return out;
}

/** Reads a block back; the columns are views on its memory. Throws Error on a block that is cut short or not one. */
export function unpackColumns(given: Uint8Array): Columns {
  // Views need their offset on a multiple of 8.
  const block = given.byteOffset % 8 === 0 ? given : given.slice();
  if (block.length < 8) throw new Error('The block of columns is cut short.');
  const head = new DataView(block.buffer, block.byteOffset, 8);
  if (head.getUint32(0, true) !== MAGIC) throw new Error('This is not a block of columns.');
  const headerLength = head.getUint32(4, true);
  const entries = JSON.parse(new TextDecoder().decode(block.subarray(8, 8 + headerLength))) as Entry[];
  let at = padded(8 + headerLength);
  const take = <K extends Kind>(kind: K, length: number): InstanceType<(typeof KINDS)[K]> => {
    const Type = KINDS[kind];
    if (at + length * Type.BYTES_PER_ELEMENT > block.length) throw new Error('The block of columns is cut short.');
    const array = new Type(block.buffer as ArrayBuffer, block.byteOffset + at, length);
    at += padded(array.byteLength);
    return array as InstanceType<(typeof KINDS)[K]>;
  };
  const columns: Columns = {};
  for (const entry of entries) {
    if (entry.kind === 'str')
      columns[entry.name] = { offsets: take('u32', entry.rows + 1), bytes: take('u8', entry.length) };
    else columns[entry.name] = take(entry.kind, entry.length);
  }
  return columns;
}

const padded = (n: number): number => (n + 7) & ~7;
