import type { ColumnChoices } from './columns.ts';
import { name } from './fields.ts';
import { z } from 'zod';

export const signInSchema = z.object({
  email: z.string().trim().min(3, 'Type your e-mail address.').max(200),
  password: z.string().min(1, 'Type your password.').max(400),
});

export const newAccountSchema = z.object({
  email: z
    .string()
    .trim()
    .max(200)
    .regex(/^[^\s@]+@[^\s@]+$/, 'This does not look like an e-mail address.'),
  name,
  password: z.string().min(12, 'At least 12 characters, please.').max(400),
  /** An invitation that brought them: it opens a door that is closed otherwise. */
  invitation: z.string().max(200).optional(),
});

const freshPassword = z.string().min(12, 'At least 12 characters, please.').max(400);

export const passwordSchema = z.object({
  old: z.string().min(1, 'Type the password that you have now.').max(400),
  new: freshPassword,
});

export const freshPasswordSchema = z.object({ password: freshPassword });

export const deleteAccountSchema = z.object({
  password: z.string().min(1).max(400),
  /** Projects that nobody else is in go too. */
  withProjects: z.boolean().default(false),
});

export const accountPatchSchema = z.object({ locked: z.boolean().optional(), admin: z.boolean().optional() });

export interface Account {
  id: string;
  name: string;
  email: string;
  isDemo: boolean;
  isAdmin: boolean;
}

/** An account as an administrator of the server sees it. */
export interface AccountCard extends Account {
  locked: boolean;
  madeAt: string;
  sessions: number;
  projects: number;
}

export interface AuditEntry {
  id: number;
  at: string;
  what: string;
  name: string;
  address: string;
  detail: string;
  project: string;
}

/** Whose password a link resets. */
export interface PasswordResetOffer {
  name: string;
  email: string;
}

/** Everything that is kept about a person; times are ISO 8601. */
export interface AccountExport {
  account: { name: string; email: string; madeAt: string; isAdmin: boolean };
  sessions: SessionCard[];
  projects: { id: string; name: string; role: string }[];
  teams: { id: string; name: string; role: string }[];
  files: { project: string; name: string; size: number; sha256: string; at: string }[];
  changes: { project: string; revision: number; at: string; what: string }[];
  checked: { project: string; revision: number; at: string; note: string }[];
  columns: ColumnChoices;
  layouts: { name: string; layout: unknown }[];
  codeLists: { name: string; client: string; revision: number; list: unknown }[];
  audit: { at: string; what: string; address: string; detail: string }[];
}

export interface SessionState {
  account: Account | null;
  /** Whether a demo account can be entered with one click. */
  demo: boolean;
  /** Whether whoever comes may make an account. */
  registration: boolean;
}

export interface SessionCard {
  id: string;
  since: string;
  seen: string;
  browser: string;
  own: boolean;
}
