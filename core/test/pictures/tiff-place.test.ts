import { describe, expect, it } from 'vitest';
import { placeOf, tiffPlace, type TiffTags } from '#core/pictures';

const tags = (said: Partial<TiffTags>): TiffTags => ({
  tie: [0, 0, 0, 1000, 2000, 0],
  scale: [0.5, 0.25, 0],
  transformation: [],
  modelType: 1,
  rasterType: 1,
  lengthUnit: 9001,
  system: 0,
  ...said,
});
const at = (said: Partial<TiffTags>, column: number, row: number): { x: number; y: number } =>
  placeOf(tiffPlace(tags(said)).matrix!, column, row);

describe('the place of a GeoTIFF (OGC 19-008r4)', () => {
  it('is told by a tie point and the size of a pixel, rows going south', () => {
    expect(at({}, 0, 0)).toEqual({ x: 1000, y: 2000 });
    expect(at({}, 10, 20)).toEqual({ x: 1005, y: 1995 });
    expect(at({ tie: [4, 8, 0, 1000, 2000, 0] }, 4, 8)).toEqual({ x: 1000, y: 2000 });
  });

  it('is half a pixel off where a tie point is in the middle of its pixel', () => {
    expect(at({ rasterType: 2 }, 0.5, 0.5)).toEqual({ x: 1000, y: 2000 });
  });

  it('is told by a matrix, rotated too', () => {
    const transformation = [0.3, 0.4, 0, 10, 0.4, -0.3, 0, 20, 0, 0, 0, 0, 0, 0, 0, 1];
    expect(at({ tie: [], scale: [], transformation }, 10, 0)).toEqual({ x: 13, y: 24 });
  });

  it.each([
    [9002, 0.3048],
    [9003, 1200 / 3937],
  ])('in the unit with the EPSG number %i', (lengthUnit, metres) => {
    expect(at({ lengthUnit }, 0, 0).x).toBeCloseTo(1000 * metres, 9);
  });

  it.each([
    [{ modelType: 2 }, /degrees/],
    [{ lengthUnit: 9036 }, /EPSG 9036/],
    [{ tie: [0, 0, 0, 1, 1, 0, 9, 9, 0, 2, 2, 0], scale: [] }, /tie points/],
    [{ scale: [0, 0.25, 0] }, /no area/],
    [{ tie: [0, 0, 0, NaN, 2000, 0] }, /no area/],
  ] as const)('that cannot be taken is said: %o', (said, remark) => {
    const place = tiffPlace(tags(said as Partial<TiffTags>));
    expect(place.matrix).toBeNull();
    expect(place.remark).toMatch(remark);
  });

  it('says whether its unit is known, and its system', () => {
    expect(tiffPlace(tags({ system: 32735 }))).toMatchObject({ isUnitSaid: true, system: 'EPSG:32735' });
    expect(tiffPlace(tags({ lengthUnit: 0, system: 32767 }))).toMatchObject({ isUnitSaid: false, system: null });
  });

  it('of a plain scan is none, without a word', () => {
    expect(tiffPlace(tags({ tie: [], scale: [] }))).toMatchObject({ matrix: null, remark: null });
  });
});
