import { spawnSync } from 'node:child_process';
import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import { constrain, delaunay } from '#core/terrain';
import { cloud } from './points.ts';
import { measurePage } from './page.ts';

// Each figure beside a peer in the same run: absolute times say more about the machine than about us.
// `npm run bench` runs all; `npm run bench -- page` one part (triangulation, constraints, memory, page).

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
    console.log(
      `  ${n.toExponential(0)} points: ours ${ours.peak.toFixed(0)} MB, delaunator ${peer.peak.toFixed(0)} MB, points alone ${none.peak.toFixed(0)} MB; over the points, ratio ${((ours.peak - none.peak) / Math.max(1, peer.peak - none.peak)).toFixed(2)}`,
    );
  }
}

async function page(): Promise<void> {
  console.log(
    '200,000 points taken in and triangulated through the page: longest tasks of its scripts (wanted: none over 100 ms)',
  );
  const tasks = await measurePage();
  for (const t of tasks) console.log(`  ${t.milliseconds.toFixed(0).padStart(4)} ms  ${t.what}`);
  if (tasks.length === 0) console.log('  none over 50 ms');
}

const PARTS: Record<string, () => void | Promise<void>> = { triangulation, constraints, memory, page };
const wanted = process.argv.slice(2);
for (const [name, part] of Object.entries(PARTS)) if (wanted.length === 0 || wanted.includes(name)) await part();
