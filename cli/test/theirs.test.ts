import { writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik } from './ran.ts';

/** A square of 20 m at an elevation, and a place in its middle at another. */
const surface = (name: string, z: number, middle: number | null): string => {
  const shots = [[0, 0, z], [20, 0, z], [20, 20, z], [0, 20, z], ...(middle === null ? [] : [[10, 10, middle]])]; // prettier-ignore
  writeFileSync(at(`${name}.csv`), shots.map((s, i) => [i + 1, ...s].join(',')).join('\n'));
  dunrik('surface', at(`${name}.csv`), '--order', 'PENZ', '--unit', 'm', '-o', at(`${name}.xml`));
  return at(`${name}.xml`);
};
type Told = { split: { ours: { cut: number }; theirs: { cut: number }; steps: { cause: string; cut: number; fill: number; points: number | null }[]; commonArea: number; shift: number; common: number } }; // prettier-ignore

describe('volume --theirs', () => {
  const ours = surface('ours', 50, null);
  const theirs = surface('theirs', 50.1, 51.3);

  it('makes our volume into theirs, one cause after the other', () => {
    const run = dunrik('volume', ours, '--level', '48', '--theirs', theirs, '--json');
    const { split } = JSON.parse(run.out) as Told;
    expect(split.ours.cut).toBeCloseTo(800, 6);
    expect(split.theirs.cut).toBeCloseTo(1000, 6);
    const share = (cause: string): number => split.steps.find((s) => s.cause === cause)!.cut;
    expect(share('shift')).toBeCloseTo(40, 6);
    expect(share('their-points')).toBeCloseTo(160, 6);
    expect(split.steps.reduce((sum, s) => sum + s.cut - s.fill, 0)).toBeCloseTo(200, 6);
    expect(split).toMatchObject({ common: 4, commonArea: 400 });
  });

  it('says it in words, with their level where it is another', () => {
    const run = dunrik('volume', ours, '--level', '48', '--theirs', theirs, '--their-level', '48.5');
    expect(run.out).toMatch(/Theirs 0\.100 m higher all over\s+cut 40\.000/);
    expect(run.out).toMatch(/Their level or base\s+cut -200\.000/);
  });

  it('refuses a surface that has nothing in common with ours', () => {
    writeFileSync(at('far.csv'), '1,900,0,5\n2,910,0,5\n3,910,10,5');
    dunrik('surface', at('far.csv'), '--order', 'PENZ', '--unit', 'm', '-o', at('far.xml'));
    const run = dunrik('volume', ours, '--level', '48', '--theirs', at('far.xml'));
    expect(run.code).toBe(1);
    expect(run.err).toContain('no area in common');
  });
});
