import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AccountCard, AccountExport, AuditEntry, SessionCard, SessionState } from '#contract';
import { appointAdministrators } from '../src/accounts/admin.ts';
import { makeWorld, Person, type World } from './world.ts';

// Who runs a server: keeps people out, lets them choose a new password, sees what happened at the doors; and opens no project.

let world: World;
let root: Person;
let rootId: string;
beforeAll(async () => {
  world = await makeWorld();
  root = await Person.register(world, 'root@example.org');
  expect(await appointAdministrators(world.pool, ['ROOT@example.org', 'nobody@example.org'])).toEqual(['nobody@example.org']); // prettier-ignore
  rootId = (await root.json<SessionState>('GET', '/session')).account!.id;
});
afterAll(() => world.end());

const PASSWORD = 'a long enough one';
const idOf = async (who: Person): Promise<string> => (await who.json<SessionState>('GET', '/session')).account!.id;
const signIn = (email: string, password: string): Promise<Response> =>
  fetch(`${world.base}/session`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ email, password }) }); // prettier-ignore
const problem = async (r: Response): Promise<string> => ((await r.json()) as { problem: string }).problem;
const log = (find = ''): Promise<AuditEntry[]> => root.json('GET', `/admin/audit?find=${encodeURIComponent(find)}`);

describe('an administrator', () => {
  it('finds accounts, locks one out of every session at once, and lets it in again', async () => {
    const kim = await Person.register(world, 'kim@example.org');
    const [card] = await root.json<AccountCard[]>('GET', '/admin/accounts?find=KIM@');
    expect(card).toMatchObject({ name: 'kim', email: 'kim@example.org', locked: false, sessions: 1, projects: 0 });
    await root.json('PATCH', `/admin/accounts/${card.id}`, { locked: true });
    expect((await kim.send('GET', '/projects')).status).toBe(401);
    const refused = await signIn('kim@example.org', PASSWORD);
    expect([refused.status, await problem(refused)]).toEqual([403, expect.stringContaining('locked') as string]);
    // Whoever does not know the password learns nothing of the lock.
    expect((await signIn('kim@example.org', 'wrong')).status).toBe(401);
    await root.json('PATCH', `/admin/accounts/${card.id}`, { locked: false });
    expect((await signIn('kim@example.org', PASSWORD)).status).toBe(200);
    expect((await log('kim@example.org')).map((e) => [e.what, e.name])).toEqual([
      ['account unlocked', 'root'],
      ['account locked', 'root'],
    ]);
  });

  it('gives a link for a new password, which serves once and ends every session', async () => {
    const lea = await Person.register(world, 'lea@example.org');
    const path = `/admin/accounts/${await idOf(lea)}/password-reset`;
    const older = await root.json<{ token: string }>('POST', path);
    const { token } = await root.json<{ token: string }>('POST', path);
    const nobody = new Person(world.base, '');
    expect((await nobody.send('GET', `/password-resets/${older.token}`)).status).toBe(404);
    expect(await nobody.json('GET', `/password-resets/${token}`)).toEqual({ name: 'lea', email: 'lea@example.org' });
    const choose = (password: string): Promise<Response> => nobody.send('POST', `/password-resets/${token}`, { password }); // prettier-ignore
    expect((await choose('administrator1')).status).toBe(400);
    expect((await choose('short')).status).toBe(400);
    expect((await choose('four quite other words')).status).toBe(204);
    expect((await choose('four quite other words')).status).toBe(404);
    expect((await lea.send('GET', '/projects')).status).toBe(401);
    expect((await signIn('lea@example.org', PASSWORD)).status).toBe(401);
    expect((await signIn('lea@example.org', 'four quite other words')).status).toBe(200);
    const stored = await world.pool.query<{ token_hash: string }>('select token_hash from password_reset');
    expect(stored.rows.some((r) => r.token_hash.includes(token))).toBe(false);
  });

  it('sees the sessions of an account and ends one', async () => {
    const ida = await Person.register(world, 'ida@example.org');
    const id = await idOf(ida);
    await signIn('ida@example.org', PASSWORD);
    const list = await root.json<SessionCard[]>('GET', `/admin/accounts/${id}/sessions`);
    expect(list.map((s) => s.own)).toEqual([false, false]);
    for (const s of list) await root.json('DELETE', `/admin/accounts/${id}/sessions/${s.id}`);
    expect((await ida.send('GET', '/projects')).status).toBe(401);
    expect((await root.send('DELETE', `/admin/accounts/${id}/sessions/${list[0].id}`)).status).toBe(404);
  });

  it('cannot lock out or demote themselves, makes another one, and opens no project by it', async () => {
    expect((await root.send('PATCH', `/admin/accounts/${rootId}`, { locked: true })).status).toBe(409);
    expect((await root.send('PATCH', `/admin/accounts/${rootId}`, { admin: false })).status).toBe(409);
    const max = await Person.register(world, 'max@example.org');
    expect((await max.send('GET', '/admin/accounts')).status).toBe(404);
    await root.json('PATCH', `/admin/accounts/${await idOf(max)}`, { admin: true });
    expect((await max.json<SessionState>('GET', '/session')).account!.isAdmin).toBe(true);
    expect((await max.json<AccountCard[]>('GET', '/admin/accounts')).length).toBeGreaterThan(2);
    expect((await max.send('GET', `/projects/${world.demo}`)).status).toBe(404);
    for (const id of ['none', '00000000-0000-4000-8000-000000000000'])
      expect((await max.send('PATCH', `/admin/accounts/${id}`, { locked: true })).status).toBe(404);
  });
});

describe('the sign-ins, refusals and roles', () => {
  it('holds sign-ins, refusals, roles and foreign projects asked for, and no password', async () => {
    const eva = await Person.register(world, 'eva@example.org');
    await signIn('eva@example.org', 'not this one');
    await signIn('EVA@example.org', PASSWORD);
    await eva.send('GET', `/projects/${world.demo}`);
    const ina = await Person.demo(world);
    const { token } = await ina.json<{ token: string }>('POST', `/projects/${world.demo}/invitations`, { role: 'viewer', days: 2 }); // prettier-ignore
    await eva.json('POST', `/invitations/${token}`);
    expect((await eva.send('PATCH', `/projects/${world.demo}`, { archived: true })).status).toBe(403);
    await ina.json('PATCH', `/projects/${world.demo}/people/${await idOf(eva)}`, { role: 'checker' });
    await ina.json('DELETE', `/projects/${world.demo}/people/${await idOf(eva)}`);
    await eva.json('DELETE', '/session');
    const mine = (await log()).filter((e) => e.name === 'eva' || e.detail.includes('eva'));
    expect(mine.map((e) => e.what).reverse()).toEqual([
      'account made',
      'sign-in refused',
      'signed in',
      'refused',
      'joined',
      'refused',
      'role changed',
      'removed',
      'signed out',
    ]);
    expect(mine.find((e) => e.what === 'role changed')).toMatchObject({ name: 'Ina Quillow', detail: 'eva: viewer to checker', project: 'Ostrel Landing' }); // prettier-ignore
    expect(JSON.stringify(await log())).not.toMatch(/not this one|a long enough one/);
    expect((await log('role changed')).every((e) => e.what === 'role changed')).toBe(true);
    const all = await log();
    expect((await root.json<AuditEntry[]>('GET', `/admin/audit?before=${all[2].id}`))[0].id).toBeLessThan(all[2].id);
  });
});

describe('an account’s own data', () => {
  it('are exported whole, in one file that holds no secret', async () => {
    const noa = await Person.register(world, 'noa@example.org');
    const { id } = await noa.json<{ id: string }>('POST', '/projects', { name: 'Quarry' });
    await noa.change(id, { op: 'settings.set', settings: { decimals: 2 } });
    const response = await noa.send('GET', '/account/export');
    expect(response.headers.get('content-disposition')).toContain('dunrik-account.json');
    const data = (await response.json()) as AccountExport;
    expect(data.account).toMatchObject({ name: 'noa', email: 'noa@example.org' });
    expect(data.projects).toEqual([{ id, name: 'Quarry', role: 'owner' }]);
    expect(data.changes).toMatchObject([{ project: id, revision: 1, what: 'set the decimals' }]);
    expect(data.audit.map((e) => e.what)).toContain('account made');
    expect(JSON.stringify(data)).not.toContain('argon2');
  });

  it('go with the account: what only they were in too, what others have stays by nobody’s name', async () => {
    const uma = await Person.register(world, 'uma@example.org');
    const vic = await Person.register(world, 'vic@example.org');
    const alone = (await uma.json<{ id: string }>('POST', '/projects', { name: 'Alone' })).id;
    const shared = (await uma.json<{ id: string }>('POST', '/projects', { name: 'Shared' })).id;
    await uma.change(shared, { op: 'settings.set', settings: { decimals: 2 } });
    const { token } = await uma.json<{ token: string }>('POST', `/projects/${shared}/invitations`, { role: 'surveyor', days: 2 }); // prettier-ignore
    await vic.json('POST', `/invitations/${token}`);
    const leave = (body: object): Promise<Response> => uma.send('DELETE', '/account', { password: PASSWORD, ...body });
    expect((await leave({ password: 'wrong' })).status).toBe(403);
    const owner = await leave({ withProjects: true });
    expect([owner.status, await problem(owner)]).toEqual([409, expect.stringContaining('“Shared”') as string]);
    await uma.json('PATCH', `/projects/${shared}/people/${await idOf(vic)}`, { role: 'owner' });
    const asked = await leave({});
    expect([asked.status, await problem(asked)]).toEqual([409, expect.stringContaining('“Alone”') as string]);
    expect((await leave({ withProjects: true })).status).toBe(204);
    expect((await uma.send('GET', '/projects')).status).toBe(401);
    expect((await signIn('uma@example.org', PASSWORD)).status).toBe(401);
    expect((await world.pool.query('select 1 from project where id = $1', [alone])).rowCount).toBe(0);
    expect(await vic.json('GET', `/projects/${shared}/changes`)).toMatchObject([{ by: 'a former member', what: 'set the decimals' }]); // prettier-ignore
    const kept = await world.pool.query(`select 1 from account where email like '%uma%' or name like '%uma%'`);
    expect([kept.rowCount, (await log('uma')).filter((e) => e.name === 'uma')]).toEqual([0, []]);
    // The address is free again.
    expect((await fetch(`${world.base}/accounts`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ email: 'uma@example.org', name: 'uma', password: PASSWORD }) })).status).toBe(201); // prettier-ignore
  });

  it('of the demo belong to everybody', async () => {
    const ina = await Person.demo(world);
    expect((await ina.send('DELETE', '/account', { password: 'x', withProjects: true })).status).toBe(403);
  });
});

describe('room for files', () => {
  it('is bounded by number and bytes; what does not fit is refused in a sentence and nothing is stored', async () => {
    const small = await makeWorld({ projectFiles: 2, projectMegabytes: 1 });
    try {
      const ina = await Person.register(small, 'room@example.org');
      const { id } = await ina.json<{ id: string }>('POST', '/projects', { name: 'Small' });
      const send = (name: string, bytes: number): Promise<Response> => ina.send('POST', `/projects/${id}/files?name=${name}`, new Uint8Array(bytes).fill(49 + name.length)); // prettier-ignore
      expect((await send('a.csv', 700_000)).status).toBe(201);
      const large = await send('bb.csv', 400_000);
      expect([large.status, await problem(large)]).toEqual([413, expect.stringMatching(/bb\.csv was not received: with it the project would hold 1\.1 MB of files, 1 MB at most/) as string]); // prettier-ignore
      expect((await send('ccc.csv', 1000)).status).toBe(201);
      expect(await problem(await send('dddd.csv', 10))).toContain('holds 2 files, 2 at most');
      expect((await small.pool.query('select 1 from file where project_id = $1', [id])).rowCount).toBe(2);
      await ina.json('PATCH', `/projects/${id}`, { archived: true });
      expect((await send('e.csv', 10)).status).toBe(409);
    } finally {
      await small.end();
    }
  });
});
