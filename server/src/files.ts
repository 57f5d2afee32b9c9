import { createHash, randomUUID } from 'node:crypto';
import express, { type Router } from 'express';
import { intakeRequestSchema } from '#contract';
import { accountOf } from './auth.ts';
import type { Pool } from './db.ts';
import { allow, membershipOf } from './membership.ts';
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

/** Originals in and out as received, and intakes of them. */
export function fileRoutes(router: Router, { pool, intakes }: ProjectServices): void {
  router.post(
    '/files',
    allow('change'),
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
    const found = await pool.query<{ name: string; bytes: Buffer }>(
      'select name, bytes from file where project_id = $1 and id = $2',
      [membershipOf(request).project, String(request.params.file)],
    );
    if (!found.rows[0]) throw notFound('This file');
    response.attachment(found.rows[0].name).type('application/octet-stream').send(found.rows[0].bytes);
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
