import {
  applyChange,
  changeDetails,
  changeTouches,
  describeChange,
  upgradeChange,
  partsBetween,
  type Change,
  type ChangeDetail,
  type HistoryUnits,
  type ProjectDocument,
  type RankedDocument,
} from '#core/project';
import type { ChangeEntry } from '#contract';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { documentFor, writeParts } from './documents.ts';
import { announce } from '../http/live.ts';
import { notFound, Refusal, stale } from '../http/problems.ts';

/** A change as it stands in the table, who made it by name. */
export interface ChangeHead {
  revision: number;
  at: Date;
  by: string;
  kind: 'do' | 'undo' | 'redo';
  about: number | null;
  what: string;
}

/** Values of one change that a refusal shows. */
const MOST_SHOWN = 20;

/** Why somebody did it, where they said so. */
export const whyOf = (change: Change): { why?: string } => ('why' in change && change.why ? { why: change.why } : {});

/** What a change set, as far as a refusal shows it, and why. */
export const shownOf = (
  change: Change,
  inverse: Change,
  units: HistoryUnits,
): Pick<ChangeEntry, 'details' | 'why'> => ({
  details: changeDetails(change, inverse, units).slice(0, MOST_SHOWN),
  ...whyOf(change),
});

export async function changesSince(
  db: Pool | Client,
  project: string,
  revision: number,
  most = 200,
): Promise<ChangeEntry[]> {
  const rows = await db.query<ChangeHead>(
    `select c.revision, c.at, a.name as by, c.kind, c.about, c.what from change c join account a on a.id = c.account_id
     where c.project_id = $1 and c.revision > $2 order by c.revision desc limit $3`,
    [project, revision, most],
  );
  return rows.rows.map((r) => ({ ...r, at: r.at.toISOString() }));
}

/** A project’s newest revision, held until the transaction ends. Refused where it is archived. */
export async function lockProject(client: Client, project: string): Promise<number> {
  const found = await client.query<{ revision: number; archived_at: Date | null }>(
    'select revision, archived_at from project where id = $1 for update',
    [project],
  );
  const row = found.rows[0] as (typeof found.rows)[0] | undefined;
  if (!row) throw notFound();
  if (row.archived_at) throw new Refusal(409, 'This project is archived. Restore it from the archive to work on it.');
  return row.revision;
}

/** A change, and as much of the document as it has to know, of a project that is held at a revision. */
export interface Proposed {
  revision: number;
  change: Change;
  before: RankedDocument;
}

export const propose = async (
  client: Client,
  project: string,
  revision: number,
  change: Change,
): Promise<Proposed> => ({
  revision,
  change,
  before: await documentFor(client, project, change),
});

/** Applies a change, and stores the parts that it writes, and itself with its inverse; gives the new revision. */
export async function write(
  client: Client,
  project: string,
  account: string,
  { revision: last, change, before }: Proposed,
  { kind, about, what }: { kind: 'do' | 'undo' | 'redo'; about: number | null; what: string },
): Promise<number> {
  const applied = applyChange(before.document, change);
  if (!applied.ok) throw new Refusal(409, applied.reason);
  const revision = last + 1;
  await writeParts(client, project, revision, partsBetween(before, applied.document));
  await client.query('update project set revision = $2 where id = $1', [project, revision]);
  await client.query(
    'insert into change (project_id, revision, account_id, kind, about, what, change, inverse) values ($1, $2, $3, $4, $5, $6, $7, $8)',
    [project, revision, account, kind, about, what, JSON.stringify(change), JSON.stringify(applied.inverse)],
  );
  await announce(client, { type: 'revision', project, revision, by: account });
  return revision;
}

/** A change that an earlier version kept touches what it would touch today. */
const touchesOf = (change: Change): string[] => changeTouches(upgradeChange(change, { surfaces: [] }));

/** Whether two changes speak of the same thing, or one of a part of the other's. */
export const meet = (a: Change, b: Change): boolean => {
  const touched = touchesOf(a);
  return touchesOf(b).some((t) => touched.some((o) => t === o || t.startsWith(`${o}/`) || o.startsWith(`${t}/`)));
};

/**
 * A write against an older revision is refused, with what changed meanwhile, where somebody changed the same since. What
 * does not touch it is not stale. `mine`: revisions that came from the same page, which knows them.
 */
async function refuseStale(
  client: Client,
  project: string,
  account: string,
  { revision: newest, change, before }: Proposed,
  { revision, mine }: { revision: number; mine: readonly number[] },
): Promise<void> {
  if (newest === revision) return;
  const since = await changesSince(client, project, revision);
  // A revision that is not there yet was never looked at, and of a great many nobody can be shown what they did.
  if (revision > newest || newest - revision > since.length) throw stale(newest, since);
  const found = await client.query<{ revision: number; account_id: string; change: Change; inverse: Change }>(
    'select revision, account_id, change, inverse from change where project_id = $1 and revision > $2',
    [project, revision],
  );
  const known = new Set(mine);
  const others = found.rows.filter((c) => !(c.account_id === account && known.has(c.revision)));
  const same = new Map(others.filter((c) => meet(c.change, change)).map((c) => [c.revision, c]));
  if (!same.size) return;
  const { settings } = before.document;
  throw stale(
    newest,
    since.flatMap((c) => {
      const one = same.get(c.revision);
      return one ? [{ ...c, ...shownOf(one.change, one.inverse, settings) }] : [];
    }),
    wouldSet(before.document, change),
  );
}

/** What a change would set now, from what to what; empty where it cannot be applied at all. */
export function wouldSet(document: ProjectDocument, change: Change): ChangeDetail[] {
  const applied = applyChange(document, change);
  return applied.ok ? changeDetails(change, applied.inverse, document.settings).slice(0, MOST_SHOWN) : [];
}

/** Applies one change in one transaction. */
export function makeChange(
  pool: Pool,
  project: string,
  account: string,
  revision: number,
  change: Change,
  mine: readonly number[] = [],
): Promise<number> {
  return inTransaction(pool, async (client) => {
    const newest = await lockProject(client, project);
    const proposed = await propose(client, project, newest, await stamp(client, account, change));
    await refuseStale(client, project, account, proposed, { revision, mine });
    await checkOriginals(client, project, change);
    const what = describeChange(proposed.change, proposed.before.document.settings);
    return write(client, project, account, proposed, { kind: 'do', about: null, what });
  });
}

/** Who accepted a query and when is the server's to say, not the page's. */
async function stamp(client: Client, account: string, change: Change): Promise<Change> {
  if (change.op !== 'query.accept' && change.op !== 'several') return change;
  const who = await client.query<{ name: string }>('select name from account where id = $1', [account]);
  const seal = { by: who.rows[0].name, at: new Date().toISOString() };
  const sealed = (c: Change): Change =>
    c.op === 'query.accept' ? { ...c, accepted: { ...c.accepted, ...seal } } : c.op === 'several' ? { ...c, changes: c.changes.map(sealed) } : c; // prettier-ignore
  return sealed(change);
}

/** An intake, a picture or a grid must speak of bytes that were received. */
async function checkOriginals(client: Client, project: string, change: Change): Promise<void> {
  if (change.op === 'several') {
    for (const one of change.changes) await checkOriginals(client, project, one);
    return;
  }
  if (change.op === 'basis.set') {
    const grids = [...(change.basis.datumGrids ?? []), ...(change.basis.geoid ? [change.basis.geoid] : [])];
    for (const grid of grids) {
      const found = await client.query('select 1 from file where project_id = $1 and id = $2 and sha256 = $3', [
        project,
        grid.fileId,
        grid.sha256,
      ]);
      if (!found.rowCount) throw new Refusal(400, `The grid ${grid.name} has not been received. Send it again.`);
    }
    return;
  }
  const speaksOf = change.op === 'intake.add' ? change.intake : change.op === 'picture.set' ? change.picture : change.op === 'intake.file' ? change : null; // prettier-ignore
  if (!speaksOf) return;
  const { fileId, fileName, sha256 } = speaksOf;
  const found = await client.query('select 1 from file where project_id = $1 and id = $2 and sha256 = $3', [
    project,
    fileId,
    sha256,
  ]);
  if (!found.rowCount) throw new Refusal(400, `The file ${fileName} has not been received. Send it again.`);
}
