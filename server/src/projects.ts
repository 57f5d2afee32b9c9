import { createHash, randomUUID } from 'node:crypto';
import express, { Router } from 'express';
import { newDocument, type ChainSummary, type ProjectDocument } from '#core/chain';
import {
  changeRequestSchema,
  intakeRequestSchema,
  packageRequestSchema,
  projectNameSchema,
  projectPatchSchema,
  undoRequestSchema,
  type FileCard,
  type PackageCard,
  type ProjectCard,
  type ProjectState,
  type SettledStages,
} from '#contract';
import { accountOf } from './auth.ts';
import { changesSince, makeChange, undoLabels, undoOrRedo } from './changes.ts';
import { inTransaction, type Pool } from './db.ts';
import type { Intakes } from './intakes.ts';
import { announce, type Live } from './live.ts';
import { membershipOf, needEditor, needMember } from './membership.ts';
import { bodyOf, notFound, Refusal, stale } from './problems.ts';
import type { Settler } from './settle.ts';

const LARGEST_FILE = '256mb';

export interface ProjectServices {
  pool: Pool;
  settler: Settler;
  intakes: Intakes;
  live: Live;
}

export async function createProject(pool: Pool, account: string, name: string): Promise<string> {
  return inTransaction(pool, async (client) => {
    const made = await client.query<{ id: string }>(
      'insert into project (name, created_by, document) values ($1, $2, $3) returning id',
      [name, account, JSON.stringify(newDocument())],
    );
    await client.query(`insert into member (project_id, account_id, role) values ($1, $2, 'owner')`, [
      made.rows[0].id,
      account,
    ]);
    return made.rows[0].id;
  });
}

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

export function projectRoutes(services: ProjectServices): Router {
  const router = Router();
  listRoutes(router, services);
  router.use('/projects/:project', memberRoutes(services));
  return router;
}

function listRoutes(router: Router, { pool }: ProjectServices): void {
  router.get('/projects', async (request, response) => {
    const rows = await pool.query<{
      id: string;
      name: string;
      archived_at: Date | null;
      role: string;
      revision: number;
      changed: Date;
      settled: SettledStages | null;
      summary: Buffer | null;
    }>(
      `select p.id, p.name, p.archived_at, m.role, p.revision, p.settled, b.bytes as summary,
              coalesce((select max(at) from change c where c.project_id = p.id), p.created_at) as changed
       from project p join member m on m.project_id = p.id and m.account_id = $1
       left join blob b on b.hash = p.settled ->> 'summary'
       order by changed desc`,
      [accountOf(request)],
    );
    const cards: ProjectCard[] = rows.rows.map((r) => ({
      id: r.id,
      name: r.name,
      archived: r.archived_at !== null,
      role: r.role,
      revision: r.revision,
      changedAt: r.changed.toISOString(),
      figures: r.summary ? figuresOf(JSON.parse(r.summary.toString('utf8')) as ChainSummary) : null,
    }));
    response.json(cards);
  });

  router.post('/projects', async (request, response) => {
    const { name } = bodyOf(request, projectNameSchema);
    response.status(201).json({ id: await createProject(pool, accountOf(request), name) });
  });
}

const figuresOf = (s: ChainSummary) => ({
  points: s.points,
  lines: s.lines,
  openQueries: s.queries.filter((q) => !q.accepted).length,
});

function memberRoutes(services: ProjectServices): Router {
  const { pool, settler } = services;
  const router = Router({ mergeParams: true });
  router.use(needMember(pool));

  router.get('/', async (request, response) => {
    const { project, role } = membershipOf(request);
    response.json(await stateOf(services, project, role));
  });

  router.patch('/', async (request, response) => {
    const { project, role } = membershipOf(request);
    if (role !== 'owner') throw new Refusal(403, 'Only the owner renames or archives a project.');
    const patch = bodyOf(request, projectPatchSchema);
    if (patch.name !== undefined) await pool.query('update project set name = $2 where id = $1', [project, patch.name]);
    if (patch.archived !== undefined)
      await pool.query(
        'update project set archived_at = case when $2 then coalesce(archived_at, now()) end where id = $1',
        [project, patch.archived],
      );
    response.status(204).end();
  });

  router.get('/changes', async (request, response) => {
    response.json(await changesSince(pool, membershipOf(request).project, 0, 1000));
  });

  router.post('/changes', needEditor, async (request, response) => {
    const { project } = membershipOf(request);
    const { revision, change } = bodyOf(request, changeRequestSchema);
    const made = await makeChange(pool, project, accountOf(request), revision, change);
    void settler.schedule(project);
    response.status(201).json({ revision: made });
  });

  for (const kind of ['undo', 'redo'] as const)
    router.post(`/${kind}`, needEditor, async (request, response) => {
      const { project } = membershipOf(request);
      const { revision } = bodyOf(request, undoRequestSchema);
      const made = await undoOrRedo(pool, project, accountOf(request), revision, kind);
      void settler.schedule(project);
      response.status(201).json({ revision: made });
    });

  fileRoutes(router, services);
  resultRoutes(router, services);
  packageRoutes(router, services);
  return router;
}

async function stateOf(
  { pool, settler, intakes }: ProjectServices,
  project: string,
  role: string,
): Promise<ProjectState> {
  const found = await pool.query<{
    name: string;
    archived_at: Date | null;
    revision: number;
    document: ProjectDocument;
    settled_revision: number | null;
  }>('select name, archived_at, revision, document, settled_revision from project where id = $1', [project]);
  const row = found.rows[0];
  if (!row) throw notFound();
  if (row.settled_revision !== row.revision) void settler.schedule(project);
  const files = await pool.query<{
    id: string;
    name: string;
    size: number;
    sha256: string;
    received_at: Date;
    by: string;
  }>(
    'select f.id, f.name, f.size, f.sha256, f.received_at, a.name as by from file f join account a on a.id = f.received_by where f.project_id = $1 order by f.received_at',
    [project],
  );
  const cards: FileCard[] = files.rows.map((f) => ({
    id: f.id,
    name: f.name,
    size: f.size,
    sha256: f.sha256,
    receivedAt: f.received_at.toISOString(),
    receivedBy: f.by,
  }));
  return {
    project: { id: project, name: row.name, archived: row.archived_at !== null, role },
    revision: row.revision,
    document: row.document,
    settled: await settler.settled(project),
    ...(await undoLabels(pool, project)),
    files: cards,
    jobs: intakes.of(project),
  };
}

function fileRoutes(router: Router, { pool, intakes }: ProjectServices): void {
  router.post(
    '/files',
    needEditor,
    express.raw({ type: 'application/octet-stream', limit: LARGEST_FILE }),
    async (request, response) => {
      const { project } = membershipOf(request);
      const name = plainFileName(String(request.query.name ?? 'file'));
      if (!Buffer.isBuffer(request.body) || request.body.length === 0)
        throw new Refusal(400, `${name} is empty. Nothing was received.`);
      response.status(201).json(await receiveFile(pool, project, accountOf(request), name, request.body));
    },
  );

  router.get('/files/:file', async (request, response) => {
    const found = await pool.query<{ name: string; bytes: Buffer }>(
      'select name, bytes from file where project_id = $1 and id = $2',
      [membershipOf(request).project, String(request.params.file)],
    );
    if (!found.rows[0]) throw notFound('This file');
    response.attachment(found.rows[0].name).type('application/octet-stream').send(found.rows[0].bytes);
  });

  router.post('/intakes', needEditor, (request, response) => {
    const { project } = membershipOf(request);
    const { revision, intake } = bodyOf(request, intakeRequestSchema);
    response.status(202).json(intakes.start(project, accountOf(request), revision, intake));
  });

  router.delete('/jobs/:job', needEditor, (request, response) => {
    intakes.stop(membershipOf(request).project, String(request.params.job));
    response.status(204).end();
  });
}

function resultRoutes(router: Router, { pool, live }: ProjectServices): void {
  router.get('/results/:hash', async (request, response) => {
    const hash = String(request.params.hash);
    const tag = `"${hash}"`;
    const known = await pool.query('select 1 from derived where project_id = $1 and hash = $2 limit 1', [
      membershipOf(request).project,
      hash,
    ]);
    if (!known.rowCount) throw notFound('This result');
    response.set({ ETag: tag, 'Cache-Control': 'private, max-age=31536000, immutable' });
    if (request.headers['if-none-match'] === tag) {
      response.status(304).end();
      return;
    }
    const found = await pool.query<{ bytes: Buffer }>('select bytes from blob where hash = $1', [hash]);
    response.type('application/octet-stream').send(found.rows[0].bytes);
  });

  router.get('/events', (request, response) => {
    const { project } = membershipOf(request);
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    response.write('retry: 2000\n\n');
    const leave = live.on(project, (event) => response.write(`data: ${JSON.stringify(event)}\n\n`));
    const beat = setInterval(() => response.write(': here\n\n'), 20_000);
    request.on('close', () => {
      clearInterval(beat);
      leave();
    });
  });
}

function packageRoutes(router: Router, { pool, settler }: ProjectServices): void {
  router.get('/packages', async (request, response) => {
    const rows = await pool.query<{
      id: string;
      revision: number;
      name: string;
      manifest: PackageCard['manifest'];
      made_at: Date;
      by: string;
      size: number;
    }>(
      `select k.id, k.revision, k.name, k.manifest, k.made_at, a.name as by, length(k.bytes) as size from package k join account a on a.id = k.made_by
       where k.project_id = $1 order by k.made_at desc limit 200`,
      [membershipOf(request).project],
    );
    const cards: PackageCard[] = rows.rows.map((r) => ({
      id: r.id,
      revision: r.revision,
      name: r.name,
      manifest: r.manifest,
      madeAt: r.made_at.toISOString(),
      madeBy: r.by,
      size: r.size,
    }));
    response.json(cards);
  });

  router.post('/packages', needEditor, async (request, response) => {
    const { project } = membershipOf(request);
    const account = accountOf(request);
    const { revision, spec } = bodyOf(request, packageRequestSchema);
    const found = await pool.query<{ name: string; revision: number; document: ProjectDocument; by: string }>(
      'select p.name, p.revision, p.document, a.name as by from project p, account a where p.id = $1 and a.id = $2',
      [project, account],
    );
    const row = found.rows[0];
    if (row.revision !== revision) throw stale(row.revision, await changesSince(pool, project, revision));
    const outcome = await settler.makePackage(project, row.document, spec, {
      project: row.name,
      revision,
      at: new Date().toISOString(),
      by: row.by,
    });
    if (!outcome.ok) throw new Refusal(422, outcome.reason);
    const made = await pool.query<{ id: string }>(
      'insert into package (project_id, revision, name, manifest, bytes, made_by) values ($1, $2, $3, $4, $5, $6) returning id',
      [project, revision, spec.name, JSON.stringify(outcome.manifest), Buffer.from(outcome.zip), account],
    );
    await announce(pool, { type: 'packages', project });
    response.status(201).json({ id: made.rows[0].id, manifest: outcome.manifest });
  });

  router.get('/packages/:package', async (request, response) => {
    const id = String(request.params.package);
    if (!/^[0-9a-f-]{36}$/.test(id)) throw notFound('This package');
    const found = await pool.query<{ manifest: PackageCard['manifest']; bytes: Buffer }>(
      'select manifest, bytes from package where project_id = $1 and id = $2',
      [membershipOf(request).project, id],
    );
    if (!found.rows[0]) throw notFound('This package');
    const { manifest, bytes } = found.rows[0];
    const name = `${manifest.project}-${manifest.package}-${manifest.made.slice(0, 10)}-r${manifest.revision}`.replace(
      /[^A-Za-z0-9-]+/g,
      '-',
    );
    response.attachment(`${name}.zip`).type('application/zip').send(bytes);
  });
}
