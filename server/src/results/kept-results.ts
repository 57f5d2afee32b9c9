import { createHash } from 'node:crypto';
import type { Pool } from '../db/db.ts';

// Results under the hash of what they were computed from, and their bytes under the hash of what they hold.

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** The hash of a result that holds nothing, as of a comparison that cannot be made. */
export const NOTHING_HASH = sha256(new Uint8Array(0));

/** Hashes of the results that are kept, by their keys. */
export async function hashesOf(pool: Pool, project: string, keys: readonly string[]): Promise<Map<string, string>> {
  if (keys.length === 0) return new Map();
  const found = await pool.query<{ key: string; hash: string }>(
    'select key, hash from derived where project_id = $1 and key = any($2)',
    [project, keys],
  );
  return new Map(found.rows.map((r) => [r.key, r.hash]));
}

/** Keeps a result; gives its hash. */
export async function keepResult(pool: Pool, project: string, key: string, block: Uint8Array): Promise<string> {
  const hash = sha256(block);
  await pool.query('insert into blob (hash, bytes) values ($1, $2) on conflict do nothing', [
    hash,
    Buffer.from(block.buffer, block.byteOffset, block.byteLength),
  ]);
  await pool.query(
    'insert into derived (project_id, key, hash) values ($1, $2, $3) on conflict (project_id, key) do update set hash = excluded.hash',
    [project, key, hash],
  );
  return hash;
}

/** The bytes of a kept result; null where it is no longer kept. */
export async function findBlock(pool: Pool, hash: string): Promise<Uint8Array | null> {
  const found = await pool.query<{ bytes: Buffer }>('select bytes from blob where hash = $1', [hash]);
  return found.rows[0] ? new Uint8Array(found.rows[0].bytes) : null;
}

/** The bytes of a result that has to be there. */
export async function blockOf(pool: Pool, hash: string): Promise<Uint8Array> {
  const block = await findBlock(pool, hash);
  if (!block) throw new Error(`The result ${hash} is no longer kept.`);
  return block;
}
