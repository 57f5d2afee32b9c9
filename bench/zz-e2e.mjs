process.env.DUNRIK_DATA ??= new URL('../.data/test', import.meta.url).pathname;
const { startDatabase } = await import('../scripts/database.mjs');
import { spawnSync } from 'node:child_process';
const db = await startDatabase();
const r = spawnSync(
  process.execPath,
  ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', ...process.argv.slice(2)],
  { stdio: 'inherit', env: { ...process.env, DATABASE_URL: db.url } },
);
db.stop();
process.exit(r.status);
