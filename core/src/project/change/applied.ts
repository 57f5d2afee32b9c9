import type { Change } from './schema.ts';
import type { ProjectDocument } from '../document.ts';

/** A document after a change, with the change that takes it back; or why it cannot be. */
export type Applied = { ok: true; document: ProjectDocument; inverse: Change } | { ok: false; reason: string };
