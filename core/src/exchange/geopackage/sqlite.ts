import { columnsOfTable } from './create-table.ts';

// Tables of an SQLite database from its bytes, as far as reading them asks for (SQLite, "Database File Format"): pages of
// table trees, records, overflow pages. Nothing is written, no SQL is run.

export type Value = number | string | Uint8Array | null;
export type Row = Record<string, Value>;

const SIGN = 'SQLite format 3\0';
const [INTERIOR, LEAF] = [5, 13];
const DEEPEST = 30;
const MOST_ROWS = 5_000_000;

export const isSqlite = (bytes: Uint8Array): boolean => [...SIGN].every((c, i) => bytes[i] === c.charCodeAt(0));

/** Why a database cannot be read on. */
export class DamagedDatabase extends Error {
  readonly isDamaged = true;
}

interface Table {
  name: string;
  root: number;
  columns: { name: string; isRowid: boolean }[];
}

export class SqliteFile {
  private readonly view: DataView;
  private readonly pageSize: number;
  /** Bytes of a page that hold what is told. */
  private readonly usable: number;
  private readonly letters: TextDecoder;
  private readonly tables = new Map<string, Table>();
  /** Bytes of records that do not fit into their pages, so far. */
  private overflowed = 0;

  /** @throws DamagedDatabase where its first pages cannot be read */
  constructor(private readonly bytes: Uint8Array) {
    if (!isSqlite(bytes) || bytes.length < 512) throw new DamagedDatabase('its header breaks off');
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const size = this.view.getUint16(16);
    this.pageSize = size === 1 ? 65536 : size;
    this.usable = this.pageSize - bytes[20];
    if (this.pageSize < 512 || (this.pageSize & (this.pageSize - 1)) !== 0 || this.usable < 480)
      throw new DamagedDatabase('its pages have no size');
    this.letters = new TextDecoder(['utf-8', 'utf-8', 'utf-16le', 'utf-16be'][this.view.getUint32(56)] ?? 'utf-8');
    for (const row of this.records(1)) {
      const [type, name, , root, sql] = row.values;
      if (type !== 'table' || typeof name !== 'string' || typeof root !== 'number' || typeof sql !== 'string') continue;
      this.tables.set(name.toLowerCase(), { name, root, columns: columnsOfTable(sql) });
    }
  }

  has(table: string): boolean {
    return this.tables.has(table.toLowerCase());
  }

  /** Rows of a table, by the names of its columns in small letters; none of a table that is not there. */
  *rows(table: string): Generator<Row> {
    const found = this.tables.get(table.toLowerCase());
    if (!found) return;
    let count = 0;
    for (const { rowid, values } of this.records(found.root)) {
      if (++count > MOST_ROWS) throw new DamagedDatabase(`table ${found.name} has more than ${MOST_ROWS} rows`);
      const row: Row = Object.create(null) as Row;
      found.columns.forEach(({ name, isRowid }, i) => {
        row[name.toLowerCase()] = isRowid ? rowid : (values[i] ?? null);
      });
      yield row;
    }
  }

  /** Records of the tree whose root is a page, in the order of their row ids. */
  private *records(root: number): Generator<{ rowid: number; values: Value[] }> {
    const seen = new Set<number>();
    const stack = [{ page: root, depth: 0 }];
    while (stack.length) {
      const { page, depth } = stack.pop()!;
      if (seen.has(page) || depth > DEEPEST) throw new DamagedDatabase(`page ${page} is reached twice`);
      seen.add(page);
      const start = this.startOf(page);
      const head = page === 1 ? start + 100 : start;
      const kind = this.bytes[head];
      const cells = this.view.getUint16(head + 3);
      if (kind !== LEAF && kind !== INTERIOR) throw new DamagedDatabase(`page ${page} is no page of a table`);
      const list = head + (kind === LEAF ? 8 : 12);
      if (list + 2 * cells > start + this.pageSize) throw new DamagedDatabase(`page ${page} has ${cells} cells`);
      const at = (i: number): number => this.within(page, this.view.getUint16(list + 2 * i), 4);
      if (kind === INTERIOR) {
        // The last comes first off the stack.
        stack.push({ page: this.view.getUint32(head + 8), depth: depth + 1 });
        for (let i = cells - 1; i >= 0; i--) stack.push({ page: this.view.getUint32(at(i)), depth: depth + 1 });
      } else for (let i = 0; i < cells; i++) yield this.record(page, at(i));
    }
  }

  private record(page: number, cell: number): { rowid: number; values: Value[] } {
    const size = this.varint(cell);
    const rowid = this.varint(size.next);
    const payload = this.payload(page, rowid.next, size.value);
    return { rowid: rowid.value, values: valuesOf(payload, this.letters) };
  }

  /** What a cell holds: in it, as much as has room, and on overflow pages one after another. */
  private payload(page: number, from: number, size: number): Uint8Array {
    const { usable, bytes } = this;
    if (size > bytes.length) throw new DamagedDatabase(`a record of page ${page} is larger than the file`);
    const most = usable - 35;
    const least = Math.floor(((usable - 12) * 32) / 255) - 23;
    const rest = least + ((size - least) % (usable - 4));
    const local = size <= most ? size : rest <= most ? rest : least;
    this.within(page, from - this.startOf(page), local + (local < size ? 4 : 0));
    if (local === size) return bytes.subarray(from, from + size);
    // Each page belongs to one record: what asks for more goes round.
    this.overflowed += size;
    if (this.overflowed > bytes.length) throw new DamagedDatabase('its overflow pages are used twice');
    const out = new Uint8Array(size);
    out.set(bytes.subarray(from, from + local));
    let filled = local;
    let next = this.view.getUint32(from + local);
    while (filled < size) {
      const start = this.startOf(next);
      const some = Math.min(size - filled, usable - 4);
      out.set(bytes.subarray(start + 4, start + 4 + some), filled);
      filled += some;
      next = this.view.getUint32(start);
    }
    return out;
  }

  private startOf(page: number): number {
    const start = (page - 1) * this.pageSize;
    if (page < 1 || start + this.pageSize > this.bytes.length) throw new DamagedDatabase(`page ${page} is beyond its end`); // prettier-ignore
    return start;
  }

  /** A place of a page with so many bytes behind it. */
  private within(page: number, offset: number, size: number): number {
    if (offset < 0 || offset + size > this.pageSize) throw new DamagedDatabase(`a cell of page ${page} is beyond its end`); // prettier-ignore
    return this.startOf(page) + offset;
  }

  private varint(at: number): { value: number; next: number } {
    return varintIn(this.bytes, at);
  }
}

/** Seven bits a byte, the highest says that more come; of the ninth all eight. Numbers beyond 2⁵³ are not exact. */
function varintIn(bytes: Uint8Array, at: number): { value: number; next: number } {
  let value = 0;
  for (let i = 0; i < 9; i++) {
    const byte = bytes[at + i];
    if (byte === undefined) throw new DamagedDatabase('a number breaks off');
    if (i === 8) return { value: value * 256 + byte, next: at + 9 };
    value = value * 128 + (byte & 127);
    if (byte < 128) return { value, next: at + i + 1 };
  }
  return { value, next: at + 9 };
}

/** Bytes of the whole numbers by their serial types. */
const SIZES = [0, 1, 2, 3, 4, 6, 8, 8, 0, 0];

function valuesOf(record: Uint8Array, letters: TextDecoder): Value[] {
  const head = varintIn(record, 0);
  if (head.value > record.length) throw new DamagedDatabase('the head of a record is longer than it');
  const view = new DataView(record.buffer, record.byteOffset, record.byteLength);
  const values: Value[] = [];
  let body = head.value;
  for (let at = head.next; at < head.value;) {
    const { value: type, next } = varintIn(record, at);
    at = next;
    const size = type < SIZES.length ? SIZES[type] : Math.floor((type - 12) / 2);
    if (type === 10 || type === 11 || body + size > record.length) throw new DamagedDatabase('a record breaks off');
    values.push(valueAt(record, view, body, type, size, letters));
    body += size;
  }
  return values;
}

function valueAt(
  record: Uint8Array,
  view: DataView,
  at: number,
  type: number,
  size: number,
  letters: TextDecoder,
): Value {
  if (type === 0) return null;
  if (type === 7) return view.getFloat64(at);
  if (type === 8 || type === 9) return type - 8;
  if (type >= 12) return type % 2 ? letters.decode(record.subarray(at, at + size)) : record.subarray(at, at + size);
  let value = view.getInt8(at);
  for (let i = 1; i < size; i++) value = value * 256 + record[at + i];
  return value;
}
