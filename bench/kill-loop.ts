import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

// `npm run kill-loop` kills server and database in turn, 50 times, while two people write, and counts what is there
// afterwards: every change that was acknowledged, none of them half. `npm run kill-loop -- 5` a few times.

const times = Number(process.argv[2] ?? 50);
const port = 4870;
const base = `http://127.0.0.1:${port}/api`;
const data = mkdtempSync(join(tmpdir(), 'dunrik-kill-'));
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

const launch = (): ChildProcess =>
  spawn(process.execPath, ['scripts/start.mjs'], { env: { ...process.env, DUNRIK_DATA: data, PORT: String(port) }, stdio: 'ignore' }); // prettier-ignore
let app = launch();
async function ready(): Promise<void> {
  for (let i = 0; i < 600; i++) {
    if (await fetch(`${base}/ready`).then((r) => r.ok, () => false)) return; // prettier-ignore
    if (app.exitCode !== null) app = launch();
    await pause(200);
  }
  throw new Error('The server did not come back.');
}
const serverPid = (): number | null => {
  for (const pid of readdirSync('/proc').filter((p) => /^\d+$/.test(p)))
    try {
      const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
      if (line.includes('server/src/main.ts') && readFileSync(`/proc/${pid}/environ`, 'utf8').includes(`PORT=${port}`))
        return Number(pid);
    } catch {
      // It has gone meanwhile.
    }
  return null;
};
const databasePid = (): number | null => {
  try {
    return Number(readFileSync(join(data, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
  } catch {
    return null;
  }
};

interface Entry {
  revision: number;
  details?: { after: string | null }[];
}

/** Somebody who writes as fast as they are answered; what was acknowledged is remembered. */
class Writer {
  readonly acknowledged: number[] = [];
  refused = 0;
  private cookie = '';
  private stopped = false;

  constructor(
    private readonly project: string,
    private readonly field: string,
  ) {}

  async write(): Promise<void> {
    for (let value = 1; !this.stopped;) {
      try {
        this.cookie ||= await signIn();
        const revision = ((await (await this.ask('GET', '')).json()) as { revision: number }).revision;
        const response = await this.ask('POST', '/changes', { revision, change: { op: 'settings.set', settings: { [this.field]: value } } }); // prettier-ignore
        if (response.status === 201) {
          this.acknowledged.push(((await response.json()) as { revision: number }).revision);
          value++;
        } else this.refused++;
      } catch {
        this.refused++;
        await pause(100);
      }
    }
  }

  private ask = (method: string, path: string, body?: unknown): Promise<Response> =>
    fetch(`${base}/projects/${this.project}${path}`, { method, headers: { cookie: this.cookie, 'Content-Type': 'application/json' }, body: body === undefined ? undefined : JSON.stringify(body), signal: AbortSignal.timeout(5000) }); // prettier-ignore

  stop(): void {
    this.stopped = true;
  }
}

async function signIn(): Promise<string> {
  const response = await fetch(`${base}/session/demo`, { method: 'POST' });
  return response.headers.get('set-cookie')!.split(';')[0];
}

await ready();
const cookie = await signIn();
const made = await fetch(`${base}/projects`, { method: 'POST', headers: { cookie, 'Content-Type': 'application/json' }, body: JSON.stringify({ name: 'Killed' }) }); // prettier-ignore
const { id } = (await made.json()) as { id: string };
const writers = [new Writer(id, 'longestSide'), new Writer(id, 'spike')];
const writing = writers.map((w) => w.write());
let byItself = 0;
for (let i = 0; i < times; i++) {
  await pause(1000 + ((i * 7919) % 1500));
  const database = i % 2 === 1;
  const server = serverPid();
  const pid = database ? databasePid() : server;
  if (pid) process.kill(pid, 'SIGKILL');
  await pause(300);
  await ready();
  if (database && server !== null && serverPid() !== server) byItself++;
  console.log(`  ${i + 1} of ${times}: ${database ? 'database' : 'server'} killed, ${writers.map((w) => w.acknowledged.length).join(' + ')} changes acknowledged`); // prettier-ignore
}
for (const w of writers) w.stop();
await Promise.all(writing);
const again = await signIn();
const ask = async <T>(path: string): Promise<T> => (await (await fetch(`${base}/projects/${id}${path}`, { headers: { cookie: again } })).json()) as T; // prettier-ignore
const state = await ask<{ revision: number; document: { settings: Record<string, number> } }>('');
const list = await ask<Entry[]>('/changes');
const there = new Set(list.map((c) => c.revision));
const acknowledged = writers.flatMap((w) => w.acknowledged);
// The list is cut at a thousand: what is older is there when the project's revision counts it.
const oldest = Math.min(...there);
const lost = acknowledged.filter((r) => r > state.revision || (r >= oldest && !there.has(r))).length;
const gaps = list.length - (list[0].revision - oldest + 1);
console.log(`${times} kills: ${acknowledged.length} changes acknowledged, ${lost} lost, ${Math.abs(gaps)} gaps, revision ${state.revision}; the server ended by itself ${byItself} times; ${writers.reduce((s, w) => s + w.refused, 0)} requests refused meanwhile`); // prettier-ignore
app.kill('SIGTERM');
await pause(4000);
process.exit(lost || gaps || byItself ? 1 : 0);
