import { noteSeen } from './sessions.ts';
import connectPgSimple from 'connect-pg-simple';
import session from 'express-session';
import { randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { Router, type Request, type RequestHandler } from 'express';
import { newAccountSchema, signInSchema, type Account, type SessionState } from '#contract';
import { attempts } from './attempts.ts';
import { audit } from './audit.ts';
import type { Pool } from '../db/db.ts';
import type { Door } from '../http/door.ts';
import { isInvited } from './invitations.ts';
import { announce } from '../http/live.ts';
import { passwordProblem } from '#contract/password';
import { sessionTopic } from '../http/streams.ts';
import { createTeam } from './teams.ts';
import { bodyOf, Refusal } from '../http/problems.ts';

declare module 'express-session' {
  interface SessionData {
    accountId: string;
    /** When it began and was last used, and by which browser; shown to its owner. */
    since: string;
    seen: string;
    browser: string;
  }
}

/** Under TLS bound to this host alone, whatever its neighbours set (RFC 6265bis, 4.1.3.2). */
const cookieName = (tls: boolean): string => (tls ? '__Host-dunrik' : 'dunrik');

export async function sessionMiddleware(pool: Pool, { tls, idleMinutes }: Door): Promise<RequestHandler> {
  const Store = connectPgSimple(session);
  return session({
    store: new Store({ pool, tableName: 'session', pruneSessionInterval: 3600 }),
    name: cookieName(tls),
    secret: await sessionSecret(pool),
    resave: false,
    saveUninitialized: false,
    // Every request puts the end off.
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'strict', secure: tls, path: '/', maxAge: 60_000 * idleMinutes },
  });
}

/** The secret that signs cookies: made once, kept in the database, never in the repository. */
async function sessionSecret(pool: Pool): Promise<string> {
  const made = randomBytes(32).toString('base64url');
  await pool.query(`insert into server_setting (name, value) values ('session-secret', $1) on conflict do nothing`, [
    made,
  ]);
  const kept = await pool.query<{ value: string }>(`select value from server_setting where name = 'session-secret'`);
  return kept.rows[0].value;
}

interface AccountRow {
  id: string;
  name: string;
  email: string;
  is_demo: boolean;
  password_hash: string;
  is_admin: boolean;
  locked_at: Date | null;
  gone_at: Date | null;
}

const publicAccount = (row: AccountRow): Account => ({
  id: row.id,
  name: row.name,
  email: row.email,
  isDemo: row.is_demo,
  isAdmin: row.is_admin,
});

/** Lets only signed-in requests through, and no session that is older than they may be. */
export const needSession =
  (pool: Pool, { sessionHours }: Door): RequestHandler =>
  async (request, response, next) => {
    if (!request.session.accountId) throw new Refusal(401, 'Sign in first.');
    const since = Date.parse(request.session.since ?? '');
    if (!(Date.now() - since < 3_600_000 * sessionHours)) {
      request.session.destroy(() => {});
      throw new Refusal(401, `A session lasts ${sessionHours} hours. Sign in again; what was stored is all there.`);
    }
    // Nothing of a project stays behind on a machine that others use.
    response.set('Cache-Control', 'no-store');
    // To the quarter of an hour: every request would write, and nobody needs it finer.
    const now = new Date(Math.floor(Date.now() / 900_000) * 900_000).toISOString();
    if (request.session.seen !== now) await noteSeen(pool, request.sessionID, now);
    next();
  };

function enter(request: Request, account: string): Promise<void> {
  // A new session number at sign-in, so that one planted before is worth nothing.
  return new Promise((resolve, reject) =>
    request.session.regenerate((problem) => {
      if (problem) return reject(problem as Error);
      request.session.accountId = account;
      request.session.since = new Date().toISOString();
      request.session.browser = browserOf(request.headers['user-agent'] ?? '');
      request.session.save((failed) => (failed ? reject(failed as Error) : resolve()));
    }),
  );
}

/** A browser and a system in two words, as far as its header tells. */
function browserOf(header: string): string {
  const browser = /(Firefox|Edg|OPR|Chrome|Safari)\/\d+/.exec(header)?.[1] ?? 'another program';
  const system = /(Windows|Mac OS|Android|iPhone|iPad|Linux)/.exec(header)?.[1] ?? '';
  const named = { Edg: 'Edge', OPR: 'Opera' }[browser] ?? browser;
  return system ? `${named} on ${system}` : named;
}

export function authRoutes(pool: Pool, door: Door): Router {
  const router = Router();
  const limit = attempts(door.signIns, { skipSuccessfulRequests: true });
  // One account is not tried from many addresses either.
  const perAccount = attempts(door.signIns, {
    whose: ' for this account',
    skipSuccessfulRequests: true,
    standardHeaders: false,
    keyGenerator: (request) =>
      String((request.body as { email?: unknown } | undefined)?.email ?? '')
        .trim()
        .toLowerCase()
        .slice(0, 200),
  });

  const state = async (request: Request): Promise<SessionState> => {
    const demo = door.demo ? await pool.query('select 1 from account where is_demo limit 1') : { rowCount: 0 };
    const id = request.session.accountId;
    const found = id ? await pool.query<AccountRow>('select * from account where id = $1', [id]) : null;
    return {
      account: found?.rows[0] ? publicAccount(found.rows[0]) : null,
      demo: (demo.rowCount ?? 0) > 0,
      registration: door.registration,
    };
  };

  router.get('/session', async (request, response) => {
    response.json(await state(request));
  });

  router.post('/session', limit, perAccount, async (request, response) => {
    const { email, password } = bodyOf(request, signInSchema);
    const found = await pool.query<AccountRow>('select * from account where lower(email) = lower($1)', [email]);
    const row = found.rows[0];
    // The same work and the same words whether the address is known or not.
    const fits = await verify(row?.password_hash ?? (await nobody()), password).catch(() => false);
    if (!row || row.is_demo || row.gone_at || !fits) {
      await audit(pool, request, { what: 'sign-in refused', account: row?.id ?? null, detail: row ? '' : email });
      throw new Refusal(401, 'E-mail address or password is wrong.');
    }
    if (row.locked_at) {
      await audit(pool, request, { what: 'sign-in refused', account: row.id, detail: 'locked' });
      throw new Refusal(403, 'This account is locked. Ask whoever runs this server.');
    }
    await enter(request, row.id);
    await audit(pool, request, { what: 'signed in' });
    response.json(await state(request));
  });

  router.post('/session/demo', limit, async (request, response) => {
    if (!door.demo) throw new Refusal(404, 'The demo is closed on this server.');
    const found = await pool.query<AccountRow>('select * from account where is_demo order by created_at limit 1');
    if (!found.rows[0]) throw new Refusal(404, 'No demo is loaded on this server.');
    await enter(request, found.rows[0].id);
    await audit(pool, request, { what: 'signed in' });
    response.json(await state(request));
  });

  router.post('/accounts', limit, async (request, response) => {
    const { email, name, password, invitation } = bodyOf(request, newAccountSchema);
    // An invited person comes in by a closed door; the invitation is looked at, not used up.
    if (!door.registration && !(invitation && (await isInvited(pool, invitation))))
      throw new Refusal(403, 'Accounts are made by invitation on this server. Ask somebody who works here for one.');
    const weak = passwordProblem(password, { email, name });
    if (weak) throw new Refusal(400, weak);
    const made = await pool.query<AccountRow>(
      'insert into account (email, name, password_hash) values ($1, $2, $3) on conflict (lower(email)) do nothing returning *',
      [email, name, await hash(password)],
    );
    if (!made.rows[0]) throw new Refusal(409, 'There is an account with this e-mail address already. Sign in instead.');
    await createTeam(pool, `${name}’s team`, made.rows[0].id);
    await enter(request, made.rows[0].id);
    await audit(pool, request, { what: 'account made' });
    response.status(201).json(await state(request));
  });

  router.delete('/session', async (request, response) => {
    const ended = sessionTopic(request.sessionID);
    if (request.session.accountId) await audit(pool, request, { what: 'signed out' });
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((problem) => (problem ? reject(problem as Error) : resolve())),
    );
    announce(pool, { type: 'ended', project: ended }).catch(() => {});
    response.clearCookie(cookieName(door.tls), { path: '/', secure: door.tls }).status(204).end();
  });

  return router;
}

let nobodyHash: string | null = null;
const nobody = async (): Promise<string> => (nobodyHash ??= await hash(randomBytes(16).toString('hex')));
