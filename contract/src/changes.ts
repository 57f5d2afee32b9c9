import { type ChangeDetail, type Stage, changeSchema } from '#core/project';
import type { VolumeHistory, VolumeStep } from '#core/chain';
import { z } from 'zod';

export const checkedSchema = z.object({ revision: z.int().min(1), note: z.string().trim().max(500).default('') });

/** PostgreSQL's largest whole number; no project has as many revisions. */
export const revisionNumber = z.int().min(0).max(2_147_483_647);

/** `revision`: what the person was looking at; `mine`: revisions since then that came from the same page. */
export const changeRequestSchema = z.object({
  revision: revisionNumber,
  change: changeSchema,
  mine: z.array(revisionNumber).max(500).optional(),
});

export const undoRequestSchema = z.object({
  revision: revisionNumber,
  /** The revision of the change to undo, or to redo; without it the newest of one’s own. */
  about: revisionNumber.optional(),
  /** Though somebody has changed the same since. */
  despite: z.boolean().default(false),
});

export interface CheckedMark {
  revision: number;
  by: string;
  at: string;
  note: string;
  /** Changes that still stand and came after it. */
  since: number;
}

export interface PointHistory {
  entries: ChangeEntry[];
}

/** What made a comparison's volumes what they are, newest first; m³. */
export interface VolumeStory extends Omit<VolumeHistory, 'steps'> {
  revision: number;
  steps: (VolumeStep & Pick<ChangeEntry, 'at' | 'by' | 'kind' | 'what' | 'why'>)[];
}

export interface ChangeEntry {
  revision: number;
  at: string;
  by: string;
  kind: 'do' | 'undo' | 'redo';
  about: number | null;
  what: string;
  /** In the whole list: where it belongs, what it set, and why. */
  stage?: Stage;
  details?: ChangeDetail[];
  why?: string;
  /** Made by whoever asks, and not taken back: it can be. */
  mine?: boolean;
}
