import { randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import connectPgSimple from 'connect-pg-simple';
import { Router, type Request, type RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import session from 'express-session';
import { registerSchema, signInSchema, type Account, type SessionState } from '#contract';
import type { Pool } from './db.ts';
import { createTeam } from './teams.ts';
import { bodyOf, Refusal } from './problems.ts';

declare module 'express-session' {
  interface SessionData {
    accountId: string;
    /** When it began and was last used, and by which browser; shown to its owner. */
    since: string;
    seen: string;
    browser: string;
  }
}

const LONGEST_SESSION = 14 * 24 * 3600 * 1000;

export async function sessionMiddleware(pool: Pool, secure: boolean): Promise<RequestHandler> {
  const Store = connectPgSimple(session);
  return session({
    store: new Store({ pool, tableName: 'session', pruneSessionInterval: 3600 }),
    name: 'dunrik',
    secret: await sessionSecret(pool),
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', secure, maxAge: LONGEST_SESSION },
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
}

const publicAccount = (row: AccountRow): Account => ({
  id: row.id,
  name: row.name,
  email: row.email,
  isDemo: row.is_demo,
});

/** Lets only signed-in requests through. */
export const needSession: RequestHandler = (request, _response, next) => {
  if (!request.session.accountId) throw new Refusal(401, 'Sign in first.');
  // To the quarter of an hour: every request would write, and nobody needs it finer.
  const now = new Date(Math.floor(Date.now() / 900_000) * 900_000).toISOString();
  if (request.session.seen !== now) request.session.seen = now;
  next();
};

/** The signed-in account of a request that needSession has let through. */
export const accountOf = (request: Request): string => request.session.accountId!;

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

export function authRoutes(pool: Pool, limits: { signIn: number }): Router {
  const router = Router();
  const limit = rateLimit({
    windowMs: 15 * 60 * 1000,
    limit: limits.signIn,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: () => {
      throw new Refusal(429, 'Too many attempts. Wait a quarter of an hour, then try again.');
    },
  });

  const state = async (request: Request): Promise<SessionState> => {
    const demo = await pool.query('select 1 from account where is_demo limit 1');
    const id = request.session.accountId;
    const found = id ? await pool.query<AccountRow>('select * from account where id = $1', [id]) : null;
    return { account: found?.rows[0] ? publicAccount(found.rows[0]) : null, demo: (demo.rowCount ?? 0) > 0 };
  };

  router.get('/session', async (request, response) => {
    response.json(await state(request));
  });

  router.post('/session', limit, async (request, response) => {
    const { email, password } = bodyOf(request, signInSchema);
    const found = await pool.query<AccountRow>('select * from account where lower(email) = lower($1)', [email]);
    const row = found.rows[0];
    // The same work and the same words whether the address is known or not.
    const fits = await verify(row?.password_hash ?? (await nobody()), password).catch(() => false);
    if (!row || row.is_demo || !fits) throw new Refusal(401, 'This e-mail address and password do not go together.');
    await enter(request, row.id);
    response.json(await state(request));
  });

  router.post('/session/demo', limit, async (request, response) => {
    const found = await pool.query<AccountRow>('select * from account where is_demo order by created_at limit 1');
    if (!found.rows[0]) throw new Refusal(404, 'No demo is loaded on this server.');
    await enter(request, found.rows[0].id);
    response.json(await state(request));
  });

  router.post('/accounts', limit, async (request, response) => {
    const { email, name, password } = bodyOf(request, registerSchema);
    const made = await pool.query<AccountRow>(
      'insert into account (email, name, password_hash) values ($1, $2, $3) on conflict (lower(email)) do nothing returning *',
      [email, name, await hash(password)],
    );
    if (!made.rows[0]) throw new Refusal(409, 'There is an account with this e-mail address already. Sign in instead.');
    await createTeam(pool, `${name}’s team`, made.rows[0].id);
    await enter(request, made.rows[0].id);
    response.status(201).json(await state(request));
  });

  router.delete('/session', (request, response, next) => {
    request.session.destroy((problem) => {
      if (problem) return next(problem);
      response.clearCookie('dunrik').status(204).end();
    });
  });

  return router;
}

let nobodyHash: string | null = null;
const nobody = async (): Promise<string> => (nobodyHash ??= await hash(randomBytes(16).toString('hex')));
