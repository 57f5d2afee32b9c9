import type { PictureSize } from './placing.ts';

/** Kinds of pictures that are read. */
export type PictureKind = 'PNG' | 'JPEG';

const begins = (bytes: Uint8Array, sign: readonly number[]): boolean => sign.every((b, i) => bytes[i] === b);

export const pictureKind = (bytes: Uint8Array): PictureKind | null =>
  begins(bytes, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]) ? 'PNG' : begins(bytes, [0xff, 0xd8, 0xff]) ? 'JPEG' : null; // prettier-ignore

/** More pixels than this are not unpacked. */
export const MOST_PIXELS = 400_000_000;

export type SizeOfPicture = ({ ok: true; kind: PictureKind } & PictureSize) | { ok: false; reason: string };

/** How large a picture says that it is, read from its header before anything of it is unpacked. */
export function pictureSize(bytes: Uint8Array): SizeOfPicture {
  const kind = pictureKind(bytes);
  if (!kind) return { ok: false, reason: 'This is no PNG and no JPEG.' };
  const size = kind === 'PNG' ? pngSize(bytes) : jpegSize(bytes);
  if (!size) return { ok: false, reason: `The ${kind} is cut short: it does not say how large it is.` };
  if (!(size.width > 0 && size.height > 0)) return { ok: false, reason: `The ${kind} says that it has no pixels.` };
  if (size.width * size.height > MOST_PIXELS)
    return { ok: false, reason: `The ${kind} has ${size.width} × ${size.height} pixels; at most ${MOST_PIXELS / 1e6} million are shown. Cut it into parts.` }; // prettier-ignore
  return { ok: true, kind, ...size };
}

/** The first chunk (ISO/IEC 15948, IHDR). */
function pngSize(bytes: Uint8Array): PictureSize | null {
  if (bytes.length < 33 || String.fromCharCode(...bytes.subarray(12, 16)) !== 'IHDR') return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return { width: view.getUint32(16), height: view.getUint32(20) };
}

/** The first frame header (ITU-T T.81, B.2.2); segments before it are stepped over. */
function jpegSize(bytes: Uint8Array): PictureSize | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 2;
  while (at + 9 < bytes.length) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1];
    // Fill bytes, and markers without a segment.
    if (marker === 0xff) at++;
    else if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd7)) at += 2;
    else if (isFrame(marker)) return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
    else if (marker === 0xda || marker === 0xd9) return null;
    else {
      const length = view.getUint16(at + 2);
      if (length < 2) return null;
      at += 2 + length;
    }
  }
  return null;
}

/** SOF0 to SOF15 without the tables between them. */
const isFrame = (marker: number): boolean =>
  marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;
