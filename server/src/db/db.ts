import { readFileSync, readdirSync } from 'node:fs';
import pg from 'pg';

export type Pool = pg.Pool;
export type Client = pg.PoolClient;

const SQL_FOLDER = new URL('../../sql/', import.meta.url);

export function openPool(url: string, max = 12): Pool {
  const pool = new pg.Pool({ connectionString: url, max });
  // A connection that breaks while idle is replaced at the next use; it must not end the server.
  pool.on('error', () => {});
  return pool;
}

/** Runs what must happen whole or not at all. */
export async function inTransaction<T>(pool: Pool, work: (client: Client) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  // A connection that breaks within a transaction says so to whoever listens; nobody listening ends the server.
  const hear = (error: Error): void => void (broken = error);
  client.on('error', hear);
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((failed: Error) => (broken ??= failed));
    throw error;
  } finally {
    client.off('error', hear);
    // What broke is closed instead of given to the next.
    client.release(broken);
  }
}

/** Two servers that start at once on a new database take turns. */
const TAKE_TURNS = 'select pg_advisory_xact_lock(7317)';

/** Applies the numbered migrations that this database lacks, in order, each in one transaction; gives their names. */
export async function migrate(pool: Pool): Promise<string[]> {
  await inTransaction(pool, async (client) => {
    await client.query(TAKE_TURNS);
    await client.query(
      'create table if not exists migration (name text primary key, applied_at timestamptz not null default now())',
    );
  });
  const applied: string[] = [];
  for (const name of readdirSync(SQL_FOLDER)
    .filter((f) => /^\d{3}_.*\.sql$/.test(f))
    .sort()) {
    await inTransaction(pool, async (client) => {
      await client.query(TAKE_TURNS);
      const known = await client.query('select 1 from migration where name = $1', [name]);
      if (known.rowCount) return;
      await client.query(readFileSync(new URL(name, SQL_FOLDER), 'utf8'));
      await client.query('insert into migration (name) values ($1)', [name]);
      applied.push(name);
    });
  }
  return applied;
}

/** Waits until the database answers: it may be starting, or recovering from having been killed. */
export async function untilReady(pool: Pool, seconds = 90): Promise<void> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    try {
      await pool.query('select 1');
      return;
    } catch (error) {
      if (Date.now() > end || !isPassing(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  }
}

/** Whether a failure of the database passes by itself: it starts, shuts down or recovers (57P0x), or does not listen yet. */
export const isPassing = (error: unknown): boolean => {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  return (
    /^(57P0|08|ECONNREFUSED|ECONNRESET|EPIPE)/.test(code) || /terminated|Connection ended|not queryable/i.test(message)
  );
};
