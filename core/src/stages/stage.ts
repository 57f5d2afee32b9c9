import type { ProjectDocument } from '#core/project';
import type { StageMemory } from './memory.ts';
import type { ReadOf } from './points/points.ts';

/** One result of a stage, of one subject; or what was read of one file. */
export interface ResultRef {
  stage: Stage<unknown> | 'reads';
  /** Empty where a stage has one. */
  subject: string;
}

/** What a stage gets to work with. */
export interface StageContext {
  doc: ProjectDocument;
  readOf: ReadOf;
  subject: string;
  /** What another stage gives: one of its `inputs`. */
  result: <R>(stage: Stage<R>, subject?: string) => R;
  /** Results of earlier runs, of this stage and of others. */
  memory: StageMemory;
  /** Says how much of this result is done, 0 to 1; throws StageCancelled where nobody wants it any more. */
  progress: (share: number) => void;
}

/** One step of the chain: what it depends on, how it is computed, and how its result is kept. */
export interface Stage<R> {
  name: string;
  /** What it does, for whoever waits: “triangulating Existing ground”. */
  doing: (doc: ProjectDocument, subject: string) => string;
  /** Raised where the same inputs give another result: what was settled is settled anew by itself. */
  version: number;
  /** Of what there is one each. */
  subjects: (doc: ProjectDocument) => string[];
  /** Results that it is made from. */
  inputs: (doc: ProjectDocument, subject: string) => ResultRef[];
  /** What else of the document it depends on. */
  settings: (doc: ProjectDocument, subject: string) => unknown;
  run: (context: StageContext) => R;
  /** What of a result others depend on, where it is not all of it. */
  identity?(result: R): object;
  /** The result as it is kept, byte for byte the same for the same; a stage that has none is computed when it is asked for. */
  pack?(result: R): Uint8Array;
}

/** Nobody wants the result any more. */
export class StageCancelled extends Error {
  constructor() {
    super('cancelled');
  }
}

/** Where there is one of a result in a project. */
export const ONE = [''];
export const one = (stage: Stage<unknown>): ResultRef => ({ stage, subject: '' });
export const each = (stage: ResultRef['stage'], subjects: readonly string[]): ResultRef[] =>
  subjects.map((subject) => ({ stage, subject }));
export const readsOf = (intakes: readonly { id: string }[]): ResultRef[] => each('reads', intakes.map((i) => i.id)); // prettier-ignore
