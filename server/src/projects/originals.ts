import { once } from 'node:events';
import type { Response } from 'express';
import type { Pool } from '../db/db.ts';

/** Bytes that the database hands over at once: as text they are twice as long, and a text has its largest length. */
const PIECE = 4 * 1024 * 1024;

/** A received file in pieces, in order; nothing where it is not there. */
async function* piecesOf(pool: Pool, project: string, file: string, size: number): AsyncGenerator<Buffer> {
  for (let at = 0; at < size; at += PIECE) {
    const found = await pool.query<{ piece: Buffer }>(
      'select substring(bytes from $3 for $4) as piece from file where project_id = $1 and id = $2',
      [project, file, at + 1, PIECE],
    );
    if (!found.rows[0]) throw new Error('The file was removed while it was read.');
    yield found.rows[0].piece;
  }
}

export interface Original {
  name: string;
  size: number;
  sha256: string;
}

/** What a received file is called and how large it is; null where there is none. */
export async function originalOf(pool: Pool, project: string, file: string): Promise<Original | null> {
  const found = await pool.query<Original>('select name, size, sha256 from file where project_id = $1 and id = $2', [project, file]); // prettier-ignore
  return found.rows[0] ?? null;
}

/** The bytes of a received file, whole; null where there is none. */
export async function bytesOfOriginal(pool: Pool, project: string, file: string): Promise<Uint8Array | null> {
  const original = await originalOf(pool, project, file);
  if (!original) return null;
  const bytes = new Uint8Array(original.size);
  let at = 0;
  for await (const piece of piecesOf(pool, project, file, original.size)) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
}

/** Sends a received file piece by piece, as fast as it is taken; gives up when nobody takes it. */
export async function sendOriginal(
  pool: Pool,
  project: string,
  file: string,
  original: Original,
  to: Response,
): Promise<void> {
  to.attachment(original.name).type('application/octet-stream').setHeader('Content-Length', original.size);
  for await (const piece of piecesOf(pool, project, file, original.size)) {
    if (to.destroyed) return;
    if (!to.write(piece)) await Promise.race([once(to, 'drain'), once(to, 'close')]);
  }
  to.end();
}
