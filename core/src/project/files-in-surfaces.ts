import type { Change } from './change/schema.ts';
import type { Intake, Purpose } from './document/intake-schema.ts';
import { designRecipe, receivedRecipe, type SurfaceRecipe, type SurfaceRow } from './document/surface-schema.ts';
import type { ProjectDocument } from './document.ts';

type Surfaces = Pick<ProjectDocument, 'surfaces'>;

/** A surface that is there, or a new one. */
export type IntoSurface = { id: string } | { surface: Pick<SurfaceRecipe, 'id' | 'name'> };

/** Changes as one; a single one stays what it is. */
export const severalChanges = (changes: Change[], what?: string): Change =>
  changes.length === 1 ? changes[0] : { op: 'several', changes, ...(what === undefined ? {} : { what }) };

/** How a file comes into a surface: as the points that it is, or with triangles of its own. */
type Comes = Pick<Intake, 'id'> & { layout: Pick<Intake['layout'], 'surface'> };

const recipeOf = (file: Comes, surface: Pick<SurfaceRecipe, 'id' | 'name'>): SurfaceRecipe =>
  file.layout.surface === undefined ? designRecipe(surface, [file.id]) : receivedRecipe(surface, file.id);

const namesFile = (row: SurfaceRow, intake: string): boolean =>
  (row.kind === 'file' || row.kind === 'triangles') && row.intake === intake;

/** Puts a file's points, or its triangles, into a surface of their own, or into one that is there. */
export const fileIntoSurface = (file: Comes, into: IntoSurface): Change =>
  'id' in into
    ? { op: 'surface.row', surface: into.id, row: recipeOf(file, { id: '', name: '' }).rows[0], at: 0 }
    : { op: 'surface.add', surface: recipeOf(file, into.surface) };

/** Deletes the rows that name a file. */
export const fileOutOfSurfaces = ({ surfaces }: Surfaces, intake: string): Change[] =>
  surfaces.flatMap(
    (s) =>
    s.rows.flatMap((r): Change[] => (namesFile(r, intake) ? [{ op: 'surface.rowRemove', surface: s.id, id: r.id }] : [])), // prettier-ignore
  );

/** What a file's points are from now on, and the surface that they belong to where they are a design. */
export const setPurpose = (
  doc: Surfaces & Partial<Pick<ProjectDocument, 'intakes'>>,
  intake: string,
  purpose: Purpose,
  into: IntoSurface | null,
): Change =>
  severalChanges(
    [
      { op: 'intake.purpose', id: intake, purpose },
      ...fileOutOfSurfaces(doc, intake),
      ...(into ? [fileIntoSurface(doc.intakes?.find((i) => i.id === intake) ?? { id: intake, layout: {} }, into)] : []),
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
      s.rows.some((r) => namesFile(r, intake)) &&
      s.rows.every(
        (r) => r.kind !== 'survey' && ((r.kind !== 'file' && r.kind !== 'triangles') || r.intake === intake),
      ),
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
