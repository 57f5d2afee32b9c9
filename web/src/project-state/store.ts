import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { ChangeEntry, Job, LiveEvent, Presence, ProjectState, Settling } from '#contract';
import type { ChangePreview } from '#core/chain';
import { asksWhy, hasUnderlay, plainIntake, type Change, type ChangeDetail, type Stage } from '#core/project';
import type { Query } from '#core/queries';
import { api, ApiProblem, problemText, type UndoOf } from '../frame/api.ts';
import { chainWork } from '../work/workers.ts';
import type { Snapped } from './snap.ts';
import { knownOf, receive, type Received } from '../frame/received.ts';
import { loadTables, type Tables } from './tables.ts';

/** What is selected, in ledger and sheet alike. */
export type Selection =
  | { kind: 'point'; row: number }
  | { kind: 'line'; key: string }
  | { kind: 'query'; key: string }
  /** `still`: the drawing stays where it is, as the address has it. */
  | { kind: 'comparison'; id: string; still?: boolean }
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
  /** What the person was looking at when it was proposed. */
  revision: number;
}

/** What is being drawn on the drawing: a closed ring, or an open course whose places are held by points and lines. */
export interface Trace {
  purpose: string;
  places: Snapped[];
  finish: (ring: number[]) => void;
  course?: {
    /** So many places end it by themselves; null for as many as one likes. */
    most: number | null;
    /** Places are taken where the hand points, held by no point or line of the project. */
    free?: boolean;
    /** Other places that hold it, x, y …, m: what was traced so far, the line before it too. */
    also?: () => readonly number[];
    /** Back at its first place it is closed and ended. */
    closes?: boolean;
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
  /** Height differences that are painted in the place of the comparison’s own: x, y, m, three corners a piece. */
  pieces?: Float64Array;
  /** They are painted at one elevation: what follows the hand has no time to look the ground up. */
  flat?: boolean;
  about: string;
}

export interface ProjectStore {
  id: string;
  /** The newest state, its intakes in the order of the tables: what is shown, selected and edited is of one revision. */
  state: ProjectState | null;
  /** The same as the server sent it. */
  received: Received | null;
  tables: Tables | null;
  /** Revisions that this page made. */
  mine: number[];
  problem: string | null;
  /** A write that was refused because others had written: what changed meanwhile. */
  conflict: Conflict | null;
  notice: string | null;
  /** What is being computed, where that takes a while. */
  settling: Settling | null;
  jobs: Job[];
  /** Work that came to its end while this page listened, by its id. */
  ended: Record<string, Job>;
  /** The file that this person imported last: its account stands open. */
  imported: string | null;
  selection: Selection;
  pending: PendingChange | null;
  traced: Trace | null;
  sketch: Sketch | null;
  /** A picture is traced over: what would cover it is not drawn. */
  tracing: boolean;
  /** Ends what the hand drags on the drawing, as it was before; null while it drags nothing. */
  dragged: (() => void) | null;
  busy: boolean;
  /** Others who have the project open now, by account. */
  others: Record<string, Presence & { heard: number }>;

  open: (id: string) => () => void;
  refresh: () => Promise<void>;
  select: (selection: Selection) => void;
  /** Shows what a change would do; `told`: the revision up to which somebody was told what changed meanwhile. */
  propose: (label: string, change: Change, query?: string, told?: number) => Promise<void>;
  /** Does what is proposed; `why` is kept with it where it is a change that somebody may ask about. */
  accept: (why?: string) => Promise<void>;
  cancel: () => void;
  /** Writes a change against what was looked at; `revision` where that was earlier than now. */
  make: (change: Change, revision?: number) => Promise<boolean>;
  takeBack: (kind: 'undo' | 'redo', which?: UndoOf) => Promise<void>;
  trace: (traced: Trace | null) => void;
  tell: (notice: string | null) => void;
  clearProblem: () => void;
}

let proposal = 0;

/** What somebody did to the same thing meanwhile, beside what one’s own change would set now; `again`: though it is so. */
export interface Conflict {
  since: ChangeEntry[];
  yours: ChangeDetail[];
  again: { label: string; run: () => Promise<void> };
}

/** What a page has of a project before it is told anything. */
const NOTHING_OPEN = {
  state: null,
  received: null,
  tables: null,
  mine: [],
  problem: null,
  conflict: null,
  notice: null,
  settling: null,
  jobs: [],
  ended: {},
  imported: null,
  selection: null,
  pending: null,
  traced: null,
  sketch: null,
  tracing: false,
  dragged: null,
  others: {},
} satisfies Partial<ProjectStore>;

export const useProject = create<ProjectStore>((set, get) => ({
  id: '',
  ...NOTHING_OPEN,
  busy: false,

  open(id) {
    if (get().id !== id) set({ id, ...NOTHING_OPEN });
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
      const moved = await api.moved(id, knownOf(get().received));
      if (get().id !== id) return;
      const received = receive(get().received, moved);
      if (received === get().received) return;
      const { state } = received;
      set({ received, state: inOrderOf(get().tables, state, get().state), jobs: state.jobs });
      if (state.settled && state.settled.revision !== get().tables?.revision) {
        const books = state.document.intakes.filter((i) => i.form === 'book').map((i) => i.id);
        const under = state.document.intakes.filter(hasUnderlay).map((i) => i.id);
        const loaded = await loadTables(id, state.settled, books, under);
        const newest = get().received;
        // Of results from before the order was kept with them, the newest order is the best that is known.
        const tables = { ...loaded, intakes: state.settled.stages.intakes ?? state.document.intakes.map((i) => i.id) };
        if (get().id === id && newest && tables.revision >= (get().tables?.revision ?? -1))
          set({ tables, state: inOrderOf(tables, newest.state, get().state), selection: keepSelection(get(), tables) });
      }
    } catch (error) {
      if (get().id === id) set({ problem: problemText(error) });
    }
  },

  select: (selection) => set({ selection }),

  async propose(label, change, query, told) {
    const { received, tables, id } = get();
    const state = received?.state;
    const mine = ++proposal;
    const revision = told ?? seenRevision(get());
    set({ pending: { label, change, preview: null, places: null, problem: null, query: query ?? null, revision } });
    if (!state || !tables) return;
    try {
      const { preview, places } = await chainWork().preview(state.revision, change, {
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
    const done = await get().make(said && asksWhy(change) ? { ...change, why: said } : change, pending.revision);
    if (done) return set({ pending: null });
    // Somebody was faster: what they did is said, and the effect is computed anew beside it.
    if (get().conflict && get().pending?.change === change)
      await get().propose(pending.label, change, pending.query ?? undefined, get().state?.revision);
  },

  cancel() {
    proposal++;
    void chainWork().cancelPreview();
    set({ pending: null });
  },

  async make(change, revision = seenRevision(get())) {
    const { id, state, mine } = get();
    if (!state) return false;
    set({ busy: true, conflict: null });
    try {
      const made = await api.change(
        id,
        revision,
        change,
        mine.filter((r) => r > revision),
      );
      if (get().id === id) set({ mine: [...get().mine, made.revision].slice(-500) });
      await get().refresh();
      return true;
    } catch (error) {
      await refused(error, {
        label: 'Make mine all the same',
        run: async () => void (await get().make(change, get().state?.revision)),
      });
      return false;
    } finally {
      set({ busy: false });
    }
  },

  takeBack(kind, which) {
    const { id } = get();
    // One pressed while another is under way takes its turn, on the revision that the first one makes.
    takingBack = takingBack.then(async () => {
      const { state } = get();
      if (!state || get().id !== id || !(which?.about || state[kind])) return;
      set({ conflict: null, problem: null });
      try {
        await api[kind](id, state.revision, which);
        await get().refresh();
        const what = which?.about === undefined ? (state[kind] ?? '') : `change ${which.about}`;
        set({ notice: `${kind === 'undo' ? 'Undone' : 'Redone'}: ${what}` });
      } catch (error) {
        const label = kind === 'undo' ? 'Undo it all the same' : 'Redo it all the same';
        await refused(error, { label, run: () => get().takeBack(kind, { ...which, despite: true }) });
      }
    });
    return takingBack;
  },

  trace: (traced) => set({ traced }),
  tell: (notice) => set({ notice }),
  clearProblem: () => set({ problem: null, conflict: null }),
}));

let takingBack: Promise<void> = Promise.resolve();

/** Set by the workspace: tells the others where this page is. */
export const sayHere: { now: () => void; account: string } = { now: () => {}, account: '' };

async function refused(error: unknown, again: Conflict['again']): Promise<void> {
  const body = error instanceof ApiProblem ? error.body : null;
  useProject.setState({
    problem: problemText(error),
    conflict: body?.since?.length ? { since: body.since, yours: body.yours ?? [], again } : null,
  });
  if (error instanceof ApiProblem && error.status === 409) await useProject.getState().refresh();
}

/** What is on the screen: what was computed, where that is older than what was entered. */
const seenRevision = ({ state, tables }: Pick<ProjectStore, 'state' | 'tables'>): number =>
  Math.min(state?.revision ?? 0, tables?.revision ?? state?.revision ?? 0);

/**
 * A document whose intakes stand in the order of the tables: points say by number which file they are of. While newer
 * results are computed, a file that was removed keeps its place, and one that was added comes last.
 */
function inOrderOf(tables: Tables | null, state: ProjectState, before: ProjectState | null): ProjectState {
  const { intakes } = state.document;
  if (!tables || tables.revision === state.revision) return state;
  const now = new Map(intakes.map((i) => [i.id, i]));
  const then = new Map(before?.document.intakes.map((i) => [i.id, i]));
  const kept = tables.intakes.map(
    (id) => now.get(id) ?? then.get(id) ?? plainIntake(id, { fileName: 'a deleted file', on: false }),
  );
  const added = intakes.filter((i) => !tables.intakes.includes(i.id));
  return { ...state, document: { ...state.document, intakes: [...kept, ...added] } };
}

/** A selected row stays with its point, by its file and row in it, when the table is rebuilt; what is gone is not selected. */
function keepSelection({ selection, tables }: ProjectStore, next: Tables): Selection {
  if (selection?.kind === 'record') return next.intakes.includes(selection.intake) ? selection : null;
  if (selection?.kind === 'line') return next.linework.lines.some((l) => l.key === selection.key) ? selection : null;
  if (selection?.kind === 'query') return next.summary.queries.some((q) => q.key === selection.key) ? selection : null;
  if (selection?.kind !== 'point' || !tables) return selection;
  const { points } = next;
  const intake = next.intakes.indexOf(tables.intakes[tables.points.intake[selection.row]]);
  const fileRow = tables.points.fileRow[selection.row];
  const isIt = (row: number): boolean => points.intake[row] === intake && points.fileRow[row] === fileRow;
  if (intake < 0) return null;
  if (isIt(selection.row)) return selection;
  for (let row = 0; row < points.x.length; row++) if (isIt(row)) return { kind: 'point', row };
  return null;
}

function hear(event: LiveEvent): void {
  const store = useProject.getState();
  if (event.project !== store.id) return;
  if (event.type === 'job') {
    const others = store.jobs.filter((j) => j.id !== event.job.id);
    useProject.setState({ jobs: event.job.state === 'working' ? [...others, event.job] : others });
    if (event.job.state !== 'working') useProject.setState({ ended: { ...store.ended, [event.job.id]: event.job } });
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
  if (event.type === 'settling') {
    if (event.revision > (store.tables?.revision ?? -1)) useProject.setState({ settling: event });
    return;
  }
  if (event.type === 'settled' || event.type === 'unsettled') useProject.setState({ settling: null });
  if (event.type === 'revision' && event.revision <= (store.state?.revision ?? -1)) return;
  if (event.type === 'settled' && event.revision <= (store.tables?.revision ?? -1)) return;
  void store.refresh();
}

export const openQueries = (queries: readonly Query[], stage?: Stage): Query[] =>
  queries.filter((q) => !q.accepted && (!stage || q.stage === stage));

export const isSettled = (s: Pick<ProjectStore, 'state' | 'tables'>): boolean =>
  s.state !== null && s.tables?.revision === s.state.revision;

/**
 * Some parts of what the page knows of its project: who reads them is drawn anew when one of them is another, and not for
 * every step from row to row.
 */
export const useParts = <K extends keyof ProjectStore>(...keys: K[]): Pick<ProjectStore, K> =>
  useProject(useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as Pick<ProjectStore, K>));
