import { Router } from 'express';
import { saveLayoutSchema, type SavedLayout } from '#contract';
import { accountOf } from './auth.ts';
import type { Pool } from './db.ts';
import { bodyOf } from './problems.ts';

/** Layouts of text files that a person worked out once, by name. */
export function layoutRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/layouts', async (request, response) => {
    const rows = await pool.query<SavedLayout>(
      'select id, name, layout, signature from layout where account_id = $1 order by used_at desc limit 200',
      [accountOf(request)],
    );
    response.json(rows.rows);
  });

  router.post('/layouts', async (request, response) => {
    const { name, layout, signature } = bodyOf(request, saveLayoutSchema);
    const made = await pool.query<{ id: string }>(
      `insert into layout (account_id, name, layout, signature) values ($1, $2, $3, $4)
       on conflict (account_id, name) do update set layout = excluded.layout, signature = excluded.signature, used_at = now() returning id`,
      [accountOf(request), name, JSON.stringify(layout), signature],
    );
    response.status(201).json({ id: made.rows[0].id });
  });

  return router;
}
