/** A column of strings kept as one run of UTF-8 with offsets, so that hundreds of thousands of them stay light. */
export interface StringColumn {
  /** n + 1 offsets into `bytes`. */
  offsets: Uint32Array;
  bytes: Uint8Array;
}

export function stringColumn(values: readonly string[]): StringColumn {
  const encoder = new TextEncoder();
  const offsets = new Uint32Array(values.length + 1);
  const bytes = encoder.encode(values.join(''));
  let at = 0;
  for (let i = 0; i < values.length; i++) {
    at += byteLength(values[i]);
    offsets[i + 1] = at;
  }
  return { offsets, bytes };
}

/** A column's texts as one text, and where in it each begins, n + 1 places: decoded in one go, since n cost far more. */
export function joinedText({ bytes, offsets }: StringColumn): { text: string; starts: Uint32Array } {
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
  if (text.length === bytes.length) return { text, starts: offsets };
  const starts = new Uint32Array(offsets.length);
  let units = 0;
  let row = 0;
  for (let at = 0; at <= bytes.length; at++) {
    while (row < offsets.length && offsets[row] === at) starts[row++] = units;
    // Every byte but those that continue a character begins one; four bytes are two units.
    if ((bytes[at] & 0xc0) !== 0x80) units += bytes[at] >= 0xf0 ? 2 : 1;
  }
  return { text, starts };
}

export function stringsOf(column: StringColumn): string[] {
  const { text, starts } = joinedText(column);
  const out: string[] = new Array(starts.length - 1);
  for (let i = 0; i < out.length; i++) out[i] = text.slice(starts[i], starts[i + 1]);
  return out;
}

function byteLength(value: string): number {
  let length = 0;
  for (let i = 0; i < value.length; i++) {
    const c = value.charCodeAt(i);
    if (c < 0x80) length += 1;
    else if (c < 0x800) length += 2;
    else if (c >= 0xd800 && c < 0xdc00 && i + 1 < value.length && (value.charCodeAt(i + 1) & 0xfc00) === 0xdc00) {
      length += 4;
      i++;
    } else length += 3;
  }
  return length;
}

/** Orders texts as people count: digits by value, so that 9 comes before 10, and all else by character. */
export function naturally(a: string, b: string): number {
  let [i, j] = [0, 0];
  while (i < a.length && j < b.length) {
    if (isDigit(a, i) && isDigit(b, j)) {
      let [iEnd, jEnd] = [i, j];
      while (isDigit(a, iEnd)) iEnd++;
      while (isDigit(b, jEnd)) jEnd++;
      const [p, q] = [a.slice(i, iEnd).replace(/^0+/, ''), b.slice(j, jEnd).replace(/^0+/, '')];
      if (p.length !== q.length) return p.length - q.length;
      if (p !== q) return p < q ? -1 : 1;
      [i, j] = [iEnd, jEnd];
    } else {
      if (a[i] !== b[j]) return a[i] < b[j] ? -1 : 1;
      i++;
      j++;
    }
  }
  return a.length - i - (b.length - j);
}

const isDigit = (text: string, at: number): boolean => text.charCodeAt(at) >= 48 && text.charCodeAt(at) <= 57;
