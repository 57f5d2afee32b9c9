import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  factorsAt,
  findSystems,
  geographicAt,
  holdNtv2,
  holdTiff,
  makeSystem,
  projectedAt,
  readDefinition,
  readNtv2,
  sameDatum,
  systemByCode,
  systemFromParameters,
  transformBetween,
  WGS84,
  type PublishedSystem,
  type RegistryEntry,
  type SystemParameters,
} from '#core/basis';

const list = Object.values(createRequire(import.meta.url)('epsg-index/all.json') as Record<string, RegistryEntry>);
const US_FOOT = 1200 / 3937;
const dms = (d: number, m = 0, s = 0): number => d + m / 60 + s / 3600;

const system = (definition: string): PublishedSystem => {
  const made = makeSystem({ name: 'test', code: null, definition, area: null });
  if (!made.ok) throw new Error(made.reason);
  return made.system;
};
const byCode = (code: string): PublishedSystem => {
  const made = systemByCode(list, code);
  if (!made.ok) throw new Error(made.reason);
  return made.system;
};

// IOGP Publication 373-7-2 (EPSG Guidance Note 7-2), worked examples; numbers from memory, each confirmed by cs2cs below.
const EXAMPLES: {
  what: string;
  parameters: Partial<SystemParameters>;
  ellipsoid?: string;
  at: [number, number];
  grid: [number, number];
  unit?: number;
  digits: number;
}[] = [
  {
    what: 'Transverse Mercator, OSGB 1936 / British National Grid',
    parameters: {
      method: 'tmerc',
      latitude: 49,
      longitude: -2,
      scale: 0.9996012717,
      falseEast: 400000,
      falseNorth: -100000,
      ellipsoid: 'airy',
    },
    at: [dms(0, 30), dms(50, 30)],
    // The note prints 577274.99 and 69740.50 by its own series; PROJ's give 577274.984 and 69740.492.
    grid: [577274.99, 69740.5],
    digits: 0.01,
  },
  {
    what: 'Lambert Conic Conformal (1SP), JAD69 / Jamaica National Grid',
    parameters: {
      method: 'lcc1',
      latitude: 18,
      longitude: -77,
      scale: 1,
      falseEast: 250000,
      falseNorth: 150000,
      ellipsoid: 'clrk66',
    },
    at: [-dms(76, 56, 37.26), dms(17, 55, 55.8)],
    grid: [255966.58, 142493.51],
    digits: 0.005,
  },
  {
    what: 'Lambert Conic Conformal (2SP), NAD27 / Texas South Central',
    parameters: {
      method: 'lcc2',
      latitude: dms(27, 50),
      longitude: -99,
      parallel1: dms(28, 23),
      parallel2: dms(30, 17),
      scale: 1,
      falseEast: 2000000 * US_FOOT,
      falseNorth: 0,
      ellipsoid: 'clrk66',
    },
    at: [-96, 28.5],
    grid: [2963503.91, 254759.8],
    unit: US_FOOT,
    digits: 0.005,
  },
  {
    what: 'Oblique Stereographic, Amersfoort / RD New',
    parameters: {
      method: 'sterea',
      latitude: dms(52, 9, 22.178),
      longitude: dms(5, 23, 15.5),
      scale: 0.9999079,
      falseEast: 155000,
      falseNorth: 463000,
      ellipsoid: 'bessel',
    },
    at: [6, 53],
    grid: [196105.283, 557057.739],
    digits: 0.001,
  },
  {
    what: 'Polar Stereographic (variant A), WGS 84 / UPS North',
    parameters: {
      method: 'stere',
      latitude: 90,
      longitude: 0,
      scale: 0.994,
      falseEast: 2000000,
      falseNorth: 2000000,
      ellipsoid: 'WGS84',
    },
    at: [44, 73],
    grid: [3320416.75, 632668.43],
    digits: 0.005,
  },
];

describe('EPSG Guidance Note 7-2, worked examples', () => {
  for (const e of EXAMPLES)
    it(e.what, () => {
      const made = systemFromParameters({ name: e.what, datum: { kind: 'same' }, ...e.parameters } as SystemParameters);
      if (!made.ok) throw new Error(made.reason);
      const unit = e.unit ?? 1;
      const grid = projectedAt(made.system, e.at[0], e.at[1])!;
      expect(Math.abs(grid.x / unit - e.grid[0])).toBeLessThanOrEqual(e.digits);
      expect(Math.abs(grid.y / unit - e.grid[1])).toBeLessThanOrEqual(e.digits);
      const back = geographicAt(made.system, e.grid[0] * unit, e.grid[1] * unit)!;
      expect(Math.abs(back.longitude - e.at[0])).toBeLessThan(2e-7);
      expect(Math.abs(back.latitude - e.at[1])).toBeLessThan(2e-7);
    });

  it('Oblique Mercator (variant B), Timbalai 1948 / RSO Borneo', () => {
    const s = system(
      `+proj=omerc +lat_0=4 +lonc=115 +alpha=${dms(53, 18, 56.9537)} +gamma=${dms(53, 7, 48.3685)} +k=0.99984 +x_0=590476.87 +y_0=442857.65 +a=6377298.556 +rf=300.8017`,
    );
    const at = projectedAt(s, dms(115, 48, 19.8196), dms(5, 23, 14.1129))!;
    expect(Math.abs(at.x - 679245.73)).toBeLessThanOrEqual(0.005);
    expect(Math.abs(at.y - 596562.78)).toBeLessThanOrEqual(0.005);
  });
});

/** A repeatable stream in [0, 1). */
function stream(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 1103515245 + 12345) % 2147483648) / 2147483648;
}

/** PROJ's own answers: places lon/lat in degrees to a projected system. */
function cs2cs(from: string, to: string, places: [number, number][]): [number, number][] {
  const out = execFileSync('cs2cs', ['-f', '%.6f', ...from.split(' '), '+to', ...to.split(' ')].filter(Boolean), {
    input: places.map((p) => p.join(' ')).join('\n') + '\n',
    encoding: 'utf8',
  });
  return out
    .trim()
    .split('\n')
    .map((l) => l.trim().split(/\s+/).slice(0, 2).map(Number) as [number, number]);
}

describe('PROJ’s cs2cs (Debian proj-bin) on thousands of places', () => {
  for (const code of [
    'EPSG:25833',
    'EPSG:2277',
    'EPSG:2154',
    'EPSG:28992',
    'EPSG:3031',
    'EPSG:29873',
    'EPSG:31467',
    'EPSG:2056',
  ])
    it(`${code}: forward within 0.1 mm, and back`, () => {
      const s = byCode(code);
      const own = s.definition.replace(/\+(towgs84|nadgrids)=\S+/g, '');
      const next = stream(7);
      const { west, south, east, north } = s.area!;
      const places = Array.from({ length: 1000 }, (): [number, number] => [
        west + (east - west) * next(),
        Math.max(-89, south) + (north - Math.max(-89, south)) * next(),
      ]);
      const ellipsoid = own.match(/\+(ellps|a|rf|b|datum|pm)=\S+/g)!.join(' ');
      const truth = cs2cs(`+proj=longlat ${ellipsoid} +no_defs`, own, places);
      let worst = 0;
      places.forEach(([lon, lat], i) => {
        const at = projectedAt(s, lon, lat)!;
        worst = Math.max(worst, Math.abs(at.x - truth[i][0]), Math.abs(at.y - truth[i][1]));
        const back = geographicAt(s, at.x, at.y)!;
        expect(Math.abs(back.latitude - lat)).toBeLessThan(2e-9);
      });
      expect(worst).toBeLessThan(1e-4);
    });

  it('a datum by seven parameters: DHDN to WGS 84 within a millimetre', () => {
    const from = system(
      '+proj=tmerc +lat_0=0 +lon_0=9 +k=1 +x_0=3500000 +y_0=0 +ellps=bessel +towgs84=598.1,73.7,418.2,0.202,0.045,-2.455,6.7 +units=m',
    );
    const to = system('+proj=utm +zone=32 +datum=WGS84 +units=m');
    const next = stream(3);
    const places = Array.from({ length: 2000 }, (): [number, number] => [
      3400000 + 200000 * next(),
      5300000 + 600000 * next(),
    ]);
    const truth = cs2cs(from.definition, to.definition, places);
    const made = transformBetween(from, to);
    if (!made.ok) throw new Error(made.reason);
    const x = Float64Array.from(places, (p) => p[0]);
    const y = Float64Array.from(places, (p) => p[1]);
    expect(made.transformation.apply(x, y)).toBe(0);
    truth.forEach(([e, n], i) => {
      expect(Math.abs(x[i] - e)).toBeLessThan(1e-3);
      expect(Math.abs(y[i] - n)).toBeLessThan(1e-3);
    });
  });
});

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

describe('GeographicLib (Debian geographiclib-tools)', () => {
  it('convergence and point scale of a transverse Mercator agree with TransverseMercatorProj to 1e-9', () => {
    const s = system('+proj=tmerc +lat_0=0 +lon_0=15 +k=0.9996 +x_0=500000 +y_0=0 +ellps=WGS84 +units=m');
    const next = stream(5);
    const places = Array.from({ length: 300 }, (): [number, number] => [11 + 8 * next(), -70 + 140 * next()]);
    const out = execFileSync('TransverseMercatorProj', ['-s', '-l', '15', '-k', '0.9996', '-p', '9'], {
      input: places.map(([lon, lat]) => `${lat} ${lon}`).join('\n') + '\n',
      encoding: 'utf8',
    });
    out
      .trim()
      .split('\n')
      .forEach((line, i) => {
        const [, , convergence, scale] = line.split(/\s+/).map(Number);
        const at = projectedAt(s, ...places[i])!;
        const f = factorsAt(s, at.x, at.y, 0)!;
        expect(Math.abs((f.convergence * 180) / Math.PI - convergence)).toBeLessThan(1e-7);
        expect(Math.abs(f.pointScale - scale)).toBeLessThan(1e-9);
      });
  });

  it('a short line on the grid, over the combined factor, is the line on the ground: against the geodesic', () => {
    const s = byCode('EPSG:25833');
    const from = projectedAt(s, 15.2, 47.1)!;
    const out = execFileSync('GeodSolve', ['-p', '6'], { input: '47.1 15.2 40 1000\n', encoding: 'utf8' });
    const [lat, lon] = out.split(/\s+/).map(Number);
    const to = projectedAt(s, lon, lat)!;
    const f = factorsAt(s, (from.x + to.x) / 2, (from.y + to.y) / 2, 0)!;
    const grid = Math.sqrt((to.x - from.x) ** 2 + (to.y - from.y) ** 2);
    expect(Math.abs(grid / f.pointScale - 1000)).toBeLessThan(1e-4);
    const up = factorsAt(s, from.x, from.y, 800)!;
    // R / (R + h), mean radius about 6 383 km at 47°: 800 m shorten by some 125 ppm.
    expect((1 - up.elevationFactor) * 1e6).toBeCloseTo(125.3, 0);
  });
});

describe('systems', () => {
  it('are found by code, by words of name and area, and by what people type', () => {
    expect(findSystems(list, 'EPSG:25833')[0].code).toBe('EPSG:25833');
    expect(findSystems(list, 'etrs89 utm 33n').map((s) => s.code)).toContain('EPSG:25833');
    expect(findSystems(list, 'texas central ftus').map((s) => s.code)).toContain('EPSG:2277');
    expect(findSystems(list, '   ')).toEqual([]);
    expect(findSystems(list, '(((').length).toBe(0);
  });

  it('in feet are held in metres, and say the unit they are published in', () => {
    const s = byCode('2277');
    expect(s.unit).toBe('usft');
    expect(s.definition).toContain('+units=m');
    const published = list.find((e) => e.code === '2277')!.proj4!.replace('+towgs84=0,0,0,0,0,0,0', '');
    const [[east, north]] = cs2cs('+proj=longlat +ellps=GRS80 +no_defs', published, [[-98, 31]]);
    const at = projectedAt(s, -98, 31)!;
    expect(at.x / US_FOOT).toBeCloseTo(east, 3);
    expect(at.y / US_FOOT).toBeCloseTo(north, 3);
    expect(at.x).toBeGreaterThan(s.extent![0]);
    expect(at.x).toBeLessThan(s.extent![2]);
  });

  it('nearly all of the list can be made; each that is made holds the middle of its area', () => {
    let made = 0;
    let refused = 0;
    for (const entry of list) {
      if (entry.kind !== 'CRS-PROJCRS' || !entry.proj4 || Number(entry.code) % 7) continue;
      const s = systemByCode(list, entry.code);
      if (s.ok) made++;
      else refused++;
    }
    expect(made).toBeGreaterThan(700);
    expect(refused / made).toBeLessThan(0.05);
  });

  it('bad definitions are refused in a sentence', () => {
    const reason = (d: string): string => {
      const r = readDefinition(d);
      return r.ok ? 'read' : r.reason;
    };
    expect(reason('+proj=tmerc +k=0')).toContain('scale factor of 0');
    expect(reason('+proj=tmerc +k=10')).toContain('scale factor of 10');
    expect(reason('+proj=tmerc +lat_0=121 +lon_0=15')).toContain('swapped?');
    expect(reason('+proj=magic')).toContain('magic');
    expect(reason('+proj=tmerc +nadgrids=../../etc/passwd;')).toContain('nadgrids');
    expect(reason('+lat_0=3')).toContain('+proj');
    expect(reason('x'.repeat(5000))).toContain('5000');
    expect(reason('+proj=lcc +lat_1=30 +lat_2=-30')).toContain('cone');
    expect(reason('+proj=tmerc +k=abc')).toContain('not a number');
    expect(systemByCode(list, '4978').ok).toBe(false);
    expect(systemByCode(list, 'nonsense')).toEqual({ ok: false, reason: expect.stringContaining('not a code') });
  });

  it('on one datum need no grid between them', () => {
    expect(sameDatum(byCode('25832'), byCode('25833'))).toBe(true);
    const made = transformBetween(byCode('25832'), byCode('25833'));
    expect(made.ok).toBe(true);
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
