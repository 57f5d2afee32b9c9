import { pino } from 'pino';
import { appointAdministrators } from './accounts/admin.ts';
import { createApp } from './http/app.ts';
import { forgetOldAudit } from './accounts/audit.ts';
import { migrate, openPool, untilReady } from './db/db.ts';
import { takeApartOldDocuments } from './projects/documents.ts';
import { loadDemo } from './projects/demo.ts';
import { doorOf, doorWarning, type Door } from './http/door.ts';
import { Live } from './http/live.ts';
import { Settler } from './results/settle.ts';

const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });
const url = process.env.DATABASE_URL;
if (!url) {
  console.error('dunrik: DATABASE_URL is not set. Use npm start, which makes a database.');
  process.exit(1);
}
const host = process.env.HOST ?? '127.0.0.1';
const port = Number(process.env.PORT ?? 4180);

const door = ((): Door => {
  try {
    return doorOf(process.env);
  } catch (error) {
    console.error(`dunrik: ${(error as Error).message}`);
    process.exit(1);
  }
})();

const pool = openPool(url);
await untilReady(pool);
await migrate(pool);
await takeApartOldDocuments(pool);
const settler = new Settler(pool, log);
const live = new Live(url, log);
await live.open();
await forgetOldAudit(pool);
for (const unknown of await appointAdministrators(pool, door.administrators))
  console.error(`dunrik: nobody has an account with the address ${unknown} yet: make it, then start again.`);
const demos = door.demo ? await loadDemo(pool) : [];
const warning = doorWarning(door, host);
if (warning) console.error(`dunrik: ${warning}`);
if (demos.length) {
  console.log('dunrik: loading the demo, Ostrel Landing …');
  await settler.schedule(demos[0]);
}
const app = await createApp({ pool, settler, live, log, door });
const server = app.listen(port, host, () => {
  console.log(`dunrik: open http://${host === '0.0.0.0' ? 'localhost' : host}:${port}/   (Ctrl-C stops)`);
  for (const other of demos.slice(1)) void settler.schedule(other);
});
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `dunrik: port ${port} is in use. Choose another: PORT=${port + 1} npm start`
      : `dunrik: ${error.message}`,
  );
  process.exit(1);
});

// What nobody waited for failed: it is said, and the others who work here go on.
process.on('unhandledRejection', (error) => log.error({ err: error }, 'a promise without catch'));

let ending = false;
async function end(): Promise<void> {
  if (ending) return;
  ending = true;
  // What is under way is finished; event streams and idle connections are not waited for.
  await new Promise<void>((resolve) => {
    server.close(() => resolve());
    server.closeIdleConnections();
    setTimeout(() => {
      server.closeAllConnections();
      resolve();
    }, 3000).unref();
  });
  await Promise.allSettled([settler.close(), live.close()]);
  await pool.end();
  process.exit(0);
}
process.on('SIGTERM', () => void end());
process.on('SIGINT', () => void end());
