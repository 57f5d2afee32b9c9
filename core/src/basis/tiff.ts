import { fromArrayBuffer } from 'geotiff';
import { shapeProblem, type ReadGeoid } from './geoid.ts';
import { statedSizesProblem } from './tiff-sizes.ts';
import { holdTiffGrid, type OpenedTiff, type ReadDatumGrid } from './datum-grids.ts';

/** Whether bytes begin as a TIFF does, classic or big. */
export const isTiff = (bytes: Uint8Array): boolean =>
  (bytes[0] === 0x49 && bytes[1] === 0x49 && (bytes[2] === 42 || bytes[2] === 43)) ||
  (bytes[0] === 0x4d && bytes[1] === 0x4d && (bytes[3] === 42 || bytes[3] === 43));

const opened = (bytes: Uint8Array) => fromArrayBuffer(bytes.slice().buffer as ArrayBuffer);

/** Reads a geoid from a GeoTIFF's first band: geographic, north up, metres; values stand at pixel centres. */
export async function readTiffGeoid(bytes: Uint8Array): Promise<ReadGeoid> {
  const wrong = statedSizesProblem(bytes);
  if (wrong) return { ok: false, reason: wrong };
  try {
    const image = await (await opened(bytes)).getImage();
    const [columns, rows] = [image.getWidth(), image.getHeight()];
    if (rows * columns > 64_000_000)
      return { ok: false, reason: `The grid has ${rows} × ${columns} nodes, too many to hold.` };
    const [west, north] = image.getOrigin();
    const [dx, dy] = image.getResolution();
    const geo = (image.getGeoKeys() ?? {}) as { GTModelTypeGeoKey?: number };
    if (geo.GTModelTypeGeoKey !== undefined && geo.GTModelTypeGeoKey !== 2)
      return { ok: false, reason: 'The GeoTIFF is projected; a geoid grid runs by latitude and longitude.' };
    const [latitudeStep, longitudeStep] = [Math.abs(dy), Math.abs(dx)];
    // geotiff gives the corner of the first pixel whether the file says area or point.
    const southRow = north - (rows - 0.5) * latitudeStep;
    const problem = shapeProblem(southRow, west + longitudeStep / 2, latitudeStep, longitudeStep, rows, columns);
    if (problem) return { ok: false, reason: problem };
    const none = image.getGDALNoData();
    const [band] = (await image.readRasters({ samples: [0] })) as unknown as [ArrayLike<number>];
    if (band.length !== rows * columns)
      return {
        ok: false,
        reason: `The grid file is cut short: it states ${rows} × ${columns} nodes, ${band.length} are there.`,
      };
    const values = new Float32Array(rows * columns);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const v = band[(rows - 1 - r) * columns + c];
        values[r * columns + c] = v === none || Math.abs(v) > 1000 ? NaN : v;
      }
    return {
      ok: true,
      grid: { south: southRow, west: west + longitudeStep / 2, latitudeStep, longitudeStep, rows, columns, values },
    };
  } catch (error) {
    return { ok: false, reason: `The GeoTIFF cannot be read, perhaps cut short: ${(error as Error).message}.` };
  }
}

/** Takes a GeoTIFF datum grid in under its file name. */
export async function holdTiff(name: string, hash: string, bytes: Uint8Array): Promise<ReadDatumGrid> {
  const wrong = statedSizesProblem(bytes);
  if (wrong) return { ok: false, reason: wrong };
  try {
    return await holdTiffGrid(name, hash, (await opened(bytes)) as unknown as OpenedTiff);
  } catch (error) {
    return { ok: false, reason: `The GeoTIFF cannot be read, perhaps cut short: ${(error as Error).message}.` };
  }
}
