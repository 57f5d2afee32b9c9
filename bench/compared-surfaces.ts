import { readFileSync, writeFileSync } from 'node:fs';
import { compare, type BuiltSurface } from '#core/stages';
import { cellsBetween } from '#core/quantities';
import { delaunay, planSurface, type Surface } from '#core/terrain';
import { cloud } from './points.ts';

// Two surfaces of so many points each compared exactly, in a process of its own: the time beside one triangulation, the memory
// beyond the two surfaces, and the time that square cells need until their volume is within 0.01 % of it. Prints JSON.

const n = Number(process.argv[2]);
const timed = <T>(work: () => T): { ms: number; result: T } => {
  const start = performance.now();
  const result = work();
  return { ms: performance.now() - start, result };
};
const peak = (): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))![1]) / 1024;

/** Rolling ground over a square kilometre, and the same ground measured again by other points with a metre of fill on half of it. */
function surfaceOf(again: boolean): BuiltSurface {
  const { x, y } = cloud(again ? n + 1 : n, 0);
  const wide = 1000;
  const plan = planSurface({ x, y, segments: new Uint32Array(), coincidence: 1e-4, longestSide: null });
  const z = Float64Array.from(plan.x, (v, i) => 100 + 20 * Math.sin((7 * v) / wide) + 15 * Math.cos((5 * plan.y[i]) / wide) + (again ? Math.sin((9 * v) / wide) : 0)); // prettier-ignore
  const surface: Surface = { ...plan, z };
  const id = again ? 'again' : 'ground';
  return { id, name: id, surface } as BuiltSurface;
}

const { x, y } = cloud(n, 0);
delaunay(x, y);
const bare = [0, 1, 2].map(() => timed(() => delaunay(x, y)).ms).sort((a, b) => a - b)[1];
const surfaces = [surfaceOf(false), surfaceOf(true)];
// What was used to make them is given back, and the mark of the peak starts anew here.
(globalThis as { gc?: () => void }).gc?.();
writeFileSync('/proc/self/clear_refs', '5');
const before = peak();
const { ms, result } = timed(() => compare({ id: 'c', name: 'c', surface: 'ground', against: { surface: 'again' }, within: null }, surfaces, 'm')); // prettier-ignore
const memory = peak() - before;
if (!result.ok) throw new Error(result.reason);
const { cut, fill } = result.volume;
const cells = { ms: 0, size: 0, off: 1 };
for (let about = 1e5; about <= 2e7 && cells.off > 1e-4; about *= 4) {
  const grid = timed(() => {
    const { pieces, size } = cellsBetween(surfaces[0].surface, surfaces[1].surface, about);
    let sum = 0;
    for (let i = 2; i < pieces.length; i += 3) sum += Math.abs(pieces[i]);
    return { volume: (sum * size * size) / 6, size };
  });
  Object.assign(cells, { ms: grid.ms, size: grid.result.size, off: Math.abs(grid.result.volume / (cut + fill) - 1) });
}
console.log(JSON.stringify({ ratio: ms / bare, memory, ms, cells: cells.ms / ms, size: cells.size, off: cells.off }));
