import { Router } from 'express';
import { saveLayoutSchema, type SavedLayout } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import type { Pool } from '../db/db.ts';
import { bodyOf } from '../http/problems.ts';

/** Layouts of text files that a person worked out once, by name; those given to a team serve all its members. */
export function layoutRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/layouts', async (request, response) => {
    const rows = await pool.query<SavedLayout>(
      `select l.id, l.name, l.layout, l.signature, t.name as team from layout l left join team t on t.id = l.team_id
       where l.account_id = $1 or exists (select 1 from team_member m where m.team_id = l.team_id and m.account_id = $1)
       order by l.used_at desc limit 200`,
      [accountOf(request)],
    );
    response.json(rows.rows);
  });

  router.post('/layouts', async (request, response) => {
    const { name, layout, signature, team } = bodyOf(request, saveLayoutSchema);
    const made = await pool.query<{ id: string }>(
      `insert into layout (account_id, name, layout, signature, team_id) values ($1, $2, $3, $4, (select team_id from team_member where team_id = $5 and account_id = $1))
       on conflict (account_id, name, (layout ? 'out')) do update set layout = excluded.layout, signature = excluded.signature, team_id = excluded.team_id, used_at = now() returning id`,
      [accountOf(request), name, JSON.stringify(layout), signature, team],
    );
    response.status(201).json({ id: made.rows[0].id });
  });

  return router;
}
