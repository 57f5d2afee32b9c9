import { Router } from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ProjectCard, Role, SessionState } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

interface Layer {
  route?: { path: string; stack: { method: string }[] };
  handle: { stack?: Layer[] };
}
// Where a router is mounted is not kept by it: noted while the server is put together.
const mounted = new WeakMap<object, string>();
const { use } = Router.prototype as { use: (this: unknown, ...args: unknown[]) => unknown };
Router.prototype.use = function (this: unknown, ...args: unknown[]): unknown {
  const path = typeof args[0] === 'string' ? args[0] : '';
  for (const one of args) if (typeof one === 'function') mounted.set(one, path);
  return use.apply(this, args);
};
/** Every route of a server as it runs: method and whole path. */
const routesOf = (router: { stack: Layer[] }, before = ''): [method: string, path: string][] =>
  router.stack.flatMap((layer): [string, string][] => {
    if (layer.route) return layer.route.stack.map(({ method }) => [method.toUpperCase(), before + layer.route!.path]);
    return layer.handle.stack
      ? routesOf({ stack: layer.handle.stack }, before + (mounted.get(layer.handle) ?? ''))
      : [];
  });

let world: World;
beforeAll(async () => {
  world = await makeWorld({ signIns: 6 });
});
afterAll(() => world.end());

/** Every route that needs a session, with a body that would be right, and in a project the roles that may. */
const ALL = ['owner', 'surveyor', 'checker', 'crew', 'viewer'] as const;
const SEE = ['owner', 'surveyor', 'checker', 'viewer'] as const;
const DECIDE = ['owner', 'surveyor', 'checker'] as const;
const CHANGE = ['owner', 'surveyor'] as const;
const OWN = ['owner'] as const;
const NOBODY = '00000000-0000-4000-8000-000000000000';
const STALE = 900_000;
const LAYOUT = { separator: ',', decimal: '.', skipRows: 0, roles: ['E', 'N'], unit: 'm' };
const ACCEPT = { op: 'query.accept', key: 'x', accepted: { evidence: 'x', reason: 'x', by: 'x', at: 'x' } };

const ROUTES: [method: string, path: string, body?: unknown, roles?: readonly Role[]][] = [
  ['GET', '/projects'],
  ['POST', '/projects', { name: 'x' }],
  ['GET', '/layouts'],
  ['POST', '/layouts', { name: 'x', layout: LAYOUT, signature: '' }],
  ['GET', '/code-lists'],
  ['GET', `/code-lists/${NOBODY}`],
  ['POST', '/code-lists', { name: 'x', list: { codes: [], words: {} } }],
  ['GET', '/systems?find=utm'],
  ['GET', '/systems/25833'],
  [
    'POST',
    '/systems/there',
    { file: [0, 0, 1, 1], unit: 'm', project: [0, 0, 1, 1], definition: '+proj=utm +zone=33 +ellps=GRS80' },
  ],
  ['POST', '/systems', { name: 'x', definition: '+proj=utm +zone=33 +ellps=GRS80' }],
  ['GET', '/teams'],
  ['POST', '/teams', { name: 'x' }],
  ['PATCH', `/teams/${NOBODY}`, { name: 'x' }],
  ['POST', `/teams/${NOBODY}/invitations`, { days: 1 }],
  ['GET', `/teams/${NOBODY}/projects`],
  ['POST', `/teams/${NOBODY}/projects/${NOBODY}/follow`, { parts: ['codes'], revision: 0 }],
  ['DELETE', `/teams/${NOBODY}/people/${NOBODY}`],
  ['POST', '/invitations/none'],
  ['GET', '/account/sessions'],
  ['GET', '/account/columns'],
  ['PUT', '/account/columns', {}],
  ['DELETE', '/account/sessions/none'],
  ['POST', '/account/password', { old: 'x', new: 'a long enough one' }],
  ['GET', '/account/export'],
  ['DELETE', '/account', { password: 'x' }],
  ['GET', '/admin/accounts'],
  ['PATCH', `/admin/accounts/${NOBODY}`, { locked: true }],
  ['POST', `/admin/accounts/${NOBODY}/password-reset`],
  ['GET', `/admin/accounts/${NOBODY}/sessions`],
  ['DELETE', `/admin/accounts/${NOBODY}/sessions/none`],
  ['GET', '/admin/audit'],
  ['GET', '/projects/:project', undefined, SEE],
  ['GET', '/projects/:project/moved', undefined, SEE],
  ['PATCH', '/projects/:project', { description: 'x' }, OWN],
  ['GET', '/projects/:project/changes', undefined, SEE],
  ['POST', '/projects/:project/changes', { revision: STALE, change: { op: 'boundary.set', ring: null } }, CHANGE],
  ['POST', '/projects/:project/changes', { revision: STALE, change: ACCEPT }, DECIDE],
  ['POST', '/projects/:project/undo', { revision: STALE }, DECIDE],
  ['POST', '/projects/:project/redo', { revision: STALE }, DECIDE],
  ['POST', '/projects/:project/files?name=x', new Uint8Array([49]), CHANGE],
  ['GET', '/projects/:project/files/demo-1', undefined, SEE],
  ['POST', '/projects/:project/intakes', {}, CHANGE],
  ['DELETE', '/projects/:project/jobs/x', undefined, CHANGE],
  ['GET', '/projects/:project/results/abc', undefined, SEE],
  ['GET', '/projects/:project/events', undefined, SEE],
  ['GET', '/projects/:project/packages', undefined, ALL],
  ['POST', '/projects/:project/packages', {}, CHANGE],
  ['GET', '/projects/:project/packages/x', undefined, ALL],
  ['POST', '/projects/:project/packages/x/withdraw', { why: 'x' }, CHANGE],
  ['DELETE', '/projects/:project/packages/x', undefined, CHANGE],
  ['POST', '/projects/:project/factors', { places: [[0, 0, 0]] }, SEE],
  ['POST', '/projects/:project/grids', { fileId: 'none' }, CHANGE],
  ['GET', '/projects/:project/geoid-piece', undefined, SEE],
  ['GET', '/projects/:project/control-sheet', undefined, SEE],
  ['GET', '/projects/:project/book-report', undefined, SEE],
  ['GET', '/projects/:project/surface-report', undefined, SEE],
  ['GET', '/projects/:project/quantity-report', undefined, SEE],
  ['GET', '/projects/:project/sections', undefined, SEE],
  ['GET', '/projects/:project/volume-story', undefined, SEE],
  ['GET', '/projects/:project/split-pieces', undefined, SEE],
  ['GET', '/projects/:project/code-sheet', undefined, SEE],
  ['POST', '/projects/:project/spreadsheet', { name: 'x', text: 'x', numeric: [false] }, SEE],
  ['GET', '/projects/:project/plots/none', undefined, SEE],
  ['GET', '/projects/:project/plots/series/none', undefined, SEE],
  ['GET', '/projects/:project/intakes/none/book', undefined, SEE],
  ['GET', '/projects/:project/points/history?key=demo-1:4', undefined, SEE],
  ['GET', '/projects/:project/people', undefined, SEE],
  ['POST', '/projects/:project/people', { account: NOBODY, role: 'viewer' }, OWN],
  ['PATCH', `/projects/:project/people/${NOBODY}`, { role: 'viewer' }, OWN],
  ['DELETE', `/projects/:project/people/${NOBODY}`, undefined, OWN],
  ['POST', '/projects/:project/invitations', { role: 'viewer', days: 1 }, OWN],
  ['DELETE', '/projects/:project/invitations/x', undefined, OWN],
  ['GET', '/projects/:project/checked', undefined, SEE],
  ['POST', '/projects/:project/checked', { revision: 900_000, note: '' }, DECIDE],
  ['POST', '/projects/:project/settling', undefined, CHANGE],
  ['DELETE', '/projects/:project/settling', undefined, CHANGE],
  ['POST', '/projects/:project/presence', { stage: 'book', place: null }, SEE],
];

describe('without a session', () => {
  for (const [method, path, body] of ROUTES)
    it(`${method} ${path} is not answered`, async () => {
      const response = await new Person(world.base, '').send(method, path.replace(':project', world.demo), body);
      expect(response.status).toBe(401);
      expect(await response.json()).toEqual({ problem: 'Sign in first.' });
    });
});

describe('with another account', () => {
  for (const [method, path, body] of ROUTES.filter(([, p]) => p.includes(':project')))
    it(`${method} ${path} finds no project`, async () => {
      const stranger = await strangerOf();
      const response = await stranger.send(method, path.replace(':project', world.demo), body);
      expect(response.status).toBe(404);
      expect(await response.json()).toEqual({ problem: 'This project is not found.' });
    });

  it('the list of projects does not hold it', async () => {
    expect(await (await strangerOf()).json<ProjectCard[]>('GET', '/projects')).toEqual([]);
  });
});

describe('each role in a project', () => {
  const people = new Map<Role, Promise<Person>>();
  const personOf = (role: Role): Promise<Person> => {
    if (!people.has(role))
      people.set(
        role,
        (async () => {
          const person = await Person.register(world, `${role}@example.org`);
          const account = (await person.json<SessionState>('GET', '/session')).account!.id;
          await world.pool.query('insert into member (project_id, account_id, role) values ($1, $2, $3)', [
            world.demo,
            account,
            role,
          ]);
          return person;
        })(),
      );
    return people.get(role)!;
  };

  for (const [method, path, body, roles] of ROUTES)
    if (roles)
      for (const role of ALL)
        it(`${role}: ${method} ${path} ${roles.includes(role) ? 'is let through' : 'is refused'}`, async () => {
          const stop = new AbortController();
          const person = await personOf(role);
          const response = await fetch(world.base + path.replace(':project', world.demo), {
            method,
            headers: {
              cookie: person.cookie,
              'Content-Type': body instanceof Uint8Array ? 'application/octet-stream' : 'application/json',
            },
            body:
              body === undefined ? undefined : body instanceof Uint8Array ? (body as BodyInit) : JSON.stringify(body),
            signal: stop.signal,
          });
          if (roles.includes(role)) {
            // What is refused here is refused for what it says, never for who says it.
            expect([401, 403]).not.toContain(response.status);
            expect(response.status).toBeLessThan(500);
          } else {
            expect(response.status).toBe(403);
            expect(((await response.json()) as { problem: string }).problem).toContain(`As ${role}`);
          }
          stop.abort();
        });
});

describe('the table above', () => {
  /** Routes that need no session. */
  const OPEN = ['GET /session', 'POST /session', 'POST /session/demo', 'DELETE /session', 'POST /accounts', 'GET /health', 'GET /ready', 'GET /invitations/:token', 'GET /password-resets/:token', 'POST /password-resets/:token']; // prettier-ignore

  it('holds every route that the running server has, however it is written, and no other', () => {
    const found = routesOf(world.app.router as unknown as { stack: Layer[] }).filter(([, path]) =>
      path.startsWith('/api'),
    );
    const routes = found.map(([method, path]) => ({
      name: `${method} ${path.slice(4)}`,
      fits: new RegExp(`^${method} ${path.slice(4).replace(/:\w+/g, '[^/]+').replace(/\/$/, '')}$`),
    }));
    expect(routes.length).toBeGreaterThan(60);
    const listed = ROUTES.map(([method, path]) => `${method} ${path.replace(/\?.*/, '')}`);
    expect(routes.filter((r) => !OPEN.includes(r.name) && !listed.some((l) => r.fits.test(l))).map((r) => r.name)).toEqual([]); // prettier-ignore
    expect([...listed, ...OPEN].filter((l) => !routes.some((r) => r.fits.test(l)))).toEqual([]);
  });
});

let stranger: Promise<Person> | null = null;
const strangerOf = (): Promise<Person> => (stranger ??= Person.register(world, 'stranger@example.org'));

describe('signing in', () => {
  const signIn = (email: string, password: string, headers: Record<string, string> = {}): Promise<Response> =>
    fetch(`${world.base}/session`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...headers },
      body: JSON.stringify({ email, password }),
    });

  it('keeps passwords as argon2 hashes and cookies out of the page’s and other sites’ reach', async () => {
    const response = await fetch(`${world.base}/accounts`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email: 'Mara@example.org', name: 'Mara', password: 'correct horse battery' }),
    });
    expect(response.status).toBe(201);
    const cookie = response.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const kept = await world.pool.query<{ password_hash: string }>(
      `select password_hash from account where email = 'Mara@example.org'`,
    );
    expect(kept.rows[0].password_hash).toMatch(/^\$argon2id\$/);
    expect((await signIn('mara@EXAMPLE.org', 'correct horse battery')).status).toBe(200);
  });

  it('refuses requests from other sites, weak passwords and second accounts of one address', async () => {
    expect(
      (await signIn('mara@example.org', 'correct horse battery', { origin: 'https://elsewhere.example' })).status,
    ).toBe(403);
    const post = (body: unknown): Promise<Response> =>
      fetch(`${world.base}/accounts`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
    expect(await (await post({ email: 'a@b', name: 'A', password: 'short' })).json()).toEqual({
      problem: 'password: At least 12 characters, please.',
    });
    expect((await post({ email: 'MARA@example.org', name: 'M', password: 'another long one' })).status).toBe(409);
  });

  it('says the same of a wrong password and an unknown address, and limits attempts', async () => {
    const answers = [];
    for (let i = 0; i < 8; i++) answers.push(await signIn(i % 2 ? 'mara@example.org' : 'nobody@example.org', 'wrong'));
    const bodies = await Promise.all(answers.map((a) => a.json() as Promise<{ problem: string }>));
    expect(new Set(bodies.slice(0, 2).map((b) => b.problem)).size).toBe(1);
    expect(answers.at(-1)!.status).toBe(429);
    expect(bodies.at(-1)!.problem).toContain('Too many attempts');
  });

  it('ends with the session', async () => {
    const person = await strangerOf();
    expect((await person.json<SessionState>('GET', '/session')).account?.email).toBe('stranger@example.org');
    await person.json('DELETE', '/session');
    expect((await person.send('GET', '/projects')).status).toBe(401);
    stranger = null;
  });

  it('sends a strict content policy', async () => {
    const policy = (await fetch(`${world.base}/session`)).headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self'");
    expect(policy).not.toContain('unsafe-eval');
  });
});
