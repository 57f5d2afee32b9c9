import { createHash, randomBytes } from 'node:crypto';
import { hash } from '@node-rs/argon2';
import { Router } from 'express';
import { freshPasswordSchema, type PasswordResetOffer } from '#contract';
import { attempts } from './attempts.ts';
import { audit } from './audit.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { endSessions } from './sessions.ts';
import { passwordProblem } from '#contract/password';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
const HOURS = 24;

/** A link by which somebody chooses a new password; one before it is worth nothing. The token is given out once. */
export async function makePasswordReset(client: Client, account: string, by: string): Promise<{ token: string }> {
  const token = randomBytes(24).toString('base64url');
  await client.query('delete from password_reset where account_id = $1 and used_at is null', [account]);
  await client.query(
    'insert into password_reset (token_hash, account_id, made_by, expires_at) values ($1, $2, $3, now() + make_interval(hours => $4))',
    [hashOf(token), account, by, HOURS],
  );
  return { token };
}

interface Row {
  account_id: string;
  email: string;
  name: string;
  locked: boolean;
}

async function openReset(db: Pool | Client, token: string, lock = false): Promise<Row> {
  const found = await db.query<Row>(
    `select r.account_id, a.email, a.name, a.locked_at is not null as locked from password_reset r join account a on a.id = r.account_id
     where r.token_hash = $1 and r.used_at is null and r.expires_at > now() and a.gone_at is null ${lock ? 'for update of r' : ''}`,
    [hashOf(token)],
  );
  if (!found.rows[0]) throw notFound('This link, or it has been used or is too old: it');
  return found.rows[0];
}

/** What a link for a new password leads to; there is no session yet. */
export function passwordResetRoutes(pool: Pool): Router {
  const router = Router();
  const limit = attempts(30);

  router.get('/password-resets/:token', limit, async (request, response) => {
    const { name, email } = await openReset(pool, String(request.params.token));
    response.set('Cache-Control', 'no-store').json({ name, email } satisfies PasswordResetOffer);
  });

  router.post('/password-resets/:token', limit, async (request, response) => {
    const { password } = bodyOf(request, freshPasswordSchema);
    const made = await hash(password);
    await inTransaction(pool, async (client) => {
      const token = String(request.params.token);
      const row = await openReset(client, token, true);
      const weak = passwordProblem(password, row);
      if (weak) throw new Refusal(400, weak);
      await client.query('update account set password_hash = $2 where id = $1', [row.account_id, made]);
      await client.query('update password_reset set used_at = now() where token_hash = $1', [hashOf(token)]);
      // Whoever was in with the old password is out.
      await endSessions(client, row.account_id);
      await audit(client, request, { what: 'password reset', account: row.account_id });
    });
    response.status(204).end();
  });

  return router;
}
