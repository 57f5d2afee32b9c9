import { randomBytes } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import type { Express } from 'express';
import pg from 'pg';
import { pino } from 'pino';
import type { ProjectState } from '#contract';
import type { Change } from '#core/project';
import { createApp } from '../src/http/app.ts';
import { migrate, openPool, type Pool } from '../src/db/db.ts';
import { loadDemo } from '../src/projects/demo.ts';
import type { Door } from '../src/http/door.ts';
import { Live } from '../src/http/live.ts';
import { Settler } from '../src/results/settle.ts';

/** A server on a database of its own, made for one test file and dropped after it. */
export interface World {
  base: string;
  pool: Pool;
  settler: Settler;
  demo: string;
  app: Express;
  end: () => Promise<void>;
}

export async function makeWorld(options: Partial<Door> = {}): Promise<World> {
  const admin = process.env.DATABASE_URL;
  if (!admin) throw new Error('DATABASE_URL is not set: run the tests with npm test, which starts a database.');
  const name = `dunrik_test_${randomBytes(6).toString('hex')}`;
  const root = new pg.Client({ connectionString: admin });
  await root.connect();
  await root.query(`create database ${name}`);
  const url = new URL(admin);
  url.pathname = `/${name}`;
  const log = pino({ level: 'silent' });
  const pool = openPool(url.href);
  await migrate(pool);
  const settler = new Settler(pool, log);
  const live = new Live(url.href, log);
  await live.open();
  const [demo] = await loadDemo(pool);
  const app = await createApp({ pool, settler, live, log, door: { signIns: 1000, ...options } });
  const server = await new Promise<Server>((resolve) => {
    const s = app.listen(0, '127.0.0.1', () => resolve(s));
  });
  return {
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`,
    pool,
    settler,
    demo,
    app,
    async end() {
      server.closeAllConnections();
      server.close();
      await settler.close();
      await live.close();
      await pool.end();
      await root.query(`drop database ${name} with (force)`);
      await root.end();
    },
  };
}

/** A signed-in person. */
export class Person {
  constructor(
    private readonly base: string,
    readonly cookie: string,
  ) {}

  static async demo(world: World): Promise<Person> {
    const response = await fetch(`${world.base}/session/demo`, { method: 'POST' });
    return new Person(world.base, response.headers.get('set-cookie')!.split(';')[0]);
  }

  static async register(world: World, email: string): Promise<Person> {
    const response = await fetch(`${world.base}/accounts`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email, name: email.split('@')[0], password: 'a long enough one' }),
    });
    return new Person(world.base, response.headers.get('set-cookie')!.split(';')[0]);
  }

  async send(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    const bytes = body instanceof Uint8Array;
    return fetch(this.base + path, {
      method,
      headers: {
        cookie: this.cookie,
        ...(body === undefined ? {} : { 'Content-Type': bytes ? 'application/octet-stream' : 'application/json' }),
        ...headers,
      },
      body: body === undefined ? undefined : bytes ? (body as BodyInit) : JSON.stringify(body),
    });
  }

  async json<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await this.send(method, path, body);
    const text = await response.text();
    if (!response.ok) throw new Error(`${response.status} ${text}`);
    return (text ? JSON.parse(text) : undefined) as T;
  }

  state = (project: string): Promise<ProjectState> => this.json('GET', `/projects/${project}`);

  change = async (project: string, change: Change): Promise<number> =>
    (
      await this.json<{ revision: number }>('POST', `/projects/${project}/changes`, {
        revision: (await this.state(project)).revision,
        change,
      })
    ).revision;

  /** Waits until the newest revision is computed. */
  async settled(project: string): Promise<ProjectState> {
    for (let i = 0; i < 400; i++) {
      const state = await this.state(project);
      if (state.settled?.revision === state.revision && state.jobs.length === 0) return state;
      await new Promise((r) => setTimeout(r, 50));
    }
    throw new Error('The project did not settle.');
  }
}
