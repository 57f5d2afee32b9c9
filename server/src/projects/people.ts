import type { Request, Router } from 'express';
import { addMemberSchema, invitationSchema, roleSchema, type People, type Role } from '#contract';
import { audit } from '../accounts/audit.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { invitationsOf, makeInvitation } from '../accounts/invitations.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf, RIGHTS, UUID } from '../accounts/membership.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

/** Who is in a project, as what, and who is invited. */
export function peopleRoutes(router: Router, { pool }: ProjectServices): void {
  router.get('/people', allow('see'), async (request, response) => {
    const { project, role } = membershipOf(request);
    response.json(await peopleOf(pool, project, RIGHTS[role].includes('own')));
  });

  router.post('/people', allow('own'), async (request, response) => {
    const { project } = membershipOf(request);
    const { account, role } = bodyOf(request, addMemberSchema);
    const mate = await pool.query(
      `select 1 from project p join team_member o on o.team_id = p.team_id where p.id = $1 and o.account_id = $2`,
      [project, account],
    );
    if (!mate.rowCount) throw new Refusal(404, 'This person is not in the project’s team. Invite them by a link.');
    await pool.query(
      'insert into member (project_id, account_id, role) values ($1, $2, $3) on conflict (project_id, account_id) do nothing',
      [project, account, role],
    );
    await audit(pool, request, {
      what: 'joined',
      project,
      detail: `${await nameOf(pool, account)}, ${role}, from the team`,
    });
    await announce(pool, { type: 'people', project });
    response.status(201).json(await peopleOf(pool, project, true));
  });

  router.patch('/people/:account', allow('own'), async (request, response) => {
    const { project } = membershipOf(request);
    const { role } = bodyOf(request, roleSchema);
    await changeMember(pool, request, project, String(request.params.account), role);
    response.json(await peopleOf(pool, project, true));
  });

  // Everybody may go; only the owner sends others away.
  router.delete('/people/:account', async (request, response) => {
    const { project, role } = membershipOf(request);
    const leaver = String(request.params.account);
    if (leaver !== accountOf(request) && !RIGHTS[role].includes('own'))
      throw new Refusal(403, `As ${role} you can leave the project, not remove others from it.`);
    await changeMember(pool, request, project, leaver, null);
    response.status(204).end();
  });

  router.post('/invitations', allow('own'), async (request, response) => {
    const { project } = membershipOf(request);
    const { role, days } = bodyOf(request, invitationSchema);
    const made = await makeInvitation(pool, { project }, role, days, accountOf(request));
    await audit(pool, request, { what: 'invited', project, detail: `${role}, for ${days} days` });
    response.status(201).json(made);
  });

  router.delete('/invitations/:invitation', allow('own'), async (request, response) => {
    const id = String(request.params.invitation);
    if (!UUID.test(id)) throw notFound('This invitation');
    const gone = await pool.query('delete from invitation where id = $1 and project_id = $2 and used_by is null', [
      id,
      membershipOf(request).project,
    ]);
    if (!gone.rowCount) throw notFound('This invitation');
    await audit(pool, request, { what: 'invitation withdrawn', project: membershipOf(request).project });
    response.status(204).end();
  });
}

async function peopleOf(pool: Pool, project: string, owner: boolean): Promise<People> {
  const members = await pool.query<{ id: string; name: string; email: string; role: Role }>(
    'select a.id, a.name, a.email, m.role from member m join account a on a.id = m.account_id where m.project_id = $1 order by a.name',
    [project],
  );
  if (!owner) return { members: members.rows, invitations: [], mates: [] };
  const mates = await pool.query<{ id: string; name: string }>(
    `select a.id, a.name from project p join team_member t on t.team_id = p.team_id join account a on a.id = t.account_id
     where p.id = $1 and not exists (select 1 from member m where m.project_id = p.id and m.account_id = a.id) order by a.name`,
    [project],
  );
  return { members: members.rows, invitations: await invitationsOf(pool, 'project_id', project), mates: mates.rows };
}

/** Another role, or none; a project is never left without an owner. */
function changeMember(
  pool: Pool,
  request: Request,
  project: string,
  account: string,
  role: Role | null,
): Promise<void> {
  return inTransaction(pool, async (client: Client) => {
    if (!UUID.test(account)) throw notFound('This person');
    const members = await client.query<{ account_id: string; role: Role }>(
      'select account_id, role from member where project_id = $1 for update',
      [project],
    );
    const one = members.rows.find((m) => m.account_id === account);
    if (!one) throw notFound('This person');
    const owners = members.rows.filter((m) => m.role === 'owner');
    if (one.role === 'owner' && role !== 'owner' && owners.length === 1)
      throw new Refusal(409, 'This is the only owner. Make somebody else owner first.');
    if (role === null)
      await client.query('delete from member where project_id = $1 and account_id = $2', [project, account]);
    else
      await client.query('update member set role = $3 where project_id = $1 and account_id = $2', [
        project,
        account,
        role,
      ]);
    const who = await nameOf(client, account);
    await audit(client, request, {
      what: role ? 'role changed' : 'removed',
      project,
      detail: role ? `${who}: ${one.role} to ${role}` : `${who}, ${one.role}`,
    });
    await announce(client, { type: 'people', project });
  });
}

export const nameOf = async (db: Pool | Client, account: string): Promise<string> =>
  (await db.query<{ name: string }>('select name from account where id = $1', [account])).rows[0]?.name ?? '';
