import { type Part, documentSchema, startSchema } from '#core/project';
import { type CheckedMark } from './changes.ts';
import { name, uuid } from './fields.ts';
import { type FileCard, type Job } from './files.ts';
import { type Role } from './people.ts';
import { type Settled } from './results.ts';
import { z } from 'zod';

export const newProjectSchema = z.object({
  name,
  description: z.string().trim().max(2000).default(''),
  team: uuid.nullable().default(null),
  /** Settings, basis and code list to begin with; the team's or our own where it is null. */
  start: startSchema.nullable().default(null),
  /** A project whose settings, basis and code list are taken over. */
  copy: uuid.nullable().default(null),
  /** Of the copied project everything: files, edits and decisions as they stand, without its history. */
  whole: z.boolean().default(false),
});

export const projectPatchSchema = z.object({
  name: name.optional(),
  description: z.string().trim().max(2000).optional(),
  archived: z.boolean().optional(),
});

export interface ProjectCard {
  id: string;
  name: string;
  description: string;
  archived: boolean;
  role: Role;
  team: string | null;
  revision: number;
  checkedRevision: number | null;
  changedAt: string;
  figures: { points: number; lines: number; openQueries: number } | null;
}

export interface ProjectState {
  project: { id: string; name: string; description: string; archived: boolean; role: Role };
  /** The newest mark, and how many revisions it no longer covers. */
  checked: CheckedMark | null;
  revision: number;
  document: z.infer<typeof documentSchema>;
  settled: Settled | null;
  /** Why the newest revision could not be computed; null while it is, or was. */
  problem: { revision: number; text: string } | null;
  /** What would be undone and redone next, in words. */
  undo: string | null;
  redo: string | null;
  files: FileCard[];
  jobs: Job[];
}

/** What a page says that it knows of a project; nothing of what it leaves out. */
export const knownSchema = z.object({
  since: z.coerce.number().int().min(0).optional(),
  settled: z.string().max(80).optional(),
  files: z.string().max(80).optional(),
});

export type Known = z.infer<typeof knownSchema>;

/** A project as it moved since a page last asked. */
export interface ProjectMoved extends Omit<ProjectState, 'document' | 'settled' | 'files'> {
  /** Whether the parts are all there are, and not those that moved since. */
  anew: boolean;
  parts: Part[];
  /** Left out where they are those of the mark that the page knows. */
  settled?: Settled | null;
  settledMark: string | null;
  files?: FileCard[];
  filesMark: string;
}
