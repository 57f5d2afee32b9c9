import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CHAIN_VERSION } from '#core/chain';
import type { ChangeEntry, Job, LiveEvent } from '#contract';
import { inTransaction, isPassing } from '../src/db/db.ts';
import { gridFactsOf } from '../src/jobs/decode.ts';
import { loadDemo } from '../src/projects/demo.ts';
import { announce, Live } from '../src/http/live.ts';
import { Settler } from '../src/results/settle.ts';
// @ts-expect-error A script without types.
import { sayAddress, takeFolder } from '../../scripts/running.mjs';
import { makeWorld, Person, type World } from './world.ts';

// What breaks, runs out or was ended in the middle: the server goes on, and the next start completes.

let world: World;
let ina: Person;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  await ina.settled(world.demo);
});
afterAll(() => world.end());

const log = pino({ level: 'silent' });
const names = async (): Promise<string[]> => (await world.pool.query<{ name: string }>('select name from project order by name')).rows.map((r) => r.name); // prettier-ignore

describe('a connection that breaks', () => {
  it('within a transaction fails that transaction alone; the next one has another', async () => {
    const broken = inTransaction(world.pool, async (client) => {
      const { rows } = await client.query<{ pid: number }>('select pg_backend_pid() as pid');
      await world.pool.query('select pg_terminate_backend($1)', [rows[0].pid]);
      // Long enough for the connection to say so while nobody waits for it.
      await new Promise((resolve) => setTimeout(resolve, 200));
      await client.query('select 1');
    });
    const error = await broken.then(() => null, (e: unknown) => e); // prettier-ignore
    expect(isPassing(error)).toBe(true);
    for (let i = 0; i < 20; i++) expect(await inTransaction(world.pool, async () => 'done')).toBe('done');
    expect((await ina.send('GET', '/projects')).status).toBe(200);
  });

  it('under the live events is opened again, and events come', async () => {
    const url = new URL(process.env.DATABASE_URL!);
    const { rows } = await world.pool.query<{ name: string }>('select current_database() as name');
    url.pathname = `/${rows[0].name}`;
    const live = new Live(url.href, log);
    await live.open();
    const heard: LiveEvent[] = [];
    live.on('p', (event) => heard.push(event));
    await world.pool.query(
      `select pg_terminate_backend(pid) from pg_stat_activity where query = 'listen dunrik_live' and datname = current_database()`,
    );
    for (let i = 0; i < 100 && heard.length === 0; i++) {
      await announce(world.pool, { type: 'packages', project: 'p' });
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    await live.close();
    expect(heard[0]).toEqual({ type: 'packages', project: 'p' });
  });
});

describe('a first start that was ended in the middle', () => {
  it('is completed by the next, whatever was there; what somebody removed does not come back', async () => {
    const before = await names();
    const [half, gone] = before;
    // One was begun and not ended; one was loaded whole and then removed.
    await world.pool.query('update project set revision = 1 where name = $1', [half]);
    await world.pool.query('update account set demo_loaded = array_remove(demo_loaded, $1) where is_demo', [half]);
    await world.pool.query('delete from project where name = $1', [gone]);
    expect(await loadDemo(world.pool)).toHaveLength(1);
    expect(await names()).toEqual(before.filter((n) => n !== gone));
    expect(await loadDemo(world.pool)).toEqual([]);
  });

  it('two that start at once load it once', async () => {
    await world.pool.query('delete from project');
    await world.pool.query(`update account set demo_loaded = '{}' where is_demo`);
    const loaded = await Promise.all([loadDemo(world.pool), loadDemo(world.pool)]);
    expect(loaded.map((l) => l.length).sort()).toEqual([0, 4]);
    expect(new Set(await names()).size).toBe(4);
    world.demo = loaded.flat()[0];
  });
});

describe('a computation that takes too much', () => {
  it('is ended, says so with what to do, and is not tried again until something changes', async () => {
    const { pool, demo } = world;
    await ina.settled(demo);
    // By others than the server under test, which would compute it at once.
    await pool.query('update project set settled_revision = null where id = $1', [demo]);
    await pool.query('delete from derived where project_id = $1', [demo]);
    const short = new Settler(pool, log, { megabytes: 4096, milliseconds: 1, patience: 1e9, tellAfter: 1e9 });
    await short.schedule(demo);
    await short.close();
    const stuck = await ina.state(demo);
    expect(stuck.problem).toMatchObject({ revision: stuck.revision, text: expect.stringContaining('Undo the last change') as string }); // prettier-ignore
    expect((await ina.state(demo)).settled?.revision).not.toBe(stuck.revision);
    await ina.change(demo, { op: 'settings.set', settings: { contourInterval: 2 } });
    const settled = await ina.settled(demo);
    expect([settled.problem, settled.revision]).toEqual([null, stuck.revision + 1]);
  });

  it('gives way to a newer revision once it has worked for long', async () => {
    const { pool, demo } = world;
    const impatient = new Settler(pool, log, { megabytes: 4096, milliseconds: 600_000, patience: -1, tellAfter: 1e9 });
    await pool.query('update project set settled_revision = null where id = $1', [demo]);
    await pool.query('delete from derived where project_id = $1', [demo]);
    const first = impatient.schedule(demo);
    for (let i = 0; i < 3; i++) void impatient.schedule(demo);
    await first;
    await impatient.close();
    const state = await ina.state(demo);
    expect([state.settled?.revision, state.problem]).toEqual([state.revision, null]);
  });
});

describe('a computation that takes long', () => {
  const calm = { megabytes: 4096, milliseconds: 600_000, patience: 1e9, tellAfter: 0 };
  const unsettle = async (): Promise<void> => {
    const { pool, demo } = world;
    await ina.settled(demo);
    await pool.query('update project set settled_revision = null where id = $1', [demo]);
    await pool.query('delete from derived where project_id = $1', [demo]);
  };

  it('says what it is at, by the names that people gave, and how far all of it is', async () => {
    const { pool, demo } = world;
    await unsettle();
    const live = new Live(pool.options.connectionString!, log);
    await live.open();
    const told: LiveEvent[] = [];
    live.on(demo, (event) => told.push(event));
    const settler = new Settler(pool, log, calm);
    await settler.schedule(demo);
    await settler.close();
    await live.close();
    const settling = told.filter((e) => e.type === 'settling');
    const { document } = await ina.state(demo);
    for (const { name } of document.surfaces) expect(settling.map((e) => e.doing)).toContain(`triangulating ${name}`);
    const shares = settling.map((e) => e.share);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.every((s) => s >= 0 && s < 1)).toBe(true);
    expect(told.at(-1)?.type).toBe('settled');
  });

  it('is cancelled by who is named, stays so until somebody asks for it again, and loses nothing', async () => {
    const { pool, demo } = world;
    await unsettle();
    const settler = new Settler(pool, log, calm);
    const run = settler.schedule(demo);
    expect(await settler.cancel(demo, 'Mae Lind')).toBe(true);
    await run;
    const { revision, problem, settled } = await ina.state(demo);
    expect(problem).toMatchObject({ revision, text: expect.stringContaining('Mae Lind cancelled it') as string });
    expect(settled?.revision).not.toBe(revision);
    // Looking at it does not start it again.
    expect((await ina.state(demo)).problem).toEqual(problem);
    expect(await settler.cancel(demo, 'Mae Lind')).toBe(false);
    await settler.close();
    expect((await ina.send('POST', `/projects/${demo}/settling`)).status).toBe(202);
    const done = await ina.settled(demo);
    expect([done.revision, done.problem]).toEqual([revision, null]);
    expect((await ina.send('DELETE', `/projects/${demo}/settling`)).status).toBe(409);
  });
});

describe('a new version of a computation', () => {
  it('reaches projects that were settled by the old one', async () => {
    const { pool, demo } = world;
    await ina.settled(demo);
    await pool.query(`update project set settled = settled || '{"version": 1, "summary": "old"}' where id = $1`, [
      demo,
    ]);
    for (let i = 0; i < 100; i++) {
      const { settled } = await ina.state(demo);
      if (settled) break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    expect((await ina.state(demo)).settled!.stages).toMatchObject({ version: CHAIN_VERSION, summary: expect.stringMatching(/^[0-9a-f]{64}$/) as string }); // prettier-ignore
  });
});

describe('a file that is read while others work', () => {
  it('goes in on the newer revision, and nothing that was received is thrown away', async () => {
    const { id } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Two at once' });
    const text = Array.from({ length: 2000 }, (_, i) => `${i},${i}.5,${(i * 7) % 100}.25,5,GR`).join('\n');
    const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${id}/files?name=a.csv`, new TextEncoder().encode(text)); // prettier-ignore
    const layout = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' };
    const intake = { id: 'i1', fileId: file.id, fileName: 'a.csv', sha256: file.sha256, layout, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } }; // prettier-ignore
    const started = ina.json<Job>('POST', `/projects/${id}/intakes`, { revision: 0, intake });
    for (const decimals of [1, 2, 4]) await ina.change(id, { op: 'settings.set', settings: { decimals } });
    await started;
    const settled = await ina.settled(id);
    expect([settled.revision, settled.document.settings.decimals]).toEqual([4, 4]);
    expect(settled.document.intakes.map((i) => i.fileName)).toEqual(['a.csv']);
    expect(settled.settled!.stages.intakes).toEqual(['i1']);
  });
});

describe('what foreign code decodes', () => {
  /** A TIFF of one LZW strip, little-endian, with fields that can be made to lie. */
  const tiff = (
    part: { width?: number; height?: number; rows?: number; count?: number; bits?: number } = {},
  ): Uint8Array => {
    const { width = 10, height = 10, rows = 10, count = 400, bits = 32 } = part;
    const fields: [number, number, number][] = [[256, 4, width], [257, 4, height], [258, 3, bits], [259, 3, 5], [273, 4, 200], [277, 3, 1], [278, 4, rows], [279, 4, count], [339, 3, 3]]; // prettier-ignore
    const bytes = new Uint8Array(630).fill(0x9d);
    const view = new DataView(bytes.buffer);
    view.setUint32(0, 0x002a4949, true);
    view.setUint32(4, 8, true);
    view.setUint16(8, fields.length, true);
    fields.forEach(([tag, type, value], i) => {
      view.setUint16(10 + 12 * i, tag, true);
      view.setUint16(12 + 12 * i, type, true);
      view.setUint32(14 + 12 * i, 1, true);
      view.setUint32(18 + 12 * i, value, true);
    });
    return bytes;
  };
  const reasonOf = async (bytes: Uint8Array, limits?: Parameters<typeof gridFactsOf>[2]): Promise<string> => {
    const read = await gridFactsOf(bytes, 'g.tif', limits);
    return read.ok ? 'read' : read.reason;
  };

  it('cannot state sizes that are not there, or more than anybody should unpack', async () => {
    for (const [part, says] of [
      [{ width: 60_000, height: 60_000 }, 'too many to hold'],
      [{ width: 8000, height: 8000, rows: 8000 }, 'unpacked at once'],
      [{ rows: 5 }, 'has 1 of 2 pieces'],
      [{ count: 5000 }, 'piece 1 lies beyond its end'],
      [{ width: 0 }, 'how large it is'],
    ] as const)
      expect(await reasonOf(tiff(part))).toContain(says);
    expect(await reasonOf(new Uint8Array([0x49, 0x49, 42, 0, 255, 255, 255, 0]))).toContain('cut short');
  });

  it('does so in a process of its own: its end, its time and its memory are a sentence, not the server’s end', async () => {
    // Damaged in many ways, all of them answered.
    for (let i = 0; i < 6; i++) {
      const bytes = tiff();
      for (let k = 0; k < 40; k++) bytes[200 + ((i * 97 + k * 31) % 430)] = (i * 53 + k * 17) % 256;
      expect((await reasonOf(bytes)).length).toBeGreaterThan(10);
    }
    expect(await reasonOf(tiff(), { megabytes: 1500, milliseconds: 1 })).toContain('took longer');
    expect(await reasonOf(tiff(), { megabytes: 20, milliseconds: 30_000 })).toMatch(
      /needs more than 20 MB|made its reader end/,
    );
  });
});

describe('a second start on the same data', () => {
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-start-'));
  const take = takeFolder as (file: string, pid?: number) => { pid: number; address: string } | null;

  it('is refused whatever state the first is in; what a crash left behind is not', async () => {
    const file = join(folder, 'running.json');
    const first = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60000)', 'start.mjs'], { stdio: 'ignore' });
    await new Promise((resolve) => first.once('spawn', resolve));
    expect(take(file, first.pid)).toBeNull();
    // It does not answer yet, and is there all the same.
    expect(take(file)).toEqual({ pid: first.pid, address: '' });
    (sayAddress as (file: string, address: string, pid?: number) => void)(file, 'http://127.0.0.1:4180/', first.pid);
    expect(take(file)).toMatchObject({ address: 'http://127.0.0.1:4180/' });
    first.kill('SIGKILL');
    await new Promise((resolve) => first.once('exit', resolve));
    expect(take(file)).toBeNull();
    expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual({ pid: process.pid });
    // Its number may be another program's by now, and the file may be anything.
    for (const left of [JSON.stringify({ pid: 1 }), JSON.stringify({ pid: process.ppid }), '{', '', '[]', 'null']) {
      writeFileSync(file, left);
      expect(take(file)).toBeNull();
    }
  });
});

describe('a large original', () => {
  it('goes out in pieces and comes back byte for byte', async () => {
    const { id } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Large' });
    const bytes = Uint8Array.from({ length: 9_000_001 }, (_, i) => (i * 2654435761) >>> 24);
    const file = await ina.json<{ id: string }>('POST', `/projects/${id}/files?name=large.bin`, bytes);
    const back = await ina.send('GET', `/projects/${id}/files/${file.id}`);
    expect(back.headers.get('content-length')).toBe('9000001');
    expect(Buffer.compare(Buffer.from(await back.arrayBuffer()), Buffer.from(bytes))).toBe(0);
    expect((await ina.send('GET', `/projects/${id}/files/none`)).status).toBe(404);
  });
});

describe('the list of changes', () => {
  it('says what each set, from what to what, where it belongs and why', async () => {
    const { id } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Said' });
    const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${id}/files?name=a.csv`, new TextEncoder().encode('1,5,6,7,GR\n2,6,7,8,GR\n')); // prettier-ignore
    const layout = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' };
    await ina.json('POST', `/projects/${id}/intakes`, { revision: 0, intake: { id: 'i', fileId: file.id, fileName: 'a.csv', sha256: file.sha256, layout, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } } }); // prettier-ignore
    await ina.settled(id);
    const edit = (z: number, why?: string): Promise<number> => ina.change(id, { op: 'points.edit', edits: { 'i:1': { set: { z }, undo: [] } }, ...(why ? { why } : {}) }); // prettier-ignore
    await edit(62.41);
    await edit(62.14, 'the pole had sunk');
    await ina.change(id, { op: 'settings.set', settings: { contourInterval: 2 } });
    const [settings, second, first, intake] = await ina.json<ChangeEntry[]>('GET', `/projects/${id}/changes`);
    expect(first.details).toEqual([{ key: 'i:1', name: 'z', field: 'elevation', before: null, after: '62.410 m', received: '7.000 m' }]); // prettier-ignore
    expect(second).toMatchObject({ stage: 'book', why: 'the pole had sunk', details: [{ before: '62.410 m', after: '62.140 m' }] }); // prettier-ignore
    expect(settings).toMatchObject({ stage: 'basis', details: [{ key: null, field: 'the contour interval', after: '2.000 m' }] }); // prettier-ignore
    expect(intake).toMatchObject({ stage: 'book', details: [] });
  });
});
