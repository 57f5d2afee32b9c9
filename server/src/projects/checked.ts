import type { Router } from 'express';
import { checkedSchema, type CheckedMark } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import { changesSince } from './changes.ts';
import type { Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { bodyOf, Refusal } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

/** The newest mark of a project, and how many changes came after it. */
export async function newestMark(pool: Pool, project: string): Promise<CheckedMark | null> {
  const found = await pool.query<{ revision: number; by: string; at: Date; note: string; since: number }>(
    `select k.revision, a.name as by, k.at, k.note,
            (select count(*)::int from change c where c.project_id = k.project_id and c.revision > k.revision) as since
     from checked k join account a on a.id = k.account_id
     where k.project_id = $1 order by k.revision desc, k.at desc limit 1`,
    [project],
  );
  const row = found.rows[0];
  return row ? { ...row, at: row.at.toISOString() } : null;
}

/** Marks of revisions as checked, by somebody else than who made them, and what a mark no longer covers. */
export function checkedRoutes(router: Router, { pool }: ProjectServices): void {
  router.get('/checked', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const mark = await newestMark(pool, project);
    response.json({ mark, since: mark ? await changesSince(pool, project, mark.revision) : [] });
  });

  router.post('/checked', allow('check'), async (request, response) => {
    const { project } = membershipOf(request);
    const account = accountOf(request);
    const { revision, note } = bodyOf(request, checkedSchema);
    const newest = await pool.query<{ revision: number; settled_revision: number | null; archived_at: Date | null }>(
      'select revision, settled_revision, archived_at from project where id = $1',
      [project],
    );
    if (newest.rows[0].archived_at)
      throw new Refusal(409, 'This project is archived. Restore it from the archive to work on it.');
    if (revision > newest.rows[0].revision) throw new Refusal(400, `There is no revision ${revision} yet.`);
    // What is already marked by somebody needs no second look; what came after it must not be one's own.
    const own = await pool.query<{ revision: number }>(
      `select c.revision from change c
       where c.project_id = $1 and c.account_id = $2 and c.revision <= $3
         and c.revision > coalesce((select max(k.revision) from checked k where k.project_id = $1 and k.revision <= $3), 0)
       order by c.revision limit 5`,
      [project, account, revision],
    );
    if (own.rows.length)
      throw new Refusal(
        403,
        `Revision ${revision} holds changes of your own (${own.rows.map((r) => r.revision).join(', ')}). Somebody else has to check them.`,
      );
    await pool.query(
      'insert into checked (project_id, revision, account_id, note) values ($1, $2, $3, $4) on conflict (project_id, revision, account_id) do update set note = excluded.note, at = now()',
      [project, revision, account, note],
    );
    await announce(pool, { type: 'checked', project });
    response.status(201).json(await newestMark(pool, project));
  });
}
