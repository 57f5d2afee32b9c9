import type { Router } from 'express';
import type { VolumeStory } from '#contract';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import { whyOf, type ChangeHead } from './changes.ts';
import { documentOf } from './documents.ts';
import type { ProjectServices } from './services.ts';
import type { Change } from '#core/project';

/** Why a volume was another one before: what each change did to it, with who made it and why. */
export function volumeRoutes(router: Router, services: ProjectServices): void {
  const { pool, settler } = services;

  router.get('/volume-story', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const comparison = String(request.query.comparison ?? '').slice(0, 40);
    const document = await documentOf(pool, project);
    if (!document.comparisons.some((c) => c.id === comparison)) throw new Refusal(404, 'The project has no such comparison.'); // prettier-ignore
    // Whoever leaves wants no answer any more.
    const left = new AbortController();
    response.on('close', () => left.abort());
    const told = await settler.volumesBefore(project, comparison, left.signal).catch((error: unknown) => {
      if (left.signal.aborted) return null;
      throw error;
    });
    if (!told) return;
    const heads = await pool.query<ChangeHead & { change: Change }>(
      `select c.revision, c.at, a.name as by, c.kind, c.what, c.change from change c join account a on a.id = c.account_id
       where c.project_id = $1 and c.revision = any($2)`,
      [project, told.steps.map((s) => s.revision)],
    );
    const by = new Map(heads.rows.map((h) => [h.revision, h]));
    const steps = told.steps.map((step) => {
      const { at, by: who, kind, what, change } = by.get(step.revision)!;
      return { ...step, at: at.toISOString(), by: who, kind, what, ...whyOf(change) };
    });
    response.json({ ...told, steps } satisfies VolumeStory);
  });
}
