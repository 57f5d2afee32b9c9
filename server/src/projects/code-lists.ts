import { Router } from 'express';
import { keepCodeListSchema, type KeptCodeList, type KeptCodeListCard } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import { inTransaction, type Pool } from '../db/db.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';

/** Lists that an account sees: its own, and those of its teams. */
const SEEN = `(l.account_id = $1 or exists (select 1 from team_member m where m.team_id = l.team_id and m.account_id = $1))`;

/** Code lists kept for a team and a client, revision by revision. */
export function codeListRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/code-lists', async (request, response) => {
    const rows = await pool.query<KeptCodeListCard>(
      `select l.id, l.name, l.client, t.name as team, r.revision, jsonb_array_length(r.list->'codes') as codes,
              r.saved_at as "savedAt", a.name as "savedBy"
       from code_list l left join team t on t.id = l.team_id
       join lateral (select * from code_list_revision v where v.code_list_id = l.id order by v.revision desc limit 1) r on true
       join account a on a.id = r.saved_by
       where ${SEEN} order by l.name, l.client limit 200`,
      [accountOf(request)],
    );
    response.json(rows.rows);
  });

  router.get('/code-lists/:list', async (request, response) => {
    const rows = await pool.query<KeptCodeList>(
      `select l.id, l.name, l.client, r.revision, r.list from code_list l
       join code_list_revision r on r.code_list_id = l.id
       where ${SEEN} and l.id::text = $2 order by r.revision desc limit 1`,
      [accountOf(request), request.params.list],
    );
    if (!rows.rows[0]) throw notFound('This code list');
    response.json(rows.rows[0]);
  });

  router.post('/code-lists', async (request, response) => {
    const { id, base, name, client, team, list } = bodyOf(request, keepCodeListSchema);
    const account = accountOf(request);
    const kept = await inTransaction(pool, async (db) => {
      let listId = id;
      let newest = 0;
      if (listId) {
        const found = await db.query<{ id: string }>(`select l.id from code_list l where ${SEEN} and l.id::text = $2 for update`, [account, listId]); // prettier-ignore
        if (!found.rows[0]) throw notFound('This code list');
        const at = await db.query<{ revision: number }>('select max(revision) as revision from code_list_revision where code_list_id = $1', [listId]); // prettier-ignore
        newest = at.rows[0].revision;
        if (newest !== base)
          throw new Refusal(409, `“${name}” is at revision ${newest} by now; your list began at revision ${base}. Compare the two first.`); // prettier-ignore
        await db.query('update code_list set name = $2, client = $3 where id = $1', [listId, name, client]);
      } else {
        const made = await db.query<{ id: string }>(
          `insert into code_list (account_id, name, client, team_id)
           values ($1, $2, $3, (select team_id from team_member where team_id = $4 and account_id = $1)) returning id`,
          [account, name, client, team],
        );
        listId = made.rows[0].id;
      }
      await db.query('insert into code_list_revision (code_list_id, revision, list, saved_by) values ($1, $2, $3, $4)', [listId, newest + 1, JSON.stringify(list), account]); // prettier-ignore
      return { id: listId, revision: newest + 1 };
    });
    response.status(201).json(kept);
  });

  return router;
}
