import { fromArrayBuffer } from 'geotiff';
import { statedSizesProblem } from '#core/basis';
import { MOST_PIXELS } from './picture-size.ts';
import type { PictureSize } from './placing.ts';
import { tiffPlace, type TiffPlace } from './tiff-place.ts';

export type TiffPicture = ({ ok: true } & TiffPlace & PictureSize) | { ok: false; reason: string };

/** More bits than this in the only sample of a pixel are a number, not a shade of grey. */
const DEEPEST_GREY = 16;

/** How large a picture in TIFF is, and where its tags say that it is; no pixel is unpacked. */
export async function readTiffPicture(bytes: Uint8Array): Promise<TiffPicture> {
  const wrong = statedSizesProblem(bytes, MOST_PIXELS);
  if (wrong) return { ok: false, reason: wrong };
  try {
    const image = await (await fromArrayBuffer(bytes.slice().buffer as ArrayBuffer)).getImage();
    const [width, height] = [image.getWidth(), image.getHeight()];
    // The 64-bit form says its sizes only here.
    if (!(width * height <= MOST_PIXELS)) return { ok: false, reason: `The TIFF has ${width} × ${height} pixels; at most ${MOST_PIXELS / 1e6} million are shown. Cut it into parts.` }; // prettier-ignore
    if (image.getSamplesPerPixel() < 3 && image.getBitsPerSample() > DEEPEST_GREY)
      return { ok: false, reason: 'This TIFF holds numbers, not colours: an elevation or geoid grid. Geoid and datum grids are imported under Basis, Meaning.' }; // prettier-ignore
    const directory = image.fileDirectory;
    const said = (name: 'ModelTiepoint' | 'ModelPixelScale' | 'ModelTransformation'): number[] =>
      directory.hasTag(name) ? Array.from(directory.getValue(name) as ArrayLike<number>) : [];
    const keys = (image.getGeoKeys() ?? {}) as Record<string, unknown>;
    const place = tiffPlace({
      tie: said('ModelTiepoint'),
      scale: said('ModelPixelScale'),
      transformation: said('ModelTransformation'),
      modelType: Number(keys.GTModelTypeGeoKey ?? 0),
      rasterType: Number(keys.GTRasterTypeGeoKey ?? 1),
      lengthUnit: Number(keys.ProjLinearUnitsGeoKey ?? 0),
      system: Number(keys.ProjectedCSTypeGeoKey ?? 0),
    });
    return { ok: true, width, height, ...place };
  } catch (error) {
    return { ok: false, reason: `The TIFF is damaged: ${(error as Error).message}` };
  }
}
