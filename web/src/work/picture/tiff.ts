import { fromArrayBuffer, type GeoTIFFImage } from 'geotiff';
import { statedSizesProblem } from '#core/basis';
import { tiffPlace } from '#core/pictures';
import type { OpenedPicture } from './opened.ts';

const openImage = async (bytes: Uint8Array): Promise<GeoTIFFImage> =>
  (await fromArrayBuffer(bytes.buffer as ArrayBuffer)).getImage(0);

/** A picture in TIFF, with the place that GeoTIFF's tags give it. */
export async function openTiff(bytes: Uint8Array): Promise<OpenedPicture | { problem: string }> {
  const problem = statedSizesProblem(bytes);
  if (problem) return { problem };
  const image = await openImage(bytes);
  const samples = image.getSamplesPerPixel();
  if (samples < 3 && image.getBitsPerSample() > 16)
    return { problem: 'This TIFF holds numbers, not colours: an elevation or geoid grid. Import geoid and datum grids under Basis, Meaning.' }; // prettier-ignore
  const size = { width: image.getWidth(), height: image.getHeight() };
  const directory = image.fileDirectory;
  const said = (name: 'ModelTiepoint' | 'ModelPixelScale' | 'ModelTransformation'): number[] =>
    directory.hasTag(name) ? [...(directory.getValue(name) as ArrayLike<number> as number[])] : [];
  const keys = (image.getGeoKeys() ?? {}) as Record<string, unknown>;
  const place = tiffPlace({
    tie: said('ModelTiepoint'),
    scale: said('ModelPixelScale'),
    transformation: said('ModelTransformation'),
    modelType: Number(keys.GTModelTypeGeoKey ?? 0),
    rasterType: Number(keys.GTRasterTypeGeoKey ?? 1),
    lengthUnit: Number(keys.ProjLinearUnitsGeoKey ?? 0),
  });
  return { kind: 'TIFF', sizes: [size], pages: 1, ...place };
}

/** Colours of a TIFF, thinned out while it is read where it is larger than what is shown. */
export async function tiffBitmap(bytes: Uint8Array, most: number): Promise<ImageBitmap> {
  const image = await openImage(bytes);
  const by = Math.min(1, most / Math.max(image.getWidth(), image.getHeight()));
  const [width, height] = [image.getWidth(), image.getHeight()].map((n) => Math.max(1, Math.round(n * by)));
  const read = (await image.readRGB({ width, height, interleave: true, enableAlpha: true })) as ArrayLike<number>;
  const [samples, deep] = [read.length / (width * height), image.getBitsPerSample() > 8];
  const out = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 3; k++) out[4 * i + k] = deep ? read[i * samples + k] / 257 : read[i * samples + k];
    out[4 * i + 3] = samples > 3 ? read[i * samples + 3] : 255;
  }
  return createImageBitmap(new ImageData(out, width, height));
}
