import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// Parts of the demo's design drawing, which is in millimetres and does not say so.
const DESIGN = 'demo/ostrel-landing/quay-walk-design.dxf';
const convert = (to: string, ...more: string[]) => json<{ points: number; lines: number }>('convert', DESIGN, at(to), '--unit', 'mm', ...more); // prettier-ignore
const rows = (file: string) => readFileSync(at(file), 'utf8').trim().split(/\r?\n/).slice(1).map((r) => r.split(',')); // prettier-ignore

describe('a part of a drawing', () => {
  it('is its texts that are elevations, written in metres beside places in millimetres', () => {
    expect(convert('levels.csv', '--kind', 'TEXT', '--layer', 'LEVELS').points).toBe(4);
    for (const row of rows('levels.csv')) {
      expect(Number(row[3])).toBeGreaterThan(62);
      expect(Number(row[3])).toBeLessThan(62.5);
      expect(Number(row[1])).toBeGreaterThan(4230);
    }
  });

  it('is its symbols where they are put, under the names of their blocks', () => {
    expect(convert('trees.csv', '--kind', 'INSERT').points).toBe(6);
    expect(new Set(rows('trees.csv').map((r) => r[4]))).toEqual(new Set(['TREE-SMALL']));
  });

  it('is the lines of some layers, and of several kinds at once', () => {
    expect(convert('kerbs.geojson', '--layer', 'kerb-top,LIMIT')).toMatchObject({ points: 0, lines: 4 });
    expect(convert('both.geojson', '--kind', 'LINE,POINT')).toMatchObject({ points: 5, lines: 3 });
  });

  it('that is not there is refused with what is, and so is a kind of what is no drawing', () => {
    const none = dunrik('convert', DESIGN, at('x.csv'), '--unit', 'mm', '--kind', 'SPLINE');
    expect(none.code).toBe(1);
    expect(none.err).toContain('has no SPLINE. It has POLYLINE');
    const text = dunrik('convert', at('levels.csv'), at('x.csv'), '--order', 'PENZD', '--kind', 'POINT');
    expect(text.err).toContain('is no drawing');
    expect(dunrik('convert', DESIGN, at('x.csv'), '--unit', 'mm', '--layer', 'NONE').err).toContain(
      'has no layer NONE',
    );
  });
});

describe('a drawing cleaned for a small screen', () => {
  const clean = (to: string, ...more: string[]) => json<{ lines: number; cleaned: { before: { lines: number }; doubled: number; atZero: number } }>('convert', DESIGN, at(to), '--unit', 'mm', '--clean', ...more); // prettier-ignore

  it('loses the kerb that is drawn twice, and what lies at 0 among others', () => {
    const got = clean('clean.dxf');
    const before = convert('whole.dxf').lines;
    expect(got.cleaned).toMatchObject({ before: { lines: before }, doubled: 1 });
    expect(got.lines).toBeLessThan(before);
    // What was cleaned once is clean.
    const again = json<typeof got>('convert', at('clean.dxf'), at('again.dxf'), '--unit', 'm', '--clean');
    expect(again.cleaned).toMatchObject({ doubled: 0 });
  });

  it('is refused of what is no drawing, and with lengths that nothing cleans by', () => {
    expect(dunrik('convert', at('levels.csv'), at('x.csv'), '--order', 'PENZD', '--clean').err).toContain('is no drawing'); // prettier-ignore
    expect(dunrik('convert', DESIGN, at('x.csv'), '--unit', 'mm', '--join', '0.02').code).toBe(2);
    expect(dunrik('convert', DESIGN, at('x.dxf'), '--unit', 'mm', '--clean', '--straight', '-1').code).toBe(2);
  });
});
