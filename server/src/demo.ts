import { randomBytes } from 'node:crypto';
import { hash } from '@node-rs/argon2';
import { newStart } from '#core/chain';
import { demoProject, kessaProject, tarnProject, type DemoProject } from '#demo';
import { makeChange } from './changes.ts';
import type { Pool } from './db.ts';
import { receiveFile } from './files.ts';
import { createProject } from './projects.ts';
import { createTeam } from './teams.ts';

/** Loads the demo account and its projects on first run; gives their ids, that of Ostrel Landing first; none when they are there already. */
export async function loadDemo(pool: Pool): Promise<string[]> {
  const made = await pool.query<{ id: string }>(
    `insert into account (email, name, password_hash, is_demo) values ('demo@ostrel.example', 'Ina Kroll', $1, true)
     on conflict (lower(email)) do nothing returning id`,
    // Nobody knows this password: the demo is entered by its button alone.
    [await hash(randomBytes(24).toString('hex'))],
  );
  if (!made.rows[0]) return [];
  const account = made.rows[0].id;
  const team = await createTeam(pool, 'Kroll & Tamm', account);
  // The others first, so that the list begins with Ostrel Landing.
  const ids: string[] = [];
  for (const project of [tarnProject(), kessaProject(), demoProject()])
    ids.unshift(await loadProject(pool, account, team, project));
  return ids;
}

async function loadProject(pool: Pool, account: string, team: string, demo: DemoProject): Promise<string> {
  const { name, description, settings, files, changes } = demo;
  const project = await createProject(pool, account, { name, description, team, start: newStart(settings) });
  for (const file of files) await receiveFile(pool, project, account, file.name, Buffer.from(file.bytes), file.id);
  let revision = 0;
  for (const change of changes) revision = await makeChange(pool, project, account, revision, change);
  return project;
}
