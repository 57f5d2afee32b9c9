import type { Router } from 'express';
import { packageRequestSchema, type PackageCard } from '#contract';
import { accountOf } from '../accounts/signed-in.ts';
import { changesSince } from './changes.ts';
import { newestDocument } from './documents.ts';
import { announce } from '../http/live.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { bodyOf, notFound, Refusal, stale } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

/** Packages made for recipients. */
export function packageRoutes(router: Router, { pool, settler }: ProjectServices): void {
  router.get('/packages', allow('packages'), async (request, response) => {
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
    if (!outcome.ok) throw new Refusal(422, outcome.reason);
    const made = await pool.query<{ id: string }>(
      'insert into package (project_id, revision, name, manifest, bytes, made_by) values ($1, $2, $3, $4, $5, $6) returning id',
      [project, revision, spec.name, JSON.stringify(outcome.manifest), Buffer.from(outcome.zip), account],
    );
    await announce(pool, { type: 'packages', project });
    response.status(201).json({ id: made.rows[0].id, manifest: outcome.manifest });
  });

  router.get('/packages/:package', allow('packages'), async (request, response) => {
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
