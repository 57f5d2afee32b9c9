import { createHash, randomBytes } from 'node:crypto';
import { Router } from 'express';
import type { InvitationCard, InvitationOffer } from '#contract';
import { accountOf } from './signed-in.ts';
import { attempts } from './attempts.ts';
import { audit } from './audit.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { notFound, Refusal } from '../http/problems.ts';

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Makes an invitation; the token is given out once and only its hash is kept. */
export async function makeInvitation(
  pool: Pool,
  to: { project: string } | { team: string },
  role: string,
  days: number,
  account: string,
): Promise<{ token: string }> {
  const token = randomBytes(24).toString('base64url');
  await pool.query(
    `insert into invitation (token_hash, project_id, team_id, role, made_by, expires_at)
     values ($1, $2, $3, $4, $5, now() + make_interval(days => $6))`,
    [hashOf(token), 'project' in to ? to.project : null, 'team' in to ? to.team : null, role, account, days],
  );
  return { token };
}

export async function invitationsOf(pool: Pool, to: 'project_id' | 'team_id', id: string): Promise<InvitationCard[]> {
  const rows = await pool.query<{
    id: string;
    role: string;
    by: string;
    made_at: Date;
    expires_at: Date;
    used: string | null;
  }>(
    `select i.id, i.role, a.name as by, i.made_at, i.expires_at, u.name as used
     from invitation i join account a on a.id = i.made_by left join account u on u.id = i.used_by
     where i.${to} = $1 and (i.used_by is not null or i.expires_at > now()) order by i.made_at desc limit 100`,
    [id],
  );
  return rows.rows.map((r) => ({
    id: r.id,
    role: r.role,
    madeBy: r.by,
    madeAt: r.made_at.toISOString(),
    expiresAt: r.expires_at.toISOString(),
    usedBy: r.used,
  }));
}

interface InvitationRow {
  id: string;
  project_id: string | null;
  team_id: string | null;
  role: string;
  expires_at: Date;
  by: string;
  name: string;
}

async function openInvitation(db: Pool | Client, token: string, lock = false): Promise<InvitationRow> {
  const found = await db.query<InvitationRow & { used_by: string | null; over: boolean }>(
    `select i.id, i.project_id, i.team_id, i.role, i.expires_at, i.used_by, i.expires_at <= now() as over, a.name as by,
            coalesce(p.name, t.name) as name
     from invitation i join account a on a.id = i.made_by left join project p on p.id = i.project_id left join team t on t.id = i.team_id
     where i.token_hash = $1 ${lock ? 'for update of i' : ''}`,
    [hashOf(token)],
  );
  const row = found.rows[0];
  if (!row) throw notFound('This invitation');
  if (row.used_by) throw new Refusal(410, 'This invitation has been used. Ask for another.');
  if (row.over) throw new Refusal(410, 'This invitation has expired. Ask for another.');
  return row;
}

/** Whether a link leads to an invitation that still stands. */
export const isInvited = (pool: Pool, token: string): Promise<boolean> =>
  openInvitation(pool, token).then(
    () => true,
    () => false,
  );

/** What a link leads to: seen without an account, so that one knows what to sign in for. */
export function offerRoutes(pool: Pool): Router {
  const router = Router();
  router.get('/invitations/:token', attempts(60), async (request, response) => {
    const row = await openInvitation(pool, String(request.params.token));
    response.json({
      what: row.project_id ? 'project' : 'team',
      name: row.name,
      role: row.role,
      by: row.by,
      expiresAt: row.expires_at.toISOString(),
    } satisfies InvitationOffer);
  });
  return router;
}

/** Taking an invitation, signed in. */
export function invitationRoutes(pool: Pool): Router {
  const router = Router();
  router.post('/invitations/:token', async (request, response) => {
    const account = accountOf(request);
    const { project, already } = await inTransaction(pool, async (client) => {
      const row = await openInvitation(client, String(request.params.token), true);
      const put = row.project_id
        ? await client.query('insert into member (project_id, account_id, role) values ($1, $2, $3) on conflict do nothing', [row.project_id, account, row.role]) // prettier-ignore
        : await client.query(`insert into team_member (team_id, account_id, role) values ($1, $2, 'member') on conflict do nothing`, [row.team_id, account]); // prettier-ignore
      // Somebody who is in already keeps the role they have, and leaves the invitation for whom it is meant.
      if (!put.rowCount) return { project: row.project_id, already: true };
      await client.query('update invitation set used_by = $2, used_at = now() where id = $1', [row.id, account]);
      await audit(client, request, {
        what: 'joined',
        project: row.project_id,
        detail: `${row.name}, ${row.role}, invited by ${row.by}`,
      });
      return { project: row.project_id, already: false };
    });
    if (project && !already) await announce(pool, { type: 'people', project });
    response.json({ project, already });
  });
  return router;
}
