import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { detailText, plainIntake, type Change } from '#core/project';
import type { ChangeEntry, PointHistory, VolumeStory } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

// What was done to a project, as a checker reads it: in the project's unit, from which value to which, by whom and why.

const FOOT = 1200 / 3937;
let world: World;
let ina: Person;
let project: string;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  project = (await ina.json<{ id: string }>('POST', '/projects', { name: 'In feet' })).id;
  await ina.change(project, { op: 'settings.set', settings: { unit: 'usft', order: 'NE' } });
  const text = '1,1000.0,2000.0,100.0,GR\n2,1010.0,2000.0,101.0,GR\n3,1000.0,2010.0,102.0,GR';
  const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${project}/files?name=shots.csv`, new TextEncoder().encode(text)); // prettier-ignore
  const intake = plainIntake('i1', {
    fileId: file.id,
    fileName: 'shots.csv',
    sha256: file.sha256,
    layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'N', 'E', 'Z', 'D'], unit: 'usft' },
  });
  await ina.change(project, { op: 'intake.add', intake });
});
afterAll(() => world.end());

const elevation = (row: number, feet: number, why?: string): Change => ({ op: 'points.edit', edits: { [`i1:${row}`]: { set: { z: feet * FOOT }, undo: [] } }, ...(why ? { why } : {}) }); // prettier-ignore
const told = (list: ChangeEntry[]): string[] => list.map((c) => [...(c.details ?? []).map((d) => `${d.field} ${detailText(d)}`), c.why ?? ''].filter(Boolean).join('; ')); // prettier-ignore

describe('the history', () => {
  it('tells old and new value of each change in the project’s unit, the received one by its value', async () => {
    await ina.settled(project);
    await ina.change(project, elevation(2, 101.5, 'the pole stood on a kerb'));
    await ina.change(project, elevation(2, 101.75));
    const list = await ina.json<ChangeEntry[]>('GET', `/projects/${project}/changes`);
    expect(told(list.slice(0, 2))).toEqual([
      'elevation 101.500 US ft → 101.750 US ft',
      'elevation 101.000 US ft (as received) → 101.500 US ft; the pole stood on a kerb',
    ]);
  });

  it('of one point holds its own values and its file’s intake, oldest first, and nobody else’s', async () => {
    await ina.change(project, { op: 'points.edit', edits: { ...(elevation(2, 101.8) as Extract<Change, { op: 'points.edit' }>).edits, ...(elevation(3, 99) as Extract<Change, { op: 'points.edit' }>).edits } }); // prettier-ignore
    const { entries } = await ina.json<PointHistory>('GET', `/projects/${project}/points/history?key=i1:2`);
    expect(entries[0]).toMatchObject({ what: 'imported shots.csv', by: 'Ina Quillow' });
    expect(told(entries.slice(1))).toEqual([
      'elevation 101.000 US ft (as received) → 101.500 US ft; the pole stood on a kerb',
      'elevation 101.500 US ft → 101.750 US ft',
      'elevation 101.750 US ft → 101.800 US ft',
    ]);
  });
});

describe('one’s own changes', () => {
  const undo = (who: Person, body: { about?: number; despite?: boolean } = {}): Promise<Response> => who.send('POST', `/projects/${project}/undo`, { revision: 0, ...body }); // prettier-ignore
  const z = async (row: number): Promise<number | null> => {
    const set = (await ina.state(project)).document.edits.i1?.[row]?.z;
    return set === undefined || set === null ? null : Number((set / FOOT).toFixed(3));
  };

  it('are taken back in any order, however many came since, and brought again', async () => {
    const first = await ina.change(project, elevation(1, 100.25));
    await ina.change(project, { op: 'settings.set', settings: { decimals: 2 } });
    // A long history since, as months of work leave it.
    await world.pool.query(
      `with many as (insert into change (project_id, revision, account_id, kind, what, change, inverse)
         select c.project_id, c.revision + i, c.account_id, 'do', c.what, c.change, c.inverse from change c, generate_series(1, 2500) i
         where c.project_id = $1 and c.revision = $2 returning revision)
       update project set revision = (select max(revision) from many) where id = $1`,
      [project, await ina.change(project, { op: 'settings.set', settings: { contourInterval: 0.5 } })],
    );
    expect((await undo(ina, { about: first })).status).toBe(201);
    expect(await z(1)).toBeNull();
    expect((await ina.state(project)).document.settings.decimals).toBe(2);
    const { entries: list } = await ina.json<PointHistory>('GET', `/projects/${project}/points/history?key=i1:1`);
    expect(list.filter((c) => c.kind === 'do').map((c) => [c.what, c.mine])).toEqual([
      ['imported shots.csv', true],
      ['set elevation of a point to 100.250 US ft', false],
    ]);
    expect((await undo(ina, { about: first })).status).toBe(409);
    expect((await undo(ina, { about: 1_000_000 })).status).toBe(409);
    expect((await ina.send('POST', `/projects/${project}/redo`, { revision: 0, about: first })).status).toBe(201);
    expect(await z(1)).toBe(100.25);
    expect((await undo(ina, { about: first })).status).toBe(201);
    expect(await z(1)).toBeNull();
  }, 60_000);

  it('that somebody has overwritten since are shown with both states, and taken back only when that is wanted', async () => {
    const ole = await Person.register(world, 'ole@example.test');
    const { token } = await ina.json<{ token: string }>('POST', `/projects/${project}/invitations`, { role: 'surveyor', days: 1 }); // prettier-ignore
    await ole.json('POST', `/invitations/${token}`);
    const mine = await ina.change(project, elevation(3, 103));
    const his = await ole.change(project, elevation(3, 104, 'levelled'));
    const refused = await undo(ina, { about: mine });
    expect(refused.status).toBe(409);
    const body = (await refused.json()) as { problem: string; since: ChangeEntry[]; yours: ChangeEntry['details'] };
    expect(body.problem).toContain('ole has changed the same since');
    expect(told(body.since)).toEqual(['elevation 103.000 US ft → 104.000 US ft; levelled']);
    expect(body.yours!.map(detailText)).toEqual(['104.000 US ft → 99.000 US ft']);
    expect(await z(3)).toBe(104);
    // What is somebody else's is not one's own to take back, however it is asked for.
    expect((await undo(ina, { about: his, despite: true })).status).toBe(409);
    expect((await undo(ole, { about: mine, despite: true })).status).toBe(409);
    expect((await undo(ina, { about: mine, despite: true })).status).toBe(201);
    expect(await z(3)).toBe(99);
  });

  it('that meet a later one of the same person are shown too', async () => {
    const older = await ina.change(project, elevation(1, 100.5));
    await ina.change(project, elevation(1, 100.75));
    const refused = await undo(ina, { about: older });
    expect(refused.status).toBe(409);
    expect(await z(1)).toBe(100.75);
  });

  it('refused as stale say what stands there now and what one’s own would set', async () => {
    const { revision } = await ina.state(project);
    await ina.change(project, elevation(2, 88));
    const refused = await ina.send('POST', `/projects/${project}/changes`, { revision, change: elevation(2, 89) });
    const body = (await refused.json()) as { since: ChangeEntry[]; yours: ChangeEntry['details'] };
    expect(told(body.since)).toEqual(['elevation 101.800 US ft → 88.000 US ft']);
    expect(body.yours!.map(detailText)).toEqual(['88.000 US ft → 89.000 US ft']);
  });
});

describe('what made a volume what it is', () => {
  it('is told change by change, with who and why, as far back as the comparison goes', async () => {
    const made = (await ina.json<{ id: string }>('POST', '/projects', { name: 'Volumes' })).id;
    const text = '1,0,0,10,GR\n2,20,0,10,GR\n3,20,20,10,GR\n4,0,20,10,GR';
    const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${made}/files?name=flat.csv`, new TextEncoder().encode(text)); // prettier-ignore
    const layout = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'] as const, unit: 'm' as const }; // prettier-ignore
    await ina.change(made, { op: 'intake.add', intake: plainIntake('i1', { fileId: file.id, fileName: 'flat.csv', sha256: file.sha256, layout: { ...layout, roles: [...layout.roles] } }) }); // prettier-ignore
    const down = (level: number): Change => ({ op: 'comparison.set', comparison: { id: 'c', name: 'Down', surface: 'ground', against: { level }, within: null } }); // prettier-ignore
    const first = await ina.change(made, down(9));
    await ina.change(made, { op: 'settings.set', settings: { decimals: 2 } });
    const second = await ina.change(made, { op: 'points.edit', edits: Object.fromEntries([1, 2, 3, 4].map((r) => [`i1:${r}`, { set: { z: 11 }, undo: [] }])), why: 'the pole was set wrong' }); // prettier-ignore
    const removed = await ina.change(made, { op: 'intake.remove', id: 'i1' });
    expect((await ina.send('POST', `/projects/${made}/undo`, { revision: removed })).status).toBe(201);
    const story = await ina.json<VolumeStory>('GET', `/projects/${made}/volume-story?comparison=c`);
    expect(story.now).toEqual({ cut: expect.closeTo(800, 6), fill: 0 });
    expect(story.end).toBe('made');
    expect(story.steps.map((s) => [s.revision, s.kind, s.after?.cut ?? null])).toEqual([
      [removed + 1, 'undo', expect.closeTo(800, 6)],
      [removed, 'do', null],
      [second, 'do', expect.closeTo(800, 6)],
      [first, 'do', expect.closeTo(400, 6)],
    ]);
    expect(story.steps[2]).toMatchObject({ by: 'Ina Quillow', why: 'the pole was set wrong', before: { cut: expect.closeTo(400, 6) } }); // prettier-ignore
    expect((await ina.send('GET', `/projects/${made}/volume-story?comparison=none`)).status).toBe(404);
    const stranger = await Person.register(world, 'stranger.volumes@example.org');
    expect((await stranger.send('GET', `/projects/${made}/volume-story?comparison=c`)).status).toBe(404);
  });
});
