import { Router, type Request } from 'express';
import { gridsOfBasis, newDocument, type Change, type Start } from '#core/project';
import {
  changeRequestSchema,
  knownSchema,
  newProjectSchema,
  projectPatchSchema,
  undoRequestSchema,
  type FileCard,
  type ProjectCard,
  type ProjectMoved,
  type ProjectState,
  type Role,
  type SettledStages,
} from '#contract';
import { audit } from '../accounts/audit.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { basisRoutes } from './basis.ts';
import { splitRoutes } from './split-pieces.ts';
import { volumeRoutes } from './volume-story.ts';
import { sectionRoutes } from '../paper/sections.ts';
import { bookFileRoutes } from '../paper/book-file.ts';
import { plotRoutes } from '../paper/plots.ts';
import { announce } from '../http/live.ts';
import { changeList } from './history.ts';
import { undoLabels, undoOrRedo } from './undo.ts';
import { reportRoutes } from '../paper/reports.ts';
import { spreadsheetRoutes } from '../paper/spreadsheet.ts';
import { makeChange } from './changes.ts';
import { startOfTeam } from '../accounts/teams.ts';
import { followStartRoutes } from './follow-start.ts';
import { documentOf, insertDocument, newestDocument, partsSince } from './documents.ts';
import { checkedRoutes, newestMark } from './checked.ts';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { fileRoutes } from './files.ts';
import { allow, membershipOf, needMember, needRight, RIGHTS } from '../accounts/membership.ts';
import { packageRoutes } from './packages.ts';
import { nameOf, peopleRoutes } from './people.ts';
import { presenceRoutes } from './presence.ts';
import { bodyOf, notFound, queryOf, Refusal } from '../http/problems.ts';
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
    'insert into project (name, description, team_id, created_by) values ($1, $2, $3, $4) returning id',
    [project.name, project.description ?? '', project.team ?? null, account],
  );
  const { id } = made.rows[0];
  await insertDocument(client, id, document);
  await client.query(`insert into member (project_id, account_id, role) values ($1, $2, 'owner')`, [id, account]);
  return id;
}

export function projectRoutes(services: ProjectServices): Router {
  const router = Router();
  listRoutes(router, services);
  router.use(followStartRoutes(services));
  router.use('/projects/:project', memberRoutes(services));
  return router;
}

function listRoutes(router: Router, { pool, settler }: ProjectServices): void {
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
    const ofTeam = body.team ? await startOfTeam(pool, body.team, account) : null;
    const copied = body.copy ? await startOfProject(pool, body.copy, account) : null;
    if (body.whole && (!body.copy || body.start))
      throw new Refusal(400, 'A whole project is copied as it stands: name it, and change the copy afterwards.');
    const start = body.start ?? copied ?? ofTeam;
    if (start && !copied && gridsOfBasis(start.basis).length)
      throw new Refusal(
        400,
        'Grid files come with a copied project or are imported afterwards; they cannot be named here.',
      );
    const id = await inTransaction(pool, async (client) => {
      const made = await insertProject(client, account, {
        ...body,
        start: copied ? withGridsOf(start!, copied) : start,
      });
      if (body.copy && body.whole) await copyWhole(client, body.copy, made);
      else if (body.copy && copied) await copyGridFiles(client, body.copy, made, copied);
      return made;
    });
    if (body.whole) void settler.schedule(id);
    response.status(201).json({ id });
  });
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

/** Everything of a project as it stands, in one statement: nobody’s change comes in halfway. */
async function copyWhole(client: Client, from: string, to: string): Promise<void> {
  await client.query('delete from part where project_id = $1', [to]);
  await client.query(
    `with files as (
       insert into file (project_id, id, name, size, sha256, bytes, received_at, received_by)
       select $2, id, name, size, sha256, bytes, received_at, received_by from file where project_id = $1
     )
     insert into part (project_id, kind, key, rank, value, revision)
     select $2, kind, key, rank, value, 0 from part where project_id = $1 and value is not null`,
    [from, to],
  );
}

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

  router.get('/moved', allow('see'), async (request, response) => {
    response.json(await movedOf(services, request));
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
      await audit(pool, request, { what: patch.archived ? 'project archived' : 'project restored from the archive', project }); // prettier-ignore
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

  router.delete('/settling', allow('change'), async (request, response) => {
    const { project } = membershipOf(request);
    const name = await nameOf(pool, accountOf(request));
    if (!(await settler.cancel(project, name))) throw new Refusal(409, 'Nothing is being computed any more.');
    response.status(204).end();
  });

  router.post('/settling', allow('change'), async (request, response) => {
    await settler.again(membershipOf(request).project);
    response.status(202).end();
  });

  fileRoutes(router, services);
  resultRoutes(router, services);
  packageRoutes(router, services);
  basisRoutes(router, services);
  volumeRoutes(router, services);
  splitRoutes(router, services);
  sectionRoutes(router, services);
  reportRoutes(router, services);
  spreadsheetRoutes(router);
  plotRoutes(router, services);
  bookFileRoutes(router, services);
  peopleRoutes(router, services);
  checkedRoutes(router, services);
  presenceRoutes(router, services);
  return router;
}

/** Accepting a query changes no number. */
const isDecision = (change: Change): boolean => change.op === 'query.accept' || change.op === 'query.reopen';

/** Everything about a project but what it holds and what was computed of it. */
async function headOf(
  { pool, settler, intakes }: ProjectServices,
  request: Request,
): Promise<Omit<ProjectState, 'revision' | 'document' | 'settled' | 'files'>> {
  const { project, role } = membershipOf(request);
  const found = await pool.query<{
    name: string;
    description: string;
    archived_at: Date | null;
    revision: number;
    settled_revision: number | null;
    version: number | null;
    problem: { revision: number; text: string } | null;
  }>(
    `select name, description, archived_at, revision, settled_revision, (settled ->> 'version')::int as version, settled_problem as problem from project where id = $1`,
    [project],
  );
  const row = found.rows[0] as (typeof found.rows)[0] | undefined;
  if (!row) throw notFound();
  const problem = row.problem?.revision === row.revision ? row.problem : null;
  if (!isCurrent(row) && !problem) void settler.schedule(project);
  return {
    project: { id: project, name: row.name, description: row.description, archived: row.archived_at !== null, role },
    checked: await newestMark(pool, project),
    problem,
    ...(await undoLabels(pool, project, accountOf(request))),
    jobs: intakes.of(project),
  };
}

async function stateOf(services: ProjectServices, request: Request): Promise<ProjectState> {
  const { pool, settler } = services;
  const { project } = membershipOf(request);
  const head = await headOf(services, request);
  const { revision, document } = await newestDocument(pool, project);
  return { ...head, revision, document, settled: await settler.settled(project), files: await filesOf(pool, project) };
}

/** What moved since a page last asked: parts, and files and results only where they are others than it knows. */
async function movedOf(services: ProjectServices, request: Request): Promise<ProjectMoved> {
  const { pool, settler } = services;
  const { project } = membershipOf(request);
  const known = queryOf(request, knownSchema);
  const head = await headOf(services, request);
  const moved = await partsSince(pool, project, known.since ?? null);
  // A page that knows more than there is, as after a backup was restored, begins anew.
  const anew = known.since === undefined || moved.revision < known.since;
  const { revision, parts } = anew && known.since !== undefined ? await partsSince(pool, project, null) : moved;
  const settledMark = await settler.markOf(project);
  const filesMark = await markOfFiles(pool, project);
  return {
    ...head,
    revision,
    anew,
    parts,
    ...(settledMark !== null && settledMark === known.settled ? {} : { settled: await settler.settled(project) }),
    settledMark,
    ...(filesMark === known.files ? {} : { files: await filesOf(pool, project) }),
    filesMark,
  };
}

/** Files of a project are received and never altered: how many there are says which. */
async function markOfFiles(pool: Pool, project: string): Promise<string> {
  const found = await pool.query<{ mark: string }>(
    `select count(*) || '.' || coalesce(extract(epoch from max(received_at)), 0) as mark from file where project_id = $1`,
    [project],
  );
  return found.rows[0].mark;
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
