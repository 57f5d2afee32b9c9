import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'dunrik-books-'));
const at = (name: string): string => join(folder, name);
const kessa = (name: string): string => join(import.meta.dirname, '../../demo/kessa-bank', name);
const run = (...args: string[]) =>
  spawnSync(process.execPath, ['--import', 'tsx', 'cli/src/main.ts', ...args], { encoding: 'utf8' });
function json<T>(...args: string[]): T {
  const { status, stdout, stderr } = run(...args, '--json');
  expect([status, stderr]).toEqual([0, '']);
  return JSON.parse(stdout) as T;
}
const control = ['--control', kessa('kessa-control.csv')];

describe('field books on the command line', () => {
  it('go out as LandXML and come back with the same points', () => {
    const out = json<{ records: number; leftOut: string[] }>('convert', kessa('kessa-three.book'), at('three.xml'));
    expect(out.leftOut).toEqual(['12 level readings']);
    execFileSync('xmllint', ['--noout', at('three.xml')]);
    json('convert', at('three.xml'), at('three.book'));
    const points = (book: string): unknown =>
      json<{ list: { number: string; x: number; y: number }[] }>('reduce', book, ...control).list.map((p) => [
        p.number,
        p.x.toFixed(4),
        p.y.toFixed(4),
      ]);
    expect(points(at('three.xml'))).toEqual(points(kessa('kessa-three.book')));
    expect(points(at('three.book'))).toEqual(points(kessa('kessa-three.book')));
  });

  it('by a proposed layout: a table of readings is inspected, its layout saved, its points reduced', () => {
    const rows = ['Station;HI;Point;Hz [gon];V [gon];Slope dist [m];HT;Code', 'KB1;1,582;KB2;0,0000;99,7100;86,432;1,5;', 'KB1;1,582;901;42,9281;100,1121;11,720;1,5;BF1']; // prettier-ignore
    writeFileSync(at('table.csv'), rows.join('\n'));
    const refused = run('reduce', at('table.csv'), ...control);
    expect(refused.status).toBe(1);
    expect(refused.stderr).toContain('--layout FILE');
    const { layoutProposed } = json<{ layoutProposed: object }>('inspect', at('table.csv'));
    writeFileSync(at('layout.json'), JSON.stringify(layoutProposed));
    const counts = json<{ kind: string; counts: Record<string, number> }>('inspect', at('table.csv'), '--layout', at('layout.json')); // prettier-ignore
    expect(counts).toMatchObject({ kind: 'book', counts: { setup: 1, back: 1, shot: 1 } });
    const reduced = json<{ points: number; waiting: number; list: { x: number }[] }>('reduce', at('table.csv'), '--layout', at('layout.json'), ...control, '-o', at('p.csv')); // prettier-ignore
    expect([reduced.points, reduced.waiting]).toEqual([1, 0]);
    expect(readFileSync(at('p.csv'), 'utf8')).toContain('901');
    writeFileSync(at('bad.json'), JSON.stringify({ ...layoutProposed, angle: 'grads' }));
    const bad = run('reduce', at('table.csv'), '--layout', at('bad.json'), ...control);
    expect([bad.status, bad.stderr.includes('angle')]).toEqual([1, true]);
  });

  it('say what traverses and level runs miss their ends by, and adjust free of control', () => {
    const a = json<{
      traverses: { stations: string[]; linear: number; compass: { number: string }[] }[];
      levelRuns: { from: string; to: string; within: boolean }[];
      levelled: { number: string; sd: number }[];
      freedom: number;
    }>('adjust', kessa('kessa-three.book'), ...control);
    expect(a.traverses[0].stations).toEqual(['KB5', 'TR1', 'TR2', 'KB6']);
    expect(a.traverses[0].linear).toBeLessThan(0.01);
    expect(a.traverses[0].compass.map((p) => p.number)).toEqual(['TR1', 'TR2']);
    expect(a.levelRuns).toMatchObject([{ from: 'KB5', to: 'KB6', within: true }]);
    expect(a.levelled.map((h) => h.number).sort()).toEqual(['TR1', 'TR2', 'W1', 'W2', 'W3']);
    const free = json<{ freedom: number; stations: { ellipse: { major: number } }[] }>('adjust', kessa('kessa-three.book'), ...control, '--free'); // prettier-ignore
    expect(free.freedom).toBeLessThan(a.freedom);
    expect(Math.max(...free.stations.map((s) => s.ellipse.major))).toBeLessThan(0.01);
  });

  it('with a pole that was made longer unnoted: the run of shots is named, as in a project', () => {
    const rows = ['book 1', 'unit m', 'angle deg', 'setup S hi=1.6', 'back T circle=90 zenith=90 dist=100 th=1.6'];
    for (let k = 0; k < 64; k++) {
      const [i, j] = [Math.floor(k / 8), k % 8];
      // Up one row and down the next, on a plane.
      const [e, n] = [20 + 6 * i + (k % 3), 20 + 6 * (i % 2 ? 7 - j : j)];
      const noted = k > 55 ? 2 : 1.5;
      const rise = 0.01 * e + (k > 20 && k < 27 ? 2 : noted) - 1.6;
      const [flat, turn] = [Math.hypot(e, n), 180 / Math.PI];
      rows.push(
        `shot ${k + 1} circle=${(Math.atan2(e, n) * turn).toFixed(6)} zenith=${(Math.atan2(flat, rise) * turn).toFixed(6)} dist=${Math.hypot(flat, rise).toFixed(4)} th=${noted}`,
      );
    }
    writeFileSync(at('pole.book'), [...rows, 'end'].join('\n'));
    writeFileSync(at('pole.csv'), 'Number,East [m],North [m],Elevation [m]\nS,0,0,50\nT,100,0,50\n');
    const { queries } = json<{ queries: { kind: string; text: string; remedies: string[] }[] }>('reduce', at('pole.book'), '--control', at('pole.csv')); // prettier-ignore
    const [run] = queries.filter((q) => q.kind === 'target-height');
    expect(run.text).toContain('6 shots one after the other, 22 to 27 of pole.book, stand 0.500 m too high');
    expect(run.remedies).toEqual(['Target height 2.000 m for these 6']);
  });
});
