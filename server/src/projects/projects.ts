import { Router, type Request } from 'express';
import {
  gridsOfBasis,
  newDocument,
  upgradeDocument,
  type Change,
  type ProjectDocument,
  type Start,
} from '#core/project';
import {
  changeRequestSchema,
  newProjectSchema,
  projectPatchSchema,
  undoRequestSchema,
  type FileCard,
  type ProjectCard,
  type ProjectState,
  type Role,
  type SettledStages,
} from '#contract';
import { audit } from '../accounts/audit.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { basisRoutes } from './basis.ts';
import { bookFileRoutes } from '../paper/book-file.ts';
import { plotRoutes } from '../paper/plots.ts';
import { codeSheetRoutes } from '../paper/code-sheet.ts';
import { announce } from '../http/live.ts';
import { changeList } from './history.ts';
import { undoLabels, undoOrRedo } from './undo.ts';
import { bookReportRoutes } from '../paper/book-report.ts';
import { documentOf, makeChange } from './changes.ts';
import { checkedRoutes, newestMark } from './checked.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { fileRoutes } from './files.ts';
import { allow, membershipOf, needMember, needRight, RIGHTS } from '../accounts/membership.ts';
import { packageRoutes } from './packages.ts';
import { peopleRoutes } from './people.ts';
import { presenceRoutes } from './presence.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import { resultRoutes } from '../results/results.ts';
import { isCurrent } from '../results/settle.ts';
import type { ProjectServices } from './services.ts';

export interface NewProject {
  name: string;
  description?: string;
  team?: string | null;
  start?: Start | null;
}

export async function createProject(db: Pool, account: string, project: NewProject): Promise<string> {
  return inTransaction(db, (client) => insertProject(client, account, project));
}

async function insertProject(client: Client, account: string, project: NewProject): Promise<string> {
  const document = project.start ? newDocument({}, project.start) : newDocument();
  const made = await client.query<{ id: string }>(
    'insert into project (name, description, team_id, created_by, document) values ($1, $2, $3, $4, $5) returning id',
    [project.name, project.description ?? '', project.team ?? null, account, JSON.stringify(document)],
  );
  const { id } = made.rows[0];
  await client.query(`insert into member (project_id, account_id, role) values ($1, $2, 'owner')`, [id, account]);
  return id;
}

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
      description: string;
      archived_at: Date | null;
      role: Role;
      team: string | null;
      revision: number;
      checked: number | null;
      changed: Date;
      figures: SettledStages['figures'] | null;
    }>(
      `select p.id, p.name, p.description, p.archived_at, m.role, t.name as team, p.revision, p.settled -> 'figures' as figures,
              (select max(revision) from checked k where k.project_id = p.id) as checked,
              coalesce((select max(at) from change c where c.project_id = p.id), p.created_at) as changed
       from project p join member m on m.project_id = p.id and m.account_id = $1
       left join team t on t.id = p.team_id
       order by changed desc`,
      [accountOf(request)],
    );
    const cards: ProjectCard[] = rows.rows.map((r) => ({
      id: r.id,
      name: r.name,
      description: r.description,
      archived: r.archived_at !== null,
      role: r.role,
      team: r.team,
      revision: r.revision,
      checkedRevision: r.checked,
      changedAt: r.changed.toISOString(),
      figures: RIGHTS[r.role].includes('see') ? (r.figures ?? null) : null,
    }));
    response.json(cards);
  });

  router.post('/projects', async (request, response) => {
    const body = bodyOf(request, newProjectSchema);
    const account = accountOf(request);
    const team = body.team ? await teamOf(pool, body.team, account) : null;
    const copied = body.copy ? await startOfProject(pool, body.copy, account) : null;
    const start = body.start ?? copied ?? team?.start ?? null;
    if (start && !copied && gridsOfBasis(start.basis).length)
      throw new Refusal(
        400,
        'Grid files come with a copied project or are taken in afterwards; they cannot be named here.',
      );
    const id = await inTransaction(pool, async (client) => {
      const made = await insertProject(client, account, {
        ...body,
        start: copied ? withGridsOf(start!, copied) : start,
      });
      if (body.copy && copied) await copyGridFiles(client, body.copy, made, copied);
      return made;
    });
    response.status(201).json({ id });
  });
}

async function teamOf(pool: Pool, team: string, account: string): Promise<{ start: Start }> {
  const found = await pool.query<{ start: Start }>(
    'select t.start from team t join team_member m on m.team_id = t.id where t.id = $1 and m.account_id = $2',
    [team, account],
  );
  if (!found.rows[0]) throw notFound('This team');
  return found.rows[0];
}

async function startOfProject(pool: Pool, project: string, account: string): Promise<Start> {
  const member = await pool.query<{ role: Role }>('select role from member where project_id = $1 and account_id = $2', [
    project,
    account,
  ]);
  if (!member.rows[0] || !RIGHTS[member.rows[0].role].includes('see')) throw notFound('The project to copy from');
  const { settings, basis, codeList } = await documentOf(pool, project);
  return { settings, basis, codeList };
}

/** What was changed on the page stays; grids are those of the copied project. */
const withGridsOf = (start: Start, copied: Start): Start => ({
  ...start,
  basis: { ...start.basis, geoid: copied.basis.geoid, datumGrids: copied.basis.datumGrids },
});

async function copyGridFiles(client: Client, from: string, to: string, start: Start): Promise<void> {
  for (const grid of gridsOfBasis(start.basis))
    await client.query(
      `insert into file (project_id, id, name, size, sha256, bytes, received_by)
       select $2, id, name, size, sha256, bytes, received_by from file where project_id = $1 and id = $3`,
      [from, to, grid.fileId],
    );
}

function memberRoutes(services: ProjectServices): Router {
  const { pool, settler } = services;
  const router = Router({ mergeParams: true });
  router.use(needMember(pool));

  router.get('/', allow('see'), async (request, response) => {
    response.json(await stateOf(services, request));
  });

  router.patch('/', allow('own'), async (request, response) => {
    const { project } = membershipOf(request);
    const patch = bodyOf(request, projectPatchSchema);
    if (patch.name !== undefined) await pool.query('update project set name = $2 where id = $1', [project, patch.name]);
    if (patch.description !== undefined)
      await pool.query('update project set description = $2 where id = $1', [project, patch.description]);
    if (patch.archived !== undefined) {
      await pool.query(
        'update project set archived_at = case when $2 then coalesce(archived_at, now()) end where id = $1',
        [project, patch.archived],
      );
      await audit(pool, request, { what: patch.archived ? 'project archived' : 'project taken out of the archive', project }); // prettier-ignore
    }
    // Whoever works in it sees it at once.
    await announce(pool, { type: 'project', project });
    response.status(204).end();
  });

  router.get('/changes', allow('see'), async (request, response) => {
    response.json(await changeList(services, membershipOf(request).project, accountOf(request)));
  });

  router.post('/changes', allow('decide'), async (request, response) => {
    const { project } = membershipOf(request);
    const { revision, change, mine } = bodyOf(request, changeRequestSchema);
    if (!isDecision(change)) needRight(request, 'change');
    const made = await makeChange(pool, project, accountOf(request), revision, change, mine);
    void settler.schedule(project);
    response.status(201).json({ revision: made });
  });

  for (const kind of ['undo', 'redo'] as const)
    router.post(`/${kind}`, allow('decide'), async (request, response) => {
      const { project } = membershipOf(request);
      const { about, despite } = bodyOf(request, undoRequestSchema);
      const made = await undoOrRedo(pool, project, accountOf(request), { kind, about, despite });
      void settler.schedule(project);
      response.status(201).json({ revision: made });
    });

  fileRoutes(router, services);
  resultRoutes(router, services);
  packageRoutes(router, services);
  basisRoutes(router, services);
  bookReportRoutes(router, services);
  codeSheetRoutes(router, services);
  plotRoutes(router, services);
  bookFileRoutes(router, services);
  peopleRoutes(router, services);
  checkedRoutes(router, services);
  presenceRoutes(router, services);
  return router;
}

/** Accepting a query changes no number. */
const isDecision = (change: Change): boolean => change.op === 'query.accept' || change.op === 'query.reopen';

async function stateOf({ pool, settler, intakes }: ProjectServices, request: Request): Promise<ProjectState> {
  const { project, role } = membershipOf(request);
  const found = await pool.query<{
    name: string;
    description: string;
    archived_at: Date | null;
    revision: number;
    document: ProjectDocument;
    settled_revision: number | null;
    version: number | null;
    problem: { revision: number; text: string } | null;
  }>(
    `select name, description, archived_at, revision, document, settled_revision, (settled ->> 'version')::int as version, settled_problem as problem from project where id = $1`,
    [project],
  );
  const row = found.rows[0];
  if (!row) throw notFound();
  const problem = row.problem?.revision === row.revision ? row.problem : null;
  if (!isCurrent(row) && !problem) void settler.schedule(project);
  return {
    project: { id: project, name: row.name, description: row.description, archived: row.archived_at !== null, role },
    checked: await newestMark(pool, project),
    revision: row.revision,
    document: upgradeDocument(row.document),
    settled: await settler.settled(project),
    problem,
    ...(await undoLabels(pool, project, accountOf(request))),
    files: await filesOf(pool, project),
    jobs: intakes.of(project),
  };
}

async function filesOf(pool: Pool, project: string): Promise<FileCard[]> {
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
  return files.rows.map((f) => ({
    id: f.id,
    name: f.name,
    size: f.size,
    sha256: f.sha256,
    receivedAt: f.received_at.toISOString(),
    receivedBy: f.by,
  }));
}
