import { existsSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, folder, volcanoBefore } from './ran.ts';

volcanoBefore();

describe('what cannot be done', () => {
  const cases: [string[], number, string][] = [
    [['surface', at('one.csv'), '-o', at('no.xml')], 1, 'a surface needs three'],
    [['surface', at('line.csv'), '-o', at('no.xml')], 1, 'in one line'],
    [
      ['surface', at('degrees.csv'), '-o', at('no.xml')],
      1,
      'degrees of longitude and latitude. Bring it to a plane system first: convert degrees.csv OUT --to',
    ],
    [['heights', at('volcano.xml'), '--at', at('degrees.csv')], 1, 'degrees of longitude and latitude'],
    [['inspect', at('empty.csv')], 1, 'empty'],
    [['inspect', at('native.csv')], 1, 'closed native drawing'],
    [['inspect', at('missing.csv')], 1, 'there is no such file'],
    [['inspect', at('.')], 1, 'it is a folder'],
    [['contours', at('volcano.xml'), '--interval', '0.000002'], 1, 'choose a larger one'],
    [['convert', at('volcano.csv'), at('no.pdf')], 1, 'Nothing can be written'],
    [['volume', at('volcano.csv'), '--level', '5'], 1, 'not a LandXML'],
    [['volume', at('volcano.xml')], 2, '--level or --against'],
    [['contours', at('volcano.xml')], 2, '--interval'],
    [['frobnicate'], 2, 'Unknown verb'],
    [['inspect'], 2, 'usage'],
    [['inspect', at('one.csv'), '--colour'], 2, 'colour'],
    [['surface', at('one.csv'), '--longest-side', 'far'], 2, 'longest-side'],
  ];
  beforeAll(() => {
    writeFileSync(at('one.csv'), 'Number,East [m],North [m],Elevation [m]\n1,1,2,3\n');
    writeFileSync(at('line.csv'), 'Number,East [m],North [m],Elevation [m]\n1,1,1,3\n2,2,2,3\n3,3,3,3\n');
    writeFileSync(at('degrees.csv'), 'Number,Longitude,Latitude,Elevation [m]\n1,-27.999,45.999,1\n2,-27.997,45.999,2\n3,-27.998,45.997,3\n'); // prettier-ignore
    writeFileSync(at('empty.csv'), '');
    writeFileSync(at('native.csv'), 'AC1027\0\0\0');
  });
  // Each has a process of its own, and the time of a test of its own.
  for (const [args, code, says] of cases)
    it(`is one plain sentence and exit ${code}: ${args.join(' ').replaceAll(`${folder}/`, '')}`, () => {
      const run = dunrik(...args);
      expect(run.code).toBe(code);
      expect(run.err).toContain(says);
      if (code === 1) expect(run.err.trim().split('\n')).toHaveLength(1);
      expect(run.out).toBe('');
      expect(existsSync(at('no.xml')) || existsSync(at('no.pdf'))).toBe(false);
    });
});
