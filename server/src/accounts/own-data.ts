import type { AccountExport } from '#contract';
import type { Client, Pool } from '../db/db.ts';
import { Refusal } from '../http/problems.ts';
import { endSessions, sessionsOf } from './sessions.ts';

/** Everything that is kept about a person: what they are, where they are in, what they did, what was written down of them. */
export async function exportOf(pool: Pool, account: string, session: string): Promise<AccountExport> {
  const list = async <T extends object>(sql: string): Promise<T[]> => (await pool.query<T>(sql, [account])).rows;
  const [own] = await list<AccountExport['account']>(
    'select name, email, created_at as "madeAt", is_admin as "isAdmin" from account where id = $1',
  );
  return {
    account: own,
    sessions: await sessionsOf(pool, account, session),
    projects: await list(`select p.id, p.name, m.role from member m join project p on p.id = m.project_id where m.account_id = $1 order by p.name, p.id`), // prettier-ignore
    teams: await list(`select t.id, t.name, m.role from team_member m join team t on t.id = m.team_id where m.account_id = $1 order by t.name, t.id`), // prettier-ignore
    files: await list(`select project_id as project, name, size, sha256, received_at as at from file where received_by = $1 order by received_at`), // prettier-ignore
    changes: await list(`select project_id as project, revision, at, what from change where account_id = $1 order by at, revision`), // prettier-ignore
    checked: await list(`select project_id as project, revision, at, note from checked where account_id = $1 order by at`), // prettier-ignore
    columns: (await list<{ chosen: AccountExport['columns'] }>('select columns_chosen as chosen from account where id = $1'))[0].chosen, // prettier-ignore
    layouts: await list(`select name, layout from layout where account_id = $1 order by name`),
    codeLists: await list(`select l.name, l.client, r.revision, r.list from code_list l join code_list_revision r on r.code_list_id = l.id where l.account_id = $1 order by l.name, r.revision`), // prettier-ignore
    audit: await list(`select at, what, address, detail from audit where account_id = $1 order by id`),
  };
}

/**
 * Takes a person out of everything and forgets who they were. What they did stays in the histories of others' projects, by
 * nobody's name; projects that they are alone in go with them, when that is wanted. Refused where others would be left
 * without an owner.
 */
export async function deleteAccount(client: Client, account: string, withProjects: boolean): Promise<void> {
  const alone = async (
    of: 'project' | 'team',
    member: string,
  ): Promise<{ id: string; name: string; others: number }[]> => {
    const found = await client.query<{ id: string; name: string; others: number }>(
      `select t.id, t.name, (select count(*)::int from ${member} o where o.${of}_id = t.id and o.account_id <> $1) as others
       from ${of} t join ${member} m on m.${of}_id = t.id and m.account_id = $1 and m.role = 'owner'
       where not exists (select 1 from ${member} o where o.${of}_id = t.id and o.account_id <> $1 and o.role = 'owner')
       order by t.name, t.id for update of t`,
      [account],
    );
    return found.rows;
  };
  const [projects, teams] = [await alone('project', 'member'), await alone('team', 'team_member')];
  const left = [...projects, ...teams].filter((t) => t.others > 0);
  if (left.length)
    throw new Refusal(
      409,
      `Others would be left without an owner: ${named(left)}. Make somebody else owner there first.`,
    );
  if (projects.length && !withProjects)
    throw new Refusal(409, `Nobody else is in ${named(projects)}. ${projects.length === 1 ? 'It is deleted' : 'They are deleted'} with your account when you say so.`); // prettier-ignore
  for (const { id } of projects) await client.query('delete from project where id = $1', [id]);
  for (const { id } of teams) await client.query('delete from team where id = $1', [id]);
  for (const sql of [
    'delete from member where account_id = $1',
    'delete from team_member where account_id = $1',
    'delete from invitation where made_by = $1 and used_by is null',
    'delete from layout where account_id = $1 and team_id is null',
    'delete from code_list where account_id = $1 and team_id is null',
    'delete from password_reset where account_id = $1',
    `update audit set name = '', address = '' where account_id = $1`,
    `update account set name = 'a former member', email = 'gone-' || id, password_hash = '!', is_admin = false, columns_chosen = '{}', gone_at = now() where id = $1`, // prettier-ignore
  ])
    await client.query(sql, [account]);
  await endSessions(client, account);
}

const named = (list: readonly { name: string }[]): string =>
  list.slice(0, 5).map((t) => `“${t.name}”`).join(', ') + (list.length > 5 ? ` and ${list.length - 5} more` : ''); // prettier-ignore
