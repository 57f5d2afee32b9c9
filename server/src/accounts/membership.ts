import type { Request, RequestHandler } from 'express';
import type { Role } from '#contract';
import type { Pool } from '../db/db.ts';
import { accountOf } from './signed-in.ts';
import { notFound, Refusal } from '../http/problems.ts';

/** What somebody may do in a project. */
export type Right =
  /** See readings, points, lines, surfaces, queries, changes and originals. */
  | 'see'
  /** Change anything that is computed with. */
  | 'change'
  /** Accept a query with a reason, or reopen one. */
  | 'decide'
  /** Mark a revision as checked. */
  | 'check'
  /** See and fetch the packages made for crews and offices. */
  | 'packages'
  /** Rename, archive, and say who else comes in. */
  | 'own';

export const RIGHTS: Record<Role, readonly Right[]> = {
  owner: ['see', 'change', 'decide', 'check', 'packages', 'own'],
  surveyor: ['see', 'change', 'decide', 'check', 'packages'],
  checker: ['see', 'decide', 'check', 'packages'],
  crew: ['packages'],
  viewer: ['see', 'packages'],
};

const REFUSED: Record<Right, string> = {
  see: 'you see the packages that were made for you, not the project behind them.',
  change: 'you can look at this project but not change it.',
  decide: 'you cannot decide on queries.',
  check: 'you cannot mark a revision as checked.',
  packages: 'you cannot fetch packages.',
  own: 'you cannot do this: it is the owner’s.',
};

interface Membership {
  project: string;
  role: Role;
}

const memberships = new WeakMap<Request, Membership>();
export const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Lets only members of the project in the path through; to everybody else it does not exist. */
export function needMember(pool: Pool): RequestHandler {
  return async (request, _response, next) => {
    const project = String(request.params.project);
    if (!UUID.test(project)) throw notFound();
    const found = await pool.query<{ role: Role }>(
      'select role from member where project_id = $1 and account_id = $2',
      [project, accountOf(request)],
    );
    if (!found.rows[0]) throw stranger();
    memberships.set(request, { project, role: found.rows[0].role });
    next();
  };
}

/** Somebody asks for a project that they are not in. */
function stranger(): Refusal {
  const refusal = notFound();
  refusal.watched = true;
  return refusal;
}

export const membershipOf = (request: Request): Membership => memberships.get(request)!;

/** Lets only those through whose role has the right. */
export const allow =
  (right: Right): RequestHandler =>
  (request, _response, next) => {
    needRight(request, right);
    next();
  };

export function needRight(request: Request, right: Right): void {
  const { role } = membershipOf(request);
  if (!RIGHTS[role].includes(right)) throw new Refusal(403, `As ${role} ${REFUSED[right]}`);
}
