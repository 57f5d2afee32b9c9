import { expect, test } from 'vitest';
import { TINTS } from '#core/drawing';
import { readGeoJson } from '#core/exchange';
import { buildSurface, contours } from '#core/terrain';
import { writeSurface, type SurfaceFile, type WriteAsked } from '../../src/work/write-surface.ts';

const PLACES = Array.from({ length: 25 }, (_, i) => ({ x: 1000 + (i % 5) * 5, y: 2000 + Math.floor(i / 5) * 5, z: 10 + (i % 5) * 0.5 })); // prettier-ignore
const { surface } = buildSurface({
  x: Float64Array.from(PLACES, (p) => p.x),
  y: Float64Array.from(PLACES, (p) => p.y),
  z: Float64Array.from(PLACES, (p) => p.z),
  segments: new Uint32Array(),
  longestSide: null,
  coincidence: 0,
});
const ASKED: WriteAsked = {
  file: 'points',
  name: 'Ground',
  unit: 'm',
  order: 'EN',
  decimals: 3,
  cell: 5,
  steps: [10, 11, 13],
  points: Array.from(surface.point, (p) => (p < 3 ? { number: String(101 + p), description: 'KB' } : { number: '', description: '' })), // prettier-ignore
  from: 100,
  description: 'GR',
  contours: contours(surface, { interval: 0.5, indexEvery: 5 }),
  system: { name: 'local, metres: east, north', code: null },
  look: null,
  epsg: null,
  made: '2026-11-28T12:00:00Z',
};
const text = (file: SurfaceFile, more: Partial<WriteAsked> = {}): string =>
  new TextDecoder().decode(writeSurface(surface, { ...ASKED, ...more, file }));

test('points keep their numbers; ground-only ones get the next that is free, and one description', () => {
  const rows = text('points').trim().split(/\r?\n/);
  expect(rows).toHaveLength(26);
  const numbers = rows.slice(1).map((r) => r.split(',')[0]);
  expect(new Set(numbers).size).toBe(25);
  expect(numbers).toContain('100');
  // 101 to 103 are taken.
  expect(rows.filter((r) => r.endsWith('KB')).map((r) => r.split(',')[0]).sort()).toEqual(['101', '102', '103']); // prettier-ignore
  expect(rows.filter((r) => r.endsWith('GR'))).toHaveLength(22);
  expect(text('points', { order: 'NE' }).split(/\r?\n/)[1].split(',')[1]).toMatch(/^20/);
});

test('areas are polygons with what they mean, in the project’s unit', () => {
  const areas = JSON.parse(text('elevations', { unit: 'ft' })) as { features: { geometry: { type: string; coordinates: number[][][] }; properties: Record<string, number> }[] }; // prettier-ignore
  expect(areas.features.map((f) => f.properties)).toEqual([
    { 'elevation ft from': 32.8084, 'elevation ft to': 36.0892 },
    { 'elevation ft from': 36.0892, 'elevation ft to': 42.6509 },
  ]);
  for (const { geometry } of areas.features) expect(geometry.coordinates[0][0]).toEqual(geometry.coordinates[0].at(-1));
  const slopes = JSON.parse(text('slopes', { steps: [0.05, 0.2] })) as { features: { properties: object }[] };
  expect(slopes.features.map((f) => f.properties)).toEqual([{ 'slope % from': 5, 'slope % to': 20 }]);
  expect(readGeoJson(text('boundary')).problems).toEqual([]);
});

test('a named look gives its tints as areas, each with its colour and what it means', () => {
  const look = { id: 'l', name: 'Falls', tintedBy: 'aspect', shaded: false, sun: { bearing: 315, height: 45 }, stretch: 1 } as const; // prettier-ignore
  const areas = JSON.parse(text('look', { look })) as { features: { geometry: { coordinates: number[][][] }; properties: object }[] }; // prettier-ignore
  // It rises evenly towards east: all of it falls to the west.
  expect(areas.features.map((f) => f.properties)).toEqual([
    { look: 'Falls', area: 'falls to W, over 0.5 %', fill: TINTS.aspect[6] },
  ]);
  const byHeight = JSON.parse(text('look', { look: { ...look, tintedBy: 'elevation' } })) as typeof areas;
  expect(byHeight.features).toHaveLength(5);
  expect(byHeight.features[0].properties).toMatchObject({ area: 'elevation 10.00 – 10.40 m' });
  expect(() => text('look')).toThrow('Choose a look');
});

test.each([
  ['triangles', '<?xml'],
  ['points', 'Number,'],
  ['contours', '0SECTION'],
  ['boundary', '{"type":"FeatureCollection"'],
  ['grid', 'II*'],
  ['model', 'glTF'],
] as [SurfaceFile, string][])('%s begin as their readers expect', (file, begins) => {
  expect(text(file).replace(/[\s]/g, '').toLowerCase().startsWith(begins.toLowerCase())).toBe(true);
});

test('a cell that gives too many is refused with a sentence', () => {
  expect(() => writeSurface(surface, { ...ASKED, file: 'grid', cell: 1e-4 })).toThrow('Choose a larger one');
});
