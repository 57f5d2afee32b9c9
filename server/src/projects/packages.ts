import type { Router } from 'express';
import { packageRequestSchema, withdrawSchema, type PackageCard } from '#contract';
import { fileStem } from '#core/exchange';
import type { Manifest } from '#core/handover';
import { accountOf } from '../accounts/signed-in.ts';
import { changesSince } from './changes.ts';
import { newestDocument } from './documents.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { bodyOf, notFound, Refusal, stale } from '../http/problems.ts';
import type { Pool } from '../db/db.ts';
import type { ProjectServices } from './services.ts';

/** Packages made for recipients: made, downloaded, withdrawn with a reason, deleted. */
export function packageRoutes(router: Router, { pool, settler }: ProjectServices): void {
  router.get('/packages', allow('packages'), async (request, response) => {
    const rows = await pool.query<PackageRow>(
      `select k.id, k.revision, k.name, k.manifest, k.spec, k.made_at, a.name as by, length(k.bytes) as size,
              k.withdrawn_at, w.name as withdrawn_by, k.withdrawn_why
       from package k join account a on a.id = k.made_by left join account w on w.id = k.withdrawn_by
       where k.project_id = $1 order by k.made_at desc limit 200`,
      [membershipOf(request).project],
    );
    response.json(rows.rows.map(cardOf) satisfies PackageCard[]);
  });

  router.post('/packages', allow('change'), async (request, response) => {
    const { project } = membershipOf(request);
    const account = accountOf(request);
    const { revision, spec } = bodyOf(request, packageRequestSchema);
    const { revision: newest } = await newestDocument(pool, project);
    if (newest !== revision) throw stale(newest, await changesSince(pool, project, revision));
    const found = await pool.query<{ name: string; by: string }>(
      'select p.name, a.name as by from project p, account a where p.id = $1 and a.id = $2',
      [project, account],
    );
    const row = found.rows[0];
    const outcome = await settler.makePackage(project, spec, {
      project: row.name,
      revision,
      at: new Date().toISOString(),
      by: row.by,
    });
    if (!outcome.ok) throw new Refusal(422, outcome.reason, { couldBe: outcome.couldBe });
    const { manifest } = outcome;
    const made = await keep(pool, {
      values: [project, revision, spec.name, JSON.stringify(manifest), Buffer.from(outcome.zip), account, JSON.stringify(spec)], // prettier-ignore
      stem: stemOf(manifest),
    });
    await announce(pool, { type: 'packages', project });
    response.status(201).json({ id: made, manifest });
  });

  router.get('/packages/:package', allow('packages'), async (request, response) => {
    const found =
      await pool.query<{ manifest: Manifest; bytes: Buffer; file_name: string | null; withdrawn_why: string | null }>( // prettier-ignore
        'select manifest, bytes, file_name, withdrawn_why from package where project_id = $1 and id = $2',
        [membershipOf(request).project, idOf(request.params.package)],
      );
    if (!found.rows[0]) throw notFound('This package');
    const { manifest, bytes, file_name, withdrawn_why } = found.rows[0];
    if (withdrawn_why !== null) throw new Refusal(410, `This package was withdrawn: ${withdrawn_why}`);
    response
      .attachment(file_name ?? `${stemOf(manifest)}.zip`)
      .type('application/zip')
      .send(bytes);
  });

  router.post('/packages/:package/withdraw', allow('change'), async (request, response) => {
    const { project } = membershipOf(request);
    const { why } = bodyOf(request, withdrawSchema);
    const done = await pool.query(
      `update package set withdrawn_at = now(), withdrawn_by = $3, withdrawn_why = $4
       where project_id = $1 and id = $2 and withdrawn_at is null`,
      [project, idOf(request.params.package), accountOf(request), why],
    );
    if (!done.rowCount) throw notFound('A package that is not withdrawn yet');
    await announce(pool, { type: 'packages', project });
    response.status(204).end();
  });

  router.delete('/packages/:package', allow('change'), async (request, response) => {
    const { project } = membershipOf(request);
    const done = await pool.query('delete from package where project_id = $1 and id = $2', [project, idOf(request.params.package)]); // prettier-ignore
    if (!done.rowCount) throw notFound('This package');
    await announce(pool, { type: 'packages', project });
    response.status(204).end();
  });
}

interface PackageRow {
  id: string;
  revision: number;
  name: string;
  manifest: Manifest;
  spec: PackageCard['spec'];
  made_at: Date;
  by: string;
  size: number;
  withdrawn_at: Date | null;
  withdrawn_by: string | null;
  withdrawn_why: string | null;
}

function cardOf(r: PackageRow): PackageCard {
  const { manifest } = r;
  return {
    id: r.id,
    revision: r.revision,
    name: r.name,
    // Older packages say less of themselves.
    manifest: {
      ...manifest,
      stopQueries: (manifest.stopQueries as string[] | undefined) ?? [],
      notMade: (manifest.notMade as Manifest['notMade'] | undefined) ?? [],
    },
    spec: r.spec,
    madeAt: r.made_at.toISOString(),
    madeBy: r.by,
    size: r.size,
    withdrawn: r.withdrawn_at && { at: r.withdrawn_at.toISOString(), by: r.withdrawn_by ?? '', why: r.withdrawn_why! },
  };
}

const idOf = (given: unknown): string => {
  if (typeof given !== 'string' || !/^[0-9a-f-]{36}$/.test(given)) throw notFound('This package');
  return given;
};

const stemOf = (m: Manifest): string => `${fileStem(m.project, m.package)}-${m.made.slice(0, 10)}-r${m.revision}`;

/** Keeps a package under a file name that no other of the project has, however many are made at once. */
async function keep(pool: Pool, { values, stem }: { values: unknown[]; stem: string }): Promise<string> {
  for (let i = 1; ; i++) {
    const name = `${stem}${i === 1 ? '' : `-${i}`}.zip`;
    const made = await pool.query<{ id: string }>(
      `insert into package (project_id, revision, name, manifest, bytes, made_by, spec, file_name)
       values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict (project_id, file_name) do nothing returning id`,
      [...values, name],
    );
    if (made.rows[0]) return made.rows[0].id;
  }
}
