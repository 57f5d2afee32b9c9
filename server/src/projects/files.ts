import { createHash, randomUUID } from 'node:crypto';
import express, { type Request, type RequestHandler, type Router } from 'express';
import { intakeRequestSchema } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import type { Door } from '../http/door.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { originalOf, sendOriginal } from './originals.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

const LARGEST_FILE = '256mb';

/** What one project may hold of received files. */
export type Room = Pick<Door, 'projectFiles' | 'projectMegabytes'>;

/** Refused where a project is archived, or would hold more than it may. */
async function needRoom(db: Pool | Client, project: string, size: number, name: string, room: Room): Promise<void> {
  const held = await db.query<{ files: number; bytes: string; archived: boolean }>(
    `select count(f.id)::int as files, coalesce(sum(f.size), 0) as bytes, p.archived_at is not null as archived
     from project p left join file f on f.project_id = p.id where p.id = $1 group by p.id`,
    [project],
  );
  const { files, bytes, archived } = held.rows[0];
  if (archived) throw new Refusal(409, 'This project is archived. Restore it from the archive to work on it.');
  const ask = 'Whoever runs this server can allow more; a file that is no longer needed is removed with its project.';
  if (files >= room.projectFiles)
    throw new Refusal(
      413,
      `${name} was not received: the project holds ${files} files, ${room.projectFiles} at most. ${ask}`,
    );
  const megabytes = (Number(bytes) + size) / 1_000_000;
  if (megabytes > room.projectMegabytes)
    throw new Refusal(
      413,
      `${name} was not received: with it the project would hold ${megabytes.toFixed(1)} MB of files, ${room.projectMegabytes} MB at most. ${ask}`,
    );
}

export async function receiveFile(
  pool: Pool,
  project: string,
  account: string,
  name: string,
  bytes: Buffer,
  { id = randomUUID(), room }: { id?: string; room?: Room } = {},
): Promise<{ id: string; sha256: string }> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const known = await pool.query<{ id: string }>(
    'select id from file where project_id = $1 and sha256 = $2 and name = $3 limit 1',
    [project, sha256, name],
  );
  if (known.rows[0]) return { id: known.rows[0].id, sha256 };
  await inTransaction(pool, async (client) => {
    // One file of a project after the other, so that two together do not pass what each of them would.
    await client.query('select pg_advisory_xact_lock(hashtext($1))', [project]);
    if (room) await needRoom(client, project, bytes.length, name, room);
    await client.query(
      'insert into file (project_id, id, name, size, sha256, bytes, received_by) values ($1, $2, $3, $4, $5, $6, $7)',
      [project, id, name, bytes.length, sha256, bytes, account],
    );
  });
  return { id, sha256 };
}

/** The last part of a name that may carry a path, without control characters. */
export const plainFileName = (name: string): string =>
  name
    .replace(/^.*[\\/]/, '')
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .slice(0, 255) || 'file';

const fileNameOf = (request: Request): string => plainFileName(String(request.query.name ?? 'file'));

/** From this size on one is received after the other: each takes several times its size while it is. */
const LARGE = 16 * 1024 * 1024;
const MOST_WAITING = 8;

function largeOnesInTurn(): RequestHandler {
  let turn = Promise.resolve();
  let waiting = 0;
  return (request, response, next) => {
    const size = Number(request.headers['content-length'] ?? LARGE);
    if (size < LARGE) return next();
    if (waiting >= MOST_WAITING)
      throw new Refusal(503, 'Several large files are being received. Send this one again in a minute.');
    waiting++;
    const before = turn;
    turn = new Promise((resolve) => response.once('close', resolve));
    void turn.then(() => waiting--);
    void before.then(() => next());
  };
}

/** Originals in and out as received, and intakes of them. */
export function fileRoutes(router: Router, { pool, intakes, door }: ProjectServices): void {
  router.post(
    '/files',
    allow('change'),
    // Before its bytes are sent in vain.
    async (request, _response, next) => {
      const { project } = membershipOf(request);
      await needRoom(pool, project, Number(request.headers['content-length'] ?? 0), fileNameOf(request), door);
      next();
    },
    largeOnesInTurn(),
    express.raw({ type: 'application/octet-stream', limit: LARGEST_FILE }),
    async (request, response) => {
      const { project } = membershipOf(request);
      const name = fileNameOf(request);
      if (!Buffer.isBuffer(request.body) || request.body.length === 0)
        throw new Refusal(400, `${name} is empty. Nothing was received.`);
      response
        .status(201)
        .json(await receiveFile(pool, project, accountOf(request), name, request.body, { room: door }));
    },
  );

  router.get('/files/:file', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const file = String(request.params.file);
    const original = await originalOf(pool, project, file);
    if (!original) throw notFound('This file');
    await sendOriginal(pool, project, file, original, response);
  });

  router.post('/intakes', allow('change'), (request, response) => {
    const { project } = membershipOf(request);
    const { revision, ...asked } = bodyOf(request, intakeRequestSchema);
    response.status(202).json(intakes.start(project, accountOf(request), revision, asked));
  });

  router.delete('/jobs/:job', allow('change'), (request, response) => {
    intakes.stop(membershipOf(request).project, String(request.params.job));
    response.status(204).end();
  });
}
