import { readFileSync } from 'node:fs';
import Delaunator from 'delaunator';
import { buildSurface, delaunay } from '#core/terrain';
import { cloud } from './points.ts';

// One triangulation in a process of its own; prints the process's peak memory in MB.
const [who, size] = process.argv.slice(2);
const { x, y, xy } = cloud(Number(size), 0);
/** Peak of this process since it began, MB; the usual resource figure would carry its parent's along. */
const peak = (): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))![1]) / 1024;
const kept =
  who === 'ours'
    ? delaunay(x, y).count
    : who === 'peer'
      ? new Delaunator(xy).triangles.length
      : who === 'surface'
        ? buildSurface({ x, y, z: x, segments: new Uint32Array(), coincidence: 0.001, longestSide: null, rounding: 0 })
            .surface.triangles.length
        : 0;
console.log(JSON.stringify({ peak: peak(), kept }));
