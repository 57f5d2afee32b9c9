import type { Change } from './change/schema.ts';
import type { Purpose } from './document/intake-schema.ts';
import { designRecipe, type SurfaceRecipe, type SurfaceRow } from './document/surface-schema.ts';
import type { ProjectDocument } from './document.ts';

type Surfaces = Pick<ProjectDocument, 'surfaces'>;

/** A surface that is there, or a new one. */
export type IntoSurface = { id: string } | { surface: Pick<SurfaceRecipe, 'id' | 'name'> };

/** Changes as one; a single one stays what it is. */
export const severalChanges = (changes: Change[], what?: string): Change =>
  changes.length === 1 ? changes[0] : { op: 'several', changes, ...(what === undefined ? {} : { what }) };

const rowOfFile = (intake: string): SurfaceRow => designRecipe({ id: '', name: '' }, [intake]).rows[0];

/** Puts a file's points into a surface of their own, or into one that is there. */
export const fileIntoSurface = (intake: string, into: IntoSurface): Change =>
  'id' in into
    ? { op: 'surface.row', surface: into.id, row: rowOfFile(intake), at: 0 }
    : { op: 'surface.add', surface: designRecipe(into.surface, [intake]) };

/** Deletes the rows that name a file. */
export const fileOutOfSurfaces = ({ surfaces }: Surfaces, intake: string): Change[] =>
  surfaces.flatMap(
    (s) =>
    s.rows.flatMap((r): Change[] => (r.kind === 'file' && r.intake === intake ? [{ op: 'surface.rowRemove', surface: s.id, id: r.id }] : [])), // prettier-ignore
  );

/** What a file's points are from now on, and the surface that they belong to where they are a design. */
export const setPurpose = (doc: Surfaces, intake: string, purpose: Purpose, into: IntoSurface | null): Change =>
  severalChanges(
    [
      { op: 'intake.purpose', id: intake, purpose },
      ...fileOutOfSurfaces(doc, intake),
      ...(into ? [fileIntoSurface(intake, into)] : []),
    ],
    'said what the points of a file are',
  );

/** Takes a file out of the project, with the rows of surfaces that name it, and surfaces that nothing else makes. */
export function removeFile(doc: Pick<ProjectDocument, 'surfaces' | 'comparisons'>, intake: string): Change {
  const compared = new Set(
    doc.comparisons.flatMap((c) => [c.surface, ...('surface' in c.against ? [c.against.surface] : [])]),
  );
  const only = doc.surfaces.filter(
    (s) =>
      s.role !== 'ground' &&
      !compared.has(s.id) &&
      s.rows.some((r) => r.kind === 'file' && r.intake === intake) &&
      s.rows.every((r) => r.kind !== 'survey' && (r.kind !== 'file' || r.intake === intake)),
  );
  const others = { surfaces: doc.surfaces.filter((s) => !only.includes(s)) };
  return severalChanges(
    [
      { op: 'intake.remove', id: intake },
      ...fileOutOfSurfaces(others, intake),
      ...only.map((s): Change => ({ op: 'surface.remove', id: s.id })),
    ],
    'deleted a file',
  );
}
