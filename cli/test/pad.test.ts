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

  it('has benches in its batters', () => {
    const told = json<Told>('pad', at('plain.xml'), '--boundary', at('pad.csv'), '--level', '53', ...SLOPES, '--bench-every', '1', '--bench-width', '1.5'); // prettier-ignore
    // Prismatoids of 1 m, each 3.5 m farther out; Simpson's rule is exact.
    const area = (out: number): number => (20 + 2 * out) * (10 + 2 * out);
    const layer = (from: number): number => (area(from) + 4 * area(from + 1) + area(from + 2)) / 6;
    expect(told.fill).toBeCloseTo(layer(0) + layer(3.5) + layer(7), 6);
  });

  it('along a line is a ditch with its section all along, in whatever unit its line is', () => {
    points('axis.csv', [[980, 2000, 48.8], [1020, 2000, 48.8]]); // prettier-ignore
    const told = json<Told>('pad', at('plain.xml'), '--along', at('axis.csv'), '--template', '-0.5 0; 0.5 0', ...SLOPES, '-o', at('ditch.xml')); // prettier-ignore
    const body = 40 * 1.2 + (82 * 1.5 * 1.44) / 2 + (4 * 2.25 * 1.2 ** 3) / 3;
    expect(told.cut).toBeCloseTo(body, 6);
    expect([told.fill, told.level]).toEqual([0, 48.8]);
    const { methods } = json<{ methods: { exact: { cut: number } } }>('volume', at('plain.xml'), '--against', at('ditch.xml')); // prettier-ignore
    expect(methods.exact.cut).toBeCloseTo(told.cut, 3);
    const feet = (m: number): string => (m / 0.3048).toFixed(9);
    writeFileSync(at('feet.csv'), ['Number,East [ft],North [ft],Elevation [ft]', `1,${feet(980)},${feet(2000)},${feet(48.8)}`, `2,${feet(1020)},${feet(2000)},${feet(48.8)}`, ''].join('\n')); // prettier-ignore
    expect(json<Told>('pad', at('plain.xml'), '--along', at('feet.csv'), '--template', '-0.5 0; 0.5 0', ...SLOPES).cut).toBeCloseTo(body, 5); // prettier-ignore
    // Sections across a line in feet stand where they do across one in metres.
    const sections = (file: string): unknown => json<{ methods: { sections: { cut: number } } }>('volume', at('plain.xml'), '--against', at('ditch.xml'), '--method', 'all', '--along', at(file)).methods.sections.cut; // prettier-ignore
    expect(sections('feet.csv')).toBeCloseTo(sections('axis.csv') as number, 4);
  });

  it('refuses a line that makes no strip, in a sentence', () => {
    const run = (...args: string[]): unknown[] => {
      const { code, err } = dunrik('pad', at('plain.xml'), ...args, ...SLOPES);
      return [code, err];
    };
    expect(run('--along', at('axis.csv'))).toEqual([2, expect.stringContaining('--template')]);
    expect(run('--along', at('axis.csv'), '--template', '1 0; -1 0')).toEqual([2, expect.stringContaining('not farther to the right')]); // prettier-ignore
    expect(run('--along', at('axis.csv'), '--template', '-1 0; 1 0', '--level', '5')[0]).toBe(2);
    expect(run('--boundary', at('pad.csv'), '--level', '53', '--bench-every', '1')).toEqual([2, expect.stringContaining('go together')]); // prettier-ignore
    writeFileSync(at('bare.geojson'), JSON.stringify({ type: 'LineString', coordinates: [[980, 2000, 49], [1020, 2000]] })); // prettier-ignore
    expect(run('--along', at('bare.geojson'), '--template', '-1 0; 1 0')).toEqual([1, expect.stringContaining('has no elevation')]); // prettier-ignore
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
