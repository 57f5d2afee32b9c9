import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { plainIntake, type Change, type Intake } from '#core/project';
import { knownOf, receive, type Received } from '../../web/src/frame/received.ts';
import type { ProjectMoved } from '#contract';
import { newestDocument, takeApartOldDocuments } from '../src/projects/documents.ts';
import { makeWorld, Person, type World } from './world.ts';

// A project over the wire in parts: what a page is told, what is written, and what an older database held.

let world: World;
let ina: Person;
let project: string;
const LAYOUT = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'] as Intake['layout']['roles'], unit: 'm' as const }; // prettier-ignore

async function add(name: string): Promise<void> {
  const text = '1,0,0,5,GR\n2,10,0,5,GR\n3,10,10,5,GR\n';
  const file = await ina.json<{ id: string; sha256: string }>('POST', `/projects/${project}/files?name=${name}`, new TextEncoder().encode(text + name)); // prettier-ignore
  const intake = plainIntake(name.replace('.csv', ''), { fileId: file.id, fileName: name, sha256: file.sha256, layout: LAYOUT }); // prettier-ignore
  await make({ op: 'intake.add', intake });
}
async function make(change: Change): Promise<number> {
  const { revision } = await ina.state(project);
  return (await ina.json<{ revision: number }>('POST', `/projects/${project}/changes`, { revision, change })).revision;
}
const undo = async () =>
  ina.json('POST', `/projects/${project}/undo`, { revision: (await ina.state(project)).revision });
const edit = (key: string, z: number): Change => ({ op: 'points.edit', edits: { [key]: { set: { z }, undo: [] } } });
const moved = (known: object): Promise<ProjectMoved> =>
  ina.json('GET', `/projects/${project}/moved?${new URLSearchParams(Object.entries(known).map(([k, v]) => [k, String(v)])).toString()}`); // prettier-ignore
const refreshed = async (page: Received | null): Promise<Received> => receive(page, await moved(knownOf(page)));

beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  project = (await ina.json<{ id: string }>('POST', '/projects', { name: 'In parts' })).id;
  await add('a.csv');
  await add('b.csv');
  await ina.settled(project);
}, 120_000);
afterAll(() => world.end());

describe('a page', () => {
  it('is told what moved since it last asked, and has what one has that asks for all', async () => {
    let page = await refreshed(null);
    for (const change of [
      edit('a:1', 7),
      { op: 'settings.set', settings: { decimals: 2 } },
      { op: 'intake.remove', id: 'b' },
      edit('a:1', 8),
    ] as Change[]) {
      await make(change);
      page = await refreshed(page);
      expect(page.state.document).toEqual((await ina.state(project)).document);
    }
    await undo();
    await undo();
    page = await refreshed(page);
    expect(page.state.document).toEqual((await ina.state(project)).document);
    expect(page.state.document.intakes.map((i) => i.id)).toEqual(['a', 'b']);
    expect(page.state.document.edits.a[1].z).toBe(7);
  });

  it('is sent neither files nor results that it has, and only the part that was written', async () => {
    await ina.settled(project);
    const page = await refreshed(null);
    const again = await moved(knownOf(page));
    expect([again.parts, again.files, again.settled, again.anew]).toEqual([[], undefined, undefined, false]);
    await make(edit('a:2', 6));
    const after = await moved(knownOf(page));
    expect(after.parts).toEqual([{ kind: 'edit', key: 'a:2', rank: null, value: { z: 6 } }]);
    expect(receive(page, after).state.files).toEqual(page.state.files);
    await ina.settled(project);
    expect((await moved(knownOf(page))).settled?.revision).toBe(after.revision);
  });

  it('begins anew where it knows more than there is, and leaves alone what comes late', async () => {
    const page = await refreshed(null);
    const ahead = { ...page, state: { ...page.state, revision: 9999 } };
    const anew = await moved(knownOf(ahead));
    expect(anew.anew).toBe(true);
    expect(receive(ahead, anew).state.document).toEqual(page.state.document);
    const late = await moved(knownOf(page));
    await make(edit('a:3', 1));
    const newer = await refreshed(page);
    expect(receive(newer, late)).toBe(newer);
  });

  it('is refused marks that are no marks', async () => {
    expect((await ina.send('GET', `/projects/${project}/moved?since=-1`)).status).toBe(400);
    expect((await ina.send('GET', `/projects/${project}/moved?since=later`)).status).toBe(400);
  });
});

describe('the table of parts', () => {
  const rows = async (since: number): Promise<string[]> =>
    (await world.pool.query<{ part: string }>(`select kind || '/' || key as part from part where project_id = $1 and revision > $2 order by 1`, [project, since])).rows.map((r) => r.part); // prettier-ignore

  it('is written where a change touches it, and nowhere else', async () => {
    const { revision } = await ina.state(project);
    await make(edit('b:1', 3));
    expect(await rows(revision)).toEqual(['edit/b:1']);
    await make({ op: 'intake.switch', id: 'a', on: false });
    expect(await rows(revision + 1)).toEqual(['intake/a']);
  });

  it('holds names as long as people make them, and letters of any script', async () => {
    const key = `spike:${'Žluť Ελλ 線 '.repeat(25)}`;
    await make({ op: 'query.accept', key, accepted: { evidence: 'e', reason: 'seen', by: '', at: '' } });
    expect((await ina.state(project)).document.accepted[key].reason).toBe('seen');
    await make({ op: 'query.reopen', key });
    expect((await ina.state(project)).document.accepted[key]).toBeUndefined();
  });

  it('refuses an edit of a point whose file was removed meanwhile, and changes nothing', async () => {
    const { revision } = await ina.state(project);
    await make({ op: 'intake.remove', id: 'b' });
    const refused = await ina.send('POST', `/projects/${project}/changes`, { revision: revision + 1, change: edit('b:2', 4) }); // prettier-ignore
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringContaining('belongs to no intake')]);
    expect((await ina.state(project)).revision).toBe(revision + 1);
    await undo();
  });
});

describe('a database that an earlier version kept', () => {
  it('is taken apart at the start, once, whatever it held', async () => {
    const { document, revision } = await newestDocument(world.pool, project);
    const flat = Object.fromEntries(Object.entries(document.edits).flatMap(([file, edits]) => Object.entries(edits).map(([row, e]) => [`${file}:${row}`, e]))); // prettier-ignore
    await world.pool.query('delete from part where project_id = $1', [project]);
    await world.pool.query('update project set document = $2 where id = $1', [project, JSON.stringify({ ...document, edits: flat })]); // prettier-ignore
    await takeApartOldDocuments(world.pool);
    await takeApartOldDocuments(world.pool);
    expect(await newestDocument(world.pool, project)).toEqual({ revision, document });
    const left = await world.pool.query('select 1 from project where document is not null');
    expect(left.rowCount).toBe(0);
    expect(await make(edit('a:1', 2))).toBe(revision + 1);
  });
});
