import { applyChange, describeChange, type Change, type ProjectDocument } from '#core/chain';
import type { ChangeEntry } from '#contract';
import { inTransaction, type Client, type Pool } from './db.ts';
import { announce } from './live.ts';
import { notFound, Refusal, stale } from './problems.ts';

interface ChangeRow {
  revision: number;
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

async function lockProject(client: Client, project: string, revision: number): Promise<ProjectRow> {
  const found = await client.query<ProjectRow>(
    'select revision, document, archived_at from project where id = $1 for update',
    [project],
  );
  const row = found.rows[0];
  if (!row) throw notFound();
  if (row.archived_at) throw new Refusal(409, 'This project is archived. Take it out of the archive to work on it.');
  if (row.revision !== revision) throw stale(row.revision, await changesSince(client, project, revision));
  return row;
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

/** Applies one change in one transaction; a write against an older revision is refused with what changed meanwhile. */
export function makeChange(
  pool: Pool,
  project: string,
  account: string,
  revision: number,
  change: Change,
): Promise<number> {
  return inTransaction(pool, async (client) => {
    const row = await lockProject(client, project, revision);
    await checkOriginals(client, project, change);
    const stamped = await stamp(client, account, change);
    return write(client, project, account, row, stamped, 'do', null, describeChange(stamped));
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
  if (change.op !== 'intake.add') return;
  const found = await client.query('select 1 from file where project_id = $1 and id = $2 and sha256 = $3', [
    project,
    change.intake.fileId,
    change.intake.sha256,
  ]);
  if (!found.rowCount)
    throw new Refusal(400, `The file ${change.intake.fileName} has not been received. Send it again.`);
}

/** What undo and redo would do now: the newest change not yet taken back, and the newest taken back and not overwritten. */
async function undoStacks(
  db: Pool | Client,
  project: string,
): Promise<{ undo: ChangeRow | null; redo: ChangeRow | null }> {
  const rows = await db.query<ChangeRow>(
    'select revision, kind, about, what, change, inverse from change where project_id = $1 order by revision desc limit 500',
    [project],
  );
  const undo: ChangeRow[] = [];
  const redo: ChangeRow[] = [];
  for (const row of rows.rows.reverse()) {
    if (row.kind === 'undo') {
      const at = undo.findIndex((c) => c.revision === row.about);
      if (at >= 0) redo.push({ ...undo.splice(at, 1)[0] });
    } else if (row.kind === 'redo') {
      const at = redo.findIndex((c) => c.revision === row.about);
      if (at >= 0) undo.push(redo.splice(at, 1)[0]);
    } else {
      undo.push(row);
      redo.length = 0;
    }
  }
  return { undo: undo.at(-1) ?? null, redo: redo.at(-1) ?? null };
}

export async function undoLabels(
  db: Pool | Client,
  project: string,
): Promise<{ undo: string | null; redo: string | null }> {
  const { undo, redo } = await undoStacks(db, project);
  return { undo: undo?.what ?? null, redo: redo?.what ?? null };
}

/** Takes the newest change back, or brings the newest one taken back again, as a change of its own. */
export function undoOrRedo(
  pool: Pool,
  project: string,
  account: string,
  revision: number,
  kind: 'undo' | 'redo',
): Promise<number> {
  return inTransaction(pool, async (client) => {
    const row = await lockProject(client, project, revision);
    const target = (await undoStacks(client, project))[kind];
    if (!target)
      throw new Refusal(409, kind === 'undo' ? 'There is nothing to take back.' : 'There is nothing to bring again.');
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
