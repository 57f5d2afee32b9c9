import { hashOnce, hashValue, onceForLast } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { contourSettings, packContours, packLines, packPieces, packPoints, packReduction, packSurface } from '#core/stages'; // prettier-ignore
import type { ChainRun } from './chain-run.ts';
import { codesKey, editsKey, pointSettings, READ_VERSION, surfaceSettings } from './stage-settings.ts';
import { summarise } from './summary.ts';

// The register of stages: what there is to compute, of what each result is made, and how it is kept. Whoever settles,
// previews or reports walks it; a new stage is one more object here.

export const STAGE_NAMES = ['points', 'reduction', 'lines', 'surfaces', 'contours', 'pieces', 'summary'] as const;
export type StageResultName = (typeof STAGE_NAMES)[number];

/** One result of a stage: of which stage, and of which subject; empty where there is one. */
export interface ResultRef {
  stage: StageResultName | 'reads';
  subject: string;
}

export interface Stage {
  name: StageResultName;
  /** Raised where the same inputs give another result: what was settled is settled anew by itself. */
  version: number;
  /** Of what there is one each. */
  subjects: (doc: ProjectDocument) => string[];
  /** The results that it is made from. */
  inputs: (doc: ProjectDocument, subject: string) => ResultRef[];
  /** What else of the document it hangs on. */
  settings: (doc: ProjectDocument, subject: string) => unknown;
  /** Its result as it is kept, byte for byte the same for the same; nothing where there is none. */
  run: (chain: ChainRun, subject: string) => Uint8Array;
}

const ONE = [''];
const NOTHING = new Uint8Array(0);
const one = (stage: ResultRef['stage']): ResultRef => ({ stage, subject: '' });
const each = (stage: ResultRef['stage'], subjects: readonly string[]): ResultRef[] =>
  subjects.map((subject) => ({ stage, subject }));
const readsOf = (doc: ProjectDocument): ResultRef[] => each('reads', doc.intakes.map((i) => i.id)); // prettier-ignore
const surfaceIds = (doc: ProjectDocument): string[] => doc.surfaces.map((s) => s.id);
const comparisonIds = (doc: ProjectDocument): string[] => doc.comparisons.map((c) => c.id);
const surfaceOf = (doc: ProjectDocument, id: string) => doc.surfaces.find((s) => s.id === id)!;

/** An edited height leaves lines as they are. */
const packedLines = onceForLast(packLines);

export const STAGES: readonly Stage[] = [
  {
    name: 'points',
    version: 16,
    subjects: () => ONE,
    inputs: readsOf,
    settings: pointSettings,
    run: (chain) => packPoints(chain.points),
  },
  {
    name: 'reduction',
    version: 16,
    subjects: () => ONE,
    inputs: readsOf,
    settings: pointSettings,
    run: (chain) => packReduction(chain.made),
  },
  {
    name: 'lines',
    version: 16,
    subjects: () => ONE,
    // Lines in the order of time ask the books for it.
    inputs: (doc) => [one('points'), ...readsOf(doc)],
    settings: (doc) => [
      codesKey(doc),
      doc.settings.lineOrder,
      hashOnce(doc.handLines),
      doc.intakes.map((i) => [i.id, i.purpose]),
    ],
    run: (chain) => packedLines(chain.linework),
  },
  {
    name: 'surfaces',
    version: 16,
    subjects: surfaceIds,
    inputs: () => [one('points'), one('lines')],
    settings: surfaceSettings,
    run: (chain, id) => packSurface(chain.surface(id).surface),
  },
  {
    name: 'contours',
    version: 16,
    subjects: surfaceIds,
    inputs: (_, id) => [{ stage: 'surfaces', subject: id }],
    settings: (doc, id) => contourSettings(doc, surfaceOf(doc, id)),
    run: (chain, id) => packContours(chain.contours(id).list),
  },
  {
    name: 'pieces',
    version: 16,
    subjects: comparisonIds,
    inputs: (doc, id) => {
      const { surface, against } = doc.comparisons.find((c) => c.id === id)!;
      const compared = [surface, ...('surface' in against ? [against.surface] : [])];
      return each('surfaces', compared.filter((s) => surfaceIds(doc).includes(s))); // prettier-ignore
    },
    settings: (doc, id) => {
      const { surface, against, within } = doc.comparisons.find((c) => c.id === id)!;
      return [surface, against, within];
    },
    run: (chain, id) => {
      const compared = chain.comparison(id);
      return compared.ok ? packPieces(compared.volume.pieces) : NOTHING;
    },
  },
  {
    name: 'summary',
    version: 16,
    subjects: () => ONE,
    inputs: (doc) => [
      ...readsOf(doc),
      one('points'),
      one('reduction'),
      one('lines'),
      ...each('surfaces', surfaceIds(doc)),
      ...each('contours', surfaceIds(doc)),
      ...each('pieces', comparisonIds(doc)),
    ],
    // Queries ask about anything.
    settings: ({ edits, drawing: _, pointSets: __, ...doc }) => [
      editsKey({ edits }),
      Object.fromEntries(Object.entries(doc).map(([name, part]) => [name, hashOnce(part)])),
    ],
    run: (chain) => new TextEncoder().encode(JSON.stringify(summarise(chain.doc, chain.all()))),
  },
];

/** Of all stages together: what another version settled is settled anew. */
export const CHAIN_VERSION = STAGES.reduce((sum, { version }) => sum + version, READ_VERSION);

/** The key of a result: what computes it, its settings, and what its inputs hold, by their hashes. */
export const stageKey = (
  stage: Stage,
  doc: ProjectDocument,
  subject: string,
  hashOf: (ref: ResultRef) => string | undefined,
): string =>
  hashValue([
    stage.name,
    stage.version,
    stage.settings(doc, subject),
    stage.inputs(doc, subject).map((ref) => [ref.stage, ref.subject, hashOf(ref) ?? null]),
  ]);
