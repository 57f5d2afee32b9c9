import { adjustNetwork } from '#core/adjustment';
import { valleyNetwork } from './networks.ts';

// One network adjusted in a process of its own, so that its peak memory is its own: stations from the command line.

const { points, observations, sets, truth } = valleyNetwork(Number(process.argv[2]), 5);
const begun = performance.now();
const found = adjustNetwork(points, observations, sets);
const milliseconds = performance.now() - begun;
if (!found.ok) throw new Error(found.reason);
const worst = Math.max(...found.points.map((p, i) => Math.hypot(p.x - truth[i].x, p.y - truth[i].y)));
console.log(
  JSON.stringify({
    stations: points.length,
    observations: observations.length,
    unknowns: found.unknowns,
    kept: found.kept,
    iterations: found.iterations,
    varianceFactor: found.varianceFactor,
    worst,
    milliseconds,
    peak: process.resourceUsage().maxRSS / 1024,
  }),
);
