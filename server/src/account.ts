import { createHash } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { passwordSchema, type SessionCard } from '#contract';
import { accountOf } from './auth.ts';
import type { Pool } from './db.ts';
import { announce } from './live.ts';
import { passwordProblem } from './password.ts';
import { bodyOf, notFound, Refusal } from './problems.ts';
import { sessionTopic } from './streams.ts';

/** A session is named to its owner by a hash: its own number would let whoever sees it in. */
const publicId = (sid: string): string => createHash('sha256').update(sid).digest('hex').slice(0, 24);

/** One's own sessions, and the password. */
export function accountRoutes(pool: Pool): Router {
  const router = Router();
  const sessionsOf = async (account: string) =>
    (
      await pool.query<{ sid: string; sess: { since?: string; seen?: string; browser?: string } }>(
        `select sid, sess from session where sess ->> 'accountId' = $1 and expire > now() order by expire desc limit 100`,
        [account],
      )
    ).rows;

  router.get('/account/sessions', async (request, response) => {
    const cards: SessionCard[] = (await sessionsOf(accountOf(request))).map(({ sid, sess }) => ({
      id: publicId(sid),
      since: sess.since ?? '',
      seen: sess.seen ?? sess.since ?? '',
      browser: sess.browser ?? '',
      own: sid === request.sessionID,
    }));
    response.json(cards);
  });

  router.delete('/account/sessions/:session', async (request, response) => {
    const found = (await sessionsOf(accountOf(request))).find((s) => publicId(s.sid) === request.params.session);
    if (!found) throw notFound('This session');
    await pool.query('delete from session where sid = $1', [found.sid]);
    await announce(pool, { type: 'ended', project: sessionTopic(found.sid) });
    response.status(204).end();
  });

  const limit = rateLimit({
    windowMs: 15 * 60 * 1000,
    limit: 10,
    skipSuccessfulRequests: true,
    keyGenerator: (request) => accountOf(request),
    handler: () => {
      throw new Refusal(429, 'Too many attempts. Wait a quarter of an hour, then try again.');
    },
  });

  router.post('/account/password', limit, async (request, response) => {
    const account = accountOf(request);
    const body = bodyOf(request, passwordSchema);
    const found = await pool.query<{ password_hash: string; is_demo: boolean; email: string; name: string }>(
      'select password_hash, is_demo, email, name from account where id = $1',
      [account],
    );
    const row = found.rows[0];
    if (row.is_demo) throw new Refusal(403, 'The demo account has no password; it is entered by its button.');
    if (!(await verify(row.password_hash, body.old).catch(() => false)))
      throw new Refusal(403, 'The old password is not right. Nothing was changed.');
    const weak = passwordProblem(body.new, row);
    if (weak) throw new Refusal(400, weak);
    await pool.query('update account set password_hash = $2 where id = $1', [account, await hash(body.new)]);
    // Whoever else was in with the old password is out.
    const ended = await pool.query<{ sid: string }>(
      `delete from session where sess ->> 'accountId' = $1 and sid <> $2 returning sid`,
      [account, request.sessionID],
    );
    for (const { sid } of ended.rows) await announce(pool, { type: 'ended', project: sessionTopic(sid) });
    response.status(204).end();
  });

  return router;
}
