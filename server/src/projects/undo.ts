import {
  documentOf as documentOfParts,
  hangsOnSurfaces,
  upgradeChange,
  type Change,
  type HistoryUnits,
  type PartsWanted,
} from '#core/project';
import type { ChangeEntry } from '#contract';
import { lockProject, meet, propose, shownOf, wouldSet, write, type ChangeHead } from './changes.ts';
import { readParts } from './documents.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { Refusal } from '../http/problems.ts';

// Undo and redo: a person takes back what is their own, in any order, each time as a change of its own.

/** The newest word on a change: whether it was taken back, or brought again; null where neither. */
const LAST = `(select l.kind from change l where l.project_id = c.project_id and l.about = c.revision order by l.revision desc limit 1)`; // prettier-ignore
/** Whether a change stands now. */
export const STANDS = `(c.kind = 'do' and coalesce(${LAST}, 'redo') = 'redo')`;

const NEXT = {
  undo: `select c.revision, c.what from change c where c.project_id = $1 and c.account_id = $2 and c.kind = 'do' and ${STANDS}
     and ($3::int is null or c.revision = $3) order by c.revision desc limit 1`,
  // What this person took back is overwritten by what this person does next; others' is not.
  redo: `select c.revision, c.what from change l join change c on c.project_id = l.project_id and c.revision = l.about
     where l.project_id = $1 and l.account_id = $2 and l.kind = 'undo' and not ${STANDS} and ($3::int is null or c.revision = $3)
     and l.revision > coalesce((select max(revision) from change where project_id = $1 and account_id = $2 and kind = 'do'), 0)
     and not exists (select 1 from change n where n.project_id = $1 and n.about = l.about and n.revision > l.revision)
     order by l.revision desc limit 1`,
};

async function next(
  db: Pool | Client,
  project: string,
  account: string,
  kind: 'undo' | 'redo',
  about: number | null = null,
): Promise<{ revision: number; what: string } | null> {
  const found = await db.query<{ revision: number; what: string }>(NEXT[kind], [project, account, about]);
  return found.rows[0] ?? null;
}

/** What undo and redo would do now for one person: their newest change that stands, and their newest taken back and not overwritten. */
export async function undoLabels(
  db: Pool | Client,
  project: string,
  account: string,
): Promise<{ undo: string | null; redo: string | null }> {
  const [undo, redo] = [await next(db, project, account, 'undo'), await next(db, project, account, 'redo')];
  return { undo: undo?.what ?? null, redo: redo?.what ?? null };
}

export interface UndoRequest {
  kind: 'undo' | 'redo';
  /** The revision of the change that is meant; without it the newest. */
  about?: number;
  /** Though somebody has changed the same since. */
  despite?: boolean;
}

const NOTHING = {
  undo: ['There is nothing of yours to undo.', 'This change is not yours, or was undone already.'],
  redo: ['There is nothing of yours to redo.', 'This change was not undone by you, or something of yours came after it.'], // prettier-ignore
};

/**
 * Takes a person's own change back, or brings it again, as a change of its own. Whatever others did meanwhile: only what
 * was done to the same thing stands in the way, and is shown before it is overwritten.
 */
export function undoOrRedo(
  pool: Pool,
  project: string,
  account: string,
  { kind, about, despite = false }: UndoRequest,
): Promise<number> {
  return inTransaction(pool, async (client) => {
    const revision = await lockProject(client, project);
    const target = await next(client, project, account, kind, about);
    if (!target) throw new Refusal(409, NOTHING[kind][about === undefined ? 0 : 1]);
    const change = await currentChange(client, project, await changeOf(client, project, target.revision, kind));
    const proposed = await propose(client, project, revision, change);
    const { document } = proposed.before;
    if (!despite) {
      const since = await inTheWay(client, project, target.revision, change, document.settings);
      if (since.length)
        throw new Refusal(
          409,
          `“${target.what}” is not ${kind === 'undo' ? 'undone' : 'redone'} yet: ${since[0].by} has changed the same since (revision ${since[0].revision}).`,
          { revision, since, yours: wouldSet(document, change) },
        );
    }
    const what = `${kind === 'undo' ? 'undid' : 'redid'}: ${target.what}`;
    return write(client, project, account, proposed, { kind, about: target.revision, what });
  });
}

/** A change to do again, or its inverse: one that was brought again has a newer inverse, stored with its redo. */
async function changeOf(client: Client, project: string, revision: number, kind: 'undo' | 'redo'): Promise<Change> {
  const found = await client.query<{ change: Change; inverse: Change }>(
    `select c.change, coalesce((select r.inverse from change r where r.project_id = $1 and r.about = $2 and r.kind = 'redo'
       order by r.revision desc limit 1), c.inverse) as inverse from change c where c.project_id = $1 and c.revision = $2`,
    [project, revision],
  );
  return kind === 'undo' ? found.rows[0].inverse : found.rows[0].change;
}

/** A kept change as this version has it. */
async function currentChange(client: Client, project: string, change: Change): Promise<Change> {
  const surfaces: PartsWanted[] = [
    { kind: 'surface', all: true },
    { kind: 'surface-row', all: true },
  ];
  const parts = hangsOnSurfaces(change) ? await readParts(client, project, surfaces) : [];
  return upgradeChange(change, documentOfParts(parts).document);
}

/** How many changes are looked through at a time, and how many are shown. */
const PAGE = 500;
const MOST = 10;

/** Later changes that stand and speak of the same, newest first, with what they set. */
async function inTheWay(
  client: Client,
  project: string,
  revision: number,
  change: Change,
  settings: HistoryUnits,
): Promise<ChangeEntry[]> {
  const out: ChangeEntry[] = [];
  for (let after = revision; out.length < MOST;) {
    const found = await client.query<ChangeHead & { change: Change; inverse: Change }>(
      `select c.revision, c.at, a.name as by, c.kind, c.about, c.what, c.change, c.inverse from change c join account a on a.id = c.account_id
       where c.project_id = $1 and c.revision > $2 and ${STANDS} order by c.revision limit ${PAGE}`,
      [project, after],
    );
    for (const { change: later, inverse, at, ...entry } of found.rows)
      if (out.length < MOST && meet(later, change))
        out.push({ ...entry, at: at.toISOString(), ...shownOf(later, inverse, settings) });
    if (found.rows.length < PAGE) break;
    after = found.rows.at(-1)!.revision;
  }
  return out.reverse();
}
