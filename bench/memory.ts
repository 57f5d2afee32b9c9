import Delaunator from 'delaunator';
import { delaunay } from '#core/terrain';
import { cloud } from './points.ts';

// One triangulation in a process of its own; prints the process's peak memory in MB, and what it was before.
const [who, size] = process.argv.slice(2);
const { x, y, xy } = cloud(Number(size), 0);
const before = process.resourceUsage().maxRSS / 1024;
const kept = who === 'ours' ? delaunay(x, y).count : who === 'peer' ? new Delaunator(xy).triangles.length : 0;
console.log(JSON.stringify({ before, peak: process.resourceUsage().maxRSS / 1024, kept }));
