import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const SKIPPED = new Set(['node_modules', 'dist', 'test-results']);
const isTest = (path) => /(^|\/)(test|e2e)\//.test(path);

function* filesOf(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name.startsWith('.') || SKIPPED.has(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesOf(path);
    else if (/\.tsx?$/.test(entry.name)) yield path;
  }
}

/** Lines of TypeScript in tests, and in all. */
export function linesOfTests(root) {
  let tests = 0;
  let all = 0;
  for (const path of filesOf(root)) {
    const lines = readFileSync(path, 'utf8').split('\n').length - 1;
    all += lines;
    if (isTest(path.slice(root.length))) tests += lines;
  }
  return { tests, all };
}
