import { plainIntake, type Change, type Intake } from '#core/project';
import type { ProjectMoved } from '#contract';
import { knownOf, receive, type Received } from '../web/src/frame/received.ts';
import { makeWorld, Person, type World } from '../server/test/world.ts';

// One change stored, told to an open page, and fetched by it, in a project with 100,000 edited points of 20 files and in
// an empty one.

const FILES = 20;
const EDITS = 100_000;
const LAYOUT = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'] as Intake['layout']['roles'], unit: 'm' as const }; // prettier-ignore
const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];

interface OpenPage {
  person: Person;
  project: string;
  received: Received | null;
  bytes: number;
  /** Resolves with the next revision that is told. */
  told: () => Promise<void>;
}

async function refresh(page: OpenPage): Promise<void> {
  const known = new URLSearchParams(Object.entries(knownOf(page.received)).map(([k, v]) => [k, String(v)]));
  const response = await page.person.send('GET', `/projects/${page.project}/moved?${known.toString()}`);
  const text = await response.text();
  page.bytes = text.length;
  page.received = receive(page.received, JSON.parse(text) as ProjectMoved);
}

async function openPage(world: World, person: Person, project: string): Promise<OpenPage> {
  const events = await fetch(`${world.base}/projects/${project}/events`, { headers: { cookie: person.cookie } });
  const reader = events.body!.getReader();
  let wake: () => void = () => {};
  void (async () => {
    for (;;) {
      const { done, value } = await reader.read().catch(() => ({ done: true, value: undefined }));
      if (done) return;
      if (new TextDecoder().decode(value).includes('"revision"')) wake();
    }
  })();
  const page: OpenPage = { person, project, received: null, bytes: 0, told: () => new Promise((r) => (wake = r)) };
  await refresh(page);
  return page;
}

async function change(page: OpenPage, made: Change): Promise<void> {
  const { revision } = page.received!.state;
  await page.person.json('POST', `/projects/${page.project}/changes`, { revision, change: made });
}

async function fill(page: OpenPage): Promise<void> {
  const each = EDITS / FILES;
  for (let f = 0; f < FILES; f++) {
    const rows = Array.from({ length: each }, (_, i) => `${f * each + i + 1},${i % 100},${f * 100 + Math.floor(i / 100)},5,GR`); // prettier-ignore
    const file = await page.person.json<{ id: string; sha256: string }>('POST', `/projects/${page.project}/files?name=f${f}.csv`, new TextEncoder().encode(rows.join('\n'))); // prettier-ignore
    await change(page, { op: 'intake.add', intake: plainIntake(`f${f}`, { fileId: file.id, fileName: `f${f}.csv`, sha256: file.sha256, layout: LAYOUT }) }); // prettier-ignore
    await refresh(page);
    const edits = Object.fromEntries(rows.map((_, i) => [`f${f}:${i + 1}`, { set: { z: 5 + (i % 7) / 10 }, undo: [] }])); // prettier-ignore
    await change(page, { op: 'points.edit', edits });
    await refresh(page);
  }
}

/** Milliseconds from writing to having what was written, while nothing else is computed. */
async function once(page: OpenPage, made: Change): Promise<number> {
  await page.person.settled(page.project);
  await refresh(page);
  const told = page.told();
  const start = performance.now();
  await change(page, made);
  await told;
  await refresh(page);
  return performance.now() - start;
}

export async function storeFigure(): Promise<void> {
  console.log(`One change stored, told and fetched, with ${EDITS.toLocaleString('en')} edited points of ${FILES} files beside an empty project (wanted: ratio not over 1.5)`); // prettier-ignore
  const scripts = new URL('../scripts/', import.meta.url).href;
  const { startDatabase } = (await import(`${scripts}database.mjs`)) as { startDatabase: () => Promise<{ url: string; stop: () => void }> }; // prettier-ignore
  const database = await startDatabase();
  process.env.DATABASE_URL = database.url;
  const world = await makeWorld();
  try {
    const person = await Person.demo(world);
    const begin = async (name: string): Promise<OpenPage> =>
      openPage(world, person, (await person.json<{ id: string }>('POST', '/projects', { name })).id);
    const [full, empty] = [await begin('Full'), await begin('Empty')];
    await fill(full);
    const times: [number, number, number][] = [];
    let bytes: [number, number, number] = [0, 0, 0];
    for (let i = -3; i < 15; i++) {
      const settings: Change = { op: 'settings.set', settings: { decimals: 1 + (Math.abs(i) % 4) } };
      const a = await once(empty, settings);
      const emptyBytes = empty.bytes;
      const b = await once(full, settings);
      const fullBytes = full.bytes;
      const c = await once(full, { op: 'points.edit', edits: { [`f7:${i + 10}`]: { set: { z: 4 + i / 100 }, undo: [] } } }); // prettier-ignore
      bytes = [emptyBytes, fullBytes, full.bytes];
      if (i >= 0) times.push([a, b, c]);
    }
    const [a, b, c] = [0, 1, 2].map((k) => median(times.map((t) => t[k])));
    console.log(`  a setting: empty ${a.toFixed(1)} ms and ${bytes[0]} bytes, full ${b.toFixed(1)} ms and ${bytes[1]} bytes, ratio ${(b / a).toFixed(2)} and ${(bytes[1] / bytes[0]).toFixed(2)}`); // prettier-ignore
    console.log(`  an edited point in the full one: ${c.toFixed(1)} ms and ${bytes[2]} bytes, ratio ${(c / a).toFixed(2)} and ${(bytes[2] / bytes[0]).toFixed(2)} (15 of each)`); // prettier-ignore
  } finally {
    await world.end();
    database.stop();
  }
}
