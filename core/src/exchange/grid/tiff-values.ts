import { unzlibSync } from 'fflate';
import type { TiffTags } from './tiff-tags.ts';

// Values of the first sample of a TIFF (TIFF 6.0, sections 3, 13, 14, 15; Technical Note 3 for floating predictors).

const TAG = { width: 256, height: 257, bits: 258, compression: 259, stripOffsets: 273, samples: 277, stripRows: 278, stripCounts: 279, planar: 284, predictor: 317, tileWidth: 322, tileHeight: 323, tileOffsets: 324, tileCounts: 325, format: 339 }; // prettier-ignore
const LARGEST_PIECE = 128 * 1024 * 1024;
const [UNSIGNED, SIGNED, FLOATING] = [1, 2, 3];

/** Why values are not read, or them. */
export type TiffValues = { ok: true; values: Float32Array | Float64Array; columns: number; rows: number } | { ok: false; reason: string }; // prettier-ignore

/** Whether a TIFF holds one number a pixel that is no shade of grey. */
export function holdsNumbers({ numbers }: TiffTags): boolean {
  const one = (tag: number, otherwise: number): number => numbers(tag)[0] ?? otherwise;
  const format = one(TAG.format, UNSIGNED);
  return one(TAG.samples, 1) === 1 && (format === FLOATING || format === SIGNED || one(TAG.bits, 1) > 16);
}

export function tiffValues(bytes: Uint8Array, { numbers, little }: TiffTags, mostNodes: number): TiffValues {
  const one = (tag: number, otherwise: number): number => numbers(tag)[0] ?? otherwise;
  const no = (reason: string): TiffValues => ({ ok: false, reason });
  const [columns, rows, bits, format] = [one(TAG.width, 0), one(TAG.height, 0), one(TAG.bits, 1), one(TAG.format, UNSIGNED)]; // prettier-ignore
  if (!(columns > 0 && rows > 0)) return no('The grid does not say how large it is.');
  if (columns * rows > mostNodes) return no(`The grid has ${rows} × ${columns} nodes, too many to hold.`);
  const reader = READERS[`${format} ${bits}`];
  if (!reader) return no(`The grid holds numbers of ${bits} bits of a kind (${format}) that is not read.`);
  const isTiled = numbers(TAG.tileOffsets).length > 0;
  const [wide, high] = isTiled ? [one(TAG.tileWidth, 0), one(TAG.tileHeight, 0)] : [columns, Math.min(rows, one(TAG.stripRows, rows))]; // prettier-ignore
  const [offsets, counts] = isTiled ? [numbers(TAG.tileOffsets), numbers(TAG.tileCounts)] : [numbers(TAG.stripOffsets), numbers(TAG.stripCounts)]; // prettier-ignore
  const size = (wide * high * bits) / 8;
  if (!(size > 0 && size <= LARGEST_PIECE)) return no('A piece of the grid is larger than what is unpacked at once.');
  const [across, down] = [Math.ceil(columns / wide), Math.ceil(rows / high)];
  if (Math.min(offsets.length, counts.length) < across * down) return no(`The grid is cut short: it has ${Math.min(offsets.length, counts.length)} of ${across * down} pieces.`); // prettier-ignore
  const unpack = UNPACK[one(TAG.compression, 1)];
  if (!unpack) return no(`The grid is packed in a way (${one(TAG.compression, 1)}) that is not read. Ask for it unpacked, or packed by deflate or LZW.`); // prettier-ignore
  const values = bits > 32 ? new Float64Array(columns * rows) : new Float32Array(columns * rows);
  const predictor = one(TAG.predictor, 1);
  for (let p = 0; p < across * down; p++) {
    const [column, row] = [(p % across) * wide, Math.floor(p / across) * high];
    const height = isTiled ? high : Math.min(high, rows - row);
    const wanted = (wide * height * bits) / 8;
    if (offsets[p] + counts[p] > bytes.length) return no(`The grid is cut short: piece ${p + 1} of ${across * down} is beyond its end.`); // prettier-ignore
    let piece: Uint8Array;
    try {
      piece = unpack(bytes.subarray(offsets[p], offsets[p] + counts[p]), wanted);
    } catch {
      return no(`Piece ${p + 1} of the grid is damaged.`);
    }
    if (piece.length < wanted) return no(`Piece ${p + 1} of the grid is cut short.`);
    const plain = predicted(piece, predictor, wide, height, bits / 8, little);
    if (!plain) return no(`The grid is written in a way (predictor ${predictor}) that is not read.`);
    const view = new DataView(plain.buffer, plain.byteOffset, plain.byteLength);
    // Of floating predictors bytes are put in the order of large numbers first.
    const order = predictor === 3 ? false : little;
    for (let r = 0; r < Math.min(height, rows - row); r++)
      for (let c = 0; c < Math.min(wide, columns - column); c++)
        values[(row + r) * columns + column + c] = reader(view, ((r * wide + c) * bits) / 8, order);
  }
  return { ok: true, values, columns, rows };
}

type Reader = (view: DataView, at: number, little: boolean) => number;
/** By the format of a sample and its bits. */
const READERS: Readonly<Record<string, Reader>> = {
  [`${UNSIGNED} 8`]: (v, at) => v.getUint8(at),
  [`${UNSIGNED} 16`]: (v, at, little) => v.getUint16(at, little),
  [`${UNSIGNED} 32`]: (v, at, little) => v.getUint32(at, little),
  [`${SIGNED} 8`]: (v, at) => v.getInt8(at),
  [`${SIGNED} 16`]: (v, at, little) => v.getInt16(at, little),
  [`${SIGNED} 32`]: (v, at, little) => v.getInt32(at, little),
  [`${FLOATING} 32`]: (v, at, little) => v.getFloat32(at, little),
  [`${FLOATING} 64`]: (v, at, little) => v.getFloat64(at, little),
};

type Unpack = (packed: Uint8Array, size: number) => Uint8Array;
const deflate: Unpack = (packed, size) => unzlibSync(packed, { out: new Uint8Array(size) });
const UNPACK: Readonly<Record<number, Unpack>> = { 1: (packed) => packed, 5: lzw, 8: deflate, 32946: deflate };

/** Undoes what made the values of a row smaller before they were packed; null of a way that is not known. */
function predicted(
  piece: Uint8Array,
  predictor: number,
  wide: number,
  high: number,
  size: number,
  little: boolean,
): Uint8Array | null {
  if (predictor === 1) return piece;
  if (predictor === 2) return size <= 4 ? differences(piece.slice(), wide, high, size, little) : null;
  return predictor === 3 ? floating(piece, wide, high, size) : null;
}

/** Each value is kept as what it differs from the one before it. */
function differences(out: Uint8Array, wide: number, high: number, size: number, little: boolean): Uint8Array {
  const view = new DataView(out.buffer);
  for (let r = 0; r < high; r++)
    for (let c = 1; c < wide; c++) {
      const at = (r * wide + c) * size;
      if (size === 1) view.setUint8(at, view.getUint8(at) + view.getUint8(at - 1));
      else if (size === 2) view.setUint16(at, view.getUint16(at, little) + view.getUint16(at - 2, little), little);
      else view.setUint32(at, view.getUint32(at, little) + view.getUint32(at - 4, little), little);
    }
  return out;
}

/** The first bytes of all values of a row, then their second ones …, each as what it differs from the byte before it. */
function floating(piece: Uint8Array, wide: number, high: number, size: number): Uint8Array {
  const [row, out] = [wide * size, new Uint8Array(wide * high * size)];
  const sums = new Uint8Array(row);
  for (let r = 0; r < high; r++) {
    let sum = 0;
    for (let i = 0; i < row; i++) sums[i] = sum = (sum + piece[r * row + i]) & 255;
    for (let c = 0; c < wide; c++) for (let k = 0; k < size; k++) out[r * row + c * size + k] = sums[k * wide + c];
  }
  return out;
}

const [CLEAR, END, FIRST] = [256, 257, 258];
const MOST_CODES = 4096;

/** LZW as TIFF has it: codes of 9 to 12 bits, the highest bit first, one bit more a code early. */
function lzw(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  // Of a code: the code before it, its last byte, how long it is.
  const [before, last, length] = [new Uint16Array(MOST_CODES), new Uint8Array(MOST_CODES), new Uint16Array(MOST_CODES)];
  for (let i = 0; i < 256; i++) [last[i], length[i]] = [i, 1];
  let [filled, next, bits, held, had, old] = [0, FIRST, 9, 0, 0, -1];
  const put = (code: number): void => {
    const from = filled;
    filled += length[code];
    for (let at = filled - 1, c = code; at >= from; at--, c = before[c]) if (at < size) out[at] = last[c];
  };
  for (let i = 0; filled < size;) {
    while (had < bits && i < packed.length) [held, had] = [((held << 8) | packed[i++]) & 0xffffff, had + 8];
    if (had < bits) break;
    const code = (held >>> (had - bits)) & ((1 << bits) - 1);
    had -= bits;
    if (code === END) break;
    if (code === CLEAR) {
      [next, bits, old] = [FIRST, 9, -1];
      continue;
    }
    if (code > next || (code >= FIRST && old < 0)) throw new Error('a code is not known');
    if (old >= 0 && next < MOST_CODES) {
      before[next] = old;
      length[next] = length[old] + 1;
      // What is not made yet ends with what it begins with.
      last[next] = firstOf(code === next ? old : code);
      next++;
    }
    put(code);
    old = code;
    if (next >= (1 << bits) - 1 && bits < 12) bits++;
  }
  return filled < size ? out.subarray(0, filled) : out;

  function firstOf(code: number): number {
    let c = code;
    while (c >= FIRST) c = before[c];
    return last[c];
  }
}
