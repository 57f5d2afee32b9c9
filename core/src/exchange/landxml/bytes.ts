import { decodeText, textOf, type Encoding } from '../text/decode.ts';
import type { LandXmlRead } from './content.ts';
import { plainFaces, plainVertices, type ListEnd } from './lists.ts';
import { LandXmlReader, readLandXml } from './read.ts';
import { codePageOfXml } from './recognise.ts';
import type { TinBuilder } from './tin.ts';

// LandXML from its bytes: what is many, the vertices and faces of surfaces, is read as it stands; all else, and whatever of
// those is not written plainly, goes through the XML parser.

const [OPEN, CLOSE] = [60, 62];
const LISTS: readonly { name: string; letters: readonly number[]; read: (bytes: Uint8Array, from: number, tin: TinBuilder) => ListEnd }[] = [
  { name: 'Pnts', letters: [80, 110, 116, 115], read: plainVertices },
  { name: 'Faces', letters: [70, 97, 99, 101, 115], read: plainFaces },
]; // prettier-ignore

/** Reads LandXML 1.0 … 1.2 in UTF-8, UTF-16 or the code page that it declares. */
export function readLandXmlBytes(bytes: Uint8Array): LandXmlRead {
  const hasMark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
  const plain = hasMark ? bytes.subarray(3) : bytes;
  // Two bytes a letter: read as text.
  if (plain.subarray(0, 64).includes(0) || bytes[0] >= 0xfe) {
    const decoded = decodeText(bytes);
    return { ...readLandXml(decoded.ok ? decoded.text : ''), encoding: decoded.ok ? decoded.encoding : 'utf-16le' };
  }
  const declared = hasMark ? null : codePageOfXml(plain);
  if (declared) return new BytesReader(plain, declared).read();
  try {
    return new BytesReader(plain, 'utf-8').read();
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    return new BytesReader(plain, 'windows-1252').read();
  }
}

const PIECE = 1 << 20;

class BytesReader {
  private readonly reader = new LandXmlReader();
  private readonly utf8 = new TextDecoder('utf-8', { fatal: true });

  constructor(
    private readonly bytes: Uint8Array,
    private readonly encoding: Encoding,
  ) {}

  /** @throws TypeError where the bytes are no UTF-8 though they are read as that */
  read(): LandXmlRead {
    const { bytes, reader } = this;
    const { walk } = reader;
    reader.out.encoding = this.encoding;
    for (let at = 0; at < bytes.length && !walk.stopped;) {
      const list = this.nextList(at);
      this.feed(at, list?.from ?? bytes.length);
      at = bytes.length;
      if (!list) continue;
      const before = walk.opened;
      this.feed(list.from, (at = list.to));
      // Within a comment, or of another namespace, it is none.
      if (walk.opened === before + 1 && walk.top?.name === list.of.name) {
        const end = list.of.read(bytes, at, reader.tin);
        walk.pass(end.lines);
        at = end.at;
      }
    }
    this.feed(bytes.length, bytes.length, true);
    return reader.end();
  }

  /** The next tag that begins a list, from `<` to behind `>`. */
  private nextList(from: number): { from: number; to: number; of: (typeof LISTS)[number] } | null {
    const { bytes } = this;
    for (let i = bytes.indexOf(OPEN, from); i >= 0; i = bytes.indexOf(OPEN, i + 1))
      for (const of of LISTS) {
        if (!of.letters.every((c, k) => bytes[i + 1 + k] === c)) continue;
        const end = bytes.indexOf(CLOSE, i);
        const behind = bytes[i + 1 + of.letters.length];
        if (end >= 0 && (behind === CLOSE || behind <= 32)) return { from: i, to: end + 1, of };
      }
    return null;
  }

  /** Gives the XML parser a range of bytes as text. */
  private feed(from: number, to: number, isLast = false): void {
    const { bytes, reader, encoding } = this;
    for (let i = from; i < to && !reader.walk.stopped; i += PIECE) {
      const piece = bytes.subarray(i, Math.min(to, i + PIECE));
      reader.write(encoding === 'utf-8' ? this.utf8.decode(piece, { stream: true }) : textOf(encoding, piece));
    }
    // A letter that breaks off is none.
    if (isLast && encoding === 'utf-8' && !reader.walk.stopped) this.utf8.decode();
  }
}
