import type { Router } from 'express';
import { z } from 'zod';
import { surfacesCompared } from '#core/project';
import { SPLIT_CAUSES } from '#core/quantities';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';
import { settledProject } from './settled-project.ts';

const askedSchema = z.object({ comparison: z.string().min(1).max(40), cause: z.enum(SPLIT_CAUSES) });

/** Where one cause of two parties' difference acts, as packed pieces to paint. */
export function splitRoutes(router: Router, services: ProjectServices): void {
  router.get('/split-pieces', allow('see'), async (request, response) => {
    const read = askedSchema.safeParse(request.query);
    if (!read.success) throw new Refusal(400, 'Say which comparison and which cause: one of the causes in its table.');
    const { project } = membershipOf(request);
    const { document, stages, block } = await settledProject(services, project);
    const comparison = document.comparisons.find((c) => c.id === read.data.comparison);
    if (!comparison) throw new Refusal(404, 'The project has no such comparison.');
    if (!comparison.theirs) throw new Refusal(409, 'The comparison has no other party’s surface.');
    const triangles: Record<string, Uint8Array> = {};
    for (const id of surfacesCompared(comparison)) if (stages.surfaces[id]) triangles[id] = await block(stages.surfaces[id]); // prettier-ignore
    const names = Object.fromEntries(document.surfaces.map((s) => [s.id, s.name]));
    const made = await services.settler.splitPieces({ comparison, cause: read.data.cause, triangles, names });
    if ('reason' in made) throw new Refusal(409, made.reason);
    response.type('application/octet-stream').send(Buffer.from(made.pieces));
  });
}
