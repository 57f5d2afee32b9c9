import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { fromArrayBuffer } from 'geotiff';
import { writeGeoTiff, writeGlb } from '#core/exchange';
import { gridOf } from '#core/terrain';
import { surfaceOf } from '../terrain/made.ts';

const slope = surfaceOf([
  [500_000, 4_100_000, 10],
  [500_020, 4_100_000, 12],
  [500_020, 4_100_010, 12],
  [500_000, 4_100_010, 10],
]);
const folder = mkdtempSync(join(tmpdir(), 'surface-files-'));
afterAll(() => rmSync(folder, { recursive: true }));

describe('a grid as GeoTIFF', () => {
  // Read by GDAL (Debian gdal-bin), which nobody here wrote.
  it('is what GDAL makes of it: place, cell, system, values', () => {
    const file = join(folder, 'grid.tif');
    writeFileSync(file, writeGeoTiff(gridOf(slope, 2), 32633));
    const info = spawnSync('gdalinfo', ['-stats', '--config', 'GDAL_PAM_ENABLED', 'NO', file], { encoding: 'utf8' });
    expect(info.status).toBe(0);
    expect(info.stdout).toContain('Size is 10, 5');
    expect(info.stdout).toContain('Origin = (500000.000000000000000,4100010.000000000000000)');
    expect(info.stdout).toContain('Pixel Size = (2.000000000000000,-2.000000000000000)');
    expect(info.stdout).toContain('WGS 84 / UTM zone 33N');
    expect(info.stdout).toContain('NoData Value=-9999');
    expect(info.stdout).toMatch(/Minimum=10\.100, Maximum=11\.900, Mean=11\.000/);
  });

  it('has its values row by row from the north-west, and no system where none is said', async () => {
    const grid = { west: 0, north: 4, cell: 2, columns: 2, rows: 2, values: Float32Array.of(1, NaN, 3, 4.5) };
    const bytes = writeGeoTiff(grid, null);
    const image = await (await fromArrayBuffer(bytes.buffer as ArrayBuffer)).getImage();
    const [band] = (await image.readRasters()) as unknown as [Float32Array];
    expect([...band]).toEqual([1, -9999, 3, 4.5]);
    expect(image.getGDALNoData()).toBe(-9999);
    expect(image.getGeoKeys()).toBeNull();
  });
});

describe('a surface as binary glTF', () => {
  it('has the parts that the standard asks for, its places about its own corner, y up', () => {
    const bytes = writeGlb(slope, 'Slope');
    const view = new DataView(bytes.buffer);
    expect([view.getUint32(0, true), view.getUint32(4, true), view.getUint32(8, true)]).toEqual([0x46546c67, 2, bytes.length]); // prettier-ignore
    const length = view.getUint32(12, true);
    expect(length % 4).toBe(0);
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as {
      asset: { extras: object };
      accessors: { min?: number[]; max?: number[]; count: number }[];
      buffers: { byteLength: number }[];
    };
    expect(json.asset.extras).toEqual({ east: 500_000, north: 4_100_000, elevation: 10 });
    expect(json.accessors[0]).toMatchObject({ count: 4, min: [0, 0, -10], max: [20, 2, 0] });
    expect(json.accessors[1].count).toBe(6);
    expect(28 + length + json.buffers[0].byteLength).toBe(bytes.length);
  });
});
