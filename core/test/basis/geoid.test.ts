import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutGeoid, geoidArea, geoidHeight, readGtx, readTiffGeoid, writeGtx, type GeoidGrid } from '#core/basis';

const bytes = new Uint8Array(readFileSync('/usr/share/proj/egm96_15.gtx'));
const egm = (): GeoidGrid => {
  const read = readGtx(bytes);
  if (!read.ok) throw new Error(read.reason);
  return read.grid;
};

const places = (count: number): [number, number][] => {
  let s = 17;
  const next = (): number => (s = (s * 1103515245 + 12345) % 2147483648) / 2147483648;
  return Array.from({ length: count }, () => [-180 + 360 * next(), -89 + 178 * next()]);
};

describe('geoid grids', () => {
  it('EGM96 (Debian proj-data) by bilinear interpolation is what PROJ’s cct gives on 3,000 places', () => {
    const grid = egm();
    const at = places(3000);
    const out = execFileSync('cct', ['-d', '6', '+proj=vgridshift', '+grids=egm96_15.gtx'], {
      input: at.map(([lon, lat]) => `${lon} ${lat} 0`).join('\n') + '\n',
      encoding: 'utf8',
    });
    let worst = 0;
    out
      .trim()
      .split('\n')
      .forEach((line, i) => {
        const orthometric = Number(line.trim().split(/\s+/)[2]);
        worst = Math.max(worst, Math.abs(geoidHeight(grid, ...at[i]) + orthometric));
      });
    expect(worst).toBeLessThan(2e-5);
  });

  it('biquadratic interpolation is exact on a surface of second degree, and meets every node', () => {
    const grid: GeoidGrid = {
      south: 50,
      west: 10,
      latitudeStep: 0.5,
      longitudeStep: 0.25,
      rows: 9,
      columns: 12,
      values: new Float32Array(108),
    };
    const surface = (lon: number, lat: number): number =>
      40 +
      0.5 * (lon - 11) -
      0.25 * (lat - 52) +
      0.125 * (lon - 11) ** 2 -
      0.0625 * (lat - 52) ** 2 +
      0.25 * (lon - 11) * (lat - 52);
    for (let r = 0; r < 9; r++)
      for (let c = 0; c < 12; c++) grid.values[r * 12 + c] = surface(10 + 0.25 * c, 50 + 0.5 * r);
    fc.assert(
      fc.property(
        fc.double({ min: 10, max: 12.75, noNaN: true }),
        fc.double({ min: 50, max: 54, noNaN: true }),
        (lon, lat) => {
          expect(Math.abs(geoidHeight(grid, lon, lat, 'biquadratic') - surface(lon, lat))).toBeLessThan(1e-4);
        },
      ),
    );
    for (let r = 0; r < 9; r++)
      for (let c = 0; c < 12; c++)
        expect(geoidHeight(grid, 10 + 0.25 * c, 50 + 0.5 * r)).toBeCloseTo(grid.values[r * 12 + c], 5);
  });

  it('outside is no height, and so is beside a missing node: nothing is extrapolated', () => {
    const piece = cutGeoid(egm(), { west: 14, east: 16, south: 46, north: 48 }, 0)!;
    expect(geoidHeight(piece, 15, 47)).toBeCloseTo(geoidHeight(egm(), 15, 47), 6);
    expect(geoidHeight(piece, 16.01, 47)).toBeNaN();
    expect(geoidHeight(piece, 15, 45.99)).toBeNaN();
    expect(geoidHeight(piece, 15, 48.2)).toBeNaN();
    piece.values[piece.columns + 1] = NaN;
    expect(geoidHeight(piece, 14.3, 46.3)).toBeNaN();
  });

  it('a piece cut out and written again gives the same heights to the bit', () => {
    const grid = egm();
    fc.assert(
      fc.property(
        fc.double({ min: -179, max: 178, noNaN: true }),
        fc.double({ min: -85, max: 84, noNaN: true }),
        (west, south) => {
          const piece = cutGeoid(grid, { west, east: west + 0.6, south, north: south + 0.4 })!;
          const again = readGtx(writeGtx(piece));
          if (!again.ok) throw new Error(again.reason);
          expect(again.grid.values).toEqual(piece.values);
          for (const [u, v] of [
            [0, 0],
            [0.3, 0.2],
            [0.6, 0.4],
          ])
            expect(
              Math.abs(geoidHeight(again.grid, west + u, south + v) - geoidHeight(grid, west + u, south + v)),
            ).toBeLessThan(1e-6);
          expect(geoidArea(piece).west).toBeLessThanOrEqual(west + 1e-9);
        },
      ),
      { numRuns: 60 },
    );
    expect(
      cutGeoid(cutGeoid(grid, { west: 1, east: 2, south: 1, north: 2 })!, { west: 9, east: 10, south: 1, north: 2 }),
    ).toBeNull();
  });

  it('a GeoTIFF made by gdal_translate of the same grid gives the same heights', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'dunrik-geoid-'));
    const piece = cutGeoid(egm(), { west: 14, east: 16, south: 46, north: 48 })!;
    writeFileSync(join(folder, 'a.gtx'), writeGtx(piece));
    execFileSync('gdal_translate', ['-q', '-of', 'GTiff', join(folder, 'a.gtx'), join(folder, 'a.tif')]);
    const tiff = new Uint8Array(readFileSync(join(folder, 'a.tif')));
    const read = await readTiffGeoid(tiff);
    if (!read.ok) throw new Error(read.reason);
    for (const [lon, lat] of [
      [14, 46],
      [15.13, 47.77],
      [16, 48],
    ])
      expect(geoidHeight(read.grid, lon, lat)).toBeCloseTo(geoidHeight(piece, lon, lat), 6);
    const cut = await readTiffGeoid(tiff.subarray(0, 200));
    expect(cut.ok).toBe(false);
  });

  it('files cut short, with wrong counts, exchanged latitudes, or random bytes are refused and never throw', () => {
    const reason = (b: Uint8Array): string => {
      const read = readGtx(b);
      return read.ok ? 'read' : read.reason;
    };
    expect(reason(bytes.subarray(0, 4000))).toMatch(/cut short: it states 721 × 1440 nodes, 990 are there/);
    expect(reason(bytes.subarray(0, 12))).toContain('too short');
    const altered = (change: (v: DataView) => void): Uint8Array => {
      const b = bytes.slice();
      change(new DataView(b.buffer));
      return b;
    };
    expect(reason(altered((v) => v.setInt32(32, 700)))).toContain('counts are wrong');
    expect(reason(altered((v) => v.setInt32(32, -1)))).toContain('cannot be');
    expect(reason(altered((v) => v.setFloat64(0, 120)))).toContain('swapped');
    expect(reason(altered((v) => v.setFloat64(16, NaN)))).toContain('not a number');
    fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (b) => reason(b) !== ''));
  });
});
