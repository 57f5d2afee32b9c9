import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { checkNode, DATA, needNodePackages, needPages, ROOT } from './packages.mjs';
import { startDatabase } from './database.mjs';
import { sayAddress, takeFolder } from './running.mjs';
import { say, stop } from './say.mjs';

checkNode();
const host = process.env.HOST ?? '127.0.0.1';
const runningFile = join(DATA, 'running.json');
const other = takeFolder(runningFile);
if (other)
  stop(
    `Dunrik ${other.address ? `runs already, at ${other.address}` : 'is being started already'} (process ${other.pid}). Stop it there with Ctrl-C first.`,
  );
process.on('exit', () => rmSync(runningFile, { force: true }));
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

let ending = false;
sayAddress(runningFile, `http://${host}:${port}/`);

// A database that was killed is started again; the server waits for it meanwhile.
const watch = setInterval(() => {
  if (!ending) database.keepRunning();
}, 3000);

function end(signal) {
  if (ending) return;
  ending = true;
  say(`${signal === 'SIGINT' ? 'Ctrl-C' : signal}: stopping the server, then the database …`);
  server.kill('SIGTERM');
  setTimeout(() => server.kill('SIGKILL'), 8000).unref();
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(signal));
server.on('exit', (code) => {
  clearInterval(watch);
  database.stop();
  if (!ending) stop(`the server ended by itself (code ${code}); its message stands above.`);
  say('stopped.');
  process.exit(0);
});

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
