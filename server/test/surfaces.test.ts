import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { designRecipe, plainIntake, type Change, type Intake } from '#core/project';
import type { ChangeEntry, PointHistory, Summary } from '#contract';
import { takeApartOldDocuments } from '../src/projects/documents.ts';
import { makeWorld, Person, type World } from './world.ts';

// Surfaces of a project over the wire: files that come into one, changes that hold several, what an earlier version kept.

let world: World;
let ina: Person;
let project: string;
const LAYOUT = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'] as Intake['layout']['roles'], unit: 'm' as const }; // prettier-ignore
const square = (z: number): string => ['1,0,0', '2,10,0', '3,10,10', '4,0,10'].map((p) => `${p},${z},GR`).join('\n');

async function received(name: string, text: string, part: Partial<Intake> = {}): Promise<Intake> {
  const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${project}/files?name=${name}`, new TextEncoder().encode(text)); // prettier-ignore
  return plainIntake(name.replace('.csv', ''), { fileId: file.id, fileName: name, sha256: file.sha256, layout: LAYOUT, ...part }); // prettier-ignore
}
const surfaces = async (): Promise<[string, number][]> => {
  const state = await ina.settled(project);
  const response = await ina.send('GET', `/projects/${project}/results/${state.settled!.stages.summary}`);
  return ((await response.json()) as Summary).surfaces.map((s) => [s.name, s.highest]);
};

beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  project = (await ina.json<{ id: string }>('POST', '/projects', { name: 'Surfaces' })).id;
  await ina.change(project, { op: 'intake.add', intake: await received('day.csv', square(10)) });
});
afterAll(() => world.end());

describe('a design', () => {
  it('comes in with the surface that it makes, as one change and one undo', async () => {
    const intake = await received('pad.csv', square(12), { purpose: 'design' });
    const { revision } = await ina.state(project);
    await ina.json('POST', `/projects/${project}/intakes`, { revision, intake, into: { surface: { id: 'pad', name: 'A pad' } } }); // prettier-ignore
    await expect.poll(async () => (await ina.state(project)).revision, { timeout: 20_000 }).toBe(revision + 1);
    expect(await surfaces()).toEqual([
      ['Ground', 10],
      ['A pad', 12],
    ]);
    const [newest] = await ina.json<ChangeEntry[]>('GET', `/projects/${project}/changes`);
    expect(newest.what).toBe('imported pad.csv');
    await ina.json('POST', `/projects/${project}/undo`, { revision: revision + 1 });
    const back = await ina.state(project);
    expect([back.document.surfaces.length, back.document.intakes.length]).toEqual([1, 1]);
    await ina.json('POST', `/projects/${project}/redo`, { revision: back.revision });
    expect((await ina.state(project)).document.surfaces[1]).toEqual(designRecipe({ id: 'pad', name: 'A pad' }, ['pad'])); // prettier-ignore
  });

  it('that goes into a surface that is not there is refused whole', async () => {
    const intake = await received('other.csv', square(13), { purpose: 'design' });
    const before = await ina.state(project);
    await ina.json('POST', `/projects/${project}/intakes`, { revision: before.revision, intake, into: { id: 'gone' } });
    await expect.poll(async () => (await ina.state(project)).jobs.length, { timeout: 20_000 }).toBe(0);
    expect((await ina.state(project)).document).toEqual(before.document);
  });

  it('is told in the history of its points', async () => {
    await ina.settled(project);
    const { entries } = await ina.json<PointHistory>('GET', `/projects/${project}/points/history?key=pad:1`);
    expect(entries.map((e) => e.what)).toContain('imported pad.csv');
  });
});

describe('several changes as one', () => {
  const several = (changes: Change[]): Promise<Response> =>
    ina.state(project).then(({ revision }) => ina.send('POST', `/projects/${project}/changes`, { revision, change: { op: 'several', changes } })); // prettier-ignore

  it('are all made or none', async () => {
    const before = (await ina.state(project)).document;
    const refused = await several([{ op: 'settings.set', settings: { decimals: 1 } }, { op: 'surface.remove', id: 'gone' }]); // prettier-ignore
    expect(refused.status).toBe(409);
    expect((await ina.state(project)).document).toEqual(before);
  });

  it('say who accepted a query by themselves, and take no file that was not received', async () => {
    const accepted = { evidence: 'x', reason: 'seen', by: 'Somebody else', at: '2000-01-01T00:00:00Z' };
    expect((await several([{ op: 'query.accept', key: 'spike:1', accepted }])).status).toBe(201);
    expect((await ina.state(project)).document.accepted['spike:1'].by).toBe('Ina Quillow');
    const made = plainIntake('made-up', { layout: LAYOUT });
    expect((await several([{ op: 'intake.add', intake: made }])).status).toBe(400);
    expect((await several([{ op: 'several', changes: [] } as unknown as Change])).status).toBe(400);
  });
});

describe('a project that an earlier version kept', () => {
  it('is read, settled anew and undone though its document named surfaces in its files', async () => {
    const { document, revision } = await ina.settled(project);
    const old = JSON.parse(JSON.stringify(document)) as Record<string, unknown> & { intakes: Record<string, unknown>[] }; // prettier-ignore
    delete old.surfaces;
    old.boundary = null;
    old.linesOutOfGround = [];
    for (const i of old.intakes) {
      i.target = i.purpose === 'design' ? 'A pad' : 'Ground';
      delete i.purpose;
    }
    await world.pool.query(
      `update project set document = $2, settled = settled || '{"version": 14, "contours": "gone"}' where id = $1`,
      [project, JSON.stringify(old)],
    );
    const undo = { op: 'intake.target', id: 'pad', target: 'Ground' };
    await world.pool.query(
      `insert into change (project_id, revision, account_id, kind, about, what, change, inverse)
       select project_id, $2, account_id, 'do', null, 'made a file a design', $3, $4 from change where project_id = $1 limit 1`,
      [project, revision + 1, JSON.stringify({ ...undo, target: 'A pad' }), JSON.stringify(undo)],
    );
    await world.pool.query('update project set revision = $2 where id = $1', [project, revision + 1]);
    await takeApartOldDocuments(world.pool);
    // What the older computation gave is not shown as this one's.
    expect((await ina.state(project)).settled).toBeNull();
    expect(await surfaces()).toEqual([
      ['Ground', 10],
      ['A pad', 12],
    ]);
    await ina.json('POST', `/projects/${project}/undo`, { revision: revision + 1 });
    const after = (await ina.state(project)).document;
    expect(after.intakes.map((i) => i.purpose)).toEqual(['survey', 'survey']);
    expect(after.surfaces[1].rows.map((r) => r.kind)).toEqual(['lines']);
    // Somebody who looked at the revision before the old change is shown it, not an error.
    const stale = await ina.send('POST', `/projects/${project}/changes`, { revision, change: { op: 'intake.purpose', id: 'pad', purpose: 'control' } }); // prettier-ignore
    expect(stale.status).toBe(409);
  });
});
