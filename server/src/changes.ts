import {
  applyChange,
  changeTouches,
  describeChange,
  upgradeDocument,
  type Change,
  type ProjectDocument,
} from '#core/chain';
import type { ChangeEntry } from '#contract';
import { inTransaction, type Client, type Pool } from './db.ts';
import { announce } from './live.ts';
import { notFound, Refusal, stale } from './problems.ts';

interface ChangeRow {
  revision: number;
  account_id: string;
  by: string;
  kind: 'do' | 'undo' | 'redo';
  about: number | null;
  what: string;
  change: Change;
  inverse: Change;
}

interface ProjectRow {
  revision: number;
  document: ProjectDocument;
  archived_at: Date | null;
}

export async function changesSince(
  db: Pool | Client,
  project: string,
  revision: number,
  most = 200,
): Promise<ChangeEntry[]> {
  const rows = await db.query<{
    revision: number;
    at: Date;
    by: string;
    kind: 'do' | 'undo' | 'redo';
    about: number | null;
    what: string;
  }>(
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

async function lockProject(client: Client, project: string): Promise<ProjectRow> {
  const found = await client.query<ProjectRow>(
    'select revision, document, archived_at from project where id = $1 for update',
    [project],
  );
  const row = found.rows[0];
  if (!row) throw notFound();
  if (row.archived_at) throw new Refusal(409, 'This project is archived. Take it out of the archive to work on it.');
  return { ...row, document: upgradeDocument(row.document) };
}

async function write(
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

/** Whether two changes speak of the same thing, or one of a part of the other's. */
const meet = (a: Change, b: Change): boolean => {
  const touched = changeTouches(a);
  return changeTouches(b).some((t) => touched.some((o) => t === o || t.startsWith(`${o}/`) || o.startsWith(`${t}/`)));
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
  const found = await client.query<{ revision: number; account_id: string; change: Change }>(
    'select revision, account_id, change from change where project_id = $1 and revision > $2',
    [project, revision],
  );
  const known = new Set(mine);
  const others = found.rows.filter((c) => !(c.account_id === account && known.has(c.revision)));
  const same = new Set(others.filter((c) => meet(c.change, change)).map((c) => c.revision));
  if (same.size)
    throw stale(
      row.revision,
      since.filter((c) => same.has(c.revision)),
    );
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
  if (change.op !== 'query.accept') return change;
  const who = await client.query<{ name: string }>('select name from account where id = $1', [account]);
  return { ...change, accepted: { ...change.accepted, by: who.rows[0].name, at: new Date().toISOString() } };
}

/** An intake must speak of bytes that were received. */
async function checkOriginals(client: Client, project: string, change: Change): Promise<void> {
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

interface Stacks {
  undo: ChangeRow | null;
  redo: ChangeRow | null;
  /** All changes that stand now, oldest first. */
  standing: ChangeRow[];
}

/** What undo and redo would do now for one person: their newest change not yet taken back, and their newest taken back and not overwritten. */
async function undoStacks(db: Pool | Client, project: string, account: string): Promise<Stacks> {
  const rows = await db.query<ChangeRow>(
    `select c.revision, c.account_id, a.name as by, c.kind, c.about, c.what, c.change, c.inverse
     from change c join account a on a.id = c.account_id where c.project_id = $1 order by c.revision desc limit 500`,
    [project],
  );
  const standing: ChangeRow[] = [];
  const back: ChangeRow[] = [];
  for (const row of rows.rows.reverse()) {
    if (row.kind === 'undo') {
      const at = standing.findIndex((c) => c.revision === row.about);
      if (at >= 0) back.push(standing.splice(at, 1)[0]);
    } else if (row.kind === 'redo') {
      const at = back.findIndex((c) => c.revision === row.about);
      if (at >= 0) standing.push(back.splice(at, 1)[0]);
    } else {
      standing.push(row);
      // What this person took back is overwritten by what this person does next; others' is not.
      for (let i = back.length - 1; i >= 0; i--) if (back[i].account_id === row.account_id) back.splice(i, 1);
    }
  }
  const own = (list: ChangeRow[]): ChangeRow | null => list.filter((c) => c.account_id === account).at(-1) ?? null;
  return { undo: own(standing), redo: own(back), standing };
}

export async function undoLabels(
  db: Pool | Client,
  project: string,
  account: string,
): Promise<{ undo: string | null; redo: string | null }> {
  const { undo, redo } = await undoStacks(db, project, account);
  return { undo: undo?.what ?? null, redo: redo?.what ?? null };
}

/** A later change by somebody else to the same things, which taking back would undo unseen. */
function inTheWay(target: ChangeRow, standing: ChangeRow[]): ChangeRow | undefined {
  return standing.find(
    (later) =>
      later.revision > target.revision && later.account_id !== target.account_id && meet(later.change, target.change),
  );
}

/** Takes a person's own newest change back, or brings it again, as a change of its own. */
export function undoOrRedo(pool: Pool, project: string, account: string, kind: 'undo' | 'redo'): Promise<number> {
  return inTransaction(pool, async (client) => {
    // Whatever others did meanwhile: only what they did to the same thing stands in the way.
    const row = await lockProject(client, project);
    const stacks = await undoStacks(client, project, account);
    const target = stacks[kind];
    if (!target)
      throw new Refusal(
        409,
        kind === 'undo' ? 'There is nothing of yours to take back.' : 'There is nothing of yours to bring again.',
      );
    const other = inTheWay(target, stacks.standing);
    if (other)
      throw new Refusal(
        409,
        `“${target.what}” cannot be ${kind === 'undo' ? 'taken back' : 'brought again'}: ${other.by} has changed the same since (revision ${other.revision}: ${other.what}).`,
      );
    const change = kind === 'undo' ? await latestInverse(client, project, target) : target.change;
    return write(
      client,
      project,
      account,
      row,
      change,
      kind,
      target.revision,
      `${kind === 'undo' ? 'took back' : 'brought again'}: ${target.what}`,
    );
  });
}

/** A change that was taken back and brought again has a newer inverse, stored with its redo. */
async function latestInverse(client: Client, project: string, target: ChangeRow): Promise<Change> {
  const again = await client.query<{ inverse: Change }>(
    `select inverse from change where project_id = $1 and kind = 'redo' and about = $2 order by revision desc limit 1`,
    [project, target.revision],
  );
  return again.rows[0]?.inverse ?? target.inverse;
}
