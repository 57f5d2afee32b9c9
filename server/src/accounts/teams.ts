import { Router, type Request } from 'express';
import { gridsOfBasis, newStart, type Start } from '#core/project';
import { teamInvitationSchema, teamPatchSchema, teamSchema, type TeamCard } from '#contract';
import { audit } from './audit.ts';
import { accountOf } from './signed-in.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { invitationsOf, makeInvitation } from './invitations.ts';
import { UUID } from './membership.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';

/** A team with its owner; every new account gets one, so that start settings have a home. */
export async function createTeam(db: Pool | Client, name: string, account: string): Promise<string> {
  const made = await db.query<{ id: string }>('insert into team (name, start) values ($1, $2) returning id', [
    name.slice(0, 120),
    JSON.stringify(newStart()),
  ]);
  await db.query(`insert into team_member (team_id, account_id, role) values ($1, $2, 'owner')`, [
    made.rows[0].id,
    account,
  ]);
  return made.rows[0].id;
}

/** Teams of an account: their people, and what their new projects begin with. */
export function teamRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/teams', async (request, response) => {
    const account = accountOf(request);
    const teams = await pool.query<{ id: string; name: string; start: Start; role: TeamCard['role'] }>(
      'select t.id, t.name, t.start, m.role from team t join team_member m on m.team_id = t.id where m.account_id = $1 order by t.created_at',
      [account],
    );
    const cards: TeamCard[] = [];
    for (const team of teams.rows) {
      const members = await pool.query<TeamCard['members'][number]>(
        'select a.id, a.name, a.email, m.role from team_member m join account a on a.id = m.account_id where m.team_id = $1 order by a.name',
        [team.id],
      );
      cards.push({
        ...team,
        start: withDefaults(team.start),
        members: members.rows,
        invitations: team.role === 'owner' ? await invitationsOf(pool, 'team_id', team.id) : [],
      });
    }
    response.json(cards);
  });

  router.post('/teams', async (request, response) => {
    const { name } = bodyOf(request, teamSchema);
    const id = await inTransaction(pool, (client) => createTeam(client, name, accountOf(request)));
    response.status(201).json({ id });
  });

  router.patch('/teams/:team', async (request, response) => {
    const team = await ownTeam(pool, request, 'any');
    const patch = bodyOf(request, teamPatchSchema);
    if (patch.start && gridsOfBasis(patch.start.basis).length)
      throw new Refusal(400, 'Grid files belong to a project; start settings cannot hold them.');
    if (patch.name !== undefined) {
      await ownTeam(pool, request, 'owner');
      await pool.query('update team set name = $2 where id = $1', [team, patch.name]);
    }
    if (patch.start) await pool.query('update team set start = $2 where id = $1', [team, JSON.stringify(patch.start)]);
    response.status(204).end();
  });

  router.post('/teams/:team/invitations', async (request, response) => {
    const team = await ownTeam(pool, request, 'owner');
    const { days } = bodyOf(request, teamInvitationSchema);
    const made = await makeInvitation(pool, { team }, 'member', days, accountOf(request));
    await audit(pool, request, { what: 'invited', detail: `into a team, for ${days} days` });
    response.status(201).json(made);
  });

  router.delete('/teams/:team/people/:account', async (request, response) => {
    const leaver = String(request.params.account);
    const team = await ownTeam(pool, request, leaver === accountOf(request) ? 'any' : 'owner');
    if (!UUID.test(leaver)) throw notFound('This person');
    await inTransaction(pool, async (client) => {
      const owners = await client.query<{ account_id: string }>(
        `select account_id from team_member where team_id = $1 and role = 'owner' for update`,
        [team],
      );
      if (owners.rows.length === 1 && owners.rows[0].account_id === leaver)
        throw new Refusal(409, 'This is the team’s only owner.');
      const gone = await client.query('delete from team_member where team_id = $1 and account_id = $2', [team, leaver]);
      if (!gone.rowCount) throw notFound('This person');
      await audit(client, request, { what: 'removed', detail: `from a team: ${leaver}` });
    });
    response.status(204).end();
  });

  return router;
}

/** Start settings of any age, with what came later as it usually is. */
export const withDefaults = (start: Start): Start => {
  const fresh = newStart();
  return {
    settings: { ...fresh.settings, ...start.settings },
    basis: { ...fresh.basis, ...start.basis },
    codeList: start.codeList,
  };
};

/** What projects of a team begin with, as it is kept; for its members alone. */
export async function startOfTeam(pool: Pool, team: string, account: string): Promise<Start> {
  const found = await pool.query<{ start: Start }>(
    'select t.start from team t join team_member m on m.team_id = t.id where t.id = $1 and m.account_id = $2',
    [team, account],
  );
  if (!found.rows[0]) throw notFound('This team');
  return found.rows[0].start;
}

async function ownTeam(pool: Pool, request: Request, need: 'any' | 'owner'): Promise<string> {
  const team = String(request.params.team);
  if (!UUID.test(team)) throw notFound('This team');
  const found = await pool.query<{ role: string }>(
    'select role from team_member where team_id = $1 and account_id = $2',
    [team, accountOf(request)],
  );
  if (!found.rows[0]) throw notFound('This team');
  if (need === 'owner' && found.rows[0].role !== 'owner') throw new Refusal(403, 'Only the team’s owner does this.');
  return team;
}
