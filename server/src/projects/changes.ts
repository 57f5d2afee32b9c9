import {
  applyChange,
  changeDetails,
  changeTouches,
  describeChange,
  upgradeChange,
  upgradeDocument,
  type Change,
  type ChangeDetail,
  type HistoryUnits,
  type ProjectDocument,
} from '#core/project';
import type { ChangeEntry } from '#contract';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { notFound, Refusal, stale } from '../http/problems.ts';

export interface ProjectRow {
  revision: number;
  document: ProjectDocument;
  archived_at: Date | null;
}

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

/** A project's document at its newest revision. */
export async function documentOf(db: Pool | Client, project: string): Promise<ProjectDocument> {
  const found = await db.query<{ document: ProjectDocument }>('select document from project where id = $1', [project]);
  if (!found.rows[0]) throw notFound();
  return upgradeDocument(found.rows[0].document);
}

/** A project’s newest state, held until the transaction ends. Refused where it is archived. */
export async function lockProject(client: Client, project: string): Promise<ProjectRow> {
  const found = await client.query<ProjectRow>(
    'select revision, document, archived_at from project where id = $1 for update',
    [project],
  );
  const row = found.rows[0];
  if (!row) throw notFound();
  if (row.archived_at) throw new Refusal(409, 'This project is archived. Take it out of the archive to work on it.');
  return { ...row, document: upgradeDocument(row.document) };
}

/** Applies a change to a project that is held, and stores it with its inverse; gives the new revision. */
export async function write(
  client: Client,
  project: string,
  account: string,
  row: ProjectRow,
  change: Change,
  kind: 'do' | 'undo' | 'redo',
  about: number | null,
  what: string,
): Promise<number> {
  const applied = applyChange(row.document, change);
  if (!applied.ok) throw new Refusal(409, applied.reason);
  const revision = row.revision + 1;
  await client.query('update project set revision = $2, document = $3 where id = $1', [
    project,
    revision,
    JSON.stringify(applied.document),
  ]);
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
  at: { row: ProjectRow; revision: number; mine: readonly number[] },
  change: Change,
): Promise<void> {
  const { row, revision, mine } = at;
  if (row.revision === revision) return;
  const since = await changesSince(client, project, revision);
  // A revision that is not there yet was never looked at, and of a great many nobody can be shown what they did.
  if (revision > row.revision || row.revision - revision > since.length) throw stale(row.revision, since);
  const found = await client.query<{ revision: number; account_id: string; change: Change; inverse: Change }>(
    'select revision, account_id, change, inverse from change where project_id = $1 and revision > $2',
    [project, revision],
  );
  const known = new Set(mine);
  const others = found.rows.filter((c) => !(c.account_id === account && known.has(c.revision)));
  const same = new Map(others.filter((c) => meet(c.change, change)).map((c) => [c.revision, c]));
  if (!same.size) return;
  const { settings } = row.document;
  throw stale(
    row.revision,
    since.flatMap((c) => {
      const one = same.get(c.revision);
      return one ? [{ ...c, ...shownOf(one.change, one.inverse, settings) }] : [];
    }),
    wouldSet(row.document, change),
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
    const row = await lockProject(client, project);
    await refuseStale(client, project, account, { row, revision, mine }, change);
    await checkOriginals(client, project, change);
    const stamped = await stamp(client, account, change);
    return write(client, project, account, row, stamped, 'do', null, describeChange(stamped, row.document.settings));
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

/** An intake must speak of bytes that were received. */
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
  if (change.op !== 'intake.add') return;
  const found = await client.query('select 1 from file where project_id = $1 and id = $2 and sha256 = $3', [
    project,
    change.intake.fileId,
    change.intake.sha256,
  ]);
  if (!found.rowCount)
    throw new Refusal(400, `The file ${change.intake.fileName} has not been received. Send it again.`);
}
