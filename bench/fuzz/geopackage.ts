// A small GeoPackage, to be damaged: a point and a line in space in one table (SQLite, "Database File Format"; OGC 12-128).

const PAGE = 512;
const text = new TextEncoder();
type Cell = number | string | Uint8Array | null;

/** A record of few and short values: each length in one byte. */
function record(values: readonly Cell[]): Uint8Array {
  const parts = values.map((v): { type: number; body: Uint8Array } => {
    if (v === null) return { type: 0, body: new Uint8Array(0) };
    if (typeof v === 'number') return { type: 4, body: new Uint8Array([v >> 24, v >> 16, v >> 8, v]) };
    const body = typeof v === 'string' ? text.encode(v) : v;
    return { type: 2 * body.length + (typeof v === 'string' ? 13 : 12), body };
  });
  const types = parts.flatMap(({ type }) => (type < 128 ? [type] : [(type >> 7) | 128, type & 127]));
  return Uint8Array.from([types.length + 1, ...types, ...parts.flatMap(({ body }) => [...body])]);
}

/** A leaf of a table tree with rows from 1 on. */
function leaf(rows: readonly (readonly Cell[])[], head = 0): Uint8Array {
  const page = new Uint8Array(PAGE);
  const view = new DataView(page.buffer);
  let end = PAGE;
  page[head] = 13;
  view.setUint16(head + 3, rows.length);
  rows.forEach((values, i) => {
    const body = record(values);
    const size = body.length < 128 ? [body.length] : [(body.length >> 7) | 128, body.length & 127];
    const cell = Uint8Array.from([...size, i + 1, ...body]);
    end -= cell.length;
    page.set(cell, end);
    view.setUint16(head + 8 + 2 * i, end);
  });
  view.setUint16(head + 5, end);
  return page;
}

/** A head without an extent, and well-known binary of places in space. */
function geometry(kind: number, places: readonly (readonly number[])[]): Uint8Array {
  const isLine = kind === 2;
  const out = new Uint8Array(8 + 5 + (isLine ? 4 : 0) + 24 * places.length);
  const view = new DataView(out.buffer);
  out.set([0x47, 0x50, 0, 1]);
  out[8] = 1;
  view.setUint32(9, 1000 + kind, true);
  if (isLine) view.setUint32(13, places.length, true);
  places.flat().forEach((v, i) => view.setFloat64((isLine ? 17 : 13) + 8 * i, v, true));
  return out;
}

export function geoPackage(): Uint8Array {
  const tables: [name: string, sql: string, rows: Cell[][]][] = [
    ['gpkg_contents', 'CREATE TABLE gpkg_contents (table_name TEXT, data_type TEXT)', [['a', 'features']]],
    ['gpkg_geometry_columns', 'CREATE TABLE gpkg_geometry_columns (table_name TEXT, column_name TEXT, srs_id INTEGER)', [['a', 'g', -1]]], // prettier-ignore
    ['a', 'CREATE TABLE a (fid INTEGER PRIMARY KEY, g BLOB, code TEXT)', [[null, geometry(1, [[5, 6, 7]]), 'TR'], [null, geometry(2, [[0, 0, 5], [9, 1, 6]]), 'KB']]], // prettier-ignore
  ];
  const schema = leaf(tables.map(([name, sql], i) => ['table', name, name, i + 2, sql]), 100); // prettier-ignore
  schema.set(text.encode('SQLite format 3\0'));
  const view = new DataView(schema.buffer);
  view.setUint16(16, PAGE);
  view.setUint32(56, 1);
  const pages = [schema, ...tables.map(([, , rows]) => leaf(rows))];
  const out = new Uint8Array(PAGE * pages.length);
  pages.forEach((p, i) => out.set(p, i * PAGE));
  return out;
}
