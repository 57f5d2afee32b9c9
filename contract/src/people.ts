import { START_PARTS, type Stage, type Start, type StartDifference, startSchema } from '#core/project';
import { name, uuid } from './fields.ts';
import { z } from 'zod';

export const ROLES = ['owner', 'surveyor', 'checker', 'crew', 'viewer'] as const;

export type Role = (typeof ROLES)[number];

export const roleSchema = z.object({ role: z.enum(ROLES) });

export const invitationSchema = z.object({ role: z.enum(ROLES), days: z.int().min(1).max(60) });

export const teamInvitationSchema = z.object({ days: z.int().min(1).max(60) });

export const addMemberSchema = z.object({ account: uuid, role: z.enum(ROLES) });

export const teamSchema = z.object({ name });

export const teamPatchSchema = z.object({ name: name.optional(), start: startSchema.optional() });

/** Which parts of its team's start settings a project is to follow, and the revision that was looked at. */
export const followStartSchema = z.object({ parts: z.array(z.enum(START_PARTS)).min(1), revision: z.int().min(0) });

/** A project of a team, and in what it differs from what new ones begin with. */
export interface FollowingProject {
  id: string;
  name: string;
  revision: number;
  differences: StartDifference[];
}

export const presenceSchema = z.object({
  stage: z.enum(['basis', 'book', 'lines', 'ground', 'quantities', 'handover']),
  /** Middle of what is seen on the sheet, m; null when nothing is. */
  place: z.object({ x: z.number(), y: z.number() }).nullable(),
});

export interface TeamCard {
  id: string;
  name: string;
  role: 'owner' | 'member';
  start: Start;
  members: { id: string; name: string; email: string; role: 'owner' | 'member' }[];
  invitations: InvitationCard[];
}

export interface InvitationCard {
  id: string;
  role: string;
  madeBy: string;
  madeAt: string;
  expiresAt: string;
  usedBy: string | null;
}

export interface People {
  members: { id: string; name: string; email: string; role: Role }[];
  invitations: InvitationCard[];
  /** People of the project's team who are not in the project yet. */
  mates: { id: string; name: string }[];
}

/** What an invitation's link leads to, before it is taken. */
export interface InvitationOffer {
  what: 'project' | 'team';
  name: string;
  role: string;
  by: string;
  expiresAt: string;
}

export interface Presence {
  account: string;
  name: string;
  stage: Stage;
  place: { x: number; y: number } | null;
}
