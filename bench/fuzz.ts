import { fork } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { megabytesOf } from '../server/src/jobs/child.ts';
import { damaged } from './fuzz/inputs.ts';

// `npm run fuzz` reads 100,000 damaged files by every reader; `npm run fuzz -- 5000 7` so many, from that seed on. None may
// throw, take longer than 2 s, or grow its process by more than 512 MB. A file that does is written beside the report.

const [count = 100_000, first = 1] = process.argv.slice(2).map(Number);
const SECONDS = 2;
const MEGABYTES = 512;

const faults: { seed: number; what: string }[] = [];
let largest = 0;
let longest = 0;

/** One child from a seed on, until it is done or has to be ended; gives the seed to go on from. */
function run(from: number, to: number): Promise<number> {
  return new Promise((resolve) => {
    const child = fork(new URL('./fuzz/child.ts', import.meta.url), { execArgv: ['--import', 'tsx', '--max-old-space-size=1024'] }); // prettier-ignore
    let at = from;
    let since = Date.now();
    let base = 0;
    let done = false;
    const fault = (what: string): void => {
      faults.push({ seed: at, what });
      child.kill('SIGKILL');
    };
    const watch = setInterval(() => {
      const now = megabytesOf(child.pid ?? 0);
      // What it takes to be there, and what the readers warm up to.
      if (at - from < 200) base = Math.max(base, now);
      largest = Math.max(largest, now - base);
      if (now - base > MEGABYTES) fault(`grew by ${Math.round(now - base)} MB`);
      else if (at > from && Date.now() - since > SECONDS * 1000) fault(`takes longer than ${SECONDS} s`);
    }, 100);
    child.on('message', (m: { begin?: number; seed?: number; threw?: string; done?: boolean }) => {
      if (m.done) done = true;
      if (m.threw !== undefined) faults.push({ seed: m.seed!, what: m.threw });
      if (m.begin === undefined) return;
      if (at > from) longest = Math.max(longest, Date.now() - since);
      at = m.begin;
      since = Date.now();
      if (at % 10_000 === 0) console.log(`  ${at - first} of ${count}, ${faults.length} faults`);
    });
    child.on('close', () => {
      clearInterval(watch);
      if (!done && !faults.some((f) => f.seed === at)) faults.push({ seed: at, what: 'ended its process' });
      resolve(done ? to : at + 1);
    });
    child.send({ from, to });
  });
}

for (let at = first; at < first + count;) at = await run(at, first + count);
for (const { seed, what } of faults.slice(0, 20)) {
  console.log(`  seed ${seed}: ${what.split('\n').slice(0, 3).join(' ')}`);
  writeFileSync(`/tmp/fuzz-${seed}`, damaged(seed));
}
console.log(`${count} damaged files from seed ${first}: ${faults.length} faults; growth ${Math.round(largest)} MB at the most, longest ${longest} ms`); // prettier-ignore
process.exitCode = faults.length ? 1 : 0;
