import { fromArrayBuffer, type GeoTIFFImage } from 'geotiff';
import { readTiffPicture } from '#core/pictures';
import { shownSize, type OpenedPicture, type Part } from './opened.ts';

const openImage = async (bytes: Uint8Array): Promise<GeoTIFFImage> =>
  (await fromArrayBuffer(bytes.buffer as ArrayBuffer)).getImage(0);

/** A picture in TIFF, with the place that its tags give it. */
export async function openTiff(bytes: Uint8Array): Promise<OpenedPicture | { problem: string }> {
  const read = await readTiffPicture(bytes);
  if (!read.ok) return { problem: read.reason };
  const { ok: _, width, height, ...place } = read;
  return { kind: 'TIFF', sizes: [{ width, height }], pages: 1, ...place };
}

/** Colours of a part of a TIFF, thinned out while it is read where it is larger than what is shown. */
export async function tiffBitmap(bytes: Uint8Array, part: Part, most: number): Promise<ImageBitmap> {
  const image = await openImage(bytes);
  const shown = shownSize(part, most);
  const { width, height } = shown.by < 1 ? shown : part;
  const window = [part.column, part.row, part.column + part.width, part.row + part.height];
  const read = (await image.readRGB({
    window,
    width,
    height,
    interleave: true,
    enableAlpha: true,
  })) as ArrayLike<number>;
  const [samples, deep] = [read.length / (width * height), image.getBitsPerSample() > 8];
  const out = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 3; k++) out[4 * i + k] = deep ? read[i * samples + k] / 257 : read[i * samples + k];
    out[4 * i + 3] = samples > 3 ? read[i * samples + 3] : 255;
  }
  return createImageBitmap(new ImageData(out, width, height));
}
