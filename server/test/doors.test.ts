import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { doorOf, doorWarning, PLAIN_DOOR } from '../src/http/door.ts';
import { passwordProblem } from '#contract/password';
import { pino } from 'pino';
import { createApp } from '../src/http/app.ts';
import { Live } from '../src/http/live.ts';
import type { SessionCard } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

// Who is let in, for how long, and what is told to whom.

const started: World[] = [];
const world = async (...options: Parameters<typeof makeWorld>): Promise<World> => {
  const made = await makeWorld(...options);
  started.push(made);
  return made;
};
let open: World;
beforeAll(async () => void (open = await world()));
afterAll(async () => {
  for (const w of started) await w.end();
});
const post = (w: World, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(w.base + path, { method: 'POST', headers: { 'Content-Type': 'application/json', ...headers }, body: body === undefined ? undefined : JSON.stringify(body) }); // prettier-ignore
const problemOf = async (response: Response): Promise<string> =>
  ((await response.json()) as { problem: string }).problem;
const PASSWORD = 'four plain words here';

describe('settings of the door', () => {
  it('are read from the environment, and a value that is none is a sentence', () => {
    expect(doorOf({})).toEqual(PLAIN_DOOR);
    expect(doorOf({ DUNRIK_TLS: 'yes', DUNRIK_PROXIES: '1', DUNRIK_DEMO: 'no', DUNRIK_REGISTRATION: 'no', DUNRIK_SESSION_HOURS: '8', DUNRIK_IDLE_MINUTES: '90' })).toMatchObject({ tls: true, proxies: 1, demo: false, registration: false, sessionHours: 8, idleMinutes: 90 }); // prettier-ignore
    for (const wrong of [
      { DUNRIK_TLS: 'true' },
      { DUNRIK_PROXIES: '-1' },
      { DUNRIK_PROXIES: '11' },
      { DUNRIK_IDLE_MINUTES: 'long' },
    ])
      expect(() => doorOf(wrong)).toThrow(/^DUNRIK_\w+ is /);
    expect(doorWarning(PLAIN_DOOR, '0.0.0.0')).toContain('DUNRIK_DEMO=no');
    expect([doorWarning(PLAIN_DOOR, '127.0.0.1'), doorWarning({ ...PLAIN_DOOR, demo: false }, '0.0.0.0')]).toEqual([null, null]); // prettier-ignore
  });

  it('passwords: twelve characters, none of the common ones, no name alone', async () => {
    const person = { email: 'maria.lindqvist@example.org', name: 'Maria Lindqvist' };
    for (const weak of [
      'password1234',
      'PassWordPassWord',
      'aaaabbbbaaaa',
      'Maria Lindqvist',
      'lindqvistmaria1',
      'letmein12345',
      'qwertyuiop12',
      '1q2w3e4r5t6y',
      'dunrikdunrik',
      'trustno1trustno1',
    ])
      expect(passwordProblem(weak, person)).not.toBeNull();
    expect(passwordProblem(PASSWORD, person)).toBeNull();
    // However long what is sent: the answer comes at once.
    expect(passwordProblem('aB3$'.repeat(100), person)).not.toBeNull();
    const refused = await post(open, '/accounts', { email: 'w@example.org', name: 'W', password: 'administrator1' });
    expect([refused.status, await problemOf(refused)]).toEqual([
      400,
      expect.stringContaining('easily guessed') as string,
    ]);
  });
});

describe('a closed server', () => {
  let closed: World;
  beforeAll(async () => void (closed = await world({ demo: false, registration: false })));

  it('does not let the demo in that is there, and does not offer it', async () => {
    expect((await post(closed, '/session/demo')).status).toBe(404);
    const session = (await (await fetch(`${closed.base}/session`)).json()) as object;
    expect(session).toEqual({ account: null, demo: false, registration: false });
  });

  it('ends the sessions that the demo has, when it starts without one', async () => {
    const before = await world();
    const demo = await Person.demo(before);
    const mae = await Person.register(before, 'mae-closing@example.org');
    expect((await demo.send('GET', '/projects')).status).toBe(200);
    // The next start, on the same data.
    const { pool, settler } = before;
    const live = new Live(pool.options.connectionString!, pino({ level: 'silent' }));
    await createApp({ pool, settler, live, log: pino({ level: 'silent' }), door: { demo: false } });
    expect((await demo.send('GET', '/projects')).status).toBe(401);
    expect((await mae.send('GET', '/projects')).status).toBe(200);
  });

  it('never brings back a session that is ended while its request is answered', async () => {
    for (let i = 0; i < 25; i++) {
      const [leaves, stays] = [await Person.demo(open), await Person.demo(open)];
      const own = (await stays.json<SessionCard[]>('GET', '/account/sessions')).filter((s) => !s.own);
      await Promise.all([
        leaves.send('GET', '/projects').then((r) => r.text()),
        ...own.map((s) => stays.send('DELETE', `/account/sessions/${s.id}`)),
      ]);
      expect((await leaves.send('GET', '/projects')).status).toBe(401);
    }
  });

  it('takes new accounts by invitation alone, and looking does not use one up', async () => {
    const refused = await post(closed, '/accounts', { email: 'a@example.org', name: 'Anna', password: PASSWORD });
    expect([refused.status, await problemOf(refused)]).toEqual([
      403,
      expect.stringContaining('by invitation') as string,
    ]);
    expect((await post(closed, '/accounts', { email: 'a@example.org', name: 'Anna', password: PASSWORD, invitation: 'none' })).status).toBe(403); // prettier-ignore
    // The owner was there before the door was closed.
    const owner = await Person.demo({ ...open });
    const { token } = await owner.json<{ token: string }>('POST', `/projects/${open.demo}/invitations`, {
      role: 'viewer',
      days: 7,
    });
    expect((await fetch(`${open.base}/invitations/${token}`)).status).toBe(200);
    const again = await owner.json<{ already: boolean }>('POST', `/invitations/${token}`);
    expect(again.already).toBe(true);
    const guest = await Person.register(open, 'guest@example.org');
    expect(await guest.json('POST', `/invitations/${token}`)).toEqual({ project: open.demo, already: false });
    expect((await guest.send('POST', `/invitations/${token}`)).status).toBe(410);
  });
});

describe('behind a proxy that ends TLS', () => {
  it('people get in with a cookie of this host alone, and limits count the right address', async () => {
    const tls = await world({ tls: true, proxies: 1, signIns: 3 });
    const by = (address: string): Record<string, string> => ({
      'X-Forwarded-Proto': 'https',
      'X-Forwarded-For': address,
    });
    const made = await post(
      tls,
      '/accounts',
      { email: 'p@example.org', name: 'P', password: PASSWORD },
      by('192.0.2.1'),
    );
    const cookie = made.headers.get('set-cookie')!;
    expect(cookie).toMatch(/^__Host-dunrik=/);
    expect(cookie).toMatch(/Path=\/;.*HttpOnly; Secure; SameSite=Strict/);
    const inside = await fetch(`${tls.base}/projects`, {
      headers: { cookie: cookie.split(';')[0], ...by('192.0.2.1') },
    });
    expect([inside.status, inside.headers.get('cache-control')]).toEqual([200, 'no-store']);
    const tryAs = (email: string, address: string): Promise<number> => post(tls, '/session', { email, password: 'wrong' }, by(address)).then((r) => r.status); // prettier-ignore
    for (let i = 0; i < 3; i++) expect(await tryAs(`x${i}@example.org`, '192.0.2.7')).toBe(401);
    expect(await tryAs('y@example.org', '192.0.2.7')).toBe(429);
    expect(await tryAs('y@example.org', '192.0.2.8')).toBe(401);
    // One account from many addresses.
    for (let i = 0; i < 3; i++) expect(await tryAs('p@example.org', `198.51.100.${i}`)).toBe(401);
    expect(await tryAs('P@example.org ', '198.51.100.77')).toBe(429);
  });
});

describe('sessions', () => {
  it('end so long after they began, whatever is asked for', async () => {
    const short = await world({ sessionHours: 1 });
    const person = await Person.register(short, 'short@example.org');
    // To its end: a session is stored behind the head of an answer.
    expect(await person.json('GET', '/projects')).toEqual([]);
    await short.pool.query(
      `update session set sess = jsonb_set(sess::jsonb, '{since}', to_jsonb('2020-01-01T00:00:00.000Z'::text))::json`,
    );
    const late = await person.send('GET', '/projects');
    expect([late.status, await problemOf(late)]).toEqual([401, expect.stringContaining('lasts 1 hours') as string]);
  });

  it('that end, end their event streams; so does losing one’s place, and a stream too many is refused', async () => {
    const owner = await Person.demo(open);
    const { id } = await owner.json<{ id: string }>('POST', '/projects', { name: 'Streams' });
    const guest = await Person.register(open, 'streams@example.org');
    const { token } = await owner.json<{ token: string }>('POST', `/projects/${id}/invitations`, {
      role: 'viewer',
      days: 7,
    });
    await guest.json('POST', `/invitations/${token}`);
    const stream = async (who: Person): Promise<{ status: number; ended: Promise<boolean> }> => {
      const response = await fetch(`${open.base}/projects/${id}/events`, { headers: { cookie: who.cookie } });
      const reader = response.body!.getReader();
      const read = async (): Promise<boolean> => {
        while (!(await reader.read()).done);
        return true;
      };
      return { status: response.status, ended: Promise.race([read(), new Promise<boolean>((r) => setTimeout(() => r(false), 5000))]) }; // prettier-ignore
    };
    const first = await stream(guest);
    const me = (await owner.json<{ members: { id: string; name: string }[] }>('GET', `/projects/${id}/people`)).members.find((m) => m.name === 'streams')!; // prettier-ignore
    await owner.json('DELETE', `/projects/${id}/people/${me.id}`);
    expect(await first.ended).toBe(true);
    const mine = await stream(owner);
    const many = await Promise.all(Array.from({ length: 30 }, () => stream(owner)));
    expect(many.map((s) => s.status).filter((s) => s === 429)).toHaveLength(1);
    await owner.json('DELETE', '/session');
    expect(await mine.ended).toBe(true);
  });
});

describe('requests that cannot be held', () => {
  it('answer 400, not 500; health does not ask the database, ready does', async () => {
    const ina = await Person.demo(open);
    for (const [method, path, body] of [
      ['POST', '/projects', { name: 'a\u0000b' }],
      ['PATCH', `/projects/${open.demo}`, { description: '\u0000' }],
      ['POST', `/projects/${open.demo}/files?name=%00`, undefined],
      ['POST', `/projects/${open.demo}/changes`, { revision: 2 ** 40, change: { op: 'boundary.set', ring: null } }],
      ['GET', `/projects/${open.demo}/files/%00`, undefined],
      ['GET', `/projects/${open.demo}/results/%00`, undefined],
      ['GET', '/systems?find=%00', undefined],
      ['GET', `/invitations/%00`, undefined],
    ] as const)
      expect([path, (await ina.send(method, path, body)).status < 500]).toEqual([path, true]);
    for (const path of ['/health', '/ready']) expect((await fetch(open.base + path)).status).toBe(200);
  });

  it('an archived project takes no check mark', async () => {
    const owner = await Person.demo(open);
    const { id } = await owner.json<{ id: string }>('POST', '/projects', { name: 'Archived' });
    await owner.change(id, { op: 'settings.set', settings: { decimals: 2 } });
    await owner.json('PATCH', `/projects/${id}`, { archived: true });
    const refused = await owner.send('POST', `/projects/${id}/checked`, { revision: 1, note: '' });
    expect([refused.status, await problemOf(refused)]).toEqual([409, expect.stringContaining('archived') as string]);
  });
});
