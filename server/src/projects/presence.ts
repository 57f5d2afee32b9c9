import type { Router } from 'express';
import { presenceSchema } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { bodyOf } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

/** Who is here, and where: told to open pages, kept nowhere. */
export function presenceRoutes(router: Router, { pool }: ProjectServices): void {
  router.post('/presence', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const account = accountOf(request);
    const { stage, place } = bodyOf(request, presenceSchema);
    const found = await pool.query<{ name: string }>('select name from account where id = $1', [account]);
    await announce(pool, { type: 'here', project, who: { account, name: found.rows[0].name, stage, place } });
    response.status(204).end();
  });
}
