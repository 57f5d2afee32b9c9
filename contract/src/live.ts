import type { Job } from './files.ts';
import type { Presence } from './people.ts';
import type { Settling } from './results.ts';

/** What open pages are told. */
export type LiveEvent =
  | { type: 'revision'; project: string; revision: number; by: string }
  | { type: 'settled'; project: string; revision: number }
  | { type: 'unsettled'; project: string; revision: number }
  | ({ type: 'settling'; project: string } & Settling)
  /** A session has ended; `project` is the topic of that session. */
  | { type: 'ended'; project: string }
  | { type: 'packages'; project: string }
  | { type: 'people'; project: string }
  /** Its name, its description, or whether it is archived. */
  | { type: 'project'; project: string }
  | { type: 'checked'; project: string }
  | { type: 'here'; project: string; who: Presence }
  | { type: 'who'; project: string }
  | { type: 'left'; project: string; account: string }
  | { type: 'job'; project: string; job: Job };
