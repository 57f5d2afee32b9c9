import { Router, type Request } from 'express';
import { followStart, documentOf, startDifferences, type Start } from '#core/project';
import { followStartSchema, type FollowingProject, type Role } from '#contract';
import { RIGHTS, UUID } from '../accounts/membership.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { startOfTeam, withDefaults } from '../accounts/teams.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import type { Pool } from '../db/db.ts';
import { makeChange } from './changes.ts';
import { readParts } from './documents.ts';
import type { ProjectServices } from './services.ts';

/** So many projects of a team are compared with its start settings, the newest ones. */
const MOST_COMPARED = 200;

/** Projects of a team that follow its start settings where somebody wants it. */
export function followStartRoutes({ pool, settler }: Pick<ProjectServices, 'pool' | 'settler'>): Router {
  const router = Router();

  router.get('/teams/:team/projects', async (request, response) => {
    const { id, start } = await teamOfRequest(pool, request);
    const projects: FollowingProject[] = [];
    for (const p of await projectsOf(pool, id, accountOf(request))) {
      const own = await startOf(pool, p.id);
      projects.push({ id: p.id, name: p.name, revision: own.revision, differences: startDifferences(own, start) });
    }
    response.json(projects);
  });

  router.post('/teams/:team/projects/:project/follow', async (request, response) => {
    const { id, start } = await teamOfRequest(pool, request);
    const { parts, revision } = bodyOf(request, followStartSchema);
    const account = accountOf(request);
    const [found] = (await projectsOf(pool, id, account)).filter((p) => p.id === request.params.project);
    if (!found) throw notFound();
    const change = followStart(await startOf(pool, found.id), start, parts);
    if (!change) throw new Refusal(409, 'It follows the team’s start settings already.');
    const made = await makeChange(pool, found.id, account, revision, change);
    void settler.schedule(found.id);
    response.status(201).json({ revision: made });
  });

  return router;
}

async function teamOfRequest(pool: Pool, request: Request): Promise<{ id: string; start: Start }> {
  const id = String(request.params.team);
  if (!UUID.test(id)) throw notFound('This team');
  return { id, start: withDefaults(await startOfTeam(pool, id, accountOf(request))) };
}

/** Projects of a team that an account may change. */
async function projectsOf(pool: Pool, team: string, account: string): Promise<{ id: string; name: string }[]> {
  const may = (Object.keys(RIGHTS) as Role[]).filter((role) => RIGHTS[role].includes('change'));
  const found = await pool.query<{ id: string; name: string }>(
    `select p.id, p.name from project p join member m on m.project_id = p.id and m.account_id = $2 and m.role = any($3)
     where p.team_id = $1 and p.archived_at is null order by p.created_at desc, p.id limit ${MOST_COMPARED}`,
    [team, account, may],
  );
  return found.rows;
}

/** What a project began with, as it is now; its place on earth is left out. */
async function startOf(
  pool: Pool,
  project: string,
): Promise<Pick<Start, 'settings' | 'codeList'> & { revision: number }> {
  const { rows } = await pool.query<{ revision: number }>('select revision from project where id = $1', [project]);
  const parts = await readParts(pool, project, [
    { kind: 'settings', keys: [''] },
    { kind: 'codes', keys: [''] },
  ]);
  const { settings, codeList } = documentOf(parts).document;
  return { settings, codeList, revision: rows[0].revision };
}
