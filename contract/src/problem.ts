import { type ChangeDetail } from '#core/project';
import { type ChangeEntry } from './changes.ts';

/** Every refusal has this form. */
export interface Problem {
  problem: string;
  /** With a stale write, or what somebody has changed since: what changed, and what one’s own would set now. */
  since?: ChangeEntry[];
  yours?: ChangeDetail[];
  revision?: number;
  /** Of a paper: letters that no font here has, each with the words it stands in. */
  /** Of a package: the files of it that could be made. */
  couldBe?: string[];
  lacking?: [letter: string, words: string][];
}
