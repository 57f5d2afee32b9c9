import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ProjectCard, SessionState } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

let world: World;
beforeAll(async () => {
  world = await makeWorld({ signInLimit: 6 });
});
afterAll(() => world.end());

/** Every route, with a body that would be right. */
const ROUTES: [string, string, unknown?][] = [
  ['GET', '/projects'],
  ['POST', '/projects', { name: 'x' }],
  ['GET', '/layouts'],
  [
    'POST',
    '/layouts',
    { name: 'x', layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['E', 'N'], unit: 'm' }, signature: '' },
  ],
  ['GET', '/projects/:project'],
  ['PATCH', '/projects/:project', { name: 'x' }],
  ['GET', '/projects/:project/changes'],
  ['POST', '/projects/:project/changes', { revision: 8, change: { op: 'boundary.set', ring: null } }],
  ['POST', '/projects/:project/undo', { revision: 8 }],
  ['POST', '/projects/:project/redo', { revision: 8 }],
  ['POST', '/projects/:project/files?name=x', new Uint8Array([49])],
  ['GET', '/projects/:project/files/demo-1'],
  ['POST', '/projects/:project/intakes', {}],
  ['DELETE', '/projects/:project/jobs/x'],
  ['GET', '/projects/:project/results/abc'],
  ['GET', '/projects/:project/events'],
  ['GET', '/projects/:project/packages'],
  ['POST', '/projects/:project/packages', {}],
  ['GET', '/projects/:project/packages/x'],
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
      problem: 'password: At least 10 characters, please.',
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
