import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

// `npm run properties` tries every property with 20 seeds of its own; `npm run properties -- 5 300` with 5, from 300 on.
// `npm run properties -- 5 300 core/test/terrain` those of one room.

const [runs = 20, first = Math.floor(Math.random() * 1e6)] = process.argv.slice(2, 4).map(Number);
const room = process.argv[4] ?? 'core/test';
const files = readdirSync(room, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.test.ts'))
  .map((name) => join(room, name))
  .filter((name) => readFileSync(name, 'utf8').includes('fc.assert'));

let failed = 0;
for (let seed = first; seed < first + runs; seed++) {
  const { status, stdout } = spawnSync(
    process.execPath,
    ['node_modules/vitest/vitest.mjs', 'run', '--reporter=dot', ...files],
    { encoding: 'utf8', env: { ...process.env, PROPERTY_SEED: String(seed), NO_COLOR: '1' }, timeout: 1_800_000 },
  );
  console.log(`seed ${seed}: ${status === 0 ? 'all hold' : 'FAILED'}`);
  if (status === 0) continue;
  failed++;
  console.log(stdout.split('\n').filter((line) => /FAIL|Counterexample|Error:/.test(line)).join('\n')); // prettier-ignore
}
console.log(`${files.length} files of properties, ${runs} seeds from ${first}: ${failed} with a failure`);
process.exit(failed ? 1 : 0);
