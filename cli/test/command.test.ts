import { describe, expect, it } from 'vitest';
import { understand } from '../src/command.ts';
import { WrongUsage } from '../src/problems.ts';
import { VERBS } from '../src/verbs/index.ts';

// What stands on a command line, as the verbs are given it.

const shown: string[] = [];
const read = (...args: string[]) => understand(args, VERBS, (text) => shown.push(text));
const refused = (...args: string[]): string => {
  try {
    read(...args);
  } catch (error) {
    if (error instanceof WrongUsage) return error.message;
    throw error;
  }
  return 'taken';
};

describe('options', () => {
  it('are named as they are written, and every verb says what it is for', () => {
    for (const verb of VERBS) {
      expect(verb.about.length).toBeGreaterThan(10);
      for (const [key, { flags, about }] of Object.entries(verb.options)) {
        const long = /--([a-z-]+)/.exec(flags)![1];
        expect(long.replace(/-([a-z])/g, (_, c: string) => c.toUpperCase())).toBe(key);
        expect(about.length).toBeGreaterThan(5);
      }
    }
  });

  it('are read in metres, with signs, and several of a kind', () => {
    const volume = read('volume', 'a.xml', '--level', '-5.5', '--cell', '98.4ft', '--json')!;
    expect(volume.files).toEqual(['a.xml']);
    expect(volume.options).toMatchObject({ level: -5.5, json: true, spacing: undefined });
    expect(volume.options.cell).toBeCloseTo(98.4 * 0.3048, 12);
    const convert = read('convert', '--grids', 'one.gsb', '--grids', 'two.gsb', 'a.csv', 'b.dxf', '--dxf', 'R12')!;
    expect(convert.files).toEqual(['a.csv', 'b.dxf']);
    expect(convert.options).toMatchObject({ grids: ['one.gsb', 'two.gsb'], dxf: 'R12', interpolation: 'bilinear' });
    expect(read('surface', 'a.csv', 'b.csv', '-o', 'c.xml')!.options.output).toBe('c.xml');
  });

  it('that make no sense, or belong to another verb, are refused in a sentence that names them', () => {
    expect(refused('surface', 'a.csv', '--longest-side', 'far')).toContain('--longest-side takes a length');
    expect(refused('convert', 'a', 'b', '--decimals', '1.5')).toContain('--decimals takes a whole number');
    expect(refused('convert', 'a', 'b', '--dxf', 'R9')).toContain('--dxf is R12 or 2000');
    expect(refused('reduce', 'a', '--factor', '2')).toContain('--factor is a number between 0.9 and 1.1');
    expect(refused('volume', 'a.xml', '--scale', 'free')).toContain('--scale');
    expect(refused('inspect', 'a', 'b')).toContain('usage: inspect FILE');
    expect(refused('frobnicate')).toContain('Unknown verb “frobnicate”');
    expect(refused()).toContain('verb is missing');
  });

  it('are listed by help, made from what the verb says', () => {
    shown.length = 0;
    expect(read('help', 'volume')).toBeNull();
    expect(read('contours', '--help')).toBeNull();
    const all = shown.join('');
    for (const verb of VERBS.filter((v) => ['volume', 'contours'].includes(v.name)))
      for (const { flags } of Object.values(verb.options)) expect(all).toContain(flags);
  });
});
