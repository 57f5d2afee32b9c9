import { geoidArea, isNtv2, isTiff, readGtx, readNtv2, readTiffGeoid, type GeographicArea } from '#core/basis';

/** What a received grid file is, without its values. */
export type ReadGridFacts =
  | {
      ok: true;
      format: 'gtx' | 'geotiff' | 'ntv2';
      use: 'datum' | 'geoid';
      areas: GeographicArea[];
      rows: number;
      columns: number;
    }
  | { ok: false; reason: string };

/** Reads a grid file as far as it takes to say what it is, or why it cannot be used. */
export async function readGridFacts(bytes: Uint8Array, name: string): Promise<ReadGridFacts> {
  if (isNtv2(bytes) || /\.gsb$/i.test(name)) {
    const read = readNtv2(bytes);
    if (!read.ok) return read;
    const [{ rows, columns }] = read.facts.subgrids;
    return { ok: true, format: 'ntv2', use: 'datum', areas: read.facts.subgrids.map((s) => s.area), rows, columns };
  }
  const tiff = isTiff(bytes);
  const read = tiff ? await readTiffGeoid(bytes) : readGtx(bytes);
  if (!read.ok) return read;
  const { rows, columns } = read.grid;
  // A GeoTIFF of two bands shifts a datum; one band is a geoid.
  const use = tiff && (await bandsOf(bytes)) >= 2 ? 'datum' : 'geoid';
  return { ok: true, format: tiff ? 'geotiff' : 'gtx', use, areas: [geoidArea(read.grid)], rows, columns };
}

async function bandsOf(bytes: Uint8Array): Promise<number> {
  const { fromArrayBuffer } = await import('geotiff');
  const image = await (await fromArrayBuffer(bytes.slice().buffer as ArrayBuffer)).getImage();
  return image.getSamplesPerPixel();
}
