import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { holdNtv2, holdTiff, readNtv2, transformBetween, WGS84 } from '#core/basis';
import { byCode, cs2cs, stream, system } from './outside.ts';

describe('datum grids', () => {
  const bytes = new Uint8Array(readFileSync('/usr/share/proj/BETA2007.gsb'));

  it('shifts by an NTv2 grid as cs2cs does, forth and back', () => {
    expect(holdNtv2('BETA2007.gsb', 'b'.repeat(64), bytes).ok).toBe(true);
    const from = system(
      '+proj=tmerc +lat_0=0 +lon_0=9 +k=1 +x_0=3500000 +y_0=0 +ellps=bessel +nadgrids=BETA2007.gsb +units=m',
    );
    const to = system('+proj=utm +zone=32 +ellps=GRS80 +towgs84=0,0,0 +units=m');
    const next = stream(11);
    const places = Array.from({ length: 2000 }, (): [number, number] => [
      3420000 + 150000 * next(),
      5350000 + 500000 * next(),
    ]);
    const truth = cs2cs(from.definition, to.definition, places);
    const there = transformBetween(from, to);
    const back = transformBetween(to, from);
    if (!there.ok || !back.ok) throw new Error('no transformation');
    const x = Float64Array.from(places, (p) => p[0]);
    const y = Float64Array.from(places, (p) => p[1]);
    expect(there.transformation.apply(x, y)).toBe(0);
    truth.forEach(([e, n], i) => {
      expect(Math.abs(x[i] - e)).toBeLessThan(1e-3);
      expect(Math.abs(y[i] - n)).toBeLessThan(1e-3);
    });
    back.transformation.apply(x, y);
    places.forEach(([e, n], i) => {
      expect(Math.abs(x[i] - e)).toBeLessThan(1e-3);
      expect(Math.abs(y[i] - n)).toBeLessThan(1e-3);
    });
  });

  it('shifts by a GeoTIFF grid as cs2cs does with the same file', async () => {
    // The NTv2 grid as GeoTIFF, by gdal: latitude offsets as they are, longitude offsets counted east.
    const folder = mkdtempSync(join(tmpdir(), 'dunrik-grid-'));
    const tif = join(folder, 'beta.tif');
    const info = JSON.parse(
      execFileSync('gdalinfo', ['-json', '/usr/share/proj/BETA2007.gsb'], { encoding: 'utf8' }),
    ) as { size: [number, number]; geoTransform: number[] };
    const band = (n: number, scale: number): string =>
      `<VRTRasterBand dataType="Float32" band="${n}"><ComplexSource><SourceFilename>/usr/share/proj/BETA2007.gsb</SourceFilename><SourceBand>${n}</SourceBand><ScaleRatio>${scale}</ScaleRatio></ComplexSource></VRTRasterBand>`;
    writeFileSync(
      join(folder, 'beta.vrt'),
      `<VRTDataset rasterXSize="${info.size[0]}" rasterYSize="${info.size[1]}"><SRS>EPSG:4326</SRS><GeoTransform>${info.geoTransform.join(',')}</GeoTransform><Metadata><MDI key="TYPE">HORIZONTAL_OFFSET</MDI><MDI key="AREA_OR_POINT">Point</MDI></Metadata>${band(1, 1)}${band(2, -1)}</VRTDataset>`,
    );
    execFileSync('gdal_translate', ['-q', '-of', 'GTiff', join(folder, 'beta.vrt'), tif]);
    const held = await holdTiff('beta.tif', 'c'.repeat(64), new Uint8Array(readFileSync(tif)));
    expect(held).toMatchObject({ ok: true, facts: { subgrids: [{ columns: info.size[0], rows: info.size[1] }] } });
    const from = system('+proj=tmerc +lat_0=0 +lon_0=9 +k=1 +x_0=3500000 +ellps=bessel +nadgrids=beta.tif +units=m');
    const to = system('+proj=utm +zone=32 +ellps=GRS80 +towgs84=0,0,0 +units=m');
    const next = stream(12);
    const places = Array.from({ length: 500 }, (): [number, number] => [
      3420000 + 150000 * next(),
      5350000 + 500000 * next(),
    ]);
    const truth = cs2cs(from.definition.replace('beta.tif', tif), to.definition, places);
    const made = transformBetween(from, to);
    if (!made.ok) throw new Error(made.reason);
    const x = Float64Array.from(places, (p) => p[0]);
    const y = Float64Array.from(places, (p) => p[1]);
    expect(made.transformation.apply(x, y)).toBe(0);
    truth.forEach(([e, n], i) => {
      expect(Math.abs(x[i] - e)).toBeLessThan(1e-3);
      expect(Math.abs(y[i] - n)).toBeLessThan(1e-3);
    });
    rmSync(folder, { recursive: true });
  });

  it('a place outside the grid is lost and counted, not shifted by something else', () => {
    const from = system(
      '+proj=tmerc +lat_0=0 +lon_0=9 +k=1 +x_0=3500000 +y_0=0 +ellps=bessel +nadgrids=BETA2007.gsb +units=m',
    );
    const made = transformBetween(from, WGS84);
    if (!made.ok) throw new Error(made.reason);
    const x = Float64Array.of(3500000, 3500000);
    const y = Float64Array.of(5500000, 3000000);
    expect(made.transformation.apply(x, y)).toBe(1);
    expect(Number.isNaN(x[1])).toBe(true);
    expect(Math.abs(y[0] - 49.6)).toBeLessThan(0.2);
  });

  it('a grid that is lacking is named', () => {
    const made = transformBetween(byCode('27700'), WGS84);
    expect(made).toEqual({ ok: false, reason: expect.stringContaining('OSTN15_NTv2_OSGBtoETRS.gsb') });
  });

  it('files cut short, with wrong node counts, or none at all are refused with what is wrong', () => {
    const reason = (b: Uint8Array): string => {
      const read = readNtv2(b);
      return read.ok ? 'read' : read.reason;
    };
    expect(reason(bytes.subarray(0, bytes.length - 1000))).toContain('cut short');
    expect(reason(bytes.subarray(0, 100))).toContain('too short');
    expect(reason(new TextEncoder().encode('x'.repeat(1000)))).toContain('NUM_OREC');
    const wrong = bytes.slice();
    new DataView(wrong.buffer).setInt32(176 + 168, 12, true);
    expect(reason(wrong)).toMatch(/states 12 nodes, but its limits make \d+ × \d+/);
  });
});

describe('heights through a change of datum', () => {
  const DATUM = '+ellps=airy +towgs84=446.448,-125.157,542.06,0.15,0.247,0.842,-20.489';
  const HELMERT =
    '+x=446.448 +y=-125.157 +z=542.06 +rx=0.15 +ry=0.247 +rz=0.842 +s=-20.489 +convention=position_vector';
  const places = [[-3, 55.5, 650], [-1.2, 52.1, 12], [-4.4, 50.3, 1344.2]]; // prettier-ignore

  it('over the ellipsoid change as PROJ’s cct has it, some fifty metres; above the sea they stay, and count in plan', () => {
    const pipeline = `+proj=pipeline +step +proj=unitconvert +xy_in=deg +xy_out=rad +step +proj=cart +ellps=airy +step +proj=helmert ${HELMERT} +step +inv +proj=cart +ellps=WGS84 +step +proj=unitconvert +xy_in=rad +xy_out=deg`; // prettier-ignore
    const out = execFileSync('cct', ['-d', '9', ...pipeline.split(' ')], { input: places.map((p) => p.join(' ')).join('\n') + '\n', encoding: 'utf8' }); // prettier-ignore
    const outside = out.trim().split('\n').map((l) => l.trim().split(/\s+/).map(Number)); // prettier-ignore
    const t = transformBetween(system(`+proj=longlat ${DATUM}`), system('+proj=longlat +datum=WGS84'));
    if (!t.ok) throw new Error(t.reason);
    const column = (i: number): Float64Array => Float64Array.from(places, (p) => p[i]);
    const [x, y, z] = [column(0), column(1), column(2)];
    t.transformation.apply(x, y, z, 'ellipsoidal');
    outside.forEach(([lon, lat, h], i) => {
      // A millimetre: proj4 and PROJ turn small angles into a rotation in two ways.
      expect(Math.abs(x[i] - lon)).toBeLessThan(1.5e-8);
      expect(Math.abs(y[i] - lat)).toBeLessThan(1e-8);
      expect(z[i]).toBeCloseTo(h, 2);
      expect(Math.abs(z[i] - places[i][2])).toBeGreaterThan(40);
    });
    const [px, py, pz] = [column(0), column(1), column(2)];
    t.transformation.apply(px, py, pz, 'orthometric');
    expect([...pz]).toEqual(places.map((p) => p[2]));
    expect([...px]).toEqual([...x]);
    // Without any height the high place lies elsewhere: centimetres.
    const [fx, fy] = [column(0), column(1)];
    t.transformation.apply(fx, fy);
    expect(Math.abs(fx[0] - px[0]) * 63_000 + Math.abs(fy[0] - py[0]) * 111_000).toBeGreaterThan(0.005);
  });
});
