import type { Request, RequestHandler } from 'express';
import type { Pool } from './db.ts';
import { accountOf } from './auth.ts';
import { notFound, Refusal } from './problems.ts';

export type Role = 'owner' | 'surveyor' | 'checker' | 'crew' | 'viewer';

interface Membership {
  project: string;
  role: Role;
}

const memberships = new WeakMap<Request, Membership>();
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Lets only members of the project in the path through; to everybody else it does not exist. */
export function needMember(pool: Pool): RequestHandler {
  return async (request, _response, next) => {
    const project = String(request.params.project);
    if (!UUID.test(project)) throw notFound();
    const found = await pool.query<{ role: Role }>(
      'select role from member where project_id = $1 and account_id = $2',
      [project, accountOf(request)],
    );
    if (!found.rows[0]) throw notFound();
    memberships.set(request, { project, role: found.rows[0].role });
    next();
  };
}

export const membershipOf = (request: Request): Membership => memberships.get(request)!;

/** Lets only those through who may change the project. */
export const needEditor: RequestHandler = (request, _response, next) => {
  const { role } = membershipOf(request);
  if (role !== 'owner' && role !== 'surveyor')
    throw new Refusal(403, `As ${role} you can look at this project but not change it.`);
  next();
};
