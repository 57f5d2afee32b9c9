/** Bytes in a value of each type of a TIFF field (TIFF 6.0, 2), by its number. */
const BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8];
const TAG = { width: 256, height: 257, bits: 258, offsets: 273, samples: 277, rows: 278, counts: 279, tileWidth: 322, tileHeight: 323, tileOffsets: 324, tileCounts: 325 }; // prettier-ignore
const LARGEST_PIECE = 128 * 1024 * 1024;
const MOST_PIXELS = 64_000_000;

/**
 * Why a TIFF's stated sizes cannot be true, or are more than anybody should unpack; null where nothing speaks against
 * them, or the file is of the 64-bit form. Read before foreign code believes them: a piece of a few bytes may state
 * gigabytes.
 */
export function statedSizesProblem(bytes: Uint8Array, mostPixels = MOST_PIXELS): string | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8) return 'The GeoTIFF is cut short.';
  const little = bytes[0] === 0x49;
  if (view.getUint16(2, little) !== 42) return null;
  const at = view.getUint32(4, little);
  if (at + 2 > bytes.length) return 'The GeoTIFF is cut short: its directory lies beyond its end.';
  const entries = view.getUint16(at, little);
  if (at + 2 + 12 * entries > bytes.length) return 'The GeoTIFF is cut short: its directory goes on beyond its end.';
  const fields = new Map<number, { values: number[]; count: number }>();
  for (let i = 0; i < entries; i++) {
    const entry = at + 2 + 12 * i;
    const [tag, type, count] = [view.getUint16(entry, little), view.getUint16(entry + 2, little), view.getUint32(entry + 4, little)]; // prettier-ignore
    const size = (BYTES[type] ?? 0) * count;
    const from = size > 4 ? view.getUint32(entry + 8, little) : entry + 8;
    if (size > 4 && from + size > bytes.length) return `The GeoTIFF is cut short: field ${tag} lies beyond its end.`;
    if (type !== 3 && type !== 4) continue;
    const values = Array.from({ length: Math.min(count, 100_000) }, (_, k) => (type === 3 ? view.getUint16(from + 2 * k, little) : view.getUint32(from + 4 * k, little))); // prettier-ignore
    fields.set(tag, { values, count });
  }
  const one = (tag: number, otherwise: number): number => fields.get(tag)?.values[0] ?? otherwise;
  const [width, height] = [one(TAG.width, 0), one(TAG.height, 0)];
  if (width === 0 || height === 0) return 'The GeoTIFF does not say how large it is.';
  if (width * height > mostPixels) return `The GeoTIFF has ${height} × ${width} nodes or pixels, too many to hold.`;
  const [pieceWidth, pieceHeight] = fields.has(TAG.tileWidth)
    ? [one(TAG.tileWidth, 0), one(TAG.tileHeight, 0)]
    : [width, Math.min(one(TAG.rows, height), height)];
  const bits = Math.max(1, ...(fields.get(TAG.bits)?.values ?? [1]));
  const piece = (pieceWidth * pieceHeight * one(TAG.samples, 1) * bits) / 8;
  if (!(piece > 0 && piece <= LARGEST_PIECE)) return `A piece of the GeoTIFF states ${Math.round(piece / 1048576)} MB; at most ${LARGEST_PIECE / 1048576} MB are unpacked at once.`; // prettier-ignore
  const offsets = fields.get(TAG.offsets) ?? fields.get(TAG.tileOffsets);
  const counts = fields.get(TAG.counts) ?? fields.get(TAG.tileCounts);
  if (!offsets || !counts) return 'The GeoTIFF does not say where its pieces lie.';
  const pieces = Math.ceil(width / pieceWidth) * Math.ceil(height / pieceHeight);
  if (offsets.count < pieces || counts.count < pieces) return `The GeoTIFF is cut short: it has ${Math.min(offsets.count, counts.count)} of ${pieces} pieces.`; // prettier-ignore
  const beyond = counts.values.findIndex((n, i) => (offsets.values[i] ?? 0) + n > bytes.length);
  return beyond < 0 ? null : `The GeoTIFF is cut short: piece ${beyond + 1} lies beyond its end.`;
}
