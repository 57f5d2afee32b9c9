import { plainNumber } from '#core/measure';

// A drawing as its records: a group code in one line, its value in the next; group 0 begins a record (DXF reference). Read from
// bytes: a value is a range of them until somebody asks for it.

const NEW_LINE = 10;
const RETURN = 13;
const BLANK = 32;
const MOST_CODE = 1100;
/** What follows it speaks of something within the record, in codes of the record's own. */
const EMBEDDED = 101;
const COMMENT = 999;
/** Powers of ten that a double has exactly. */
export const TEN = Array.from({ length: 23 }, (_, k) => Number(`1e${k}`));
/** Digits that a double has exactly, whatever they are. */
export const MOST_DIGITS = 15;

/** Behind all bytes, so that no search for the end of a line goes beyond them. */
const END = new Uint8Array([NEW_LINE]);
const NO_BYTES: Uint8Array = new Uint8Array(0);

/** A record: its groups in their order, and each by its code, of several the last. Lent until the next one comes. */
export class DxfRecord {
  /** What group 0 says. */
  kind = '';
  /** Line of the file where it begins. */
  line = 0;
  count = 0;
  codes = new Int16Array(256);
  private starts = new Int32Array(256);
  private ends = new Int32Array(256);
  private readonly at = new Int32Array(MOST_CODE);
  private readonly of = new Int32Array(MOST_CODE);
  private number = 0;
  private bytes: Uint8Array = NO_BYTES;
  private decode: (bytes: Uint8Array) => string = plainText;
  /** Names come again and again: each is made once. */
  private readonly names = new Map<number, { bytes: Uint8Array; name: string }>();

  begin(bytes: Uint8Array, from: number, to: number, line: number): void {
    this.bytes = bytes;
    this.kind = this.nameIn(from, to);
    this.line = line;
    this.count = 0;
    this.number++;
  }

  add(code: number, from: number, to: number): void {
    const i = this.count;
    if (i === this.codes.length) this.grow();
    this.codes[i] = code;
    this.starts[i] = from;
    this.ends[i] = to;
    this.count = i + 1;
    if (code < 0 || code >= MOST_CODE) return;
    this.at[code] = i;
    this.of[code] = this.number;
  }

  /** How letters beyond ASCII are written. */
  written(decode: (bytes: Uint8Array) => string): void {
    this.decode = decode;
    this.names.clear();
  }

  has(code: number): boolean {
    return this.of[code] === this.number;
  }

  /** Place of a group among the record's, by its code; -1 where there is none. */
  indexOf(code: number): number {
    return this.has(code) ? this.at[code] : -1;
  }

  /** Text of a group as it stands; '' where there is none. */
  text(code: number): string {
    return this.has(code) ? this.textAt(this.at[code]) : '';
  }

  textAt(i: number): string {
    return this.decoded(this.starts[i], this.ends[i]);
  }

  /** Text without blanks around it. */
  name(code: number): string {
    const i = this.indexOf(code);
    return i < 0 ? '' : this.nameIn(this.starts[i], this.ends[i]);
  }

  /** Number of the group in some place; NaN where it is none. */
  numberAt(i: number): number {
    return numberIn(this.bytes, this.starts[i], this.ends[i]);
  }

  private nameIn(from: number, to: number): string {
    const { bytes } = this;
    while (from < to && bytes[from] <= BLANK) from++;
    while (from < to && bytes[to - 1] <= BLANK) to--;
    // FNV-1a (Fowler, Noll, Vo), 32 bits.
    let hash = 0x811c9dc5;
    for (let i = from; i < to; i++) hash = Math.imul(hash ^ bytes[i], 0x01000193);
    const known = this.names.get(hash);
    if (known && same(known.bytes, bytes, from, to)) return known.name;
    const name = this.decoded(from, to);
    if (!known && this.names.size < 100_000) this.names.set(hash, { bytes: bytes.slice(from, to), name });
    return name;
  }

  private decoded(from: number, to: number): string {
    for (let i = from; i < to; i++) if (this.bytes[i] > 127) return this.decode(this.bytes.subarray(from, to));
    return plainText(this.bytes.subarray(from, to));
  }

  private grow(): void {
    const size = this.codes.length * 2;
    const codes = new Int16Array(size);
    codes.set(this.codes);
    this.codes = codes;
    const [starts, ends] = [new Int32Array(size), new Int32Array(size)];
    starts.set(this.starts);
    ends.set(this.ends);
    [this.starts, this.ends] = [starts, ends];
  }
}

const same = (name: Uint8Array, bytes: Uint8Array, from: number, to: number): boolean => {
  if (name.length !== to - from) return false;
  for (let i = 0; i < name.length; i++) if (name[i] !== bytes[from + i]) return false;
  return true;
};

const PIECE = 4096;
function plainText(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i < bytes.length; i += PIECE) out += String.fromCharCode(...bytes.subarray(i, i + PIECE));
  return out;
}

/** A number as a file writes it; NaN of anything else. One of few digits is made of whole numbers, to the last bit. */
export function numberIn(bytes: Uint8Array, from: number, to: number): number {
  let i = from;
  while (i < to && bytes[i] <= BLANK) i++;
  const minus = bytes[i] === 45;
  if (minus) i++;
  const first = i;
  let whole = 0;
  let point = -1;
  for (; i < to; i++) {
    const c = bytes[i];
    if (c >= 48 && c <= 57) whole = whole * 10 + c - 48;
    else if (c === 46 && point < 0) point = i;
    else break;
  }
  const digits = i - first - (point < 0 ? 0 : 1);
  const behind = point < 0 ? 0 : i - point - 1;
  while (i < to && bytes[i] <= BLANK) i++;
  if (i < to || digits === 0 || digits > MOST_DIGITS) return plainNumber(plainText(bytes.subarray(from, to)));
  const value = behind > 0 ? whole / TEN[behind] : whole;
  return minus ? -value : value;
}

/** Cuts bytes, as they come, into records. */
export class DxfRecords {
  readonly record = new DxfRecord();
  /** Why reading stopped before the end, and where. */
  stopped: { line: number; what: string } | null = null;
  /** Lines read. */
  line = 0;
  private rest: Uint8Array = NO_BYTES;
  private waiting: Uint8Array[] = [];
  private waitingSize = 0;
  private begun = false;

  /** `each` is given every record that is whole and says whether to go on. */
  constructor(private readonly each: (record: DxfRecord) => boolean) {}

  /** Takes the next bytes of a file; false where no more are wanted. */
  feed(bytes: Uint8Array, last: boolean): boolean {
    this.waiting.push(bytes);
    this.waitingSize += bytes.length;
    // A record that is longer than what has come is not looked through again for each piece of it.
    if (!last && this.waitingSize < this.rest.length) return true;
    const all = joined([this.rest, ...this.waiting, END]);
    this.waiting = [];
    this.waitingSize = 0;
    const from = this.begun ? 0 : headEnd(all);
    this.begun = true;
    const kept = this.cut(all, from, last);
    if (kept < 0) return false;
    this.rest = all.subarray(kept, all.length - 1);
    return true;
  }

  /** Where the record begins that is not whole yet; -1 where reading is over. Behind the bytes stands the end of a line. */
  private cut(bytes: Uint8Array, from: number, last: boolean): number {
    const { record } = this;
    const size = bytes.length - 1;
    let pos = from;
    let start = from;
    let lineOfStart = this.line;
    let line = this.line;
    let open = false;
    let embedded = false;
    while (pos < size) {
      // The code: digits, most often behind blanks and before the end of the line.
      let i = pos;
      let c = bytes[i];
      while (c === BLANK || c === 9) c = bytes[++i];
      const minus = c === 45;
      if (minus) c = bytes[++i];
      let code = 0;
      const first = i;
      while (c >= 48 && c <= 57) {
        code = code * 10 + c - 48;
        c = bytes[++i];
      }
      const plain = i > first && i - first < 6;
      while (c === RETURN || c === BLANK || c === 9) c = bytes[++i];
      if (i < size ? c !== NEW_LINE || !plain : last && !plain) {
        let end = bytes.indexOf(NEW_LINE, pos);
        if (end < 0) end = size;
        if (end === size && !last) break;
        if (open && !this.each(record)) return -1;
        return this.stop(line + 1, `“${plainText(bytes.subarray(pos, Math.min(end, pos + 30))).replace(/\r$/, '')}” is where a group code belongs; reading stopped there`); // prettier-ignore
      }
      if (i >= size) {
        if (!last) break;
        if (open && !this.each(record)) return -1;
        return this.stop(line + 1, 'the file ends between a group code and its value');
      }
      // Its value.
      const begin = i + 1;
      let end = Math.min(begin, size);
      while (bytes[end] !== NEW_LINE) end++;
      if (end === size && (!last || begin >= size)) {
        if (!last) break;
        if (open && !this.each(record)) return -1;
        return this.stop(line + 1, 'the file ends between a group code and its value');
      }
      const to = end > begin && bytes[end - 1] === RETURN ? end - 1 : end;
      if (code === 0) {
        if (open && !this.each(record)) return -1;
        start = pos;
        lineOfStart = line;
        record.begin(bytes, begin, to, line + 2);
        open = true;
        embedded = false;
      } else if (open) {
        if (code === EMBEDDED) embedded = true;
        else if (code !== COMMENT && !embedded) record.add(minus ? -code : code, begin, to);
      } else if (code !== COMMENT) return this.stop(line + 1, 'a drawing begins with a section'); // prettier-ignore
      line += 2;
      pos = end + 1;
    }
    if (last) {
      this.line = line;
      if (open) this.each(record);
      return -1;
    }
    this.line = lineOfStart;
    return start;
  }

  private stop(line: number, what: string): -1 {
    this.line = line;
    this.stopped = { line, what };
    return -1;
  }
}

/** Behind the mark of byte order. */
const headEnd = (bytes: Uint8Array): number => (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0);

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}
