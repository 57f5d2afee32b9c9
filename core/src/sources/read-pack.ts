import { packColumns, stringColumn, stringsOf, unpackColumns, type Columns, type StringColumn } from '#core/kernel';
import type { ReadPoints, Underlay } from '#core/exchange';
import { bookColumns, bookOfColumns } from './book-pack.ts';

// What was read of a file, as one block of typed columns.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;
const u32 = (c: Columns, name: string): Uint32Array => c[name] as Uint32Array;
const text = (c: Columns, name: string): string[] => stringsOf(c[name] as StringColumn);
const json = (value: unknown): StringColumn => stringColumn([JSON.stringify(value)]);
const unjson = <T>(c: Columns, name: string): T => JSON.parse(text(c, name)[0]) as T;

export function packRead(read: ReadPoints): Uint8Array {
  const { number, x, y, z, description, row, book, triangles, underlay, sdPlan, sdHeight, ...account } = read;
  return packColumns({
    x,
    y,
    z,
    row,
    number: stringColumn(number),
    description: stringColumn(description),
    account: json(account),
    ...(triangles ? { triangles } : {}),
    ...(sdPlan && sdHeight ? { sdPlan, sdHeight } : {}),
    ...(underlay ? underlayColumns(underlay) : {}),
    ...(book ? bookColumns(book) : {}),
  });
}

export function unpackRead(block: Uint8Array): ReadPoints {
  const c = unpackColumns(block);
  const book = bookOfColumns(c);
  return {
    ...(book ? { book } : {}),
    ...('triangles' in c ? { triangles: u32(c, 'triangles') } : {}),
    ...('sdPlan' in c ? { sdPlan: c.sdPlan as Float32Array, sdHeight: c.sdHeight as Float32Array } : {}),
    ...('underStarts' in c ? { underlay: underlayOf(c) } : {}),
    x: f64(c, 'x'),
    y: f64(c, 'y'),
    z: f64(c, 'z'),
    row: u32(c, 'row'),
    number: text(c, 'number'),
    description: text(c, 'description'),
    ...unjson<Omit<ReadPoints, 'x' | 'y' | 'z' | 'row' | 'number' | 'description' | 'sdPlan' | 'sdHeight'>>(
      c,
      'account',
    ),
  };
}

const underlayColumns = ({ x, y, z, starts, kinds, names }: Underlay): Columns => ({
  underX: x,
  underY: y,
  underZ: z,
  underStarts: starts,
  underKinds: kinds,
  underNames: stringColumn(names),
});

const underlayOf = (c: Columns): Underlay => ({
  x: f64(c, 'underX'),
  y: f64(c, 'underY'),
  z: f64(c, 'underZ'),
  starts: u32(c, 'underStarts'),
  kinds: c.underKinds as Uint8Array,
  names: text(c, 'underNames'),
});
