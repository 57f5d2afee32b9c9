import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  guessLayout,
  isTiffGrid,
  readTextGrid,
  readTiffGrid,
  rowsOfFile,
  sampleRows,
  type FilePart,
} from '#core/exchange';
import { seeded } from '../../../demo/src/random.ts';

// Grids that GDAL wrote (Debian gdal-bin), in the ways in which it packs them, and what gdal_translate says of their nodes.

const dir = mkdtempSync(join(tmpdir(), 'dunrik-grids-'));
afterAll(() => rmSync(dir, { recursive: true }));
const file = (name: string): string => join(dir, name);
const bytesOf = (name: string): Uint8Array => new Uint8Array(readFileSync(file(name)));
const gdal = (...args: string[]): void => void execFileSync('gdal_translate', ['-q', ...args], { stdio: 'pipe' });

const [COLUMNS, ROWS, CELL, WEST, SOUTH] = [37, 23, 2.5, 4100, 7600];
/** From the north-west row by row, as the file has them: a hill, whole centimetres, some nodes without. */
const HEIGHTS = Array.from({ length: ROWS }, (_, r) => Array.from({ length: COLUMNS }, (_, c) => ((r * 7 + c) % 41 === 0 ? -9999 : Math.round(6000 + 900 * Math.sin(r / 5) * Math.cos(c / 6) + c * 3) / 100))); // prettier-ignore
const EMPTY = HEIGHTS.flat().filter((z) => z === -9999).length;
const TEXT = `ncols ${COLUMNS}\nnrows ${ROWS}\nxllcorner ${WEST}\nyllcorner ${SOUTH}\ncellsize ${CELL}\nNODATA_value -9999\n${HEIGHTS.map((r) => r.join(' ')).join('\n')}\n`;
/** East, north, elevation of the nodes that have one: in the middles of cells. */
const NODES = HEIGHTS.flatMap((row, r) => row.flatMap((z, c) => (z === -9999 ? [] : [[WEST + (c + 0.5) * CELL, SOUTH + (ROWS - r - 0.5) * CELL, z]]))); // prettier-ignore

function taken(bytes: Uint8Array, part: FilePart = { step: 1 }) {
  const rows = rowsOfFile(bytes, part);
  if (!rows.ok) throw new Error(rows.reason);
  const nodes = rows.text.split('\n').slice(1).map((r) => r.split('\t').slice(1, 4).map(Number)); // prettier-ignore
  return { ...rows, nodes };
}
const reasonOf = (bytes: Uint8Array): string => {
  const rows = rowsOfFile(bytes);
  return rows.ok ? '' : rows.reason;
};

beforeAll(() => writeFileSync(file('hill.asc'), TEXT));

describe('a grid of elevations as text', () => {
  it('gives its nodes in the middles of its cells, without those that say none', () => {
    const { nodes, grid, kind } = taken(bytesOf('hill.asc'));
    expect(nodes).toEqual(NODES);
    expect(kind).toBe('grid');
    expect(grid).toMatchObject({ columns: COLUMNS, rows: ROWS, spacing: [CELL, CELL], step: 1, taken: NODES.length, empty: EMPTY }); // prettier-ignore
  });

  it('as text in degrees are told by their cells, which would be smaller than millimetres', () => {
    const head = (west: number, south: number, cell: number): string => `ncols 3\nnrows 2\nxllcenter ${west}\nyllcenter ${south}\ncellsize ${cell}\n1 2 3\n4 5 6\n`; // prettier-ignore
    const rows = rowsOfFile(new TextEncoder().encode(head(27.1, -27.05, 0.0003)), { step: 1 });
    expect(rows.ok && rows.text.split('\n').slice(0, 2)).toEqual(['number\tlongitude\tlatitude\televation [m]\tcode', '\t27.1\t-27.0497\t1\t']); // prettier-ignore
    expect(
      rows.ok &&
        guessLayout(sampleRows(rows.text), {
          fileName: 'g.asc',
          unit: 'm',
          near: [],
          order: 'NE',
          knownCodes: new Set(),
        }).layout.degrees,
    ).toBe(true);
    for (const metres of [head(27.1, -27.05, 0.5), head(4100, 7600, 0.001), head(27.1, 95, 0.0003)])
      expect(readTextGrid(metres)).toMatchObject({ grid: { degrees: false, unit: null } });
  });

  it('may say the middle of its first cell, and cells that are not square', () => {
    const read = readTextGrid('nrows 2\nncols 2\nxllcenter 10\nyllcenter 20\ndx 2\ndy 5\n1 2\n3 nan\n');
    expect(read.ok && [...read.grid.values]).toEqual([1, 2, 3, NaN]);
    expect(read.ok && read.grid.place).toEqual([2, 0, 10, 0, -5, 25]);
  });

  it.each([
    ['breaks off', TEXT.slice(0, TEXT.length - 200), 'cut short'],
    ['holds a word', TEXT.replace(' 60', ' high'), 'which is not a number'],
    ['promises more than anybody can hold', TEXT.replace(`ncols ${COLUMNS}`, 'ncols 900000').replace(`nrows ${ROWS}`, 'nrows 900000'), 'too many to hold'], // prettier-ignore
    ['promises more than it has room for', TEXT.replace(`ncols ${COLUMNS}`, 'ncols 6000').replace(`nrows ${ROWS}`, 'nrows 6000'), 'too small'], // prettier-ignore
    ['says no corner', TEXT.replace(/xll.*\n/, ''), 'does not say'],
    ['has no elevation at all', TEXT.replace('-9999\n', '5\n').replace(/(\n-?[\d.]+( |\n))/, '$1').split('\n').map((r, i) => (i < 6 ? r : r.replace(/\S+/g, '5'))).join('\n'), 'None of the nodes'], // prettier-ignore
  ])('that %s is refused with a sentence', (_, text, why) => {
    expect(reasonOf(new TextEncoder().encode(text))).toContain(why);
  });
});

describe('a GeoTIFF of elevations', () => {
  const WAYS: [name: string, ...options: string[]][] = [
    ['plain strips'],
    ['deflate', '-co', 'COMPRESS=DEFLATE'],
    ['deflate, differences of numbers', '-co', 'COMPRESS=DEFLATE', '-co', 'PREDICTOR=3'],
    ['LZW', '-co', 'COMPRESS=LZW'],
    ['LZW, differences of numbers, tiles', '-co', 'COMPRESS=LZW', '-co', 'PREDICTOR=3', '-co', 'TILED=YES', '-co', 'BLOCKXSIZE=16', '-co', 'BLOCKYSIZE=16'], // prettier-ignore
    ['64 bits', '-ot', 'Float64', '-co', 'COMPRESS=DEFLATE'],
    ['the 64-bit form', '-co', 'BIGTIFF=YES', '-co', 'COMPRESS=DEFLATE'],
    ['large numbers first', '-co', 'ENDIANNESS=BIG', '-co', 'COMPRESS=LZW'],
    ['nodes and not cells', '-mo', 'AREA_OR_POINT=Point', '-co', 'COMPRESS=DEFLATE'],
  ];

  it.each(WAYS)('is read as GDAL wrote it: %s', (name, ...options) => {
    const tif = `${name.replace(/\W+/g, '-')}.tif`;
    gdal('-ot', 'Float32', '-a_srs', 'EPSG:32735', ...options, file('hill.asc'), file(tif));
    const { nodes, claims } = taken(bytesOf(tif));
    expect(claims).toMatchObject({ unit: 'm', system: 'EPSG:32735' });
    expect(nodes).toHaveLength(NODES.length);
    nodes.forEach(([x, y, z], i) => {
      expect([x, y]).toEqual(NODES[i].slice(0, 2));
      expect(z).toBeCloseTo(NODES[i][2], 3);
    });
  });

  it.each([['Int16', 'PREDICTOR=2'], ['Int32', 'PREDICTOR=2'], ['UInt32', 'PREDICTOR=1']])('of whole numbers is read: %s, %s', (type, predictor) => {
    gdal('-ot', type, '-a_srs', 'EPSG:32735', '-a_nodata', '0', '-co', 'COMPRESS=LZW', '-co', predictor, file('hill.asc'), file(`${type}.tif`)); // prettier-ignore
    for (const [x, y, z] of taken(bytesOf(`${type}.tif`)).nodes.filter((n) => n[2] > 0)) {
      const [, , meant] = NODES.find(([e, n]) => e === x && n === y) ?? [0, 0, NaN];
      if (!Number.isNaN(meant)) expect(Math.abs(z - meant)).toBeLessThanOrEqual(1);
    }
  }); // prettier-ignore

  it('in feet says so, and lies where it says', () => {
    gdal('-ot', 'Float32', '-a_srs', 'EPSG:2230', file('hill.asc'), file('feet.tif'));
    const { claims, nodes } = taken(bytesOf('feet.tif'));
    expect(claims).toMatchObject({ unit: 'usft', system: 'EPSG:2230' });
    nodes.forEach(([x, y], i) => {
      expect(x).toBeCloseTo(NODES[i][0], 4);
      expect(y).toBeCloseTo(NODES[i][1], 4);
    });
  });

  it('in degrees gives longitudes and latitudes that are known as such, and their system', () => {
    gdal('-ot', 'Float64', '-a_srs', 'EPSG:4326', '-a_ullr', '27', '-27', '27.1', '-27.05', file('hill.asc'), file('degrees.tif')); // prettier-ignore
    gdal('-of', 'XYZ', file('degrees.tif'), file('degrees.xyz'));
    const theirs = readFileSync(file('degrees.xyz'), 'utf8').trim().split('\n').map((r) => r.split(' ').map(Number)).filter((r) => r[2] !== -9999); // prettier-ignore
    const { nodes, claims, grid, text } = taken(bytesOf('degrees.tif'));
    expect(nodes).toHaveLength(theirs.length);
    nodes.forEach(([lon, lat, z], i) => {
      expect(Math.abs(lon - theirs[i][0])).toBeLessThan(1e-9);
      expect(Math.abs(lat - theirs[i][1])).toBeLessThan(1e-9);
      expect(z).toBeCloseTo(theirs[i][2], 5);
    });
    expect(claims).toMatchObject({ unit: 'm', system: 'EPSG:4326' });
    // A degree is some 111.19 km on a sphere of 6371 km, along a parallel by the cosine of its latitude.
    const [east, north] = grid!.spacing;
    expect(north).toBeCloseTo((0.05 / ROWS) * 111_195, 0);
    expect(east).toBeCloseTo((0.1 / COLUMNS) * 111_195 * Math.cos((27.025 * Math.PI) / 180), 0);
    const { layout } = guessLayout(sampleRows(text), { fileName: 'degrees.tif', unit: 'ft', near: [], order: 'NE', knownCodes: new Set(), unitSaid: claims.unit }); // prettier-ignore
    expect(layout).toMatchObject({ degrees: true, unit: 'm', roles: ['P', 'E', 'N', 'Z', 'D'] });
    gdal(
      '-ot',
      'Float32',
      '-a_srs',
      'EPSG:4807',
      '-a_ullr',
      '2',
      '50',
      '2.1',
      '49.9',
      file('hill.asc'),
      file('grads.tif'),
    );
    expect(reasonOf(bytesOf('grads.tif'))).toContain('angles in another unit than degrees');
  });

  it('is none where it is a picture, and one without a place is asked for', () => {
    gdal('-ot', 'Byte', file('hill.asc'), file('grey.tif'));
    expect(isTiffGrid(bytesOf('grey.tif'))).toBe(false);
    gdal('-ot', 'Float32', '-co', 'PROFILE=BASELINE', file('hill.asc'), file('nowhere.tif'));
    expect(reasonOf(bytesOf('nowhere.tif'))).toContain('does not say where it is');
    gdal('-ot', 'Float32', '-co', 'COMPRESS=PACKBITS', '-a_srs', 'EPSG:32735', file('hill.asc'), file('packbits.tif'));
    expect(reasonOf(bytesOf('packbits.tif'))).toContain('deflate or LZW');
  });

  it('that is damaged gives elevations that are numbers or a sentence', () => {
    const random = seeded(7);
    const names = ['plain-strips.tif', 'LZW-differences-of-numbers-tiles.tif', 'deflate.tif', 'the-64-bit-form.tif'];
    for (let i = 0; i < 1200; i++) {
      const whole = bytesOf(names[i % names.length]);
      const garbled = i % 3 ? whole : whole.slice(0, Math.floor(random.next() * whole.length));
      for (let k = 0; k < 1 + (i % 9); k++) garbled[Math.floor(random.next() * Math.min(garbled.length, i % 2 ? 600 : Infinity))] = Math.floor(random.next() * 256); // prettier-ignore
      const rows = rowsOfFile(garbled);
      if (!rows.ok) expect(rows.reason.length).toBeGreaterThan(10);
      else if (rows.kind === 'grid') for (const row of rows.text.split('\n').slice(1)) expect(row.split('\t').slice(1, 4).every((v) => v !== '' && Number.isFinite(Number(v)))).toBe(true); // prettier-ignore
    }
  }, 60_000);
});

describe('how close the nodes of a grid are taken', () => {
  it('is every so many-th of every so many-th row', () => {
    const { nodes, grid } = taken(bytesOf('hill.asc'), { step: 5 });
    expect(grid).toMatchObject({ step: 5, taken: nodes.length });
    expect(new Set(nodes.map(([x]) => Math.round((x - WEST) / CELL - 0.5) % 5))).toEqual(new Set([0]));
    expect(nodes.every((n) => NODES.some((m) => m.every((v, i) => v === n[i])))).toBe(true);
  });

  it('is as many as serve where nobody says, and never more than a file may have', () => {
    const large = (n: number): Uint8Array => new TextEncoder().encode(`ncols ${n}\nnrows ${n}\nxllcorner 0\nyllcorner 0\ncellsize 1\n${'7 '.repeat(n * n)}`); // prettier-ignore
    const usual = taken(large(1200), {});
    expect(usual.grid).toMatchObject({ step: 3, taken: 160_000 });
    expect(usual.grid!.steps).toContain(1);
    expect(readTiffGrid(new Uint8Array(3)).ok).toBe(false);
  });
});
