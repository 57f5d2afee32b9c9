import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { contentOfFile, formatOf, linesIn, notReadOf, pointsIn, rowsOfFile } from '#core/exchange';
import { seeded } from '../../../demo/src/random.ts';

// GeoPackages that GDAL wrote (Debian gdal-bin).

const dir = mkdtempSync(join(tmpdir(), 'dunrik-packages-'));
afterAll(() => rmSync(dir, { recursive: true }));

type Feature = { geometry: { type: string; coordinates: unknown }; properties?: Record<string, unknown> };
const at = (type: string, coordinates: unknown, properties: Record<string, unknown> = {}): Feature => ({ geometry: { type, coordinates }, properties }); // prettier-ignore
const ogr2ogr = (...args: string[]): void => void execFileSync('ogr2ogr', args, { stdio: 'pipe' });
const file = (name: string): string => join(dir, name);
const UTM = ['-a_srs', 'EPSG:32735'];

/** A GeoPackage of these, each list a table of its own. */
function packageOf(name: string, tables: Record<string, Feature[]>, ...options: string[]): Uint8Array {
  Object.entries(tables).forEach(([table, features], i) => {
    const json = file(`${name}-${i}.geojson`);
    writeFileSync(json, JSON.stringify({ type: 'FeatureCollection', features: features.map((f) => ({ type: 'Feature', properties: {}, ...f })) })); // prettier-ignore
    ogr2ogr(...(i ? ['-update'] : []), '-f', 'GPKG', file(`${name}.gpkg`), json, '-nln', table, ...options);
  });
  return new Uint8Array(readFileSync(file(`${name}.gpkg`)));
}
/** The same written as well-known text, with a row an entry. */
function packageOfText(name: string, texts: string[]): Uint8Array {
  writeFileSync(file(`${name}.csv`), `WKT,code\n${texts.map((t) => `"${t}",KB`).join('\n')}\n`);
  ogr2ogr('-f', 'GPKG', file(`${name}.gpkg`), file(`${name}.csv`), '-nln', name, '-oo', 'GEOM_POSSIBLE_NAMES=WKT', '-oo', 'KEEP_GEOM_COLUMNS=NO', ...UTM); // prettier-ignore
  return new Uint8Array(readFileSync(file(`${name}.gpkg`)));
}
const read = (bytes: Uint8Array) => contentOfFile(bytes)!;
const told = (bytes: Uint8Array): string => notReadOf(read(bytes)).notRead.map((p) => `${p.where}: ${p.why}`).join('; '); // prettier-ignore

describe('a GeoPackage', () => {
  it('gives points and lines of all its tables, with number, layer and elevation, its unit and its system', () => {
    const bytes = packageOf('site', {
      shots: [at('Point', [500000.25, 7000000.5, 12.125], { number: 'P1', code: 'TREE', how: 'été' }), at('Point', [500010, 7000010, 0], { number: 'P2' })],
      kerbs: [at('LineString', [[500000, 7000000, 5], [500010, 7000000, 6]]), at('MultiLineString', [[[0, 0, 1], [1, 1, 2]], [[5, 5, 3], [6, 6, 4], [7, 6, 4]]])],
    }, ...UTM); // prettier-ignore
    expect(formatOf(bytes, null)?.name).toBe('geopackage');
    const content = read(bytes);
    expect(content).toMatchObject({ kind: 'dxf', unit: 'm', called: 'GeoPackage', system: 'EPSG:32735' });
    expect(pointsIn(content)).toMatchObject([{ number: 'P1', x: 500000.25, y: 7000000.5, z: 12.125, description: 'TREE' }, { number: 'P2', z: 0, description: 'shots' }]); // prettier-ignore
    expect(linesIn(content).map((l) => [l.code, l.closed, l.x.length])).toEqual([['KERBS', false, 2], ['KERBS', false, 2], ['KERBS', false, 3]]); // prettier-ignore
    expect(told(bytes)).toBe('');
    const rows = rowsOfFile(bytes, { taken: [{ layer: 'shots', kind: 'POINT', as: 'points', code: 'GR' }] });
    expect(rows.ok && rows.text.split('\n')[1]).toBe('P2\t500010\t7000010\t0\tGR');
  });

  it('takes elevations from an attribute where the geometry has none, and rims with their holes', () => {
    const content = read(packageOf('areas', { lots: [at('Polygon', [[[0, 0], [0, 9], [9, 9], [9, 0], [0, 0]], [[2, 2], [4, 2], [4, 4], [2, 2]]], { elev: 61.5 })] }, ...UTM)); // prettier-ignore
    expect(linesIn(content).map((l) => [l.closed, l.x.length, l.z[0]])).toEqual([[true, 4, 61.5], [true, 3, 61.5]]); // prettier-ignore
  });

  it('keeps arcs as arcs, whole circles too, and courses of straights and arcs', () => {
    const content = read(packageOfText('arcs', ['CIRCULARSTRING (10 0, 7.0710678118654755 7.0710678118654755, 0 10)', 'CIRCULARSTRING (10 0, -10 0, 10 0)', 'COMPOUNDCURVE ((-5 0, 0 0), CIRCULARSTRING (0 0, 1 1, 2 0), (2 0, 5 0))', 'CURVEPOLYGON (CIRCULARSTRING (0 5, 5 0, 0 -5, -5 0, 0 5))'])); // prettier-ignore
    if (content.kind !== 'dxf') throw new Error();
    const [quarter, circle, mixed, disc] = content.content.polylines;
    expect(quarter.bulge[0]).toBeCloseTo(Math.tan(Math.PI / 8), 12);
    expect(circle.bulge.slice(0, 2)).toEqual([1, 1]);
    expect([mixed.x, mixed.bulge[1]]).toEqual([[-5, 0, 2, 5], -1]);
    expect([disc.closed, disc.x, disc.bulge]).toEqual([true, [0, 0], [-1, -1]]);
    for (const [x, y] of linesIn(content)[1].x.map((v, i) => [v, linesIn(content)[1].y[i]])) expect(Math.hypot(x, y)).toBeCloseTo(10, 9); // prettier-ignore
  });

  it('gives triangles as faces, parts of a collection each as what it is', () => {
    const content = read(packageOfText('mixed', ['TIN Z (((0 0 1, 9 0 2, 0 9 3, 0 0 1)), ((9 0 2, 9 9 4, 0 9 3, 9 0 2)))', 'GEOMETRYCOLLECTION Z (POINT Z (1 2 3), LINESTRING Z (0 0 1, 5 5 2))'])); // prettier-ignore
    if (content.kind !== 'dxf') throw new Error();
    expect(content.content.faces.map((f) => f.corners)).toEqual([[0, 0, 1, 9, 0, 2, 0, 9, 3, 0, 9, 3], [9, 0, 2, 9, 9, 4, 0, 9, 3, 0, 9, 3]]); // prettier-ignore
    expect([content.content.points.length, content.content.polylines.length]).toEqual([1, 1]);
  });

  it('in longitude and latitude comes as places in degrees', () => {
    const rows = rowsOfFile(packageOf('degrees', { stones: [at('Point', [27.5, -27.25, 1500], { number: 'S1' })] }, '-a_srs', 'EPSG:4326')); // prettier-ignore
    expect(rows.ok && rows.text.split('\n')).toEqual(['number\tlongitude\tlatitude\televation [m]\tcode', 'S1\t27.5\t-27.25\t1500\tstones']); // prettier-ignore
  });

  it('is read whole where its rows fill many pages, and geometry and texts overflow them', () => {
    const random = seeded(11);
    const points = Array.from({ length: 4000 }, (_, i) => at('Point', [random.next() * 1000, random.next() * 1000, i / 8], { number: `N${i}`, note: 'x'.repeat(i % 977 ? 3 : 9000) })); // prettier-ignore
    const long = Array.from({ length: 3000 }, (_, i) => [i / 4, (i * i) % 100, i / 16]);
    const content = read(packageOf('many', { shots: points, edges: [at('LineString', long)] }, ...UTM));
    const got = pointsIn(content);
    expect(got).toHaveLength(4000);
    got.forEach((p, i) => expect(p).toMatchObject({ number: `N${i}`, z: i / 8, x: (points[i].geometry.coordinates as number[])[0] })); // prettier-ignore
    const [line] = linesIn(content);
    expect(line.x.map((x, i) => [x, line.y[i], line.z[i]])).toEqual(long);
  });

  it('leaves a table in another system out, and says so', () => {
    packageOf('two', { a: [at('Point', [1, 2, 3])] }, ...UTM);
    ogr2ogr('-update', '-f', 'GPKG', file('two.gpkg'), file('two-0.geojson'), '-nln', 'b', '-a_srs', 'EPSG:32736');
    const bytes = new Uint8Array(readFileSync(file('two.gpkg')));
    expect(pointsIn(read(bytes))).toHaveLength(1);
    expect(told(bytes)).toContain('table “b” is in another system');
  });

  it('that is another database, or a picture, says what it is', () => {
    ogr2ogr('-f', 'SQLite', file('other.gpkg'), file('site-0.geojson'));
    const rows = rowsOfFile(new Uint8Array(readFileSync(file('other.gpkg'))));
    expect(rows).toMatchObject({ ok: false, reason: expect.stringContaining('without the tables of a GeoPackage') as string }); // prettier-ignore
  });

  it('that is damaged is read as far as it goes, or refused with a sentence, and never hangs', () => {
    const bytes = packageOf('small', { shots: [at('Point', [1, 2, 3], { number: 'A' })], kerbs: [at('LineString', [[0, 0, 1], [5, 5, 2]])] }, ...UTM); // prettier-ignore
    const random = seeded(5);
    for (let i = 0; i < 1500; i++) {
      const garbled = i % 5 ? bytes.slice() : bytes.slice(0, Math.floor(random.next() * bytes.length));
      for (let k = 0; k < 1 + (i % 12); k++) garbled[Math.floor(random.next() * garbled.length)] = Math.floor(random.next() * 256); // prettier-ignore
      const rows = rowsOfFile(garbled);
      if (!rows.ok) expect(rows.reason.length).toBeGreaterThan(10);
      else for (const row of rows.text.split('\n').slice(1)) expect(row.split('\t').slice(1, 3).every((v) => Number.isFinite(Number(v)))).toBe(true); // prettier-ignore
    }
  }, 60_000);
});
