import { create } from 'zustand';
import type { ChangeEntry, Job, LiveEvent, Presence, ProjectState } from '#contract';
import { asksWhy, type Change, type ChangePreview, type Query, type Stage } from '#core/chain';
import { api, ApiProblem, problemText } from '../api.ts';
import { chainWork } from '../work/workers.ts';
import type { Snapped } from '../sheet/snap.ts';
import { loadTables, type Tables } from './tables.ts';

/** What is selected, in ledger and sheet alike. */
export type Selection =
  | { kind: 'point'; row: number }
  | { kind: 'line'; key: string }
  | { kind: 'query'; key: string }
  | { kind: 'comparison'; id: string }
  | { kind: 'record'; intake: string; row: number }
  | null;

export interface PendingChange {
  label: string;
  change: Change;
  preview: ChangePreview | null;
  places: Float64Array | null;
  problem: string | null;
  /** The query that it would settle, if it is a remedy. */
  query: string | null;
}

/** What is being drawn on the sheet: a closed ring, or an open course whose places are held by points and lines. */
export interface Drawing {
  purpose: string;
  places: Snapped[];
  finish: (ring: number[]) => void;
  course?: {
    /** So many places end it by themselves; null for as many as one likes. */
    most: number | null;
    /** Places are taken where the hand points, held by nothing. */
    free?: boolean;
    finish: (places: Snapped[]) => void;
  };
}

/** What is tried before it is proposed: places, and arrows from x, y to x, y, m. */
export interface Sketch {
  places: Float64Array;
  /** How the places are marked; dots unless said. */
  mark?: 'dot' | 'ring';
  arrows: number[][];
  /** Courses x, y, x, y … */
  courses?: number[][];
  about: string;
}

interface ProjectStore {
  id: string;
  state: ProjectState | null;
  tables: Tables | null;
  problem: string | null;
  /** A write that was refused because others had written: what changed meanwhile. */
  staleSince: ChangeEntry[] | null;
  notice: string | null;
  jobs: Job[];
  selection: Selection;
  pending: PendingChange | null;
  drawing: Drawing | null;
  sketch: Sketch | null;
  busy: boolean;
  /** Others who have the project open now, by account. */
  others: Record<string, Presence & { heard: number }>;

  open: (id: string) => () => void;
  refresh: () => Promise<void>;
  select: (selection: Selection) => void;
  propose: (label: string, change: Change, query?: string) => Promise<void>;
  /** Does what is proposed; `why` is kept with it where it is a change that somebody may ask about. */
  accept: (why?: string) => Promise<void>;
  cancel: () => void;
  make: (change: Change) => Promise<boolean>;
  takeBack: (kind: 'undo' | 'redo') => Promise<void>;
  draw: (drawing: Drawing | null) => void;
  tell: (notice: string | null) => void;
  clearProblem: () => void;
}

let proposal = 0;

export const useProject = create<ProjectStore>((set, get) => ({
  id: '',
  state: null,
  tables: null,
  problem: null,
  staleSince: null,
  notice: null,
  jobs: [],
  selection: null,
  pending: null,
  drawing: null,
  sketch: null,
  busy: false,
  others: {},

  open(id) {
    if (get().id !== id)
      set({
        id,
        state: null,
        tables: null,
        problem: null,
        staleSince: null,
        notice: null,
        jobs: [],
        selection: null,
        pending: null,
        drawing: null,
        sketch: null,
        others: {},
      });
    void get().refresh();
    const events = new EventSource(`/api/projects/${id}/events`);
    events.onmessage = (message: MessageEvent<string>) => hear(JSON.parse(message.data) as LiveEvent);
    // After a broken connection, what was missed meanwhile.
    events.onopen = () => void get().refresh();
    return () => events.close();
  },

  async refresh() {
    const { id } = get();
    try {
      const state = await api.state(id);
      if (get().id !== id) return;
      set({ state, jobs: state.jobs });
      if (state.settled && state.settled.revision !== get().tables?.revision) {
        const books = state.document.intakes.filter((i) => i.form === 'book').map((i) => i.id);
        const tables = await loadTables(id, state.settled, books);
        if (get().id === id && tables.revision >= (get().tables?.revision ?? -1))
          set({ tables, selection: keepSelection(get(), tables) });
      }
    } catch (error) {
      if (get().id === id) set({ problem: problemText(error) });
    }
  },

  select: (selection) => set({ selection }),

  async propose(label, change, query) {
    const { state, tables, id } = get();
    const mine = ++proposal;
    set({ pending: { label, change, preview: null, places: null, problem: null, query: query ?? null } });
    if (!state || !tables) return;
    try {
      const { preview, places } = await chainWork().preview(state.document, change, {
        project: id,
        hashes: tables.stages.reads,
      });
      if (mine === proposal && get().pending) set({ pending: { ...get().pending!, preview, places } });
    } catch (error) {
      if (mine === proposal && get().pending) set({ pending: { ...get().pending!, problem: problemText(error) } });
    }
  },

  async accept(why) {
    const { pending } = get();
    if (!pending) return;
    const { change } = pending;
    const said = why?.trim();
    if (await get().make(said && asksWhy(change) ? { ...change, why: said } : change)) set({ pending: null });
  },

  cancel() {
    proposal++;
    set({ pending: null });
  },

  async make(change) {
    const { id, state } = get();
    if (!state) return false;
    set({ busy: true });
    try {
      await api.change(id, state.revision, change);
      await get().refresh();
      return true;
    } catch (error) {
      await refused(error);
      return false;
    } finally {
      set({ busy: false });
    }
  },

  takeBack(kind) {
    const { id } = get();
    // One pressed while another is under way takes its turn, on the revision that the first one makes.
    takingBack = takingBack.then(async () => {
      const { state } = get();
      if (!state || get().id !== id || !state[kind]) return;
      try {
        await api[kind](id, state.revision);
        await get().refresh();
        set({ notice: kind === 'undo' ? `Taken back: ${state.undo ?? ''}` : `Brought again: ${state.redo ?? ''}` });
      } catch (error) {
        await refused(error);
      }
    });
    return takingBack;
  },

  draw: (drawing) => set({ drawing }),
  tell: (notice) => set({ notice }),
  clearProblem: () => set({ problem: null, staleSince: null }),
}));

let takingBack: Promise<void> = Promise.resolve();

/** Set by the workspace: tells the others where this page is. */
export const sayHere: { now: () => void; account: string } = { now: () => {}, account: '' };

async function refused(error: unknown): Promise<void> {
  useProject.setState({
    problem: problemText(error),
    staleSince: error instanceof ApiProblem ? (error.body.since ?? null) : null,
  });
  if (error instanceof ApiProblem && error.status === 409) await useProject.getState().refresh();
}

/** A selected row stays with its point when the table is rebuilt. */
function keepSelection({ selection, tables, state }: ProjectStore, next: Tables): Selection {
  if (selection?.kind !== 'point' || !tables || !state) return selection;
  const intake = tables.points.intake[selection.row];
  const fileRow = tables.points.fileRow[selection.row];
  const { points } = next;
  if (points.intake[selection.row] === intake && points.fileRow[selection.row] === fileRow) return selection;
  for (let row = 0; row < points.x.length; row++)
    if (points.intake[row] === intake && points.fileRow[row] === fileRow) return { kind: 'point', row };
  return null;
}

function hear(event: LiveEvent): void {
  const store = useProject.getState();
  if (event.project !== store.id) return;
  if (event.type === 'job') {
    const others = store.jobs.filter((j) => j.id !== event.job.id);
    useProject.setState({ jobs: event.job.state === 'working' ? [...others, event.job] : others });
    if (event.job.state === 'failed' || event.job.state === 'stopped')
      useProject.setState({ notice: event.job.message });
    return;
  }
  if (event.type === 'here') {
    if (event.who.account === sayHere.account) return;
    useProject.setState({ others: { ...store.others, [event.who.account]: { ...event.who, heard: Date.now() } } });
    return;
  }
  if (event.type === 'left') {
    const { [event.account]: _, ...others } = store.others;
    useProject.setState({ others });
    return;
  }
  if (event.type === 'who') {
    sayHere.now();
    return;
  }
  if (event.type === 'revision' && event.revision <= (store.state?.revision ?? -1)) return;
  if (event.type === 'settled' && event.revision <= (store.tables?.revision ?? -1)) return;
  void store.refresh();
}

export const openQueries = (queries: readonly Query[], stage?: Stage): Query[] =>
  queries.filter((q) => !q.accepted && (!stage || q.stage === stage));

export const isSettled = (s: Pick<ProjectStore, 'state' | 'tables'>): boolean =>
  s.state !== null && s.tables?.revision === s.state.revision;
