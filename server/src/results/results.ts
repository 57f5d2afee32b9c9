import type { Router } from 'express';
import { accountOf } from '../accounts/signed-in.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { notFound } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { streamsOf } from '../http/streams.ts';

/** Computed results by content hash, and the live events of a project. */
export function resultRoutes(router: Router, { pool, live }: ProjectServices): void {
  const streams = streamsOf(live);
  router.get('/results/:hash', allow('see'), async (request, response) => {
    const hash = String(request.params.hash);
    const tag = `"${hash}"`;
    const known = await pool.query('select 1 from derived where project_id = $1 and hash = $2 limit 1', [
      membershipOf(request).project,
      hash,
    ]);
    if (!known.rowCount) throw notFound('This result');
    response.set({ ETag: tag, 'Cache-Control': 'private, max-age=31536000, immutable' });
    if (request.headers['if-none-match'] === tag) {
      response.status(304).end();
      return;
    }
    const found = await pool.query<{ bytes: Buffer }>('select bytes from blob where hash = $1', [hash]);
    response.type('application/octet-stream').send(found.rows[0].bytes);
  });

  router.get('/events', allow('see'), (request, response) => {
    const { project } = membershipOf(request);
    const account = accountOf(request);
    const stays = async (): Promise<boolean> =>
      ((await pool.query('select 1 from member where project_id = $1 and account_id = $2', [project, account])).rowCount ?? 0) > 0; // prettier-ignore
    streams.open(request, response, { account, project, stays }, () => {
      announce(pool, { type: 'left', project, account }).catch(() => {});
    });
    // Those who are here say so again, and the newcomer sees them.
    announce(pool, { type: 'who', project }).catch(() => {});
  });
}
