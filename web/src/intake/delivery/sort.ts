import type { Purpose } from '#core/project';
import type { Opened } from '../../work/intake.worker.ts';

/** What becomes of a file of a delivery. */
export type Treatment =
  | { as: Purpose; /** Name of a design's surface. */ surface?: string }
  | { as: 'book' }
  /** A drawing by its layers: as an earlier issue was ticked, or its points and lines with their codes. */
  | { as: 'layers' }
  /** All of a drawing under the project's own. */
  | { as: 'underlay' }
  /** A later export in the place of a file that the project has; rows of that file which remain in use. */
  | { as: 'replace'; intake: string; remaining: number[] }
  /** A picture under the drawing, where its files say that it lies. */
  | { as: 'picture' }
  /** Kept among the originals; nothing is read of it. */
  | { as: 'original' }
  | { as: 'nothing' };

export const TREATMENT_NAME: Record<Treatment['as'], string> = {
  control: 'control',
  book: 'field book',
  survey: 'survey points',
  design: 'design',
  layers: 'drawing, by its layers',
  underlay: 'underlay',
  replace: 'later export',
  picture: 'picture under the drawing',
  original: 'kept as an original',
  nothing: 'not imported',
};

/** The order in which files come in: what others are computed from first; replaced files before what is new. */
const ORDER: Treatment['as'][] = [
  'replace',
  'control',
  'book',
  'survey',
  'design',
  'layers',
  'underlay',
  'picture',
  'original',
  'nothing',
];

export const inOrder = <T extends { treatment: Treatment; path: string }>(files: readonly T[]): T[] =>
  [...files].sort(
    (a, b) =>
      ORDER.indexOf(a.treatment.as) - ORDER.indexOf(b.treatment.as) || (a.path < b.path ? -1 : a.path > b.path ? 1 : 0),
  );

const isControlName = (name: string): boolean => /control|passpunkt|festpunkt|\bcp\b/i.test(name);
const isDesignName = (name: string): boolean => /pad|design|proposed/i.test(name);
const PHOTOGRAPH = /\.(jpe?g|png|heic|tiff?|webp|gif)$/i;

const plainName = (name: string): string => name.replace(/\.[^.]*$/, '').replace(/[-_]+/g, ' ');

/** What a file's points are, by its name and what it holds. */
export function purposeOf(
  name: string,
  opened: Pick<Opened, 'surface' | 'guess' | 'grid'>,
): { as: Purpose; surface?: string } {
  if (opened.surface !== null) return { as: 'design', surface: opened.surface };
  if (opened.grid) return { as: 'design', surface: plainName(name) };
  if (isControlName(name) || opened.guess.control) return { as: 'control' };
  if (isDesignName(name)) return { as: 'design', surface: plainName(name) };
  return { as: 'survey' };
}

/** What a file is taken for, until a person says otherwise. */
export function treatmentOf(name: string, opened: Opened | null, ticked: Opened | null = null): Treatment {
  if (!opened) return { as: 'original' };
  if (ticked?.tickedAs) return { as: 'layers' };
  // Nobody said what a drawing is for: seen, it is in nobody's way.
  if (ticked && DRAWINGS.has(opened.kind) && opened.surface === null) return { as: 'underlay' };
  if (opened.kind === 'book' || opened.readings?.likely) return { as: 'book' };
  return purposeOf(name, opened);
}

/** Files of drawn things: LandXML is a survey or a design as often. */
const DRAWINGS: ReadonlySet<Opened['kind']> = new Set(['dxf', 'geojson'] as const);

/** Why a file is only kept, in words. */
export const keptWhy = (name: string, reason: string): string => (PHOTOGRAPH.test(name) ? 'a photograph' : reason);

/** Ways in which a file may be treated, as far as it could be read. */
export function choicesOf(opened: Opened | null, isPlaced = false, isDrawing = false): Treatment['as'][] {
  if (isPlaced) return ['picture', 'original', 'nothing'];
  if (!opened) return ['original', 'nothing'];
  if (opened.kind === 'book') return ['book', 'original', 'nothing'];
  return [
    ...(opened.readings ? (['book'] as const) : []),
    ...(isDrawing ? (['layers', 'underlay'] as const) : []),
    'survey',
    'control',
    'design',
    'original',
    'nothing',
  ];
}
