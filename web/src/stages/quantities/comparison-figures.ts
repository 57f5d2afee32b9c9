import type { ChainSummary } from '#core/chain';

/** What a comparison that can be made gives. */
export type ComparisonFigures = Extract<ChainSummary['comparisons'][number], { ok: true }>;
