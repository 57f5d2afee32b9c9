import { inflateSync } from 'node:zlib';

const SIGNATURE = 0x774f4646;
const [HEADER, ENTRY] = [44, 20];
const [SFNT_HEADER, SFNT_ENTRY] = [12, 16];
/** No font that ships with us is larger. */
const LARGEST = 4 << 20;

const padded = (length: number): number => (length + 3) & ~3;

/** The OpenType font in a WOFF file (W3C, WOFF 1.0, sections 3 to 5): its tables unpacked behind a directory of their own. */
export function fontOfWoff(woff: Uint8Array): Uint8Array {
  const from = new DataView(woff.buffer, woff.byteOffset, woff.byteLength);
  if (from.getUint32(0) !== SIGNATURE) throw new Error('not a WOFF file');
  const count = from.getUint16(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = HEADER + ENTRY * i;
    const [tag, offset, packed, length, sum] = [0, 4, 8, 12, 16].map((k) => from.getUint32(at + k));
    const bytes = woff.subarray(offset, offset + packed);
    return { tag, sum, bytes: packed < length ? inflateSync(bytes, { maxOutputLength: Math.min(length, LARGEST) }) : bytes }; // prettier-ignore
  });
  const start = SFNT_HEADER + SFNT_ENTRY * count;
  const font = new Uint8Array(tables.reduce((size, t) => size + padded(t.bytes.length), start));
  const to = new DataView(font.buffer);
  const halvings = Math.floor(Math.log2(count));
  to.setUint32(0, from.getUint32(4));
  [count, 16 << halvings, halvings, 16 * count - (16 << halvings)].forEach((v, i) => to.setUint16(4 + 2 * i, v));
  let at = start;
  tables.forEach(({ tag, sum, bytes }, i) => {
    [tag, sum, at, bytes.length].forEach((v, k) => to.setUint32(SFNT_HEADER + SFNT_ENTRY * i + 4 * k, v));
    font.set(bytes, at);
    at += padded(bytes.length);
  });
  return font;
}
