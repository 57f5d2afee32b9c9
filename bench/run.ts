import { spawnSync } from 'node:child_process';
import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import proj4 from 'proj4';
import { makeSystem, transformBetween, WGS84, type PublishedSystem } from '#core/basis';
import { Matrix, inverse } from 'ml-matrix';
import { adjustNetwork } from '#core/adjustment';
import { readBookText } from '#core/book';
import { PLAIN_SETTINGS, reduce } from '#core/reduction';
import { constrain, delaunay } from '#core/terrain';
import { blameFigure } from './blame.ts';
import { codedFigure } from './coded.ts';
import { editFigure } from './edit.ts';
import { gridNetwork } from './networks.ts';
import { outsideConstrainedFigure } from './outside-constrained.ts';
import { padTrials } from './pad-trials.ts';
import { cloud } from './points.ts';
import { gridFigure } from './grid.ts';
import { growthFigure } from './growth.ts';
import { groundFaultsFigure } from './ground-faults.ts';
import { contourFaultsFigure } from './contour-faults.ts';
import { comparedDrawingsFigure } from './compared-drawings.ts';
import { drawingFigure, pageDrawingFigure } from './drawing.ts';
import { landXmlFigure } from './landxml.ts';
import { papersFigure } from './papers.ts';
import { storeFigure } from './store.ts';
import { surfaceFigure } from './surface.ts';
import { tableFigure } from './table.ts';
import { measurePage, measurePanning, measureSteps } from './page.ts';

// Each figure beside a peer in the same run: absolute times say more about the machine than about us.
// `npm run bench` runs all; `npm run bench -- page` one part (transformation, reduction, blame, edit, grid, store, coded, table, network, valleys, ground-faults, triangulation, surface, growth, constraints, outside, drawing, landxml, compared-drawings, contour-faults, comparison, pad, memory, page, page-drawing, panning, steps, papers).

const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const ms = (v: number): string => `${v.toFixed(0).padStart(7)} ms`;

function triangulation(): void {
  console.log('Delaunay triangulation of random points, beside delaunator (wanted: ratio not over 1.5)');
  for (const [n, runs] of [
    [1e4, 31],
    [1e5, 11],
    [1e6, 5],
  ]) {
    const { x, y, xy } = cloud(n, 0);
    const ours: number[] = [];
    const peer: number[] = [];
    const ratio: number[] = [];
    for (let i = -2; i < runs; i++) {
      const a = timed(() => delaunay(x, y));
      const b = timed(() => new Delaunator(xy));
      if (i < 0) continue;
      ours.push(a);
      peer.push(b);
      ratio.push(a / b);
    }
    console.log(
      `  ${n.toExponential(0)} points: ours ${ms(median(ours))}, delaunator ${ms(median(peer))}, ratio ${median(ratio).toFixed(2)} (${runs} pairs)`,
    );
  }
}

function constraints(): void {
  console.log(
    'Constrained, 5 % of the points on breaklines, beside constrainautor on delaunator (wanted at 1e6: at least 10 times as fast)',
  );
  for (const [n, runs] of [
    [1e5, 5],
    [1e6, 3],
  ]) {
    const { x, y, xy, segments } = cloud(n, 0.05);
    const pairs: [number, number][] = [];
    for (let i = 0; i < segments.length; i += 2) pairs.push([segments[i], segments[i + 1]]);
    let crossings = 0;
    const ours = median(
      Array.from({ length: runs }, () =>
        timed(() => {
          crossings = constrain(delaunay(x, y), segments).crossings.length;
        }),
      ),
    );
    if (n === 1e6) console.log('  (the peer takes some minutes now)');
    const peer = timed(() => new Constrainautor(new Delaunator(xy), pairs));
    console.log(
      `  ${n.toExponential(0)} points, ${pairs.length} segments (${crossings} crossings): ours ${ms(ours)}, peer ${ms(peer)} (one run), ours is ${(peer / ours).toFixed(1)} times as fast`,
    );
  }
}

function memory(): void {
  console.log('Peak memory of one process that triangulates, beside delaunator');
  for (const n of [1e5, 1e6]) {
    const of = (who: string): { peak: number } => {
      const run = spawnSync(process.execPath, ['--import', 'tsx', 'bench/memory.ts', who, String(n)], {
        encoding: 'utf8',
      });
      return JSON.parse(run.stdout) as { peak: number };
    };
    const [ours, peer, none] = [of('ours'), of('peer'), of('none')];
    const bytes = ({ peak }: { peak: number }): string => (((peak - none.peak) * 2 ** 20) / n).toFixed(0);
    console.log(
      `  ${n.toExponential(0)} points: ours ${ours.peak.toFixed(0)} MB, delaunator ${peer.peak.toFixed(0)} MB, points alone ${none.peak.toFixed(0)} MB; over the points, ratio ${((ours.peak - none.peak) / Math.max(1, peer.peak - none.peak)).toFixed(2)}; bytes a point over them: triangulation ${bytes(ours)}, whole surface ${bytes(of('surface'))} (wanted under 200)`, // prettier-ignore
    );
  }
}

async function page(): Promise<void> {
  console.log(
    '200,000 points taken in and triangulated through the page: longest tasks of its scripts (wanted: none over 100 ms)',
  );
  const tasks = await measurePage();
  for (const t of tasks) console.log(`  ${t.thread.toFixed(0).padStart(4)} ms by the thread’s clock (${t.wall.toFixed(0)} by the wall’s)  ${t.what}`); // prettier-ignore
}

/** A million places from latitude and longitude to a grid, beside the plainest loop over proj4. */
function transformation(): void {
  console.log('A million points transformed, beside a bare loop over proj4 (wanted: ratio not over 1.3)');
  const n = 1e6;
  const system = (definition: string): PublishedSystem => {
    const made = makeSystem({ name: 'bench', code: null, definition, area: null });
    if (!made.ok) throw new Error(made.reason);
    return made.system;
  };
  const cases: [string, PublishedSystem, number, number][] = [
    ['UTM zone 35', system('+proj=utm +zone=35 +datum=WGS84 +units=m'), 24, 59],
    ['Lambert, two parallels, other datum', system('+proj=lcc +lat_0=45 +lon_0=-28 +lat_1=45.5 +lat_2=46.5 +x_0=609601 +ellps=intl +towgs84=-87,-98,-121 +units=m'), -28, 46], // prettier-ignore
  ];
  for (const [name, to, lon, lat] of cases) {
    const { x, y } = cloud(n, 0);
    const places = (): [Float64Array, Float64Array] => [x.map((v) => lon + v / 2000), y.map((v) => lat + v / 2000)];
    const made = transformBetween(WGS84, to);
    if (!made.ok) throw new Error(made.reason);
    const bare = proj4(WGS84.definition, to.definition);
    const ours: number[] = [];
    const peer: number[] = [];
    const ratio: number[] = [];
    let apart = 0;
    for (let i = -1; i < 5; i++) {
      const [ax, ay] = places();
      const [bx, by] = places();
      const a = timed(() => made.transformation.apply(ax, ay));
      const b = timed(() => {
        for (let k = 0; k < n; k++) {
          const at = bare.forward([bx[k], by[k]]);
          bx[k] = at[0];
          by[k] = at[1];
        }
      });
      for (let k = 0; k < n; k += 997) apart = Math.max(apart, Math.abs(ax[k] - bx[k]), Math.abs(ay[k] - by[k]));
      if (i < 0) continue;
      ours.push(a);
      peer.push(b);
      ratio.push(a / b);
    }
    console.log(
      `  to ${name}: ours ${ms(median(ours))}, proj4 ${ms(median(peer))}, ratio ${median(ratio).toFixed(2)} (5 pairs; largest difference ${apart.toExponential(1)} m)`,
    );
  }
}

/** 100,000 sightings of 100 setups, beside a plain loop over the bare formulas. */
function reduction(): void {
  console.log('100,000 sightings reduced, beside a plain loop over the bare formulas (wanted: ratio not over 2)');
  const rows = ['book 1', 'unit m', 'angle deg', 'weather t=15 p=1010 h=60'];
  for (let s = 0; s < 100; s++) {
    rows.push(`setup A${s % 4} hi=1.5`, `back A${(s + 1) % 4} circle=0 zenith=90 dist=100 th=1.5`);
    for (let k = 0; k < 999; k++)
      rows.push(
        `shot ${s * 1000 + k} circle=${((k * 0.36) % 360).toFixed(5)} zenith=${(85 + (k % 100) / 10).toFixed(5)} dist=${(20 + (k % 70)).toFixed(3)} th=1.5`,
      );
  }
  const book = readBookText([...rows, 'end'].join('\n'))!;
  const control = [0, 1, 2, 3].map((i) => ({ number: `A${i}`, x: i === 1 || i === 2 ? 100 : 0, y: i > 1 ? 100 : 0, z: 10, sdPlan: 0.002, sdHeight: 0.002, from: 'control' as const })); // prettier-ignore
  const settings = { ...PLAIN_SETTINGS, checkPlan: 1, checkHeight: 1, angleSpread: 1 };
  const shots = book.records.filter((r) => r.kind === 'sighting');
  // Both make their results anew in every run.
  const bare = (): Float64Array => {
    const out = new Float64Array(3 * shots.length);
    for (let i = 0; i < shots.length; i++) {
      const r = shots[i];
      const d = r.distance * 1.000003;
      const [s, c] = [Math.sin(r.zenith), Math.cos(r.zenith)];
      const flat = d * s - (1.87 * d * d * s * c) / 12_742_000;
      const bearing = r.circle + 0.5;
      out[3 * i] = flat * Math.sin(bearing);
      out[3 * i + 1] = flat * Math.cos(bearing);
      out[3 * i + 2] = d * c + (0.87 * d * d * s * s) / 12_742_000 + 1.5 - r.height;
    }
    return out;
  };
  // The same with what a reduction has to give beside coordinates: the precision of each point, from its formulas.
  const precise = (): Float64Array[] => {
    const places = bare();
    const out = [new Float64Array(shots.length), new Float64Array(shots.length), new Float64Array(shots.length)];
    for (let i = 0; i < shots.length; i++) {
      const r = shots[i];
      const d = r.distance * 1.000003;
      const [s, c] = [Math.sin(r.zenith), Math.cos(r.zenith)];
      const varSlope = 4e-6 + (2e-6 * d) ** 2;
      const across = (d * 2.4e-5) ** 2;
      const turn = (d * s * 3e-5) ** 2;
      const sdDistance = Math.sqrt(varSlope * s * s + across * c * c + 2e-6);
      const sdRise = Math.sqrt(varSlope * c * c + across * s * s + 2e-6);
      out[0][i] = Math.sqrt(4e-6 + (turn + sdDistance * sdDistance) / 2);
      out[1][i] = Math.sqrt(4e-6 + sdRise * sdRise);
      out[2][i] = Math.sqrt(4e-6 + turn);
    }
    return [places, ...out];
  };
  const whole = (): unknown =>
    reduce([{ id: 'b', records: book.records, instruments: [], targets: [] }], control, () => undefined, settings);
  const first = [whole, bare, precise].map(timed);
  // The compiler settles in the first dozens of runs: all three get as many before they are compared.
  const [ours, peer, peerPrecise]: number[][] = [[], [], []];
  for (let i = -40; i < 60; i++) {
    const a = timed(whole);
    const b = timed(bare);
    const c = timed(precise);
    if (i < 0) continue;
    ours.push(a);
    peer.push(b);
    peerPrecise.push(c);
  }
  const ratio = (of: number[]): string => median(ours.map((a, i) => a / of[i])).toFixed(2);
  console.log(
    `  ours ${ms(median(ours))}, coordinates alone ${ms(median(peer))}, ratio ${ratio(peer)}; with the precision of each point ${ms(median(peerPrecise))}, ratio ${ratio(peerPrecise)} (60 pairs after 40 to settle)`,
  );
  console.log(`  the first time in the process, before the compiler has settled: ours ${ms(first[0])}, coordinates alone ${ms(first[1])}, with precision ${ms(first[2])}`); // prettier-ignore
}

/** 400 stations and some 5,000 observations, beside a dense solution by ml-matrix of the same equations. */
function network(): void {
  console.log(
    'A network of 400 stations, beside dense normal equations by ml-matrix (wanted: at least 20 times as fast)',
  );
  const { points, observations, sets } = gridNetwork(20, 3);
  let outcome = adjustNetwork(points, observations, sets);
  const ours = median(
    Array.from({ length: 5 }, () => timed(() => (outcome = adjustNetwork(points, observations, sets)))),
  );
  if (!outcome.ok) throw new Error(outcome.reason);
  const at = outcome;
  // The peer gets one turn of the same iteration: a design matrix of the same size and filling, solved and inverted.
  const u = at.unknowns;
  const design = Matrix.zeros(observations.length, u);
  observations.forEach((o, i) => {
    for (const k of [o.from, o.to]) {
      design.set(i, (3 * k) % u, 0.7 / o.sd);
      design.set(i, (3 * k + 1) % u, -0.7 / o.sd);
    }
    design.set(i, (3 * o.from + 2) % u, 1 / o.sd);
  });
  console.log('  (the peer takes a while now)');
  const peer = timed(() => {
    const normal = design.transpose().mmul(design);
    for (let i = 0; i < u; i++) normal.set(i, i, normal.get(i, i) + 1);
    inverse(normal);
  });
  console.log(
    `  ${observations.length} observations, ${u} unknowns: ours ${ms(ours)} for ${at.iterations} turns with all statistics, peer ${ms(peer)} for one; ours is ${(peer / ours).toFixed(0)} times as fast; ${at.kept} of ${(u * (u + 1)) / 2} values kept`,
  );
}

/** Growth from 400 to 5,000 stations in three chained valleys, each in a process of its own. */
function valleys(): void {
  console.log('Networks in three chained valleys, all statistics (wanted: 5,000 stations and 60,000 observations within 1 GiB)'); // prettier-ignore
  interface Grown { stations: number; observations: number; unknowns: number; kept: number; iterations: number; varianceFactor: number; milliseconds: number; peak: number } // prettier-ignore
  let first: Grown | null = null;
  for (const n of [405, 1005, 2505, 5010]) {
    const run = spawnSync(process.execPath, ['--import', 'tsx', 'bench/valleys.ts', String(n)], { encoding: 'utf8' });
    const g = JSON.parse(run.stdout) as Grown;
    first ??= g;
    console.log(`  ${g.stations} stations, ${g.observations} observations, ${g.unknowns} unknowns: ${ms(g.milliseconds)} for ${g.iterations} turns, ${(g.milliseconds / first.milliseconds).toFixed(1)} times the first for ${(g.stations / first.stations).toFixed(1)} times the stations; ${g.kept} values kept, peak ${g.peak.toFixed(0)} MB; variance factor ${g.varianceFactor.toFixed(3)}`); // prettier-ignore
  }
}

async function panning(): Promise<void> {
  console.log('Panning over 100,000 labelled points and 20,000 lines (wanted: at most 60 draw calls, 8 ms of script a frame)'); // prettier-ignore
  for (const [name, f] of Object.entries(await measurePanning()))
    console.log(`  ${name}: ${f.calls} draw calls; script a frame ${f.median.toFixed(1)} ms as a rule, ${f.longest.toFixed(1)} ms at most by the thread’s clock (${f.frames} frames; ${f.wall.toFixed(1)} ms by the wall’s, waiting for the processor included)`); // prettier-ignore
}

async function steps(): Promise<void> {
  console.log('From key to picture in a project of 10,000 points (wanted: a row under 50 ms, a stage under 100 ms)');
  const { bare, rows, stages } = await measureSteps();
  for (const [name, f] of Object.entries({
    'one number written': bare,
    'a row by arrow': rows,
    'stage to stage': stages,
  }))
    console.log(
      `  ${name}: ${f.median.toFixed(0)} ms as a rule, ${f.longest.toFixed(0)} ms at most, ${f.script.toFixed(0)} ms of it the script that answers`,
    );
}

/** Two surfaces compared, each size in a process of its own. */
/** A pad’s level under the hand, beside triangulating the ground that it lies in. */
function triedPads(): void {
  const { step, ground, triangles } = padTrials(50_000);
  console.log(`A pad dragged in ${triangles} triangles: ${ms(step)} a step with batters, cut, fill and what is painted; ${(step / ground).toFixed(3)} of triangulating the ground (${ms(ground)}).`); // prettier-ignore
}

function comparedSurfaces(): void {
  console.log('Two surfaces compared exactly, a share of triangulating one (wanted at 1e6: 4 on one thread, faster than square cells within 0.01 %, under 200 MB beyond the surfaces)'); // prettier-ignore
  interface Got { ratio: number; memory: number; cells: number; size: number; off: number } // prettier-ignore
  for (const n of [1e5, 1e6]) {
    const run = spawnSync(process.execPath, ['--expose-gc', '--import', 'tsx', 'bench/compared-surfaces.ts', String(n)], { encoding: 'utf8' }); // prettier-ignore
    const g = JSON.parse(run.stdout) as Got;
    console.log(`  ${n.toExponential(0)} points each: ${g.ratio.toFixed(1)} of triangulating one, ${g.memory.toFixed(0)} MB beyond them; cells of ${g.size} m take ${g.cells.toFixed(2)} of it and are ${(100 * g.off).toFixed(3)} % off`); // prettier-ignore
  }
}

const PARTS: Record<string, () => void | Promise<void>> = {
  transformation,
  reduction,
  blame: () => blameFigure(),
  edit: editFigure,
  grid: gridFigure,
  store: storeFigure,
  papers: papersFigure,
  coded: codedFigure,
  table: tableFigure,
  network,
  valleys,
  'ground-faults': () => groundFaultsFigure(),
  triangulation,
  surface: () => void surfaceFigure(),
  constraints,
  outside: () => outsideConstrainedFigure(),
  drawing: drawingFigure,
  'page-drawing': pageDrawingFigure,
  landxml: landXmlFigure,
  'compared-drawings': comparedDrawingsFigure,
  'contour-faults': () => contourFaultsFigure(),
  comparison: comparedSurfaces,
  pad: triedPads,
  memory,
  page,
  panning,
  steps,
};
const wanted = process.argv.slice(2);
// A picture is drawn when it is asked for.
if (wanted.includes('growth')) growthFigure();
for (const [name, part] of Object.entries(PARTS)) if (wanted.length === 0 || wanted.includes(name)) await part();
