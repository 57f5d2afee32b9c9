import { readFileSync, readdirSync } from 'node:fs';
import pg from 'pg';

export type Pool = pg.Pool;
export type Client = pg.PoolClient;

const SQL_FOLDER = new URL('../sql/', import.meta.url);

export function openPool(url: string): Pool {
  const pool = new pg.Pool({ connectionString: url, max: 12 });
  // A connection that breaks while idle is replaced at the next use; it must not end the server.
  pool.on('error', () => {});
  return pool;
}

/** Runs what must happen whole or not at all. */
export async function inTransaction<T>(pool: Pool, work: (client: Client) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => {});
    throw error;
  } finally {
    client.release();
  }
}

/** Applies the numbered migrations that this database lacks, in order, each in one transaction; gives their names. */
export async function migrate(pool: Pool): Promise<string[]> {
  await pool.query(
    'create table if not exists migration (name text primary key, applied_at timestamptz not null default now())',
  );
  const applied: string[] = [];
  for (const name of readdirSync(SQL_FOLDER)
    .filter((f) => /^\d{3}_.*\.sql$/.test(f))
    .sort()) {
    await inTransaction(pool, async (client) => {
      // Two servers that start at once take turns.
      await client.query('select pg_advisory_xact_lock(7317)');
      const known = await client.query('select 1 from migration where name = $1', [name]);
      if (known.rowCount) return;
      await client.query(readFileSync(new URL(name, SQL_FOLDER), 'utf8'));
      await client.query('insert into migration (name) values ($1)', [name]);
      applied.push(name);
    });
  }
  return applied;
}
