import { hashValue } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { READ_VERSION } from '#core/sources';
import { codedLinesStage, comparisonStage, contoursStage, linesStage, pointsStage, reductionStage, seriesStage, surfaceStage, type ResultRef, type Stage } from '#core/stages'; // prettier-ignore
import { summaryStage } from './summary.ts';

/**
 * The register of stages, each behind those that it is made from. Whoever settles, previews or reports walks it; a new
 * stage is one more object here.
 */
export const STAGES: readonly Stage<unknown>[] = [
  reductionStage,
  pointsStage,
  codedLinesStage,
  linesStage,
  surfaceStage,
  contoursStage,
  comparisonStage,
  seriesStage,
  summaryStage,
];

/** Of all stages together: what another version settled is settled anew. */
export const CHAIN_VERSION = STAGES.reduce((sum, { version }) => sum + version, READ_VERSION);

/**
 * The key of a result: what computes it, its settings, and what its inputs hold, by their hashes. An input that is not
 * kept stands for what it is computed from.
 */
export const stageKey = (
  stage: Stage<unknown>,
  doc: ProjectDocument,
  subject: string,
  hashOf: (ref: ResultRef) => string | undefined,
): string =>
  hashValue([
    stage.name,
    stage.version,
    stage.settings(doc, subject),
    stage.inputs(doc, subject).map((ref) => {
      const { stage: of, subject: at } = ref;
      if (of === 'reads') return ['reads', at, hashOf(ref) ?? null];
      return [of.name, at, of.pack ? (hashOf(ref) ?? null) : stageKey(of, doc, at, hashOf)];
    }),
  ]);
