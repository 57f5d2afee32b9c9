import { Router, type RequestHandler } from 'express';
import { accountPatchSchema, type AccountCard, type AuditEntry } from '#contract';
import { accountOf } from './signed-in.ts';
import { audit } from './audit.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { UUID } from './membership.ts';
import { makePasswordReset } from './password-reset.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import { endSession, endSessions, sessionsOf } from './sessions.ts';

/** Accounts that exist under the addresses given, made administrators; gives the addresses that nobody has. */
export async function appointAdministrators(pool: Pool, addresses: readonly string[]): Promise<string[]> {
  const made = await pool.query<{ email: string }>(
    `update account set is_admin = true where lower(email) = any($1) and not is_demo and gone_at is null returning email`,
    [addresses.map((a) => a.toLowerCase())],
  );
  const known = new Set(made.rows.map((r) => r.email.toLowerCase()));
  return addresses.filter((a) => !known.has(a.toLowerCase()));
}

/** To everybody else the administrators' rooms do not exist. */
const needAdministrator =
  (pool: Pool): RequestHandler =>
  async (request, _response, next) => {
    const found = await pool.query('select 1 from account where id = $1 and is_admin', [accountOf(request)]);
    if (!found.rowCount) throw notFound('This page');
    next();
  };

interface Row {
  id: string;
  name: string;
  email: string;
  is_admin: boolean;
  is_demo: boolean;
  locked_at: Date | null;
  created_at: Date;
  sessions: number;
  projects: number;
}

const card = (r: Row): AccountCard => ({
  id: r.id,
  name: r.name,
  email: r.email,
  isAdmin: r.is_admin,
  isDemo: r.is_demo,
  locked: r.locked_at !== null,
  madeAt: r.created_at.toISOString(),
  sessions: r.sessions,
  projects: r.projects,
});

const ACCOUNTS = `select a.id, a.name, a.email, a.is_admin, a.is_demo, a.locked_at, a.created_at,
  (select count(*)::int from session s where s.sess ->> 'accountId' = a.id::text and s.expire > now()) as sessions,
  (select count(*)::int from member m where m.account_id = a.id) as projects
  from account a where a.gone_at is null`;

/** Accounts of the whole server, their sessions, and what happened at its doors. No project is opened by any of it. */
export function adminRoutes(pool: Pool): Router {
  const router = Router();
  router.use('/admin', needAdministrator(pool));

  router.get('/admin/accounts', async (request, response) => {
    const find = String(request.query.find ?? '').slice(0, 100);
    const found = await pool.query<Row>(
      `${ACCOUNTS} and (position(lower($1) in lower(a.name)) > 0 or position(lower($1) in lower(a.email)) > 0) order by lower(a.name), a.id limit 200`,
      [find],
    );
    response.json(found.rows.map(card));
  });

  router.patch('/admin/accounts/:account', async (request, response) => {
    const patch = bodyOf(request, accountPatchSchema);
    const me = accountOf(request);
    const made = await inTransaction(pool, async (client) => {
      const row = await held(client, String(request.params.account));
      // Whoever could shut themselves out would leave a server that nobody runs.
      if (row.id === me) throw new Refusal(409, 'This is your own account. Another administrator can do that.');
      if (row.is_demo) throw new Refusal(409, 'The demo is closed by DUNRIK_DEMO=no.');
      if (patch.locked !== undefined && patch.locked !== (row.locked_at !== null)) {
        await client.query(
          'update account set locked_at = case when $2::boolean then now() end where id = $1',
          [row.id, patch.locked], // prettier-ignore
        );
        if (patch.locked) await endSessions(client, row.id);
        await audit(client, request, { what: patch.locked ? 'account locked' : 'account unlocked', detail: row.email });
      }
      if (patch.admin !== undefined && patch.admin !== row.is_admin) {
        await client.query('update account set is_admin = $2 where id = $1', [row.id, patch.admin]);
        await audit(client, request, { what: patch.admin ? 'made administrator' : 'no longer administrator', detail: row.email }); // prettier-ignore
      }
      return client.query<Row>(`${ACCOUNTS} and a.id = $1`, [row.id]);
    });
    response.json(card(made.rows[0]));
  });

  router.post('/admin/accounts/:account/password-reset', async (request, response) => {
    const made = await inTransaction(pool, async (client) => {
      const row = await held(client, String(request.params.account));
      if (row.is_demo) throw new Refusal(409, 'The demo account has no password; it is entered by its button.');
      await audit(client, request, { what: 'password reset begun', detail: row.email });
      return makePasswordReset(client, row.id, accountOf(request));
    });
    response.status(201).json(made);
  });

  router.get('/admin/accounts/:account/sessions', async (request, response) => {
    const account = idOf(request.params.account);
    response.json(await sessionsOf(pool, account, request.sessionID));
  });

  router.delete('/admin/accounts/:account/sessions/:session', async (request, response) => {
    const account = idOf(request.params.account);
    if (!(await endSession(pool, account, String(request.params.session)))) throw notFound('This session');
    await audit(pool, request, { what: 'session ended', detail: await emailOf(pool, account) });
    response.status(204).end();
  });

  router.get('/admin/audit', async (request, response) => {
    const before = /^\d{1,15}$/.test(String(request.query.before)) ? Number(request.query.before) : null;
    const find = String(request.query.find ?? '').slice(0, 100);
    const found = await pool.query<Omit<AuditEntry, 'at'> & { at: Date }>(
      `select u.id::int, u.at, u.what, u.name, u.address, u.detail, coalesce(p.name, '') as project
       from audit u left join project p on p.id = u.project_id
       where ($1::bigint is null or u.id < $1) and ($2 = '' or position(lower($2) in lower(concat_ws(' ', u.what, u.name, u.address, u.detail, p.name))) > 0)
       order by u.id desc limit 200`,
      [before, find],
    );
    response.json(found.rows.map((r) => ({ ...r, at: r.at.toISOString() })));
  });

  return router;
}

function idOf(text: unknown): string {
  if (typeof text !== 'string' || !UUID.test(text)) throw notFound('This account');
  return text;
}

async function held(client: Client, id: string): Promise<Row> {
  const found = await client.query<Row>('select * from account where id = $1 and gone_at is null for update', [idOf(id)]); // prettier-ignore
  if (!found.rows[0]) throw notFound('This account');
  return found.rows[0];
}

const emailOf = async (pool: Pool, id: string): Promise<string> =>
  (await pool.query<{ email: string }>('select email from account where id = $1', [id])).rows[0]?.email ?? '';
