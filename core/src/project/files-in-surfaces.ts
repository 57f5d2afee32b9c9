import { codeOfTaken, saysAs, type TakenAs, type TakenRow } from '#core/exchange';
import type { Change } from './change/schema.ts';
import { surfacesCompared } from './document/comparison-schema.ts';
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
type Comes = Pick<Intake, 'id'> & { layout: Pick<Intake['layout'], 'surface' | 'taken'> };

function recipeOf(file: Comes, surface: Pick<SurfaceRecipe, 'id' | 'name'>): SurfaceRecipe {
  const { layout, id } = file;
  if (layout.surface !== undefined) return receivedRecipe(surface, id);
  if (saysAs(layout.taken)) return { ...designRecipe(surface, []), rows: rowsOfDrawing(id, layout.taken!) };
  return designRecipe(surface, [id]);
}

/** What the groups of a drawing are in a surface: points of the ground, breaklines, contours, its boundary. */
function rowsOfDrawing(file: string, taken: readonly TakenRow[]): SurfaceRow[] {
  const codes = (...as: TakenAs[]): string[] =>
    [...new Set(taken.flatMap((t) => (t.as && as.includes(t.as) ? [codeOfTaken(t)!] : [])))].sort();
  const row = (what: string): { id: string; on: true } => ({ id: rowIdOf(file, what), on: true });
  const [lines, contours, rims] = [codes('breaklines'), codes('contours'), codes('boundary')];
  const points = codes('ground points', 'breaklines', 'contours');
  return [
    ...(points.length ? [{ ...row('points'), kind: 'points' as const, rule: { files: [file], ...(points.length > MOST_CODES ? {} : { codes: points }) } }] : []), // prettier-ignore
    ...(lines.length ? [{ ...row('lines'), kind: 'lines' as const, codes: lines.slice(0, MOST_LINE_CODES) }] : []),
    ...(contours.length ? [{ ...row('contours'), kind: 'contours' as const, codes: contours.slice(0, MOST_LINE_CODES) }] : []), // prettier-ignore
    ...(rims.length ? [{ ...row('boundary'), kind: 'line-boundary' as const, codes: rims.slice(0, MOST_LINE_CODES), files: [file] }] : []), // prettier-ignore
  ];
}

const rowIdOf = (file: string, what: string): string => `${file.slice(0, 28)}-${what}`;

/** Codes in a rule, and in a row of lines, at the most. */
const [MOST_CODES, MOST_LINE_CODES] = [200, 500];

/** Whether a row is of this file alone: it brings its points, or came with them. */
const namesFile = (row: SurfaceRow, intake: string): boolean =>
  row.id === rowIdOf(intake, 'lines') || row.id === rowIdOf(intake, 'contours') || bringsFile(row, intake);

const bringsFile = (row: SurfaceRow, intake: string): boolean =>
  row.kind === 'points' || row.kind === 'line-boundary'
    ? (row.kind === 'points' ? row.rule : row).files?.join() === intake
    : (row.kind === 'file' || row.kind === 'triangles') && row.intake === intake;

/** Puts a file's points, or its triangles, into a surface of their own, or into one that is there. */
export function fileIntoSurface(file: Comes, into: IntoSurface): Change {
  if ('surface' in into) return { op: 'surface.add', surface: recipeOf(file, into.surface) };
  const { rows } = recipeOf(file, { id: '', name: '' });
  if (!saysAs(file.layout.taken)) return { op: 'surface.row', surface: into.id, row: rows[0], at: 0 };
  return severalChanges(rows.map((row): Change => ({ op: 'surface.row', surface: into.id, row })));
}

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

/** Rows that bring points. */
const BRINGS: ReadonlySet<SurfaceRow['kind']> = new Set(['survey', 'file', 'triangles', 'points', 'surface', 'lay-in', 'pad', 'strip', 'offset', 'spot', 'breakline'] as const); // prettier-ignore

/** Takes a file out of the project, with the rows of surfaces that name it, and surfaces that nothing else makes. */
export function removeFile(doc: Pick<ProjectDocument, 'surfaces' | 'comparisons'>, intake: string): Change {
  const compared = new Set(doc.comparisons.flatMap(surfacesCompared));
  const only = doc.surfaces.filter(
    (s) =>
      s.role !== 'ground' &&
      !compared.has(s.id) &&
      s.rows.some((r) => namesFile(r, intake)) &&
      s.rows.every((r) => !BRINGS.has(r.kind) || namesFile(r, intake)),
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
