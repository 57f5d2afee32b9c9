import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// Pictures that GDAL wrote, 200 × 100 pixels of 0.5 m, with their place in tags or beside.

const PLACE = ['-a_ullr', '500000', '7000100', '500100', '7000050'];
const gdal = (...args: string[]): void => void execFileSync('gdal_translate', ['-q', ...args], { stdio: 'pipe' });

beforeAll(() => {
  execFileSync('gdal_create', ['-outsize', '200', '100', '-bands', '3', '-burn', '120', at('plain.tif')]);
  gdal('-of', 'GTiff', '-a_srs', 'EPSG:32735', ...PLACE, at('plain.tif'), at('placed.tif'));
  gdal('-of', 'PNG', '-co', 'WORLDFILE=YES', ...PLACE, at('plain.tif'), at('beside.png'));
  gdal('-of', 'JPEG', at('plain.tif'), at('nowhere.jpg'));
});

const EXTENT = [500000, 7000050, 500100, 7000100];

describe('a picture on the command line', () => {
  it('says how large it is and where, by its own tags', () => {
    expect(json('inspect', at('placed.tif'))).toMatchObject({ kind: 'picture', format: 'TIFF', width: 200, height: 100, placedBy: 'placed.tif', system: 'EPSG:32735', extent: EXTENT, remark: null }); // prettier-ignore
  });

  it('by tags that name no unit in the one that is said, and says so', () => {
    gdal('-of', 'GTiff', ...PLACE, at('plain.tif'), at('unitless.tif'));
    expect(json('inspect', at('unitless.tif'))).toMatchObject({ extent: EXTENT, remark: 'Its tags name no unit: read in metres.' }); // prettier-ignore
    const feet = json<{ extent: number[] }>('inspect', at('unitless.tif'), '--unit', 'ft').extent;
    expect(feet[0]).toBeCloseTo(EXTENT[0] * 0.3048, 6);
  });

  it('by the world file beside it, in the unit that is said', () => {
    expect(json('inspect', at('beside.png'))).toMatchObject({ format: 'PNG', placedBy: 'beside.wld', extent: EXTENT });
    const feet = json<{ extent: number[] }>('inspect', at('beside.png'), '--unit', 'ft').extent;
    feet.forEach((v, i) => expect(v).toBeCloseTo(EXTENT[i] * 0.3048, 6));
  });

  it('or that it does not say where it is', () => {
    expect(json('inspect', at('nowhere.jpg'))).toMatchObject({ format: 'JPEG', width: 200, extent: null, placedBy: null }); // prettier-ignore
    expect(dunrik('inspect', at('nowhere.jpg')).out).toContain('does not say where it is');
  });

  it('that is broken, or has a broken world file, is told with a sentence', () => {
    writeFileSync(at('broken.png'), readFileSync(at('beside.png')).subarray(0, 20));
    expect(dunrik('inspect', at('broken.png'))).toMatchObject({ code: 1, err: expect.stringContaining('cut short') as string }); // prettier-ignore
    gdal('-of', 'PNG', at('plain.tif'), at('other.png'));
    writeFileSync(at('other.wld'), '0.5\n0\nnorth\n-0.5\n1\n2\n');
    expect(json('inspect', at('other.png'))).toMatchObject({ placedBy: null, remark: 'other.wld: Line 3 of the world file is no number: north' }); // prettier-ignore
  });
});
