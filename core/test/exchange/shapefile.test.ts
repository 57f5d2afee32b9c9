import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, describe, expect, it } from 'vitest';
import { shapefile } from '../../../bench/fuzz/shapefile.ts';
import { contentOfFile, formatOf, linesIn, packShapefile, pointsIn, rowsOfFile } from '#core/exchange';

// Shapefiles that GDAL wrote (Debian gdal-bin).

const dir = mkdtempSync(join(tmpdir(), 'dunrik-shapes-'));
afterAll(() => rmSync(dir, { recursive: true }));

type Feature = { geometry: { type: string; coordinates: unknown }; properties?: Record<string, unknown> };
/** The files of a Shapefile of these, by name. */
function files(name: string, features: Feature[], ...options: string[]): Map<string, Uint8Array> {
  const json = join(dir, `${name}.geojson`);
  writeFileSync(json, JSON.stringify({ type: 'FeatureCollection', features: features.map((f) => ({ type: 'Feature', properties: {}, ...f })) })); // prettier-ignore
  execFileSync('ogr2ogr', ['-f', 'ESRI Shapefile', join(dir, `${name}.shp`), json, '-lco', 'ENCODING=UTF-8', ...options], { stdio: 'pipe' }); // prettier-ignore
  const parts = readdirSync(dir).filter((f) => f.startsWith(`${name}.`) && !f.endsWith('.geojson'));
  return new Map(parts.map((f) => [f, new Uint8Array(readFileSync(join(dir, f)))]));
}
const UTM = ['-a_srs', 'EPSG:32735'];
const read = (parts: Map<string, Uint8Array>) => contentOfFile(packShapefile(parts))!;
const at = (type: string, coordinates: unknown, properties: Record<string, unknown> = {}): Feature => ({ geometry: { type, coordinates }, properties }); // prettier-ignore

describe('a Shapefile', () => {
  const POINTS = [at('Point', [500000.25, 7000000.5, 12.125], { NUMBER: 'P1', CODE: 'TREE', HOW: 'été' }), at('Point', [500010, 7000010, 13], { NUMBER: 'P2', CODE: 'GR', HOW: '' })]; // prettier-ignore

  it('gives points with number, layer, elevation, and says its unit and system', () => {
    const content = read(files('points', POINTS, ...UTM));
    expect(pointsIn(content)).toMatchObject([{ number: 'P1', x: 500000.25, y: 7000000.5, z: 12.125, description: 'TREE' }, { number: 'P2', description: 'GR', z: 13 }]); // prettier-ignore
    expect(content).toMatchObject({ kind: 'dxf', unit: 'm', called: 'Shapefile' });
    expect((content as { system?: string }).system).toMatch(/WGS 84 \/ UTM zone 35S|WGS 1984 UTM Zone 35S/);
  });

  it('gives lines in space and in plan, of several parts, and rims with their holes', () => {
    const content = read(files('lines', [at('LineString', [[500000, 7000000, 5], [500010, 7000000, 6]], { LAYER: 'KERB' }), at('MultiLineString', [[[0, 0, 1], [1, 1, 2]], [[5, 5, 3], [6, 6, 4], [7, 6, 4]]], { LAYER: 'WALL' })], ...UTM)); // prettier-ignore
    const lines = linesIn(content);
    expect(lines.map((l) => [l.code, l.closed, l.x.length])).toEqual([['KERB', false, 2], ['WALL', false, 2], ['WALL', false, 3]]); // prettier-ignore
    expect(lines[2]).toMatchObject({ x: [5, 6, 7], y: [5, 6, 6], z: [3, 4, 4] });
    const flat = read(files('areas', [at('Polygon', [[[0, 0], [0, 9], [9, 9], [9, 0], [0, 0]], [[2, 2], [4, 2], [4, 4], [2, 2]]], { LAYER: 'LOT' })], ...UTM)); // prettier-ignore
    expect(linesIn(flat).map((l) => [l.closed, l.x.length, l.z.every(Number.isNaN)])).toEqual([[true, 4, true], [true, 3, true]]); // prettier-ignore
  });

  it('takes elevations from an attribute where the geometry has none: contours', () => {
    const content = read(files('contours', [at('LineString', [[0, 0], [9, 0], [9, 9]], { ELEV: 62.4 }), at('LineString', [[0, 5], [5, 9]], { ELEV: null })], ...UTM)); // prettier-ignore
    const [first, second] = linesIn(content);
    expect(first.z).toEqual([62.4, 62.4, 62.4]);
    // What is not said is not 0.
    expect(second.z.every(Number.isNaN)).toBe(true);
    expect(first.code).toBe('CONTOURS');
  });

  it('in longitude and latitude goes the way of such files, in feet says so', () => {
    const content = read(files('degrees', [at('Point', [27.5, -26.1, 1500], { NAME: 'A' })], '-a_srs', 'EPSG:4326'));
    expect(content.kind).toBe('geojson');
    expect(pointsIn(content)).toMatchObject([{ number: 'A', x: 27.5, y: -26.1, z: 1500 }]);
    expect(read(files('feet', [at('Point', [1e6, 2e5])], '-a_srs', 'EPSG:2225')).unit).toBe('usft');
  });

  it('becomes rows as any drawing does, with what is ticked', () => {
    const rows = rowsOfFile(packShapefile(files('rows', POINTS, ...UTM)), { taken: [{ layer: 'TREE', kind: 'POINT', as: 'points' }] }); // prettier-ignore
    expect(rows).toMatchObject({ ok: true, claims: { unit: 'm' } });
    expect(rows.ok && rows.text.split('\n').slice(1)).toEqual(['P1\t500000.25\t7000000.5\t12.125\tTREE']);
    expect(rows.ok && rows.drawing?.rows.map((r) => [r.layer, r.kind, r.count])).toEqual([['GR', 'POINT', 1], ['TREE', 'POINT', 1]]); // prettier-ignore
  });

  it('without its attributes, its index or its system is read for what it has, and says what is missing', () => {
    const all = files('bare', POINTS, ...UTM);
    const alone = contentOfFile(all.get('bare.shp')!)!;
    expect(pointsIn(alone)).toHaveLength(2);
    expect(alone).toMatchObject({ unit: null, content: { problems: [{ what: expect.stringContaining('(.dbf) are missing') as string }] } }); // prettier-ignore
    const few = new Map([...all].filter(([n]) => /shp$|dbf$/.test(n)));
    expect(pointsIn(read(few))[0].number).toBe('P1');
    expect(pointsIn(read(new Map([...all, ['bare.dbf', all.get('bare.dbf')!.subarray(0, 40)]])))).toHaveLength(2);
  });

  it('has letters as its code page says, and without one as they can be read', () => {
    const all = files('letters', [at('Point', [1, 2, 3], { NAME: 'Été', CODE: 'GR' })], ...UTM);
    expect(pointsIn(read(all))[0].number).toBe('Été');
    const unsaid = new Map([...all].filter(([n]) => !n.endsWith('.cpg')));
    expect(pointsIn(read(unsaid))[0].number).toBe('Été');
    const dbf = unsaid.get('letters.dbf')!;
    const place = dbf.findIndex((b, i) => b === 0xc3 && dbf[i + 1] === 0x89);
    const western = dbf.slice();
    western.set([0xc9, ...dbf.slice(place + 2, dbf.length)], place);
    // É as one byte, é as one, and blanks behind.
    const second = western.findIndex((b, i) => b === 0xc3 && western[i + 1] === 0xa9);
    western.set([0xe9, ...western.slice(second + 2, western.length)], second);
    expect(pointsIn(read(new Map([...unsaid, ['letters.dbf', western]])))[0].number).toMatch(/^Été/);
  });

  it('made by hand by the published layout is read as it says', () => {
    const lines = linesIn(contentOfFile(shapefile())!);
    expect(lines.map((l) => [l.code, l.x.length])).toEqual([['KERB', 2], ['KERB', 3], ['WALL', 2], ['WALL', 3]]); // prettier-ignore
    expect(lines[1]).toMatchObject({ x: [4, 5, 6], y: [4, 5, 4], z: [7, 8, 9] });
  });

  it('whose table promises more than it holds is read without it', () => {
    const all = files('promises', POINTS, ...UTM);
    const dbf = all.get('promises.dbf')!.slice();
    new DataView(dbf.buffer).setUint16(10, 1, true);
    const got = read(new Map([...all, ['promises.dbf', dbf]]));
    expect(got).toMatchObject({ content: { problems: [{ what: expect.stringContaining('shorter than their fields') as string }] } }); // prettier-ignore
    expect(pointsIn(got)).toHaveLength(2);
  });

  it('is known by what it holds, and damaged gives a sentence or a part, and never throws', () => {
    const all = files('hostile', [...POINTS, ...POINTS], ...UTM);
    const zip = packShapefile(all);
    expect(formatOf(zip, null)?.name).toBe('shapefile');
    expect(formatOf(zipSync({ 'readme.txt': new Uint8Array(3) }), null)?.name).not.toBe('shapefile');
    const shp = all.get('hostile.shp')!;
    for (let n = 0; n < shp.length; n += 7) {
      const cut = contentOfFile(shp.slice(0, Math.max(4, n)))!;
      expect(pointsIn(cut).length).toBeLessThanOrEqual(4);
      if (n < 100) expect(cut.content.problemCount).toBeGreaterThan(0);
    }
    let seed = 7;
    const random = (): number => (seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff) / 0x80000000;
    for (let round = 0; round < 300; round++) {
      const bad = new Map([...all].map(([n, b]) => [n, b.slice()]));
      const one = bad.get(round % 2 ? 'hostile.shp' : 'hostile.dbf')!;
      for (let k = 0; k < 3; k++) one[Math.floor(random() * one.length)] = Math.floor(random() * 256);
      const got = read(bad);
      for (const p of pointsIn(got)) expect([p.x, p.y].every(Number.isFinite)).toBe(true);
    }
  });
});
