import { createRequire } from 'node:module';
import { Router } from 'express';
import { findSystems, systemByCode, systemFromParameters, makeSystem, type RegistryEntry } from '#core/basis';
import { systemsThere } from '#core/sources';
import { systemRequestSchema, systemsThereRequestSchema } from '#contract';
import { bodyOf, Refusal } from '../http/problems.ts';

let list: RegistryEntry[] | null = null;

/** The published systems that the package carries; read when first asked for. */
export const registry = (): RegistryEntry[] =>
  (list ??= Object.values(createRequire(import.meta.url)('epsg-index/all.json') as Record<string, RegistryEntry>));

/** Finding and defining coordinate systems. */
export function systemRoutes(): Router {
  const router = Router();

  router.get('/systems', (request, response) => {
    response.json(findSystems(registry(), String(request.query.find ?? '').slice(0, 80)));
  });

  router.get('/systems/:code', (request, response) => {
    const made = systemByCode(registry(), String(request.params.code));
    if (!made.ok) throw new Refusal(404, made.reason);
    response.json(made.system);
  });

  router.post('/systems', (request, response) => {
    const body = bodyOf(request, systemRequestSchema);
    const made =
      'parameters' in body
        ? systemFromParameters(body.parameters)
        : makeSystem({ name: body.name, code: null, definition: body.definition, area: null });
    if (!made.ok) throw new Refusal(422, made.reason);
    response.json(made.system);
  });

  router.post('/systems/there', (request, response) => {
    const { file, unit, project, definition } = bodyOf(request, systemsThereRequestSchema);
    const own = makeSystem({ name: 'the project', code: null, definition, area: null });
    if (!own.ok) throw new Refusal(422, own.reason);
    response.json(systemsThere(registry(), file, unit, project, own.system));
  });

  return router;
}
