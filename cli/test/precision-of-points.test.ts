import { writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

// A square of 20 m at 50 m: two triangles, whose corners weigh 400/6 or 400/3 m² each.
const shots = (sd: (string | number)[]): string => [[0, 0], [20, 0], [20, 20], [0, 20]].map(([x, y], i) => [i + 1, x, y, 50, sd[i]].join(',')).join('\n'); // prettier-ignore
const surface = (): string => {
  writeFileSync(at('square.csv'), shots([0, 0, 0, 0]));
  dunrik('surface', at('square.csv'), '--order', 'PENZ_', '--unit', 'm', '-o', at('square.xml'));
  return at('square.xml');
};
const within = ['--within', at('all.geojson')];

describe('volume --sd-points', () => {
  const tin = surface();
  writeFileSync(at('all.geojson'), JSON.stringify({ type: 'Polygon', coordinates: [[[-1, -1], [21, -1], [21, 21], [-1, 21], [-1, -1]]] })); // prettier-ignore
  const sdOf = (sd: (string | number)[], ...more: string[]): number => {
    writeFileSync(at('sd.csv'), shots(sd));
    return json<{ sd: { net: number } }>('volume', tin, '--level', '40', ...within, '--sd-points', at('sd.csv'), '--order', 'PENZS', '--unit', 'm', ...more).sd.net; // prettier-ignore
  };

  it('is the law of propagation over each point’s own', () => {
    const one = [0.1, 0, 0, 0].map((_, k) => sdOf([0, 1, 2, 3].map((i) => (i === k ? 0.1 : 0))));
    // Level ground: heights alone count, and every corner carries its share of the area.
    const areas = one.map((sd) => sd / 0.1).sort((a, b) => a - b);
    expect(areas.map((a) => Math.round(a * 1e4) / 1e4)).toEqual([400 / 6, 400 / 6, 400 / 3, 400 / 3].map((a) => Math.round(a * 1e4) / 1e4)); // prettier-ignore
    expect(sdOf([0.1, 0.1, 0.1, 0.1])).toBeCloseTo(Math.hypot(...one), 9);
  });

  it('takes what is typed where a point has none, and says when none has any', () => {
    expect(sdOf(['-', '-', '-', '-'], '--sd-height', '0.1')).toBeCloseTo(sdOf([0.1, 0.1, 0.1, 0.1]), 4);
    writeFileSync(at('sd.csv'), shots(['-', '-', '-', '-']));
    const none = dunrik('volume', tin, '--level', '40', '--sd-points', at('sd.csv'), '--order', 'PENZS', '--unit', 'm');
    expect(none.code).toBe(1);
    expect(none.err).toContain('says nothing of the precision');
    const without = dunrik('volume', tin, '--level', '40', '--sd-points', at('sd.csv'), '--order', 'PENZ_', '--unit', 'm'); // prettier-ignore
    expect(without.err).toContain('has no column S');
  });

  it('refuses a row whose precision is none', () => {
    writeFileSync(at('bad.csv'), shots([0.1, '-0.5', 'poor', 0.1]));
    const read = json<{ notRead?: unknown[] } & Record<string, unknown>>('inspect', at('bad.csv'), '--order', 'PENZS', '--unit', 'm'); // prettier-ignore
    expect(JSON.stringify(read)).toContain('the standard deviation “-0.5” is not a length of 0 or more');
    expect(JSON.stringify(read)).toContain('“poor”');
  });

  it('stands beside what their spacing leaves unknown, with where more shots would help', () => {
    // Waves over 60 m, shot every 6 m: a surface kept as a file has its points at its vertices.
    const rows = Array.from({ length: 121 }, (_, i) => [
      6 * (i % 11) + (i % 3) / 2,
      6 * Math.floor(i / 11) + (i % 5) / 3,
    ]);
    const wave = (x: number, y: number): number => 20 + Math.sin(x / 7) + Math.cos(y / 5);
    writeFileSync(at('waves.csv'), `Number,East [m],North [m],Elevation [m]\n${rows.map(([x, y], i) => `${i + 1},${x},${y},${wave(x, y)}`).join('\n')}`); // prettier-ignore
    dunrik('surface', at('waves.csv'), '-o', at('waves.xml'));
    const told = json<{ spacing: { sd: { net: number }; wanted: object[]; after: number } }>('volume', at('waves.xml'), '--level', '20', '--sd-height', '0.02'); // prettier-ignore
    expect(told.spacing.wanted).toHaveLength(10);
    expect(told.spacing.sd.net).toBeGreaterThan(1);
    expect(told.spacing.after).toBeLessThan(told.spacing.sd.net);
    expect(dunrik('volume', at('waves.xml'), '--level', '20', '--sd-height', '0.02').out).toContain('spacing of points: cut ±'); // prettier-ignore
  });
});
