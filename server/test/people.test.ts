import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type {
  ChangeEntry,
  CheckedMark,
  FollowingProject,
  InvitationOffer,
  People,
  ProjectCard,
  ProjectState,
  SessionCard,
  SessionState,
  TeamCard,
} from '#contract';
import { newStart } from '#core/project';
import { makeWorld, Person, type World } from './world.ts';

let world: World;
let ina: Person;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.register(world, 'ina@example.org');
});
afterAll(() => world.end());

const accountOf = async (person: Person): Promise<string> =>
  (await person.json<SessionState>('GET', '/session')).account!.id;
const newProject = async (person: Person, body: object = {}): Promise<string> =>
  (await person.json<{ id: string }>('POST', '/projects', { name: 'Mill weir', ...body })).id;
const invite = async (project: string, role: string, days = 7): Promise<string> =>
  (await ina.json<{ token: string }>('POST', `/projects/${project}/invitations`, { role, days })).token;
const problem = async (response: Response): Promise<string> => ((await response.json()) as { problem: string }).problem;

describe('invitations', () => {
  it('bring somebody in by a link, once, in the role that was meant', async () => {
    const project = await newProject(ina);
    const token = await invite(project, 'checker');
    // Seen without an account, taken with one.
    const offer = (await (await fetch(`${world.base}/invitations/${token}`)).json()) as InvitationOffer;
    expect(offer).toMatchObject({ what: 'project', name: 'Mill weir', role: 'checker', by: 'ina' });
    const jo = await Person.register(world, 'jo@example.org');
    await jo.json('POST', `/invitations/${token}`);
    expect((await jo.json<ProjectCard[]>('GET', '/projects'))[0]).toMatchObject({ id: project, role: 'checker' });
    const late = await Person.register(world, 'late@example.org');
    const again = await late.send('POST', `/invitations/${token}`);
    expect(again.status).toBe(410);
    expect(await problem(again)).toContain('has been used');
    expect((await late.json<ProjectCard[]>('GET', '/projects')).length).toBe(0);
  });

  it('expire, can be withdrawn, and are kept as hashes only', async () => {
    const project = await newProject(ina);
    const token = await invite(project, 'viewer');
    const kept = await world.pool.query<{ token_hash: string }>('select token_hash from invitation');
    expect(kept.rows.every((r) => /^[0-9a-f]{64}$/.test(r.token_hash) && r.token_hash !== token)).toBe(true);
    await world.pool.query(`update invitation set expires_at = now() - interval '1 minute' where project_id = $1`, [
      project,
    ]);
    const jo = await Person.register(world, 'jo2@example.org');
    expect(await problem(await jo.send('POST', `/invitations/${token}`))).toContain('has expired');
    const other = await invite(project, 'viewer');
    const people = await ina.json<People>('GET', `/projects/${project}/people`);
    expect(people.invitations.length).toBe(1);
    await ina.json('DELETE', `/projects/${project}/invitations/${people.invitations[0].id}`);
    expect((await jo.send('POST', `/invitations/${other}`)).status).toBe(404);
    expect((await fetch(`${world.base}/invitations/guessed`)).status).toBe(404);
  });
});

describe('people of a project', () => {
  it('roles change, people leave, an owner stays', async () => {
    const project = await newProject(ina);
    const jo = await Person.register(world, 'jo3@example.org');
    await jo.json('POST', `/invitations/${await invite(project, 'viewer')}`);
    const [me, other] = [await accountOf(ina), await accountOf(jo)];
    const change = { revision: 0, change: { op: 'settings.set', settings: { decimals: 2 } } };
    expect((await jo.send('POST', `/projects/${project}/changes`, change)).status).toBe(403);
    await ina.json('PATCH', `/projects/${project}/people/${other}`, { role: 'surveyor' });
    expect((await jo.send('POST', `/projects/${project}/changes`, change)).status).toBe(201);
    expect(await problem(await ina.send('DELETE', `/projects/${project}/people/${me}`))).toContain('only owner');
    expect(await problem(await ina.send('PATCH', `/projects/${project}/people/${me}`, { role: 'viewer' }))).toContain(
      'only owner',
    );
    await jo.json('DELETE', `/projects/${project}/people/${other}`);
    expect((await jo.send('GET', `/projects/${project}`)).status).toBe(404);
  });
});

describe('teams', () => {
  it('begin with the account, give new projects their settings, and share them with who joins', async () => {
    const [team] = await ina.json<TeamCard[]>('GET', '/teams');
    expect(team.name).toBe('ina’s team');
    await ina.json('PATCH', `/teams/${team.id}`, {
      start: newStart({ unit: 'usft', order: 'NE', checkPlan: 0.02, plotScale: 250 }),
    });
    const { token } = await ina.json<{ token: string }>('POST', `/teams/${team.id}/invitations`, { days: 3 });
    const jo = await Person.register(world, 'jo4@example.org');
    await jo.json('POST', `/invitations/${token}`);
    const project = await newProject(jo, { team: team.id, description: 'Levels for the weir' });
    const state = await jo.state(project);
    expect(state.document.settings).toMatchObject({ unit: 'usft', order: 'NE', checkPlan: 0.02, plotScale: 250 });
    expect(state.project.description).toBe('Levels for the weir');
    // A mate is brought in without a link; a stranger is not.
    const people = await jo.json<People>('GET', `/projects/${project}/people`);
    expect(people.mates.map((m) => m.name)).toEqual(['ina']);
    await jo.json('POST', `/projects/${project}/people`, { account: people.mates[0].id, role: 'checker' });
    const stranger = await Person.register(world, 'stranger@example.org');
    expect(
      (await jo.send('POST', `/projects/${project}/people`, { account: await accountOf(stranger), role: 'viewer' }))
        .status,
    ).toBe(404);
    expect((await stranger.send('PATCH', `/teams/${team.id}`, { name: 'mine' })).status).toBe(404);
    expect((await jo.send('PATCH', `/teams/${team.id}`, { name: 'mine' })).status).toBe(403);
    expect((await stranger.send('POST', '/projects', { name: 'x', team: team.id })).status).toBe(404);
  });

  it('a project is begun as a copy of another one’s settings, without its points', async () => {
    const from = await newProject(ina);
    await ina.change(from, { op: 'settings.set', settings: { contourInterval: 0.1, angle: 'gon' } });
    const made = await newProject(ina, { copy: from });
    const state = await ina.state(made);
    expect(state.document.settings).toMatchObject({ contourInterval: 0.1, angle: 'gon' });
    expect(state.document.intakes).toEqual([]);
    expect(state.revision).toBe(0);
    const stranger = await Person.register(world, 'stranger2@example.org');
    expect((await stranger.send('POST', '/projects', { name: 'x', copy: from })).status).toBe(404);
    expect((await stranger.send('POST', '/projects', { name: 'x', copy: from, whole: true })).status).toBe(404);
    expect((await ina.send('POST', '/projects', { name: 'x', whole: true })).status).toBe(400);
  });
});

describe('a checker’s mark', () => {
  it('is for somebody else than who made the changes, and shows what came after it', async () => {
    const project = await newProject(ina);
    const jo = await Person.register(world, 'jo5@example.org');
    await jo.json('POST', `/invitations/${await invite(project, 'checker')}`);
    await ina.change(project, { op: 'settings.set', settings: { decimals: 2 } });
    const own = await ina.send('POST', `/projects/${project}/checked`, { revision: 1, note: '' });
    expect(own.status).toBe(403);
    expect(await problem(own)).toContain('changes of your own (1)');
    const mark = await jo.json<CheckedMark>('POST', `/projects/${project}/checked`, {
      revision: 1,
      note: 'control compared',
    });
    expect(mark).toMatchObject({ revision: 1, by: 'jo5', note: 'control compared', since: 0 });
    await ina.change(project, { op: 'settings.set', settings: { decimals: 4 } });
    expect((await ina.state(project)).checked).toMatchObject({ revision: 1, since: 1 });
    const { since } = await ina.json<{ since: { what: string }[] }>('GET', `/projects/${project}/checked`);
    expect(since.map((c) => c.what)).toEqual(['set the decimals']);
    expect((await jo.send('POST', `/projects/${project}/checked`, { revision: 99, note: '' })).status).toBe(400);
  });
});

describe('undo', () => {
  it('takes back one’s own change, past those of others, and not under them', async () => {
    const project = await newProject(ina);
    const jo = await Person.register(world, 'jo6@example.org');
    await jo.json('POST', `/invitations/${await invite(project, 'surveyor')}`);
    await ina.change(project, { op: 'settings.set', settings: { decimals: 2 } });
    await jo.change(project, { op: 'settings.set', settings: { contourInterval: 1 } });
    expect(await ina.state(project)).toMatchObject({ undo: 'set the decimals' });
    expect(await jo.state(project)).toMatchObject({ undo: 'set the contour interval' });
    const take = async (person: Person): Promise<Response> =>
      person.send('POST', `/projects/${project}/undo`, { revision: (await person.state(project)).revision });
    expect((await take(ina)).status).toBe(201);
    expect((await ina.state(project)).document.settings).toMatchObject({ decimals: 3, contourInterval: 1 });
    // The same thing changed by both: the earlier one stays under the later.
    await ina.change(project, { op: 'settings.set', settings: { sagitta: 0.05 } });
    await jo.change(project, { op: 'settings.set', settings: { sagitta: 0.01 } });
    const refused = await take(ina);
    expect(refused.status).toBe(409);
    expect(await problem(refused)).toContain('jo6 has changed the same since');
    expect((await ina.state(project)).document.settings.sagitta).toBe(0.01);
  });
});

describe('columns of tables', () => {
  it('are kept as each person chose them, within bounds, and go with the account', async () => {
    const first = await Person.register(world, 'columns@example.org');
    expect(await first.json('GET', '/account/columns')).toEqual({});
    const chosen = { records: { order: ['number', 'what'], shown: { time: false }, widths: { code: 120 } } };
    expect((await first.send('PUT', '/account/columns', chosen)).status).toBe(204);
    expect(await first.json('GET', '/account/columns')).toEqual(chosen);
    expect(await ina.json('GET', '/account/columns')).toEqual({});
    expect(await first.json('GET', '/account/export')).toMatchObject({ columns: chosen });
    for (const wrong of [
      { records: { widths: { code: 1e9 } } },
      { records: { order: ['x'.repeat(41)] } },
      Object.fromEntries(Array.from({ length: 61 }, (_, i) => [`t${i}`, {}])),
      [],
    ])
      expect((await first.send('PUT', '/account/columns', wrong)).status).toBe(400);
    expect(await first.json('GET', '/account/columns')).toEqual(chosen);
  });
});

describe('sessions and passwords', () => {
  it('are seen and ended by their owner alone', async () => {
    const first = await Person.register(world, 'two@example.org');
    const signedIn = await fetch(`${world.base}/session`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'User-Agent': 'Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0' },
      body: JSON.stringify({ email: 'two@example.org', password: 'a long enough one' }),
    });
    const second = new Person(world.base, signedIn.headers.get('set-cookie')!.split(';')[0]);
    const cards = await first.json<SessionCard[]>('GET', '/account/sessions');
    expect(cards.length).toBe(2);
    const other = cards.find((c) => !c.own)!;
    expect(other.browser).toBe('Firefox on Linux');
    expect((await ina.send('DELETE', `/account/sessions/${other.id}`)).status).toBe(404);
    await first.json('DELETE', `/account/sessions/${other.id}`);
    expect((await second.send('GET', '/projects')).status).toBe(401);
    expect((await first.send('GET', '/projects')).status).toBe(200);
  });

  it('a changed password ends every other session; a wrong old one changes nothing', async () => {
    const first = await Person.register(world, 'three@example.org');
    const sign = (password: string): Promise<Response> =>
      fetch(`${world.base}/session`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ email: 'three@example.org', password }),
      });
    const second = new Person(world.base, (await sign('a long enough one')).headers.get('set-cookie')!.split(';')[0]);
    const wrong = await first.send('POST', '/account/password', { old: 'guess', new: 'another long one' });
    expect(wrong.status).toBe(403);
    expect((await second.send('GET', '/projects')).status).toBe(200);
    await first.json('POST', '/account/password', { old: 'a long enough one', new: 'another long one' });
    expect((await second.send('GET', '/projects')).status).toBe(401);
    expect((await first.send('GET', '/projects')).status).toBe(200);
    expect((await sign('a long enough one')).status).toBe(401);
    expect((await sign('another long one')).status).toBe(200);
  });
});

describe('start settings of a team that change later', () => {
  const teamOf = async (): Promise<TeamCard> => (await ina.json<TeamCard[]>('GET', '/teams'))[0];
  const settingsOf = async (project: string): Promise<{ spike: number; unit: string }> =>
    (await ina.json<ProjectState>('GET', `/projects/${project}`)).document.settings;
  const following = (team: string): Promise<FollowingProject[]> => ina.json('GET', `/teams/${team}/projects`);

  it('are followed by the projects that are chosen, in the parts that are chosen, and by no other', async () => {
    const { id, start } = await teamOf();
    const [one, two] = [await newProject(ina, { team: id }), await newProject(ina, { team: id })];
    await newProject(ina);
    expect((await following(id)).map((p) => p.differences)).toEqual([[], []]);
    await ina.json('PATCH', `/teams/${id}`, { start: { ...start, settings: { ...start.settings, spike: 0.77, unit: 'ft' } } }); // prettier-ignore
    const [found] = (await following(id)).filter((p) => p.id === one);
    expect(found.differences.map((d) => [d.part, d.what])).toEqual([['display', 'the unit'], ['practice', 'the spike tolerance']]); // prettier-ignore
    await ina.json('POST', `/teams/${id}/projects/${one}/follow`, { parts: ['practice'], revision: found.revision });
    expect(await settingsOf(one)).toMatchObject({ spike: 0.77, unit: start.settings.unit });
    expect((await settingsOf(two)).spike).toBe(start.settings.spike);
    // It is a change of the project like any other, and there is nothing left to follow in this part.
    expect((await ina.json<ChangeEntry[]>('GET', `/projects/${one}/changes`))[0].what).toBe('set the spike tolerance');
    const again = await ina.send('POST', `/teams/${id}/projects/${one}/follow`, { parts: ['practice'], revision: found.revision + 1 }); // prettier-ignore
    expect(again.status).toBe(409);
    await ina.json('POST', `/projects/${one}/undo`, { revision: found.revision + 1 });
    expect((await settingsOf(one)).spike).toBe(start.settings.spike);
  });

  it('are nobody’s business who is not in the team, and touch no project that one may not change', async () => {
    const { id } = await teamOf();
    const project = await newProject(ina, { team: id });
    const mate = await Person.register(world, 'mate@example.org');
    expect((await mate.send('GET', `/teams/${id}/projects`)).status).toBe(404);
    expect((await mate.send('POST', `/teams/${id}/projects/${project}/follow`, { parts: ['codes'], revision: 0 })).status).toBe(404); // prettier-ignore
    const { token } = await ina.json<{ token: string }>('POST', `/teams/${id}/invitations`, { days: 1 });
    await mate.json('POST', `/invitations/${token}`);
    await mate.json('POST', `/invitations/${await invite(project, 'viewer')}`);
    expect(await mate.json<FollowingProject[]>('GET', `/teams/${id}/projects`)).toEqual([]);
    expect((await mate.send('POST', `/teams/${id}/projects/${project}/follow`, { parts: ['codes'], revision: 0 })).status).toBe(404); // prettier-ignore
    expect((await ina.send('POST', `/teams/${id}/projects/${project}/follow`, { parts: [], revision: 0 })).status).toBe(400); // prettier-ignore
  });
});
