import { beforeEach, describe, expect, it, vi } from 'vitest';
import { newDocument, partsOf, type Change } from '#core/project';

const previews: ((p: unknown) => void)[] = [];
vi.mock('../../src/work/workers.ts', () => ({
  chainWork: () => ({ preview: () => new Promise((done) => previews.push(done)), cancelPreview: () => {} }),
  sheetWork: () => ({}),
  plotWork: () => ({}),
}));
const { useProject, isSettled } = await import('../../src/project-state/store.ts');

/** A server of one project: it counts revisions, and refuses what was not made of the newest. */
const server = { revision: 0, asked: [] as string[], sent: [] as unknown[], down: false };
let events: { onmessage: (m: { data: string }) => void; onopen: () => void; closed: boolean };
const state = () => ({
  project: { id: 'p' },
  revision: server.revision,
  anew: true,
  parts: partsOf(newDocument()),
  settled: null,
  settledMark: null,
  files: [],
  filesMark: '0',
  jobs: [],
  undo: server.revision > 0 ? `change ${server.revision}` : null,
  redo: null,
});
const answer = (status: number, body: unknown): Response => new Response(JSON.stringify(body), { status });

vi.stubGlobal('fetch', async (url: string, options: { method: string; body?: string }) => {
  await Promise.resolve();
  if (server.down) throw new TypeError('no network');
  server.asked.push(`${options.method} ${url}`);
  if (options.method === 'GET') return answer(200, state());
  const body = JSON.parse(options.body!) as { base?: number; revision?: number };
  server.sent.push(body);
  const base = Object.values(body).find((v) => typeof v === 'number');
  if (base !== server.revision)
    return answer(409, {
      problem: 'Others have changed the project meanwhile.',
      since: [{ revision: server.revision }],
    });
  server.revision++;
  return answer(200, state());
});
vi.stubGlobal(
  'EventSource',
  class {
    closed = false;
    onmessage = () => {};
    onopen = () => {};
    constructor() {
      events = this as never;
    }
    close(): void {
      this.closed = true;
    }
  },
);
const quiet = async (): Promise<void> => {
  for (let i = 0; i < 30; i++) await Promise.resolve();
  await new Promise((r) => setTimeout(r, 5));
};
const store = () => useProject.getState();
const change: Change = { op: 'points.edit', edits: { 'b:1': { set: { height: 1.5 }, undo: [] } } };

beforeEach(async () => {
  Object.assign(server, { revision: 3, asked: [], sent: [], down: false });
  previews.length = 0;
  useProject.setState({ id: '', pending: null, problem: null, notice: null });
  store().open('p');
  await quiet();
});

describe('the project on a page', () => {
  it('is done on the revision that was seen, with the reason that was given, and shows the next one', async () => {
    void store().propose('height', change);
    await store().accept(' the pole was changed ');
    expect(server.sent).toEqual([expect.objectContaining({ change: { ...change, why: 'the pole was changed' } })]);
    expect(store().pending).toBeNull();
    expect(store().state!.revision).toBe(4);
    expect(isSettled(store())).toBe(false);
  });

  it('refused because others have written, keeps what was proposed, says who, and can be done again', async () => {
    void store().propose('height', change);
    server.revision = 7;
    await store().accept();
    expect(store().pending?.change).toEqual(change);
    expect(store().problem).toContain('Others have changed');
    expect(store().conflict?.since).toEqual([{ revision: 7 }]);
    expect(store().state!.revision).toBe(7);
    await store().accept();
    expect(store().pending).toBeNull();
    expect(server.revision).toBe(8);
  });

  it('without a server keeps what was proposed', async () => {
    void store().propose('height', change);
    server.down = true;
    await store().accept();
    expect(store().pending?.change).toEqual(change);
    expect(store().problem).toContain('does not answer');
    expect(store().busy).toBe(false);
  });

  it('takes back one change after the other, however fast the key is pressed', async () => {
    void store().takeBack('undo');
    void store().takeBack('undo');
    await store().takeBack('undo');
    expect(server.revision).toBe(6);
    expect(store().problem).toBeNull();
    expect(store().notice).toBe('Undone: change 5');
  });

  it('shows the preview of what was proposed last, never of what came before it', async () => {
    useProject.setState({ tables: { stages: { reads: {} } } as never });
    void store().propose('one', change);
    void store().propose('two', change);
    await quiet();
    previews[1]({ preview: { points: 2 }, places: null });
    await quiet();
    previews[0]({ preview: { points: 1 }, places: null });
    await quiet();
    expect(store().pending).toMatchObject({ label: 'two', preview: { points: 2 } });
    void store().propose('three', change);
    store().cancel();
    previews[2]({ preview: { points: 3 }, places: null });
    await quiet();
    expect(store().pending).toBeNull();
    useProject.setState({ tables: null });
  });

  it('hears of others: their revisions are fetched, their work is shown until it ends', async () => {
    const say = (event: object): void => events.onmessage({ data: JSON.stringify({ project: 'p', ...event }) });
    server.asked.length = 0;
    say({ type: 'revision', revision: 3 });
    await quiet();
    expect(server.asked).toEqual([]);
    server.revision = 5;
    say({ type: 'revision', revision: 5 });
    say({ type: 'revision', revision: 9, project: 'another' });
    await quiet();
    expect(server.asked).toHaveLength(1);
    expect(store().state!.revision).toBe(5);
    say({ type: 'job', job: { id: 'j', state: 'working' } });
    expect(store().jobs).toHaveLength(1);
    say({ type: 'job', job: { id: 'j', state: 'failed', message: 'It cannot be read.' } });
    expect(store().jobs).toEqual([]);
    expect(store().notice).toBe('It cannot be read.');
    say({ type: 'here', who: { account: 'x', name: 'Ida' } });
    expect(Object.keys(store().others)).toEqual(['x']);
    say({ type: 'left', account: 'x' });
    expect(store().others).toEqual({});
  });

  it('catches up with what was missed when the connection comes again', async () => {
    server.revision = 11;
    events.onopen();
    await quiet();
    expect(store().state!.revision).toBe(11);
  });
});
