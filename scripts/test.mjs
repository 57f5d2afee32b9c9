import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

// Tests have a database of their own, so that a running Dunrik is left alone.
process.env.DUNRIK_DATA ??= join(import.meta.dirname, '..', '.data', 'test');
const { checkNode, command, needCommand, needDebian, needNodePackages, needPages, ROOT } =
  await import('./packages.mjs');
const { startDatabase } = await import('./database.mjs');
const { say } = await import('./say.mjs');
const { linesOfTests } = await import('./lines-of-tests.mjs');

checkNode();
// Beside the database and the browser, the outside readers that the formats are held against.
needDebian([
  { name: 'postgresql', present: () => spawnSync('sh', ['-c', 'ls /usr/lib/postgresql/*/bin/initdb']).status === 0 },
  { name: 'chromium', present: command('chromium') },
  { name: 'gdal-bin', present: command('ogrinfo') },
  { name: 'gnumeric', present: command('ssconvert') },
  { name: 'libxml2-utils', present: command('xmllint') },
  { name: 'poppler-utils', present: command('pdftotext') },
  { name: 'python3-ezdxf', present: () => spawnSync('/usr/bin/python3', ['-c', 'import ezdxf']).status === 0 },
  { name: 'r-cran-mass', present: () => spawnSync('Rscript', ['-e', 'MASS::topo']).status === 0 },
  { name: 'proj-bin', present: command('cs2cs') },
  { name: 'proj-data', present: () => spawnSync('test', ['-e', '/usr/share/proj/egm96_15.gtx']).status === 0 },
  { name: 'geographiclib-tools', present: command('GeodSolve') },
  { name: 'python3-numpy', present: () => spawnSync('/usr/bin/python3', ['-c', 'import numpy']).status === 0 },
]);
needNodePackages();
needPages();
needCommand();
const database = await startDatabase();
const folder = mkdtempSync(join(tmpdir(), 'dunrik-test-'));
const env = { ...process.env, DATABASE_URL: database.url };
const ROOMS = ['core/src', 'contract/src', 'server/src', 'web/src', 'cli/src', 'demo', 'bench', 'e2e', 'scripts'];

let passed = 0;
let failed = 0;

function step(name, args) {
  say(`${name} …`);
  const run = spawnSync(process.execPath, args, { cwd: ROOT, env, stdio: ['ignore', 'inherit', 'inherit'] });
  return run.status === 0;
}
/** Titles of browser tests that failed once and then passed. */
const flaky = (suites) =>
  suites.flatMap((suite) => [
    ...(suite.specs ?? []).filter((spec) => spec.tests.some((t) => t.status === 'flaky')).map((spec) => spec.title),
    ...flaky(suite.suites ?? []),
  ]);
const count = (ok) => (ok ? passed++ : failed++);
const bin = (path) => join(ROOT, 'node_modules', path);

count(step('types', [bin('typescript/bin/tsc'), '--noEmit', '-p', 'tsconfig.json']));
// Core alone, without what a page or a server has.
count(step('types of core', [bin('typescript/bin/tsc'), '--noEmit', '-p', 'core/tsconfig.json']));
count(step('lint', [bin('eslint/bin/eslint.js'), '--max-warnings', '0', '.']));
count(step('form', [bin('prettier/bin/prettier.cjs'), '--log-level', 'warn', '--check', '.']));
count(
  step('imports', [
    bin('dependency-cruiser/bin/dependency-cruise.mjs'),
    ...ROOMS,
    '--config',
    '.dependency-cruiser.cjs',
  ]),
);
count(step('what nothing uses', [bin('knip/bin/knip.js'), '--no-progress', '--no-config-hints']));

const unit = join(folder, 'unit.json');
const unitOk = step('unit and server tests', [
  bin('vitest/vitest.mjs'),
  'run',
  '--reporter=dot',
  '--reporter=json',
  `--outputFile.json=${unit}`,
]);
try {
  const report = JSON.parse(readFileSync(unit, 'utf8'));
  passed += report.numPassedTests;
  failed += report.numFailedTests;
  if (!unitOk && report.numFailedTests === 0) failed++;
} catch {
  failed++;
}

const pages = join(folder, 'pages.json');
env.PLAYWRIGHT_JSON_OUTPUT_NAME = pages;
const pagesOk = step('end-to-end tests', [
  bin('@playwright/test/cli.js'),
  'test',
  '--config',
  'e2e/playwright.config.ts',
]);
try {
  const { stats, suites } = JSON.parse(readFileSync(pages, 'utf8'));
  passed += stats.expected + stats.flaky;
  failed += stats.unexpected;
  if (!pagesOk && stats.unexpected === 0) failed++;
  for (const title of flaky(suites)) say(`passed only the second time: ${title}`);
} catch {
  failed++;
}

const { tests, all } = linesOfTests(ROOT);
say(`tests are ${((100 * tests) / all).toFixed(1)} % of ${all} lines of TypeScript`);

database.stop();
rmSync(folder, { recursive: true, force: true });
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
