import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

type Told = { level: number; cut: number; fill: number; net: number; fillArea: number; daylight: number[][][]; offSurvey: number[][] }; // prettier-ignore
const HEAD = 'Number,East [m],North [m],Elevation [m]';
const points = (name: string, places: number[][]): void => writeFileSync(at(name), [HEAD, ...places.map((p, i) => [i + 1, ...p].join(',')), ''].join('\n')); // prettier-ignore
const SLOPES = ['--cut-slope', '1.5', '--fill-slope', '2'];

beforeAll(() => {
  points('plain.csv', [[900, 1900, 50], [1100, 1900, 50], [1100, 2100, 50], [900, 2100, 50]]); // prettier-ignore
  points('hillside.csv', [[900, 1900, 40], [1100, 1900, 60], [1100, 2100, 60], [900, 2100, 40]]); // prettier-ignore
  points('pad.csv', [[990, 1995, 0], [1010, 1995, 0], [1010, 2005, 0], [990, 2005, 0]]); // prettier-ignore
  for (const name of ['plain', 'hillside']) expect(dunrik('surface', at(`${name}.csv`), '-o', at(`${name}.xml`)).err).toBe(''); // prettier-ignore
});

describe('pad', () => {
  it('gives volumes, daylight line and surface of a pad in fill: a prismatoid by its closed form', () => {
    const told = json<Told>('pad', at('plain.xml'), '--boundary', at('pad.csv'), '--level', '53', ...SLOPES, '-o', at('made.xml')); // prettier-ignore
    expect(told.fill).toBeCloseTo(200 * 3 + (60 * 2 * 9) / 2 + (4 * 4 * 27) / 3, 6);
    expect([told.cut, told.offSurvey]).toEqual([0, []]);
    expect(told.fillArea).toBeCloseTo(32 * 22, 6);
    expect(told.daylight).toHaveLength(1);
    // What was written gives the same when it is compared.
    const { methods } = json<{ methods: { exact: { fill: number } } }>('volume', at('plain.xml'), '--against', at('made.xml')); // prettier-ignore
    expect(methods.exact.fill).toBeCloseTo(told.fill, 3);
  });

  it('finds the level at which cut and fill balance', () => {
    const told = json<Told>('pad', at('hillside.xml'), '--boundary', at('pad.csv'), '--balance', '--factor', '0.9', ...SLOPES); // prettier-ignore
    expect(told.cut * 0.9).toBeCloseTo(told.fill, 4);
    expect(told.level).toBeLessThan(50);
  });

  it('writes the daylight line, and says where batters run off the survey', () => {
    const run = dunrik('pad', at('plain.xml'), '--boundary', at('pad.csv'), '--level', '110', ...SLOPES, '-o', at('line.geojson')); // prettier-ignore
    expect([run.code, run.out]).toEqual([0, expect.stringContaining('batters run off the survey before they meet the ground')]); // prettier-ignore
    expect(readFileSync(at('line.geojson'), 'utf8')).toContain('FeatureCollection');
  });

  it('refuses what makes no pad, in a sentence', () => {
    const run = (...args: string[]): unknown[] => {
      const { code, err } = dunrik('pad', at('plain.xml'), '--boundary', at('pad.csv'), ...args);
      return [code, err];
    };
    expect(run('--level', '53', '--cut-slope', '0', '--fill-slope', '2')).toEqual([1, expect.stringContaining('A cut slope is between 0.01 and 1000')]); // prettier-ignore
    expect(run('--level', '53', '--balance', ...SLOPES)[0]).toBe(2);
    expect(run('--level', '53')[0]).toBe(2);
    expect(run('--level', '53', '--gradient', '0.02', ...SLOPES)).toEqual([2, expect.stringContaining('--direction')]);
    expect(run('--level', '53', ...SLOPES, '-o', at('pad.pdf'))).toEqual([1, expect.stringContaining('Choose .xml')]);
  });
});
