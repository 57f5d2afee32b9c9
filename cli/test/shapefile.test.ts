import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// A Shapefile that GDAL wrote, with its files beside it.

beforeAll(() => {
  const feature = (type: string, coordinates: unknown, properties: object) => ({ type: 'Feature', geometry: { type, coordinates }, properties }); // prettier-ignore
  writeFileSync(at('kerbs.geojson'), JSON.stringify({ type: 'FeatureCollection', features: [feature('LineString', [[500000, 7000000, 5], [500010, 7000000, 6]], { LAYER: 'KERB' }), feature('LineString', [[500000, 7000004, 5], [500010, 7000004, 6]], { LAYER: 'WALL' })] })); // prettier-ignore
  execFileSync('ogr2ogr', ['-f', 'ESRI Shapefile', at('kerbs.shp'), at('kerbs.geojson'), '-a_srs', 'EPSG:32735'], { stdio: 'pipe' }); // prettier-ignore
});

describe('a Shapefile on the command line', () => {
  it('says what it holds, in which unit and system, with the files beside it', () => {
    const got = json<{ kind: string; unit: string; basis: { known: { code: string } | null }; rows: { layer: string; count: number; lowest: number }[]; extent: number[] }>('inspect', at('kerbs.shp')); // prettier-ignore
    expect(got).toMatchObject({ kind: 'shapefile', unit: 'm', extent: [500000, 7000000, 500010, 7000004] });
    expect(got.rows).toMatchObject([{ layer: 'KERB', count: 1, lowest: 5 }, { layer: 'WALL', count: 1 }]); // prettier-ignore
  });

  it('is converted as any drawing is, by layer, and makes breaklines', () => {
    expect(json('convert', at('kerbs.shp'), at('kerbs.csv.geojson'), '--layer', 'WALL')).toMatchObject({ lines: 1 });
    const out = JSON.parse(readFileSync(at('kerbs.csv.geojson'), 'utf8')) as { features: { geometry: { coordinates: number[][] } }[] }; // prettier-ignore
    expect(out.features[0].geometry.coordinates).toEqual([[500000, 7000004, 5], [500010, 7000004, 6]]); // prettier-ignore
  });

  it('that is broken is refused with a sentence', () => {
    writeFileSync(at('broken.shp'), readFileSync(at('kerbs.shp')).subarray(0, 50));
    const { code, err } = dunrik('inspect', at('broken.shp'));
    expect([code, err]).toEqual([1, expect.stringContaining('its header breaks off')]);
  });
});
