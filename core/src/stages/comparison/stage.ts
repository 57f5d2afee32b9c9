import { surfacesCompared, type Comparison, type ProjectDocument } from '#core/project';
import { recipeOf, surfaceIds, surfaceStage } from '../surface/stage.ts';
import { pointsStage } from '../points/stage.ts';
import { each, one, type Stage } from '../stage.ts';
import { compare, type ComparisonResult } from './comparison.ts';
import { packPieces } from './pack.ts';

const comparisonOf = (doc: ProjectDocument, id: string): Comparison => doc.comparisons.find((c) => c.id === id)!;

/** Surfaces that are compared and are there. */
function comparedIn(doc: ProjectDocument, id: string): string[] {
  const named = surfacesCompared(comparisonOf(doc, id));
  return surfaceIds(doc).filter((s) => named.includes(s));
}

/** Quantities of every comparison, or why there are none. */
export const comparisonStage: Stage<ComparisonResult> = {
  name: 'pieces',
  doing: (doc, id) => `computing the quantities of ${comparisonOf(doc, id).name}`,
  version: 31,
  subjects: (doc) => doc.comparisons.map((c) => c.id),
  inputs: (doc, id) => [
    ...each(surfaceStage, comparedIn(doc, id)),
    ...(comparisonOf(doc, id).sd?.own ? [one(pointsStage)] : []),
  ],
  settings: (doc, id) => {
    const { name: _, ...comparison } = comparisonOf(doc, id);
    return [comparison, doc.settings.unit, comparedIn(doc, id).map((s) => recipeOf(doc, s).name)];
  },
  run: ({ doc, subject: id, result }) =>
    compare(comparisonOf(doc, id), comparedIn(doc, id).map((s) => result(surfaceStage, s)), doc.settings.unit, comparisonOf(doc, id).sd?.own ? result(pointsStage).points : null), // prettier-ignore
  pack: (compared) => (compared.ok ? packPieces(compared.volume.pieces) : NOTHING),
};
const NOTHING = new Uint8Array(0);
