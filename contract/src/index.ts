import { z } from 'zod';
import { changeSchema, documentSchema, intakeSchema, layoutSchema, type ChainSummary } from '#core/chain';
import { packageSpecSchema, type Manifest } from '#core/handover';

// The HTTP interface between page and server. Types come from the schemas; both sides use them.

const name = z.string().trim().min(1, 'A name is needed.').max(120);

export const signInSchema = z.object({
  email: z.string().trim().min(3).max(200),
  password: z.string().min(1).max(400),
});
export const registerSchema = z.object({
  email: z
    .string()
    .trim()
    .max(200)
    .regex(/^[^\s@]+@[^\s@]+$/, 'This does not look like an e-mail address.'),
  name,
  password: z.string().min(10, 'At least 10 characters, please.').max(400),
});
export const projectNameSchema = z.object({ name });
export const projectPatchSchema = z.object({ name: name.optional(), archived: z.boolean().optional() });
export const changeRequestSchema = z.object({ revision: z.int().min(0), change: changeSchema });
export const undoRequestSchema = z.object({ revision: z.int().min(0) });
export const intakeRequestSchema = z.object({ revision: z.int().min(0), intake: intakeSchema });
export const saveLayoutSchema = z.object({
  name: z.string().trim().min(1).max(80),
  layout: layoutSchema,
  signature: z.string().max(400),
});
export const packageRequestSchema = z.object({ revision: z.int().min(0), spec: packageSpecSchema });

export interface Account {
  id: string;
  name: string;
  email: string;
  isDemo: boolean;
}

export interface SessionState {
  account: Account | null;
  /** Whether a demo account can be entered with one click. */
  demo: boolean;
}

export interface ProjectCard {
  id: string;
  name: string;
  archived: boolean;
  role: string;
  revision: number;
  changedAt: string;
  figures: { points: number; lines: number; openQueries: number } | null;
}

/** Content hashes of a settled revision's results. */
export interface SettledStages {
  reads: Record<string, string>;
  points: string;
  lines: string;
  surfaces: Record<string, string>;
  contours: string;
  pieces: Record<string, string>;
  summary: string;
}

export interface Settled {
  revision: number;
  stages: SettledStages;
}

export interface FileCard {
  id: string;
  name: string;
  size: number;
  sha256: string;
  receivedAt: string;
  receivedBy: string;
}

export interface Job {
  id: string;
  kind: 'intake' | 'settle' | 'package';
  what: string;
  share: number;
  state: 'working' | 'done' | 'stopped' | 'failed';
  message: string;
}

export interface ProjectState {
  project: { id: string; name: string; archived: boolean; role: string };
  revision: number;
  document: z.infer<typeof documentSchema>;
  settled: Settled | null;
  /** What undo and redo would take back or bring again, in words. */
  undo: string | null;
  redo: string | null;
  files: FileCard[];
  jobs: Job[];
}

export interface ChangeEntry {
  revision: number;
  at: string;
  by: string;
  kind: 'do' | 'undo' | 'redo';
  about: number | null;
  what: string;
}

export interface SavedLayout {
  id: string;
  name: string;
  layout: z.infer<typeof layoutSchema>;
  signature: string;
}

export interface PackageCard {
  id: string;
  revision: number;
  name: string;
  manifest: Manifest;
  madeAt: string;
  madeBy: string;
  size: number;
}

export type LiveEvent =
  | { type: 'revision'; project: string; revision: number; by: string }
  | { type: 'settled'; project: string; revision: number }
  | { type: 'packages'; project: string }
  | { type: 'job'; project: string; job: Job };

/** Every refusal has this form. */
export interface Problem {
  problem: string;
  /** With a stale write: what changed meanwhile. */
  since?: ChangeEntry[];
  revision?: number;
}

export type Summary = ChainSummary;
