import { createHash } from 'node:crypto';
import type { SessionCard } from '#contract';
import type { Client, Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { sessionTopic } from '../http/streams.ts';

/** A session is named to people by a hash: its own number would let whoever sees it in. */
const publicId = (sid: string): string => createHash('sha256').update(sid).digest('hex').slice(0, 24);

async function rowsOf(db: Pool | Client, account: string) {
  const found = await db.query<{ sid: string; sess: { since?: string; seen?: string; browser?: string } }>(
    `select sid, sess from session where sess ->> 'accountId' = $1 and expire > now() order by expire desc limit 100`,
    [account],
  );
  return found.rows;
}

/** Sessions of an account that have not ended; `own` is the one that asks. */
export async function sessionsOf(db: Pool, account: string, own: string): Promise<SessionCard[]> {
  return (await rowsOf(db, account)).map(({ sid, sess }) => ({
    id: publicId(sid),
    since: sess.since ?? '',
    // It is noted by the quarter of an hour, and never from before it began.
    seen: [sess.seen ?? '', sess.since ?? ''].sort().at(-1)!,
    browser: sess.browser ?? '',
    own: sid === own,
  }));
}

/** Ends one session, by the name it is shown under; false where there is none. */
export async function endSession(db: Pool, account: string, id: string): Promise<boolean> {
  const found = (await rowsOf(db, account)).find((s) => publicId(s.sid) === id);
  if (!found) return false;
  await db.query('delete from session where sid = $1', [found.sid]);
  await announce(db, { type: 'ended', project: sessionTopic(found.sid) });
  return true;
}

/** Ends every session of an account, but the one that may stay; gives how many. */
export async function endSessions(db: Pool | Client, account: string, stays = ''): Promise<number> {
  const ended = await db.query<{ sid: string }>(
    `delete from session where sess ->> 'accountId' = $1 and sid <> $2 returning sid`,
    [account, stays],
  );
  for (const { sid } of ended.rows) await announce(db, { type: 'ended', project: sessionTopic(sid) });
  return ended.rows.length;
}

/** Ends every session of the demo: a server that closes it lets nobody stay in. */
export async function endDemoSessions(db: Pool): Promise<void> {
  const demos = await db.query<{ id: string }>('select id from account where is_demo');
  for (const { id } of demos.rows) await endSessions(db, id);
}

/** Notes when a session was last seen. Not by saving it whole: that would bring one back that has ended meanwhile. */
export const noteSeen = (pool: Pool, sid: string, at: string): Promise<unknown> =>
  pool.query(`update session set sess = (sess::jsonb || jsonb_build_object('seen', $2::text))::json where sid = $1`, [sid, at]); // prettier-ignore
