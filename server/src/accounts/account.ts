import { hash, verify } from '@node-rs/argon2';
import { Router } from 'express';
import { columnChoicesSchema, deleteAccountSchema, passwordSchema, type ColumnChoices } from '#contract';
import { attempts } from './attempts.ts';
import { audit } from './audit.ts';
import { accountOf } from './signed-in.ts';
import { inTransaction, type Pool } from '../db/db.ts';
import { deleteAccount, exportOf } from './own-data.ts';
import { passwordProblem } from '#contract/password';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import { endSession, endSessions, sessionsOf } from './sessions.ts';

/** One's own sessions, password, data, and the way out. */
export function accountRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/account/sessions', async (request, response) => {
    response.json(await sessionsOf(pool, accountOf(request), request.sessionID));
  });

  router.delete('/account/sessions/:session', async (request, response) => {
    if (!(await endSession(pool, accountOf(request), String(request.params.session)))) throw notFound('This session');
    await audit(pool, request, { what: 'session ended' });
    response.status(204).end();
  });

  router.get('/account/columns', async (request, response) => {
    const { rows } = await pool.query<{ columns_chosen: ColumnChoices }>(
      'select columns_chosen from account where id = $1',
      [accountOf(request)],
    );
    response.json(rows[0].columns_chosen);
  });

  router.put('/account/columns', async (request, response) => {
    const choices = bodyOf(request, columnChoicesSchema);
    await pool.query('update account set columns_chosen = $2 where id = $1', [accountOf(request), choices]);
    response.status(204).end();
  });

  const limit = attempts(10, { skipSuccessfulRequests: true, keyGenerator: accountOf });

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
    await endSessions(pool, account, request.sessionID);
    await audit(pool, request, { what: 'password changed' });
    response.status(204).end();
  });

  router.get('/account/export', attempts(20, { keyGenerator: accountOf }), async (request, response) => {
    const data = await exportOf(pool, accountOf(request), request.sessionID);
    await audit(pool, request, { what: 'account exported' });
    response.attachment('dunrik-account.json').json(data);
  });

  router.delete('/account', limit, async (request, response) => {
    const account = accountOf(request);
    const { password, withProjects } = bodyOf(request, deleteAccountSchema);
    await inTransaction(pool, async (client) => {
      const { rows } = await client.query<{ password_hash: string; is_demo: boolean }>(
        'select password_hash, is_demo from account where id = $1 for update',
        [account],
      );
      if (rows[0].is_demo) throw new Refusal(403, 'The demo account belongs to everybody here.');
      if (!(await verify(rows[0].password_hash, password).catch(() => false)))
        throw new Refusal(403, 'The password is not right. Nothing was deleted.');
      await audit(client, request, { what: 'account deleted' });
      await deleteAccount(client, account, withProjects);
    });
    response.status(204).end();
  });

  return router;
}
