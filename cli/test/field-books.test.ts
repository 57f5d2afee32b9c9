import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json, ROOT } from './ran.ts';

describe('field books', () => {
  const kessa = (name: string): string => join(ROOT, 'demo/kessa-bank', name);
  const control = ['--control', kessa('kessa-control.csv')];

  it('are reduced to points near the true ground; what waits is not among them, and says why', () => {
    const report = json<{
      points: number;
      waiting: number;
      setups: { station: string; waits: string | null; orientation: number }[];
      list: { number: string; x: number; y: number; z: number; waits: boolean }[];
    }>('reduce', kessa('kessa-one.book'), kessa('kessa-two.book'), ...control, '-o', at('kessa.csv'));
    expect(report.setups.map((s) => s.station)).toEqual(['KB1', 'KB4', 'FS1', 'T1']);
    expect(report.setups[1].waits).toContain('KB6');
    const shot = report.list.find((p) => p.number === '104')!;
    // The fourth shot of the bank's foot stands 36 m along it, 22 m across.
    expect(Math.hypot(shot.x - 2176, shot.y - 5232)).toBeLessThan(0.01);
    const written = readFileSync(at('kessa.csv'), 'utf8').trim().split('\n');
    expect(written.length - 1).toBe(report.list.filter((p) => !p.waits).length);
    expect(report.waiting).toBe(report.list.filter((p) => p.waits).length);
    expect(report.waiting).toBeGreaterThan(20);
    expect(written.some((row) => row.startsWith('201,'))).toBe(false);
  });

  it('are asked what a project is asked: the crew’s slips with the cause that explains them, and angles in another form', () => {
    const { queries } = json<{ queries: { kind: string; weight: string; text: string; remedies: string[] }[] }>(
      'reduce',
      kessa('kessa-one.book'),
      kessa('kessa-two.book'),
      ...control,
    );
    const wrong = queries.find((q) => q.kind === 'backsight-wrong')!;
    expect(wrong).toMatchObject({ weight: 'stop' });
    expect(wrong.text).toContain('Was KB3 sighted?');
    expect(wrong.remedies.length).toBeGreaterThan(0);
    const rows = Array.from({ length: 15 }, (_, i) => `shot ${i} circle=${i * 7}.${10 + ((i * 13) % 50)}${10 + ((i * 29) % 50)} zenith=9${i % 3}.2314 dist=20 th=1.5`); // prettier-ignore
    writeFileSync(at('packed.book'), ['book 1', 'unit m', 'angle deg', 'setup KB1 hi=1.5', 'back KB2 circle=0 zenith=90 dist=100 th=1.5', ...rows, 'end'].join('\n')); // prettier-ignore
    const run = dunrik('reduce', at('packed.book'), ...control);
    expect(run.out).toContain('stop: packed.book says decimal degrees, but no minute or second');
  });

  it('give a network with its variance factor, its bounds, and every station with an ellipse', () => {
    const a = json<{
      observations: number;
      unknowns: number;
      freedom: number;
      varianceFactor: number;
      bounds: [number, number];
      stations: { number: string; ellipse: { major: number; minor: number } }[];
      list: { redundancy: number }[];
    }>('adjust', kessa('kessa-two.book'), ...control);
    expect(a.observations - a.unknowns).toBe(a.freedom);
    expect(a.list.reduce((s, o) => s + o.redundancy, 0)).toBeCloseTo(a.freedom, 6);
    const free = a.stations.find((s) => s.number === 'FS1')!;
    expect(free.ellipse.major).toBeGreaterThan(0);
    expect(free.ellipse.major).toBeLessThan(0.01);
    expect(free.ellipse.minor).toBeLessThanOrEqual(free.ellipse.major);
  });

  it('that are none, without control, or a refraction that is no number are refused in a sentence', () => {
    expect(dunrik('reduce', kessa('kessa-one.book'))).toMatchObject({ code: 2 });
    const none = dunrik('reduce', kessa('kessa-control.csv'), ...control);
    expect(none.code).toBe(1);
    expect(none.err).toContain('is not a field book');
    expect(dunrik('adjust', at('not-there.book'), ...control).err).toContain('cannot be opened');
    expect(dunrik('reduce', kessa('kessa-one.book'), ...control, '--refraction', 'much').code).toBe(2);
  });
});
