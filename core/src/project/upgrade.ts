import { DEFAULT_WORDS, MEANINGS, type CodeList } from '#core/codes';
import { hashValue } from '#core/kernel';
import { LOCAL_BASIS, type Basis } from './document/basis-schema.ts';
import { START_DRAWING, type DrawingSettings } from './document/drawing-schema.ts';
import type { Intake } from './document/intake-schema.ts';
import { START_SETTINGS } from './document/settings-schema.ts';
import { designRecipe, FIRST_SURFACE, groundRecipe, type SurfaceRecipe } from './document/surface-schema.ts';
import type { Comparison, PointEdit, ProjectDocument, InstrumentList } from './document.ts';
import { withEdits } from './edits.ts';
import type { Change } from './change/schema.ts';
import { fileIntoSurface, setPurpose, severalChanges, type IntoSurface } from './files-in-surfaces.ts';

// Documents and changes that earlier versions kept are read as this version has them.

/** Until surfaces were recipes, a file belonged to one by its name, and the ground was called Ground. */
const OLD_GROUND = 'Ground';
const OLD_CONTROL = 'Control';
type OldIntake = Omit<Intake, 'purpose'> & { target?: string; purpose?: Intake['purpose'] };
interface OldComparison {
  ground?: string;
  against: Comparison['against'];
}

const idOfName = (name: string): string =>
  name === OLD_GROUND ? FIRST_SURFACE : `design-${hashValue(name).slice(0, 12)}`;

function currentIntake({ target, ...intake }: OldIntake): Intake {
  if (intake.purpose !== undefined) return intake as Intake;
  return { ...intake, purpose: target === OLD_CONTROL ? 'control' : target === OLD_GROUND ? 'survey' : 'design' };
}

function currentComparison(c: Comparison & OldComparison): Comparison {
  if (c.ground === undefined) return c;
  const { ground, against, ...rest } = c;
  return {
    ...rest,
    surface: idOfName(ground),
    against: 'surface' in against ? { surface: idOfName(against.surface) } : against,
  };
}

/** Keys of queries named the ground by its name. */
const currentAccepted = (accepted: ProjectDocument['accepted']): ProjectDocument['accepted'] =>
  Object.fromEntries(
    Object.entries(accepted).map(([key, a]) => [key.replace(/^crossing-breaklines:Ground:/, `crossing-breaklines:${FIRST_SURFACE}:`), a]), // prettier-ignore
  );

/** Until edits stood by file and row, they stood by both in one key, `intake:row`. */
function currentEdits(edits: ProjectDocument['edits'] | Record<string, PointEdit>): ProjectDocument['edits'] {
  const old = Object.entries(edits).filter(([, edit]) => !Object.keys(edit).every((row) => /^\d+(\.\d+)?$/.test(row)));
  if (old.length === 0) return edits as ProjectDocument['edits'];
  return withEdits({}, old as [string, PointEdit][]);
}

/** Until they were asked for, the first of coincident points stayed and the first line counted where two met. */
type OldRecipe = Omit<SurfaceRecipe, 'keep' | 'meeting' | 'smooth'> & Partial<SurfaceRecipe>;
const currentRecipe = (kept: OldRecipe): SurfaceRecipe =>
  kept.smooth === undefined ? { ...kept, keep: kept.keep ?? null, meeting: kept.meeting ?? null, smooth: null } : (kept as SurfaceRecipe); // prettier-ignore

interface OldParts {
  intakes: OldIntake[];
  boundary?: number[] | null;
  linesOutOfGround?: string[];
}

/** Surfaces of a document in which a file's target named one, with the boundary and the lines that were the ground's. */
function currentSurfaces({ intakes, boundary, linesOutOfGround }: OldParts): SurfaceRecipe[] {
  const ground = groundRecipe({ id: FIRST_SURFACE, name: OLD_GROUND });
  if (linesOutOfGround?.length)
    ground.rows.push({ id: 'lines-out', on: true, kind: 'exclude-lines', lines: linesOutOfGround });
  if (boundary) ground.rows.push({ id: 'boundary', on: true, kind: 'boundary', ring: boundary });
  const designs = new Map<string, string[]>();
  for (const { id, target } of intakes)
    if (target !== undefined && target !== OLD_GROUND && target !== OLD_CONTROL)
      designs.set(target, [...(designs.get(target) ?? []), id]);
  return [ground, ...[...designs].map(([name, files]) => designRecipe({ id: idOfName(name), name }, files))];
}

/** A document kept by an earlier version, with what has been added since at its start value. */
export function upgradeDocument(kept: ProjectDocument): ProjectDocument {
  const { boundary, linesOutOfGround, ...now } = kept as ProjectDocument & OldParts;
  return {
    ...now,
    edits: currentEdits(kept.edits),
    accepted: currentAccepted(kept.accepted),
    intakes: kept.intakes.map(currentIntake),
    comparisons: kept.comparisons.map(currentComparison),
    surfaces: (kept.surfaces as OldRecipe[] | undefined)?.map(currentRecipe) ?? currentSurfaces({ intakes: kept.intakes, boundary, linesOutOfGround }), // prettier-ignore
    decisions: (kept.decisions as ProjectDocument['decisions'] | undefined) ?? {},
    register: (kept.register as InstrumentList | undefined) ?? { instruments: [], targets: [] },
    handVolumes: (kept.handVolumes as ProjectDocument['handVolumes'] | undefined) ?? [],
    series: (kept.series as ProjectDocument['series'] | undefined) ?? [],
    pointSets: (kept.pointSets as ProjectDocument['pointSets'] | undefined) ?? [],
    pictures: (kept.pictures as ProjectDocument['pictures'] | undefined) ?? [],
    drawing: { ...structuredClone(START_DRAWING), ...(kept.drawing as DrawingSettings | undefined) },
    handLines: (kept.handLines as ProjectDocument['handLines'] | undefined) ?? {},
    settings: { ...START_SETTINGS, ...kept.settings },
    codeList: withAllWords(kept.codeList),
    basis: { ...LOCAL_BASIS, ...(kept.basis as Basis | undefined) },
  };
}

/** Words that came with a later version are added, unless a code or another word is spelt like one. */
function withAllWords(list: CodeList): CodeList {
  if (list.words.form !== undefined || list.words.continue !== undefined) return list;
  const taken = new Set([...list.codes.map((c) => c.code), ...Object.values(list.words)].map((t) => String(t).toUpperCase())); // prettier-ignore
  const words = { ...list.words };
  for (const m of MEANINGS) if (!words[m] && !taken.has(DEFAULT_WORDS[m])) words[m] = DEFAULT_WORDS[m];
  return { ...list, words };
}

type OldChange =
  | { op: 'intake.add'; intake: OldIntake; at?: number }
  | { op: 'intake.target'; id: string; target: string }
  | { op: 'comparison.set'; comparison: Comparison & OldComparison; at?: number }
  | { op: 'surface.add'; surface: OldRecipe; at?: number };

/** Whether a change is one that an earlier version kept, and that depends on the surfaces there are. */
export const hangsOnSurfaces = (kept: Change): boolean => {
  const old = kept as unknown as OldChange;
  return old.op === 'intake.target' || (old.op === 'intake.add' && old.intake.target !== undefined);
};

/** A change that an earlier version kept, as this one would make it; `doc`: the document that it is applied to. */
export function upgradeChange(kept: Change, doc: Pick<ProjectDocument, 'surfaces'>): Change {
  const old = kept as unknown as OldChange;
  switch (old.op) {
    case 'intake.add': {
      if (old.intake.target === undefined) return kept;
      const { id, target } = old.intake;
      const add: Change = { ...old, intake: currentIntake(old.intake) };
      return add.intake.purpose === 'design'
        ? severalChanges([add, fileIntoSurface({ id, layout: {} }, surfaceNamed(doc, target))])
        : add;
    }
    case 'intake.target': {
      const { purpose } = currentIntake({ id: old.id, target: old.target } as OldIntake);
      return setPurpose(doc, old.id, purpose, purpose === 'design' ? surfaceNamed(doc, old.target) : null);
    }
    case 'comparison.set':
      return { ...old, comparison: currentComparison(old.comparison) };
    case 'surface.add':
      return { ...old, surface: currentRecipe(old.surface) };
    default:
      return kept;
  }
}

function surfaceNamed(doc: Pick<ProjectDocument, 'surfaces'>, name: string): IntoSurface {
  const id = idOfName(name);
  return doc.surfaces.some((s) => s.id === id) ? { id } : { surface: { id, name } };
}
