// Binary drawings (DXF reference, binary DXF files): a mark, then groups, each a code and a value whose size the code tells.
// They are turned into the text that says the same, so that one reader reads both.

/** The mark: 22 bytes, the last of them two that no text has. */
const MARK = 22;
/** Text is handed on in pieces of about this many bytes. */
const PIECE = 4 << 20;
const LONGEST_TEXT = 1 << 20;

export const isBinaryDxf = (bytes: Uint8Array): boolean =>
  /^\w{1,20} Binary DXF\r?\n/.test(String.fromCharCode(...bytes.subarray(0, MARK + 8)));

type Kind = 'text' | 'double' | 'short' | 'long' | 'wide' | 'flag' | 'chunk';

/** What a group's value is, by its code (DXF reference, group code value types). */
function kindOf(code: number): Kind {
  if (code <= 9) return 'text';
  if (code <= 59) return 'double';
  if (code <= 79) return 'short';
  if (code <= 89) return 'text';
  if (code <= 99) return 'long';
  if (code <= 109) return 'text';
  if (code <= 149) return 'double';
  if (code <= 159) return 'text';
  if (code <= 169) return 'wide';
  if (code <= 179) return 'short';
  if (code <= 209) return 'text';
  if (code <= 239) return 'double';
  if (code <= 269) return 'text';
  if (code <= 289) return 'short';
  if (code <= 299) return 'flag';
  if (code <= 309) return 'text';
  if (code <= 319) return 'chunk';
  if (code <= 369) return 'text';
  if (code <= 389) return 'short';
  if (code <= 399) return 'text';
  if (code <= 409) return 'short';
  if (code <= 419) return 'text';
  if (code <= 429) return 'long';
  if (code <= 439) return 'text';
  if (code <= 449) return 'long';
  if (code <= 459) return 'long';
  if (code <= 469) return 'double';
  if (code === 1004) return 'chunk';
  if (code >= 1010 && code <= 1059) return 'double';
  if (code >= 1060 && code <= 1070) return 'short';
  if (code === 1071) return 'long';
  return 'text';
}

/**
 * Hands on, piece by piece, the text of a binary drawing; a value that breaks off ends it there, as the text of a file that
 * was cut short.
 */
export function asciiOfBinary(bytes: Uint8Array, feed: (piece: Uint8Array, last: boolean) => boolean): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // Until 1992 a code was one byte; the first group is 0, SECTION: its second byte tells.
  const wide = bytes[MARK + 1] === 0;
  const out = new Bytes();
  let at = MARK;
  const has = (n: number): boolean => at + n <= bytes.length;
  const size = { double: 8, short: 2, long: 4, wide: 8, flag: 1 };
  while (has(wide ? 2 : 1)) {
    let code = wide ? view.getUint16(at, true) : bytes[at];
    at += wide ? 2 : 1;
    if (!wide && code === 255) {
      if (!has(2)) break;
      code = view.getUint16(at, true);
      at += 2;
    }
    const kind = kindOf(code);
    if (kind === 'chunk') {
      if (!has(1) || !has(1 + bytes[at])) break;
      at += 1 + bytes[at];
      continue;
    }
    out.word(String(code));
    if (kind === 'text') {
      const end = bytes.indexOf(0, at);
      if (end < 0 || end - at > LONGEST_TEXT) break;
      out.line(bytes.subarray(at, end));
      at = end + 1;
    } else {
      if (!has(size[kind])) break;
      const value =
        kind === 'double'
          ? view.getFloat64(at, true)
          : kind === 'short'
            ? view.getInt16(at, true)
            : kind === 'long'
              ? view.getInt32(at, true)
              : kind === 'wide'
                ? view.getBigInt64(at, true)
                : bytes[at];
      at += size[kind];
      out.word(String(value));
    }
    if (out.size >= PIECE && !feed(out.taken(), false)) return;
  }
  feed(out.taken(), true);
}

/** Lines of text as bytes. */
class Bytes {
  size = 0;
  private bytes = new Uint8Array(PIECE + (PIECE >> 2));

  word(text: string): void {
    this.room(text.length + 1);
    for (let i = 0; i < text.length; i++) this.bytes[this.size++] = text.charCodeAt(i);
    this.bytes[this.size++] = 10;
  }

  /** What is in it stays in one line. */
  line(text: Uint8Array): void {
    this.room(text.length + 1);
    for (const b of text) this.bytes[this.size++] = b === 10 || b === 13 ? 32 : b;
    this.bytes[this.size++] = 10;
  }

  taken(): Uint8Array {
    const out = this.bytes.slice(0, this.size);
    this.size = 0;
    return out;
  }

  private room(more: number): void {
    if (this.size + more <= this.bytes.length) return;
    const wider = new Uint8Array(2 * (this.size + more));
    wider.set(this.bytes.subarray(0, this.size));
    this.bytes = wider;
  }
}
