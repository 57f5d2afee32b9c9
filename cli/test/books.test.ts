import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

const kessa = (name: string): string => join(import.meta.dirname, '../../demo/kessa-bank', name);
const control = ['--control', kessa('kessa-control.csv')];

describe('field books on the command line', () => {
  it('go out as LandXML and come back with the same points', () => {
    const out = json<{ records: number; leftOut: string[] }>('convert', kessa('kessa-three.book'), at('three.xml'));
    expect(out.leftOut).toEqual(['level readings, as features of their own: the schema has no element for them (12)']);
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
    const refused = dunrik('reduce', at('table.csv'), ...control);
    expect(refused.code).toBe(1);
    expect(refused.err).toContain('--layout FILE');
    const { layoutProposed } = json<{ layoutProposed: object }>('inspect', at('table.csv'));
    writeFileSync(at('layout.json'), JSON.stringify(layoutProposed));
    const counts = json<{ kind: string; counts: Record<string, number> }>('inspect', at('table.csv'), '--layout', at('layout.json')); // prettier-ignore
    expect(counts).toMatchObject({ kind: 'book', counts: { setup: 1, back: 1, shot: 1 } });
    const reduced = json<{ points: number; waiting: number; list: { x: number }[] }>('reduce', at('table.csv'), '--layout', at('layout.json'), ...control, '-o', at('p.csv')); // prettier-ignore
    expect([reduced.points, reduced.waiting]).toEqual([1, 0]);
    expect(readFileSync(at('p.csv'), 'utf8')).toContain('901');
    writeFileSync(at('bad.json'), JSON.stringify({ ...layoutProposed, angle: 'grads' }));
    const bad = dunrik('reduce', at('table.csv'), '--layout', at('bad.json'), ...control);
    expect([bad.code, bad.err.includes('angle')]).toEqual([1, true]);
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
    expect(run.text).toContain('6 shots one after the other, 22 to 27 of pole.book, are 0.500 m too high');
    expect(run.remedies).toEqual(['Target height 2.000 m for these 6']);
  });

  it('of levels alone: adjusted as a net, with loops and the two-peg test', () => {
    const rows = ['book 1', 'unit m', 'level back A reading=1.506 dist=30', 'level fore P reading=1.006 dist=30', 'level back A reading=1.401 dist=5', 'level fore P reading=0.911 dist=55', 'level back P reading=1.2 dist=30', 'level fore Q reading=1.0 dist=30', 'level back Q reading=1.0 dist=30', 'level fore A reading=1.698 dist=30', 'end']; // prettier-ignore
    writeFileSync(at('level.book'), rows.join('\n'));
    writeFileSync(at('level.csv'), 'Number,East [m],North [m],Elevation [m]\nA,0,0,10\n');
    const a = json<{ freedom: number; levelled: { number: string; z: number; waits: boolean }[]; levelLoops: { points: string[] }[]; twoPegTests: { collimation: number }[] }>('adjust', at('level.book'), '--control', at('level.csv')); // prettier-ignore
    expect(a.freedom).toBe(2);
    expect(a.levelled.map((h) => h.number)).toEqual(['P', 'Q']);
    expect(a.levelLoops.length).toBeGreaterThan(0);
    expect(a.twoPegTests[0].collimation).toBeCloseTo(0.01 / 50, 6);
    // The two-peg test is no run that may stand: nothing is written from what misses its end.
    expect(a.levelled.map((h) => h.waits)).toEqual([true, true]);
    const over = dunrik('adjust', at('level.book'), '--control', at('level.csv'), '-o', at('over.csv'));
    expect([over.code, over.err, existsSync(at('over.csv'))]).toEqual([1, expect.stringContaining('misses its end') as string, false]); // prettier-ignore
    writeFileSync(at('level.book'), rows.filter((_, i) => i !== 4 && i !== 5).join('\n'));
    dunrik('adjust', at('level.book'), '--control', at('level.csv'), '-o', at('heights.csv'));
    expect(readFileSync(at('heights.csv'), 'utf8').split('\r\n').slice(0, 2)).toEqual(['Number,Elevation [m],Deviation [m]', expect.stringMatching(/^P,10\.49/) as string]); // prettier-ignore
    writeFileSync(at('adrift.book'), 'book 1\nunit m\nlevel back X reading=1\nlevel fore Y reading=1\nend');
    const adrift = dunrik('adjust', at('adrift.book'), '--control', at('level.csv'));
    expect([adrift.code, adrift.err]).toEqual([1, expect.stringContaining('no known height is linked to') as string]); // prettier-ignore
  });

  it('a reduction prints the queries of every stage that it ran', () => {
    const { queries } = json<{ queries: { stage: string; kind: string }[] }>('reduce', kessa('kessa-two.book'), ...control); // prettier-ignore
    expect(queries.map((q) => q.kind)).toContain('unknown-code');
    expect(new Set(queries.map((q) => q.stage)).size).toBeGreaterThan(1);
  });
});

describe('systems on the command line', () => {
  it('pairs of two systems are fitted, with what each is off by; what cannot be read is said by its row', () => {
    const turn = 0.3;
    const [c, s] = [1.00002 * Math.cos(turn), 1.00002 * Math.sin(turn)];
    const local = [[0, 0], [100, 0], [0, 80], [120, 90], [50, 40]]; // prettier-ignore
    const rows = local.map(([x, y], i) => [`P${i}`, x, y, 10, (500 + c * x - s * y).toFixed(5), (900 + s * x + c * y).toFixed(5), 60].join(',')); // prettier-ignore
    writeFileSync(at('pairs.csv'), ['Number,From E [m],From N [m],From Z [m],To E [m],To N [m],To Z [m]', ...rows].join('\n')); // prettier-ignore
    const f = json<{ scale: number; rotation: number; shift: { x: number; z: number }; residuals: { x: number }[] }>('fit', at('pairs.csv')); // prettier-ignore
    expect(f.scale).toBeCloseTo(1.00002, 7);
    expect(f.rotation).toBeCloseTo(turn, 6);
    expect([f.shift.x, f.shift.z].map((v) => v.toFixed(4))).toEqual(['500.0000', '50.0000']);
    expect(Math.max(...f.residuals.map((r) => Math.abs(r.x)))).toBeLessThan(1e-4);
    expect(json<{ scale: number }>('fit', at('pairs.csv'), '--scale', 'fixed').scale).toBeCloseTo(1, 12);
    writeFileSync(at('bad.csv'), 'Number,From E [m],From N [m],To E [m],To N [m]\nA,1,2,3,4x\n');
    const bad = dunrik('fit', at('bad.csv'));
    expect([bad.code, bad.err]).toEqual([1, expect.stringContaining('row 2: “4x” is not a coordinate') as string]);
    writeFileSync(at('mute.csv'), 'Number,From E,From N,To E,To N\nA,1,2,3,4\n');
    expect(dunrik('fit', at('mute.csv')).code).toBe(2);
  });

  // IOGP's central meridian has scale 0.9996 for UTM; 500 km from it, by x²/2R², 1.0027 (any textbook, to 1e-5).
  it('what a grid does to lengths and north at a place', () => {
    writeFileSync(at('places.csv'), 'Number,East [m],North [m],Elevation [m]\nC,500000,6100000,0\nQ,620000,6100000,637.8\n'); // prettier-ignore
    const { list } = json<{ list: { convergence: number; pointScale: number; elevationFactor: number; combined: number; ppmOfProject: number }[] }>('factors', '25833', '--at', at('places.csv'), '--project-factor', '0.9996'); // prettier-ignore
    expect(list[0].pointScale).toBeCloseTo(0.9996, 8);
    expect(list[0].convergence).toBeCloseTo(0, 9);
    expect(list[1].pointScale).toBeCloseTo(0.9996 * (1 + 120_000 ** 2 / (2 * 6_383_000 ** 2)), 5);
    expect(list[1].elevationFactor).toBeCloseTo(0.9999, 5);
    expect(list[1].combined).toBeCloseTo(list[1].pointScale * list[1].elevationFactor, 12);
    expect(list[1].convergence).toBeGreaterThan(0);
    expect(dunrik('factors', '4326', '--at', at('places.csv')).code).toBe(1);
  });
});
