import { before } from '#core/kernel';

// The fields of a TIFF's first directory (TIFF 6.0, section 2; BigTIFF), and the keys of a GeoTIFF (OGC 19-008r4).

/** Bytes of a value by its type. */
const BYTES: Readonly<Record<number, number>> = { 1: 1, 2: 1, 3: 2, 4: 4, 6: 1, 7: 1, 8: 2, 9: 4, 11: 4, 12: 8, 16: 8, 17: 8, 18: 8 }; // prettier-ignore
const ASCII = 2;
const MOST_VALUES = 4_000_000;
const MOST_FIELDS = 1000;

export interface TiffTags {
  little: boolean;
  numbers: (tag: number) => readonly number[];
  text: (tag: number) => string;
  /** A key of its place; 0 where it says none. */
  key: (key: number) => number;
}

const GEO_KEYS = 34735;

/** Null of what is no TIFF, or breaks off within its directory. */
export function tiffTags(bytes: Uint8Array): TiffTags | null {
  try {
    return read(bytes);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

function read(bytes: Uint8Array): TiffTags | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = bytes[0] === 0x49;
  const version = view.getUint16(2, little);
  if (version !== 42 && version !== 43) return null;
  const isBig = version === 43;
  const long = (at: number): number => Number(view.getBigUint64(at, little));
  const word = (at: number): number => view.getUint32(at, little);
  const directory = isBig ? long(8) : word(4);
  const count = isBig ? long(directory) : view.getUint16(directory, little);
  if (count > MOST_FIELDS) return null;
  const fields = new Map<number, { type: number; count: number; from: number }>();
  for (let i = 0; i < count; i++) {
    const at = directory + (isBig ? 8 + 20 * i : 2 + 12 * i);
    const [type, n] = [view.getUint16(at + 2, little), isBig ? long(at + 4) : word(at + 4)];
    const size = (BYTES[type] ?? 0) * n;
    const value = at + (isBig ? 12 : 8);
    const from = size <= (isBig ? 8 : 4) ? value : isBig ? long(value) : word(value);
    if (size > 0 && n <= MOST_VALUES && from + size <= bytes.length) fields.set(view.getUint16(at, little), { type, count: n, from }); // prettier-ignore
  }
  const one = (type: number, at: number): number => {
    switch (type) {
      case 3:
        return view.getUint16(at, little);
      case 8:
        return view.getInt16(at, little);
      case 4:
        return view.getUint32(at, little);
      case 9:
        return view.getInt32(at, little);
      case 11:
        return view.getFloat32(at, little);
      case 12:
        return view.getFloat64(at, little);
      case 16:
      case 18:
        return long(at);
      case 17:
        return Number(view.getBigInt64(at, little));
      case 6:
        return view.getInt8(at);
      default:
        return bytes[at];
    }
  };
  const numbers = (tag: number): readonly number[] => {
    const field = fields.get(tag);
    return field ? Array.from({ length: field.count }, (_, i) => one(field.type, field.from + i * BYTES[field.type])) : []; // prettier-ignore
  };
  const text = (tag: number): string => {
    const field = fields.get(tag);
    return field?.type === ASCII ? before(new TextDecoder('windows-1252').decode(bytes.subarray(field.from, field.from + Math.min(field.count, 1000))), '\0') : ''; // prettier-ignore
  };
  const keys = numbers(GEO_KEYS);
  const key = (wanted: number): number => {
    for (let i = 4; i + 3 < keys.length; i += 4) if (keys[i] === wanted && keys[i + 1] === 0) return keys[i + 3];
    return 0;
  };
  return { little, numbers, text, key };
}
