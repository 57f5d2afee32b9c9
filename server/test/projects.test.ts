import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hashBytes } from '#core/kernel';
import { runChain, type ChainSummary } from '#core/chain';

import type { Change, Intake, Picture } from '#core/project';
import { unpackRead } from '#core/sources';
import { packContours, packLines, packPoints, packSurface, unpackPoints } from '#core/stages';
import type { ChangeEntry, Job, LiveEvent, PackageCard, ProjectCard, ProjectState } from '#contract';
import { makeWorld, Person, type World } from './world.ts';

let world: World;
let ina: Person;
beforeAll(async () => {
  world = await makeWorld();
  ina = await Person.demo(world);
  await ina.settled(world.demo);
});
afterAll(() => world.end());

const result = async (project: string, hash: string): Promise<Uint8Array> =>
  new Uint8Array(await (await ina.send('GET', `/projects/${project}/results/${hash}`)).arrayBuffer());
const summaryOf = async (project: string, state: ProjectState): Promise<ChainSummary> =>
  JSON.parse(new TextDecoder().decode(await result(project, state.settled!.stages.summary))) as ChainSummary;
const begin = async (name: string): Promise<string> =>
  (await ina.json<{ id: string }>('POST', '/projects', { name })).id;
const intakeOf = (sha256: string, fileId: string, part: Partial<Intake> = {}): Intake => ({
  id: 'i1',
  fileId,
  fileName: 'shots.csv',
  sha256,
  layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' },
  purpose: 'survey',
  on: true,
  numbers: { all: 'both', each: {} },
  ...part,
});
const pictureOf = (fileId: string, sha256: string): Picture => ({
  id: 'p1',
  name: 'Scan',
  fileId,
  fileName: 'scan.png',
  sha256,
  width: 100,
  height: 80,
  matrix: [0.1, 0, 0, 0, -0.1, 8, 0, 0, 1],
  placed: { by: 'view' },
  opacity: 1,
  brightness: 0,
  hidden: false,
});
const receive = (project: string, text: string): Promise<{ id: string; sha256: string }> =>
  ina.json(
    'POST',
    `/projects/${project}/files?name=${encodeURIComponent('../../etc/shots.csv')}`,
    new TextEncoder().encode(text),
  );
const grid = (n: number): string =>
  Array.from(
    { length: n * n },
    (_, i) =>
      `${i + 1},${1000 + (i % n) * 2}.0,${2000 + Math.floor(i / n) * 2}.0,${(10 + ((i * 7) % 5) / 10).toFixed(1)},GR`,
  ).join('\n');

describe('a project', () => {
  it('is made, renamed, archived, and then takes no change', async () => {
    const id = await begin('Quarry');
    await ina.json('PATCH', `/projects/${id}`, { name: 'Quarry, north face' });
    await ina.json('PATCH', `/projects/${id}`, { archived: true });
    const card = (await ina.json<ProjectCard[]>('GET', '/projects')).find((p) => p.id === id)!;
    expect(card).toMatchObject({ name: 'Quarry, north face', archived: true, role: 'owner' });
    const response = await ina.send('POST', `/projects/${id}/changes`, {
      revision: 0,
      change: { op: 'boundary.set', ring: null },
    });
    expect(response.status).toBe(409);
    expect(((await response.json()) as { problem: string }).problem).toContain('archived');
  });
});

describe('results', () => {
  it('are what the same core gives outside the server, to the last bit, under their content hash', async () => {
    const state = await ina.settled(world.demo);
    const { stages } = state.settled!;
    const reads = new Map(
      await Promise.all(
        state.document.intakes.map(
          async (i) => [i.id, unpackRead(await result(world.demo, stages.reads[i.id]))] as const,
        ),
      ),
    );
    const mine = runChain(state.document, (i) => reads.get(i.id)!);
    expect(hashBytes(packPoints(mine.points))).toBe(stages.points);
    expect(hashBytes(packLines(mine.linework))).toBe(stages.lines);
    for (const [id, c] of mine.contours) expect(hashBytes(packContours(c.list))).toBe(stages.contours[id]);
    for (const s of mine.surfaces) expect(hashBytes(packSurface(s.surface))).toBe(stages.surfaces[s.id]);
    expect(Object.keys(stages.surfaces).sort()).toEqual(state.document.surfaces.map((s) => s.id).sort());
    expect(await summaryOf(world.demo, state)).toEqual(JSON.parse(JSON.stringify(mine.summary)));
    const block = await result(world.demo, stages.points);
    expect(createHash('sha256').update(block).digest('hex')).toBe(stages.points);
  });

  it('are kept by the browser for good, and belong to their project', async () => {
    const { stages } = (await ina.settled(world.demo)).settled!;
    const response = await ina.send('GET', `/projects/${world.demo}/results/${stages.points}`);
    expect(response.headers.get('cache-control')).toContain('immutable');
    const again = await ina.send('GET', `/projects/${world.demo}/results/${stages.points}`, undefined, {
      'if-none-match': response.headers.get('etag')!,
    });
    expect(again.status).toBe(304);
    const other = await begin('Another');
    expect((await ina.send('GET', `/projects/${other}/results/${stages.points}`)).status).toBe(404);
  });
});

describe('changes', () => {
  it('bump the revision, are listed with who and what, and are undone and redone as changes', async () => {
    const id = await begin('Undo');
    await ina.change(id, { op: 'settings.set', settings: { contourInterval: 0.5 } });
    await ina.change(id, { op: 'settings.set', settings: { contourInterval: 1 } });
    const undo = async (kind: 'undo' | 'redo'): Promise<number> => {
      await ina.json('POST', `/projects/${id}/${kind}`, { revision: (await ina.state(id)).revision });
      return (await ina.state(id)).document.settings.contourInterval;
    };
    expect([
      await undo('undo'),
      await undo('undo'),
      await undo('redo'),
      await undo('redo'),
      await undo('undo'),
    ]).toEqual([0.5, 0.25, 0.5, 1, 0.5]);
    const list = await ina.json<ChangeEntry[]>('GET', `/projects/${id}/changes`);
    expect(list).toHaveLength(7);
    expect(list[0]).toMatchObject({
      revision: 7,
      by: 'Ina Quillow',
      kind: 'undo',
      what: 'undid: set the contour interval',
    });
    // A new change forgets what could be brought again.
    await ina.change(id, { op: 'settings.set', settings: { indexEvery: 5 } });
    expect((await ina.state(id)).redo).toBeNull();
    expect((await ina.send('POST', `/projects/${id}/redo`, { revision: 8 })).status).toBe(409);
  });

  it('against an older revision go in where nobody touched the same; else they are refused with what changed', async () => {
    const id = await begin('Stale');
    await ina.change(id, { op: 'settings.set', settings: { order: 'NE' } });
    const response = await ina.send('POST', `/projects/${id}/changes`, {
      revision: 0,
      change: { op: 'settings.set', settings: { order: 'EN' } },
    });
    expect(response.status).toBe(409);
    const body = (await response.json()) as { problem: string; since: ChangeEntry[]; revision: number };
    expect(body.revision).toBe(1);
    expect(body.since.map((c) => c.what)).toEqual(['set the coordinate order']);
    expect((await ina.state(id)).document.settings.order).toBe('NE');
    const send = (change: object, revision: number, mine?: number[]): Promise<Response> => ina.send('POST', `/projects/${id}/changes`, { revision, change, mine }); // prettier-ignore
    expect((await send({ op: 'settings.set', settings: { decimals: 2 } }, 0)).status).toBe(201);
    expect((await ina.state(id)).document.settings).toMatchObject({ order: 'NE', decimals: 2 });
    // What the same page wrote itself is no surprise to it; a revision that is not there yet is.
    expect((await send({ op: 'settings.set', settings: { decimals: 1 } }, 0, [2])).status).toBe(201);
    expect((await send({ op: 'settings.set', settings: { sagitta: 0.02 } }, 99)).status).toBe(409);
    expect((await send({ op: 'settings.set', settings: { sagitta: 0.02 } }, 2 ** 31)).status).toBe(400);
  });

  it('written at once by two against one revision: one is taken, one refused', async () => {
    const id = await begin('Race');
    const send = (decimals: number): Promise<Response> =>
      ina.send('POST', `/projects/${id}/changes`, {
        revision: 0,
        change: { op: 'settings.set', settings: { decimals } },
      });
    const answers = await Promise.all([send(1), send(2), send(4)]);
    expect(answers.map((a) => a.status).sort()).toEqual([201, 409, 409]);
    expect((await ina.state(id)).revision).toBe(1);
  });

  it('that do not hold are named by field', async () => {
    const id = await begin('Wrong');
    for (const [change, says] of [
      [{ op: 'settings.set', settings: { contourInterval: -1 } }, 'contourInterval'],
      [{ op: 'boundary.set', ring: [1, 2, 3] }, 'ring'],
      [{ op: 'points.edit', edits: { 'i1:1': { set: { x: 1e300 }, undo: [] } } }, 'x'],
      [{ op: 'drop.everything' }, 'op'],
      [{ op: 'intake.add', intake: intakeOf('0'.repeat(64), 'none') }, 'has not been received'],
      [{ op: 'picture.set', id: 'p1', picture: pictureOf('none', '0'.repeat(64)) }, 'has not been received'],
      [{ op: 'picture.set', id: 'p1', picture: { ...pictureOf('none', '0'.repeat(64)), matrix: [1, 2] } }, 'matrix'],
    ] as [unknown, string][]) {
      const response = await ina.send('POST', `/projects/${id}/changes`, { revision: 0, change });
      expect(response.status).toBe(400);
      expect(((await response.json()) as { problem: string }).problem).toContain(says);
    }
  });

  it('set a picture that was received, which moves no figure, and are undone', async () => {
    const id = await begin('Picture');
    await ina.settled(id);
    const { settled } = await ina.state(id);
    const { id: fileId, sha256 } = await receive(id, 'not looked into here');
    const change: Change = { op: 'picture.set', id: 'p1', picture: pictureOf(fileId, sha256) };
    expect((await ina.send('POST', `/projects/${id}/changes`, { revision: 0, change })).status).toBe(201);
    await ina.settled(id);
    const after = await ina.state(id);
    expect(after.document.pictures).toMatchObject([{ id: 'p1', name: 'Scan' }]);
    expect(after.settled!.stages).toEqual(settled!.stages);
    await ina.json('POST', `/projects/${id}/undo`, { revision: after.revision });
    expect((await ina.state(id)).document.pictures).toEqual([]);
  });

  it('are followed by another window through server-sent events', async () => {
    const id = await begin('Live');
    await ina.settled(id);
    const stop = new AbortController();
    const stream = await fetch(`${world.base}/projects/${id}/events`, {
      headers: { cookie: ina.cookie },
      signal: stop.signal,
    });
    const events: LiveEvent[] = [];
    const reader = stream.body!.getReader();
    const listening = (async () => {
      const decoder = new TextDecoder();
      for (;;) {
        const { value, done } = await reader.read();
        if (done) return;
        for (const line of decoder.decode(value).split('\n'))
          if (line.startsWith('data: ')) events.push(JSON.parse(line.slice(6)) as LiveEvent);
      }
    })().catch(() => {});
    await ina.change(id, { op: 'settings.set', settings: { decimals: 2 } });
    await ina.settled(id);
    await new Promise((r) => setTimeout(r, 300));
    stop.abort();
    await listening;
    expect(events.map((e) => e.type).filter((t) => t !== 'who')).toEqual(['revision', 'settled']);
  });
});

describe('intake', () => {
  it('keeps the bytes as received, under a plain name, and reads them with progress into one change', async () => {
    const id = await begin('Intake');
    const text = grid(20) + '\nx,y,z\n';
    const file = await receive(id, text);
    expect(file.sha256).toBe(createHash('sha256').update(text).digest('hex'));
    const job = await ina.json<Job>('POST', `/projects/${id}/intakes`, {
      revision: 0,
      intake: intakeOf(file.sha256, file.id),
    });
    expect(job.state).toBe('working');
    const state = await untilIntake(id, 1);
    expect(state.files[0].name).toBe('shots.csv');
    const summary = await summaryOf(id, state);
    expect(summary.points).toBe(400);
    expect(summary.surfaces[0].triangles).toBe(2 * 19 * 19);
    const back = await ina.send('GET', `/projects/${id}/files/${file.id}`);
    expect(await back.text()).toBe(text);
    expect(back.headers.get('content-disposition')).toContain('attachment');
  });

  it('stopped half way leaves no trace but the received file', async () => {
    const id = await begin('Stopped');
    const file = await receive(id, grid(300));
    const job = await ina.json<Job>('POST', `/projects/${id}/intakes`, {
      revision: 0,
      intake: intakeOf(file.sha256, file.id),
    });
    await ina.json('DELETE', `/projects/${id}/jobs/${job.id}`);
    await new Promise((r) => setTimeout(r, 500));
    const state = await ina.settled(id);
    expect(state.revision).toBe(0);
    expect(state.document.intakes).toEqual([]);
    // The threads are still there for the next one.
    await ina.json('POST', `/projects/${id}/intakes`, { revision: 0, intake: intakeOf(file.sha256, file.id) });
    expect((await summaryOf(id, await untilIntake(id, 1))).points).toBe(90_000);
  }, 240_000);

  it('of binary, empty and hopeless files fails in a sentence and changes nothing', async () => {
    const id = await begin('Hopeless');
    expect((await ina.send('POST', `/projects/${id}/files?name=a`, new Uint8Array(0))).status).toBe(400);
    const binary = await ina.json<{ id: string; sha256: string }>(
      'POST',
      `/projects/${id}/files?name=a.bin`,
      Uint8Array.from({ length: 3000 }, (_, i) => (i * 131) % 256),
    );
    await ina.json('POST', `/projects/${id}/intakes`, {
      revision: 0,
      intake: intakeOf(binary.sha256, binary.id, { fileName: 'a.bin' }),
    });
    await new Promise((r) => setTimeout(r, 800));
    expect((await ina.settled(id)).revision).toBe(0);
  });

  it('of one point, and of points in a line, gives no surface and no failure', async () => {
    for (const text of ['1,10,20,5,GR\n', '1,10,20,5,GR\n2,20,30,6,GR\n3,30,40,7,GR\n']) {
      const id = await begin('Thin');
      const file = await receive(id, text);
      await ina.change(id, { op: 'intake.add', intake: intakeOf(file.sha256, file.id) });
      const summary = await summaryOf(id, await ina.settled(id));
      expect(summary.surfaces[0].triangles).toBe(0);
      expect(summary.points).toBeGreaterThan(0);
    }
  });

  async function untilIntake(id: string, revision: number): Promise<ProjectState> {
    for (let i = 0; i < 4400; i++) {
      const state = await ina.state(id);
      if (state.revision >= revision && state.settled?.revision === state.revision) return state;
      await new Promise((r) => setTimeout(r, 50));
    }
    throw new Error('The intake did not end.');
  }
});

describe('queries', () => {
  it('are accepted by the person who is signed in, whatever the page says', async () => {
    const id = await begin('Accept');
    const file = await receive(id, '1,10,20,5,ZZ\n2,12,22,5,GR\n3,14,20,5,GR\n');
    await ina.change(id, { op: 'intake.add', intake: intakeOf(file.sha256, file.id) });
    const query = (await summaryOf(id, await ina.settled(id))).queries[0];
    const accept: Change = {
      op: 'query.accept',
      key: query.key,
      accepted: { evidence: query.evidence, reason: 'a local mark', by: 'Somebody Else', at: '1999' },
    };
    await ina.change(id, accept);
    const after = (await summaryOf(id, await ina.settled(id))).queries[0];
    expect(after.accepted).toMatchObject({ by: 'Ina Quillow', reason: 'a local mark' });
    expect(after.accepted!.at).not.toBe('1999');
  });
});

describe('a whole project', () => {
  it('is copied with everything: files, edits and decisions as they stand, and the same results; its history stays behind', async () => {
    const before = await ina.settled(world.demo);
    const made = (await ina.json<{ id: string }>('POST', '/projects', { name: 'Copy', copy: world.demo, whole: true }))
      .id;
    const after = await ina.settled(made);
    expect(after.revision).toBe(0);
    expect(after.document).toEqual(before.document);
    expect(after.files.map((f) => [f.id, f.sha256])).toEqual(before.files.map((f) => [f.id, f.sha256]));
    expect(after.settled!.stages).toEqual(before.settled!.stages);
    expect(await ina.json('GET', `/projects/${made}/changes`)).toEqual([]);
    // The two go their own ways.
    await ina.change(made, { op: 'settings.set', settings: { contourInterval: 2 } });
    expect((await ina.state(world.demo)).document.settings.contourInterval).not.toBe(2);
    const stays = await ina.send('GET', `/projects/${made}/files/${after.files[0].id}`);
    expect(stays.status).toBe(200);
  });
});

describe('packages', () => {
  const spec = {
    name: 'Crew',
    unit: 'm',
    files: [
      { kind: 'csv', order: ['P', 'E', 'N', 'Z', 'D'], decimals: 3, separator: ',', headings: false, control: true },
      { kind: 'landxml', decimals: 4 },
    ],
  };

  it('are made of one revision, read back, kept, and downloaded as a zip whose checksums hold', async () => {
    const state = await ina.settled(world.demo);
    const { id } = await ina.json<{ id: string }>('POST', `/projects/${world.demo}/packages`, {
      revision: state.revision,
      spec,
    });
    const card = (await ina.json<PackageCard[]>('GET', `/projects/${world.demo}/packages`)).find((p) => p.id === id)!;
    expect(card).toMatchObject({ revision: state.revision, name: 'Crew', madeBy: 'Ina Quillow' });
    const zip = unzipSync(
      new Uint8Array(await (await ina.send('GET', `/projects/${world.demo}/packages/${id}`)).arrayBuffer()),
    );
    for (const f of card.manifest.files) {
      expect(createHash('sha256').update(zip[f.name]).digest('hex')).toBe(f.sha256);
      expect(f.readBack.ok).toBe(true);
    }
    expect(JSON.parse(new TextDecoder().decode(zip['manifest.json']))).toEqual(card.manifest);
  });

  it('made twice of one state have two file names, and are withdrawn with a reason or deleted', async () => {
    const { revision } = await ina.settled(world.demo);
    const at = `/projects/${world.demo}/packages`;
    const both = await Promise.all([1, 2].map(() => ina.json<{ id: string }>('POST', at, { revision, spec: { ...spec, name: 'Łódź' } }))); // prettier-ignore
    const names = await Promise.all(both.map(async ({ id }) => (await ina.send('GET', `${at}/${id}`)).headers.get('content-disposition')!)); // prettier-ignore
    expect(new Set(names).size).toBe(2);
    expect(decodeURIComponent(names.join())).toContain('Łódź');
    const [one, two] = both.map((b) => b.id);
    expect((await ina.send('POST', `${at}/${one}/withdraw`, { why: ' ' })).status).toBe(400);
    await ina.send('POST', `${at}/${one}/withdraw`, { why: 'wrong backsight at KB4' });
    expect((await ina.send('POST', `${at}/${one}/withdraw`, { why: 'again' })).status).toBe(404);
    const gone = await ina.send('GET', `${at}/${one}`);
    expect([gone.status, ((await gone.json()) as { problem: string }).problem]).toEqual([410, 'This package was withdrawn: wrong backsight at KB4']); // prettier-ignore
    const card = (await ina.json<PackageCard[]>('GET', at)).find((p) => p.id === one)!;
    expect(card.withdrawn).toMatchObject({ by: 'Ina Quillow', why: 'wrong backsight at KB4' });
    expect(card.spec).toMatchObject({ name: 'Łódź' });
    expect((await ina.send('DELETE', `${at}/${two}`)).status).toBe(204);
    expect((await ina.json<PackageCard[]>('GET', at)).map((p) => p.id)).not.toContain(two);
  });

  it('that cannot be made in whole say which files could be', async () => {
    const { revision } = await ina.settled(world.demo);
    const drawing = { kind: 'dxf', version: 'R12', decimals: 3, textHeight: 0, parts: { points: false, lines: false, contours: false, surface: false } }; // prettier-ignore
    const files = [...spec.files, drawing];
    const refused = await ina.send('POST', `/projects/${world.demo}/packages`, { revision, spec: { ...spec, files } });
    expect([refused.status, ((await refused.json()) as { couldBe: string[] }).couldBe]).toEqual([422, ['points', 'ground']]); // prettier-ignore
    const made = await ina.json<{ manifest: PackageCard['manifest'] }>('POST', `/projects/${world.demo}/packages`, { revision, spec: { ...spec, files, partial: true } }); // prettier-ignore
    expect(made.manifest.notMade.map((n) => n.what)).toEqual(['Drawing']);
  });

  it('are refused when empty, or of a revision that is no longer the newest', async () => {
    const id = await begin('Empty');
    const empty = await ina.send('POST', `/projects/${id}/packages`, { revision: 0, spec });
    expect(empty.status).toBe(422);
    expect(((await empty.json()) as { problem: string }).problem).toContain('no points');
    expect((await ina.send('POST', `/projects/${world.demo}/packages`, { revision: 1, spec })).status).toBe(409);
  });
});

describe('the demo', () => {
  it('is loaded as the crews’ files stand in the repository', async () => {
    const state = await ina.settled(world.demo);
    for (const f of state.files) {
      const bytes = readFileSync(new URL(`../../demo/ostrel-landing/${f.name}`, import.meta.url));
      expect(f.sha256).toBe(createHash('sha256').update(bytes).digest('hex'));
    }
    expect(unpackPoints(await result(world.demo, state.settled!.stages.points)).x.length).toBe(833);
  });
});
