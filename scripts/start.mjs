import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { checkNode, DATA, needNodePackages, needPages, ROOT } from './packages.mjs';
import { startDatabase } from './database.mjs';
import { say, stop } from './say.mjs';

checkNode();
const host = process.env.HOST ?? '127.0.0.1';
const runningFile = join(DATA, 'running.json');
await stopIfRunning();
const wanted = Number(process.env.PORT ?? 4180);
const port = await findPort(wanted);
needNodePackages();
needPages();
const database = await startDatabase();

const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
  cwd: ROOT,
  stdio: ['ignore', 'inherit', 'inherit'],
  // A group of its own: Ctrl-C reaches this script, which then ends things in order.
  detached: true,
  env: {
    ...process.env,
    DATABASE_URL: database.url,
    PORT: String(port),
    HOST: host,
    NODE_ENV: process.env.NODE_ENV ?? 'production',
  },
});

mkdirSync(DATA, { recursive: true });
writeFileSync(runningFile, JSON.stringify({ pid: process.pid, address: `http://${host}:${port}/` }));

let ending = false;
function end(signal) {
  if (ending) return;
  ending = true;
  say(`${signal === 'SIGINT' ? 'Ctrl-C' : signal}: stopping the server, then the database …`);
  server.kill('SIGTERM');
  setTimeout(() => server.kill('SIGKILL'), 8000).unref();
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(signal));
server.on('exit', (code) => {
  database.stop();
  rmSync(runningFile, { force: true });
  if (!ending) stop(`the server ended by itself (code ${code}); its message stands above.`);
  say('stopped.');
  process.exit(0);
});

/** Two servers on one database folder would stop each other's database. */
async function stopIfRunning() {
  if (!existsSync(runningFile)) return;
  const { pid, address } = JSON.parse(readFileSync(runningFile, 'utf8'));
  const answers = await fetch(`${address}api/health`).then(
    (r) => r.ok,
    () => false,
  );
  if (!answers) return;
  stop(`Dunrik runs already, at ${address} (process ${pid}). Stop it there with Ctrl-C first.`);
}

async function findPort(from) {
  for (let p = from; p < from + 20; p++) {
    if (await isFree(p)) {
      if (p !== from) say(`port ${from} is in use by another program; using ${p} (choose with PORT=…)`);
      return p;
    }
  }
  return stop(`ports ${from} to ${from + 19} are all in use. Choose another: PORT=5200 npm start`);
}

function isFree(p) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(p, host, () => probe.close(() => resolve(true)));
  });
}
