import { randomBytes } from 'node:crypto';
import { hash } from '@node-rs/argon2';
import { newStart } from '#core/project';
import { demoProject, kessaProject, selmarProject, tarnProject, type DemoProject } from '#demo';
import { makeChange } from './changes.ts';
import type { Pool } from '../db/db.ts';
import { receiveFile } from './files.ts';
import { createProject } from './projects.ts';
import { createTeam } from '../accounts/teams.ts';

/**
 * Loads the demo account and its projects on first run; gives the ids of those that were loaded now, that of Ostrel
 * Landing first. A start that was ended in the middle is completed by the next one.
 */
export async function loadDemo(pool: Pool): Promise<string[]> {
  const demos = [selmarProject(), tarnProject(), kessaProject(), demoProject()];
  const client = await pool.connect();
  try {
    // Two servers that start at once take turns; the lock goes with its connection.
    await client.query('select pg_advisory_lock(7318)');
    const { account, team } = await demoAccount(pool);
    // The others first, so that the list begins with Ostrel Landing.
    const ids: string[] = [];
    for (const demo of demos)
      if (!(await isLoaded(pool, account, demo))) ids.unshift(await loadProject(pool, account, team, demo));
    return ids;
  } finally {
    await client.query('select pg_advisory_unlock(7318)').catch(() => {});
    client.release();
  }
}

async function demoAccount(pool: Pool): Promise<{ account: string; team: string }> {
  await pool.query(
    `insert into account (email, name, password_hash, is_demo) values ('demo@ostrel.example', 'Ina Quillow', $1, true)
     on conflict (lower(email)) do nothing`,
    // Nobody knows this password: the demo is entered by its button alone.
    [await hash(randomBytes(24).toString('hex'))],
  );
  const found = await pool.query<{ id: string }>('select id from account where is_demo order by created_at limit 1');
  const account = found.rows[0].id;
  const teams = await pool.query<{ id: string }>(
    'select t.id from team t join team_member m on m.team_id = t.id where m.account_id = $1 order by t.created_at limit 1',
    [account],
  );
  return { account, team: teams.rows[0]?.id ?? (await createTeam(pool, 'Quillow & Asterby', account)) };
}

/** Whether a demo project was once loaded to its end; one that was begun and not ended is taken away. */
async function isLoaded(pool: Pool, account: string, { name, changes }: DemoProject): Promise<boolean> {
  const loaded = await pool.query<{ loaded: string[] }>('select demo_loaded as loaded from account where id = $1', [
    account,
  ]);
  if (loaded.rows[0].loaded.includes(name)) return true;
  // Of an earlier version, which kept no record: whole when it has all its changes.
  const found = await pool.query<{ id: string; revision: number }>(
    'select p.id, p.revision from project p join member m on m.project_id = p.id where m.account_id = $1 and p.name = $2',
    [account, name],
  );
  if (found.rows.some((p) => p.revision >= changes.length)) return true;
  for (const half of found.rows) await pool.query('delete from project where id = $1', [half.id]);
  return false;
}

async function loadProject(pool: Pool, account: string, team: string, demo: DemoProject): Promise<string> {
  const { name, description, settings, files, changes } = demo;
  const project = await createProject(pool, account, { name, description, team, start: newStart(settings) });
  for (const file of files)
    await receiveFile(pool, project, account, file.name, Buffer.from(file.bytes), { id: file.id });
  let revision = 0;
  for (const change of changes) revision = await makeChange(pool, project, account, revision, change);
  await pool.query('update account set demo_loaded = array_append(demo_loaded, $2) where id = $1', [account, name]);
  return project;
}
