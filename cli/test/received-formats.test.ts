import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// LandXML with more than points and surfaces, a GeoPackage and elevation grids (GDAL), as a script meets them.

const ROAD = `<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Imperial linearUnit="foot"/></Units>
<Alignments><Alignment name="Road" staStart="1000"><StaEquation staInternal="1080" staBack="1080" staAhead="2000"/><CoordGeom><Line><Start>1100 3100</Start><End>1100 3200</End></Line></CoordGeom><Profile><ProfAlign name="design"><PVI>1000 50</PVI><PVI>1100 60</PVI></ProfAlign></Profile></Alignment></Alignments>
<PipeNetworks><PipeNetwork name="Storm"><Structs><Struct name="M1" elevRim="62" elevSump="59"><Center>1100 3210</Center></Struct></Structs></PipeNetwork></PipeNetworks></LandXML>`;

beforeAll(() => {
  writeFileSync(at('road.xml'), ROAD);
  const feature = (type: string, coordinates: unknown, properties: object) => ({ type: 'Feature', geometry: { type, coordinates }, properties }); // prettier-ignore
  writeFileSync(at('site.geojson'), JSON.stringify({ type: 'FeatureCollection', features: [feature('LineString', [[500000, 7000000, 5], [500010, 7000000, 6]], { code: 'KB' }), feature('Point', [500004, 7000004, 7], { code: 'TR', number: 'T1' })] })); // prettier-ignore
  execFileSync('ogr2ogr', ['-f', 'GPKG', at('site.gpkg'), at('site.geojson'), '-a_srs', 'EPSG:32735'], { stdio: 'pipe' }); // prettier-ignore
  writeFileSync(at('dtm.asc'), 'ncols 3\nnrows 2\nxllcorner 100\nyllcorner 200\ncellsize 10\nNODATA_value -1\n1 2 3\n4 5 -1\n'); // prettier-ignore
  execFileSync('gdal_translate', ['-q', '-ot', 'Float32', '-a_srs', 'EPSG:32735', at('dtm.asc'), at('dtm.tif')]);
});

describe('LandXML on the command line', () => {
  it('lists its elements and how its alignments run, in metres', () => {
    const got = json<{ rows: { layer: string; kind: string; highest: number }[]; alignments: unknown[]; counts: Record<string, number> }>('inspect', at('road.xml')); // prettier-ignore
    expect(got.alignments).toEqual([{ name: 'Road', length: 30.48, start: 304.8, equations: [{ along: 80 * 0.3048, back: 1080 * 0.3048, ahead: 609.6 }] }]); // prettier-ignore
    expect(got.rows.map((r) => [r.layer, r.kind])).toEqual(expect.arrayContaining([['Road design', 'Profile'], ['Storm chambers', 'Struct'], ['Storm chambers', 'Sump']])); // prettier-ignore
    expect(got.rows.find((r) => r.kind === 'Profile')!.highest).toBeCloseTo(60 * 0.3048, 9);
    expect(got.counts).toMatchObject({ chambers: 1, profiles: 1, pipes: 0 });
  });

  it('is converted by kind and by layer, and says which it has not', () => {
    expect(json('convert', at('road.xml'), at('road.geojson'), '--kind', 'profile,struct')).toMatchObject({ points: 1, lines: 1, surfaces: 0 }); // prettier-ignore
    const out = JSON.parse(readFileSync(at('road.geojson'), 'utf8')) as { features: { geometry: { type: string; coordinates: number[][] } }[] }; // prettier-ignore
    const line = out.features.find((f) => f.geometry.type === 'LineString')!;
    expect(line.geometry.coordinates.at(-1)!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([975.36, 335.28, 18.288]);
    const { code, err } = dunrik('convert', at('road.xml'), at('none.dxf'), '--kind', 'parcel');
    expect([code, err]).toEqual([1, expect.stringContaining('It has')]);
  });
});

describe('a GeoPackage on the command line', () => {
  it('says what it holds and is converted as any drawing is', () => {
    expect(json('inspect', at('site.gpkg'))).toMatchObject({ kind: 'geopackage', unit: 'm', counts: { POINT: 1, POLYLINE: 1 }, basis: { system: 'EPSG:32735' } }); // prettier-ignore
    expect(json('convert', at('site.gpkg'), at('site.dxf'), '--layer', 'KB')).toMatchObject({ points: 0, lines: 1 });
  });

  it('that breaks off is refused with a sentence', () => {
    writeFileSync(at('half.gpkg'), readFileSync(at('site.gpkg')).subarray(0, 9000));
    const { code, err } = dunrik('inspect', at('half.gpkg'));
    expect([code, err]).toEqual([1, expect.stringContaining('is beyond its end')]);
  });
});

describe('an elevation grid on the command line', () => {
  it.each([['dtm.asc', null], ['dtm.tif', 'm']])('says its nodes and how high they are: %s', (file, unit) => {
    expect(json('inspect', at(file))).toMatchObject({ kind: 'elevation grid', unit, columns: 3, rows: 2, spacing: [10, 10], empty: 1, lowest: 1, highest: 5, extent: [105, 205, 125, 215] }); // prettier-ignore
  }); // prettier-ignore

  it('makes a surface of its nodes; one that names no unit is asked for it', () => {
    expect(json('surface', at('dtm.tif'), '-o', at('dtm.xml'))).toMatchObject({ vertices: 5, lowest: 1, highest: 5 });
    const { code, err } = dunrik('surface', at('dtm.asc'), '-o', at('dtm.xml'));
    expect([code, err]).toEqual([1, expect.stringContaining('does not say its unit')]);
    writeFileSync(at('short.asc'), readFileSync(at('dtm.asc'), 'utf8').replace('4 5 -1', '4'));
    expect(dunrik('surface', at('short.asc'), '--unit', 'm', '-o', at('dtm.xml')).err).toContain('cut short');
  });
});

describe('a grid of elevations in degrees', () => {
  it('is told as such, brought to a plane system by its own, and no surface before', () => {
    writeFileSync(at('d.asc'), 'ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3\n4 5 6\n');
    execFileSync('gdal_translate', ['-q', '-ot', 'Float32', '-a_srs', 'EPSG:4326', '-a_ullr', '-28', '46', '-27.997', '45.998', at('d.asc'), at('d.tif')]); // prettier-ignore
    const told = json<{ extent: number[]; spacing: number[]; basis: object }>('inspect', at('d.tif'));
    expect(told).toMatchObject({ kind: 'elevation grid', unit: 'm', lowest: 1, highest: 6, basis: { system: 'EPSG:4326', degrees: true } }); // prettier-ignore
    told.extent.forEach((v, i) => expect(v).toBeCloseTo([-27.9995, 45.9985, -27.9975, 45.9995][i], 9));
    expect(dunrik('surface', at('d.tif'), '-o', at('d.xml'))).toMatchObject({ code: 1 });
    json('convert', at('d.tif'), at('d.csv'), '--to', 'EPSG:32626');
    const rows = readFileSync(at('d.csv'), 'utf8').trim().split('\n').slice(1).map((r) => r.split(',').slice(1, 4).map(Number)); // prettier-ignore
    // PROJ's cs2cs (Debian proj-bin) on the same nodes.
    const nodes = [45.9995, 45.9985].flatMap((lat) => [-27.9995, -27.9985, -27.9975].map((lon) => `${lon} ${lat}`));
    const theirs = execFileSync('cs2cs', ['-f', '%.4f', '+proj=longlat +datum=WGS84', '+to', '+proj=utm +zone=26 +datum=WGS84'], { input: nodes.join('\n'), encoding: 'utf8' }); // prettier-ignore
    theirs.trim().split('\n').map((r) => r.split(/\s+/).map(Number)).forEach(([x, y], i) => {
      expect(Math.abs(rows[i][0] - x)).toBeLessThan(6e-4);
      expect(Math.abs(rows[i][1] - y)).toBeLessThan(6e-4);
      expect(rows[i][2]).toBe(i + 1);
    }); // prettier-ignore
    // Without a system it stays what it is, and says so.
    json('convert', at('d.tif'), at('still.csv'));
    expect(readFileSync(at('still.csv'), 'utf8')).toMatch(/^Number,Longitude,Latitude,/);
  });
});
