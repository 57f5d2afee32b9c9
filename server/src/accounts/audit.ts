import type { Request } from 'express';
import type { Client, Pool } from '../db/db.ts';

/** What is written down: who came in, who was refused, whose place changed, what administrators did. */
export type Audited =
  | 'signed in'
  | 'sign-in refused'
  | 'signed out'
  | 'account made'
  | 'account deleted'
  | 'account exported'
  | 'account locked'
  | 'account unlocked'
  | 'made administrator'
  | 'no longer administrator'
  | 'password changed'
  | 'password reset begun'
  | 'password reset'
  | 'session ended'
  | 'refused'
  | 'invited'
  | 'invitation withdrawn'
  | 'joined'
  | 'role changed'
  | 'removed'
  | 'project archived'
  | 'project restored from the archive';

interface Entry {
  what: Audited;
  /** Who did it; the session's own where nothing is said. */
  account?: string | null;
  project?: string | null;
  detail?: string;
}

/** How long the log is kept. */
const DAYS = 400;

/** Writes one entry, in the transaction where there is one: what was not done is not written down. */
export async function audit(db: Pool | Client, request: Request, entry: Entry): Promise<void> {
  const account = entry.account === undefined ? (request.session?.accountId ?? null) : entry.account;
  await db.query(
    `insert into audit (what, account_id, name, address, project_id, detail)
     values ($1, $2, coalesce((select name from account where id = $2), ''), $3, $4, $5)`,
    [entry.what, account, (request.ip ?? '').slice(0, 60), entry.project ?? null, (entry.detail ?? '').replaceAll('\0', '').slice(0, 500)], // prettier-ignore
  );
}

/** Old entries go. */
export const forgetOldAudit = (pool: Pool): Promise<unknown> =>
  pool.query('delete from audit where at < now() - make_interval(days => $1)', [DAYS]);
