import { createHash, randomUUID } from 'node:crypto';
import express, { type RequestHandler, type Router } from 'express';
import { intakeRequestSchema } from '#contract';
import { accountOf } from './auth.ts';
import type { Pool } from './db.ts';
import { allow, membershipOf } from './membership.ts';
import { originalOf, sendOriginal } from './originals.ts';
import { bodyOf, notFound, Refusal } from './problems.ts';
import type { ProjectServices } from './projects.ts';

const LARGEST_FILE = '256mb';

export async function receiveFile(
  pool: Pool,
  project: string,
  account: string,
  name: string,
  bytes: Buffer,
  id: string = randomUUID(),
): Promise<{ id: string; sha256: string }> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const known = await pool.query<{ id: string }>(
    'select id from file where project_id = $1 and sha256 = $2 and name = $3 limit 1',
    [project, sha256, name],
  );
  if (known.rows[0]) return { id: known.rows[0].id, sha256 };
  await pool.query(
    'insert into file (project_id, id, name, size, sha256, bytes, received_by) values ($1, $2, $3, $4, $5, $6, $7)',
    [project, id, name, bytes.length, sha256, bytes, account],
  );
  return { id, sha256 };
}

/** The last part of a name that may carry a path, without control characters. */
export const plainFileName = (name: string): string =>
  name
    .replace(/^.*[\\/]/, '')
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .slice(0, 255) || 'file';

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
export function fileRoutes(router: Router, { pool, intakes }: ProjectServices): void {
  router.post(
    '/files',
    allow('change'),
    largeOnesInTurn(),
    express.raw({ type: 'application/octet-stream', limit: LARGEST_FILE }),
    async (request, response) => {
      const { project } = membershipOf(request);
      const name = plainFileName(String(request.query.name ?? 'file'));
      if (!Buffer.isBuffer(request.body) || request.body.length === 0)
        throw new Refusal(400, `${name} is empty. Nothing was received.`);
      response.status(201).json(await receiveFile(pool, project, accountOf(request), name, request.body));
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
    const { revision, intake } = bodyOf(request, intakeRequestSchema);
    response.status(202).json(intakes.start(project, accountOf(request), revision, intake));
  });

  router.delete('/jobs/:job', allow('change'), (request, response) => {
    intakes.stop(membershipOf(request).project, String(request.params.job));
    response.status(204).end();
  });
}
