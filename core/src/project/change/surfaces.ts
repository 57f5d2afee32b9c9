import { groundOf, type ProjectDocument } from '../document.ts';
import { surfacesInSeries } from '../document/series-schema.ts';
import { surfacesCompared } from '../document/comparison-schema.ts';
import { surfacesIn, type SurfaceRecipe, type SurfaceRow } from '../document/surface-schema.ts';
import type { Applied } from './applied.ts';
import type { Change } from './schema.ts';

export type SurfaceChange = Extract<
  Change,
  {
    op:
      | 'surface.add'
      | 'surface.remove'
      | 'surface.edit'
      | 'surface.row'
      | 'surface.rowRemove'
      | 'boundary.set'
      | 'line.ground';
  }
>;

const no = (reason: string): Applied => ({ ok: false, reason });
const GONE = 'This surface is no longer in the project.';

/** Changes of surfaces and the rows of their recipes. */
export function changeSurfaces(doc: ProjectDocument, change: SurfaceChange): Applied {
  switch (change.op) {
    case 'surface.add': {
      const { surface } = change;
      if (doc.surfaces.some((s) => s.id === surface.id)) return no('This surface is in the project already.');
      if (new Set(surface.rows.map((r) => r.id)).size < surface.rows.length)
        return no('Two rows of a recipe have the same identity.');
      if (usesItself(doc, surface)) return no(ROUND);
      const surfaces = [...doc.surfaces];
      surfaces.splice(change.at ?? surfaces.length, 0, surface);
      return yes(doc, surfaces, { op: 'surface.remove', id: surface.id });
    }
    case 'surface.remove':
      return removeSurface(doc, change.id);
    case 'surface.edit': {
      const before = doc.surfaces.find((s) => s.id === change.id);
      if (!before) return no(GONE);
      const after = { ...before, ...change.set };
      if (before.role === 'ground' && after.role !== 'ground' && onlyGround(doc, before))
        return no(`“${before.name}” is the only ground of the project. Make another surface ground first.`);
      const set = Object.fromEntries(Object.keys(change.set).map((k) => [k, before[k as keyof SurfaceRecipe]]));
      return put(doc, after, { op: 'surface.edit', id: change.id, set });
    }
    case 'surface.row':
      return setRow(doc, change.surface, change.row, change.at);
    case 'surface.rowRemove':
      return removeRow(doc, change.surface, change.id);
    case 'boundary.set': {
      const surface = surfaceOf(doc, change.surface);
      if (!surface) return no(GONE);
      const row = surface.rows.find((r) => r.kind === 'boundary');
      if (change.ring === null) return row ? removeRow(doc, surface.id, row.id) : put(doc, surface, change);
      return setRow(doc, surface.id, { id: row?.id ?? freeId(surface, 'boundary'), on: true, kind: 'boundary', ring: change.ring }); // prettier-ignore
    }
    case 'line.ground':
      return useLine(doc, change);
  }
}

const yes = (doc: ProjectDocument, surfaces: SurfaceRecipe[], inverse: Change): Applied => ({
  ok: true,
  document: { ...doc, surfaces },
  inverse,
});
const put = (doc: ProjectDocument, surface: SurfaceRecipe, inverse: Change): Applied =>
  yes(doc, doc.surfaces.map((s) => (s.id === surface.id ? surface : s)), inverse); // prettier-ignore
const surfaceOf = (doc: ProjectDocument, id: string | undefined): SurfaceRecipe | undefined =>
  id === undefined ? groundOf(doc) : doc.surfaces.find((s) => s.id === id);
const onlyGround = (doc: ProjectDocument, surface: SurfaceRecipe): boolean =>
  doc.surfaces.every((s) => s === surface || s.role !== 'ground');

const ROUND = 'That surface is itself made from this one. A surface cannot be made from itself.';

/** Whether a recipe comes back to itself through the surfaces that it is made from. Rows that are off count too: they may come on. */
function usesItself({ surfaces }: ProjectDocument, recipe: SurfaceRecipe): boolean {
  const open = surfacesIn(recipe);
  const seen = new Set(open);
  for (const id of open) {
    if (id === recipe.id) return true;
    const next = surfaces.find((s) => s.id === id);
    for (const of of next ? surfacesIn(next) : []) {
      if (seen.has(of)) continue;
      seen.add(of);
      open.push(of);
    }
  }
  return false;
}

function freeId(surface: SurfaceRecipe, base: string): string {
  const taken = new Set(surface.rows.map((r) => r.id));
  let id = base;
  for (let i = 2; taken.has(id); i++) id = `${base}-${i}`;
  return id;
}

function removeSurface(doc: ProjectDocument, id: string): Applied {
  const at = doc.surfaces.findIndex((s) => s.id === id);
  if (at < 0) return no(GONE);
  const surface = doc.surfaces[at];
  if (surface.role === 'ground' && onlyGround(doc, surface))
    return no(`“${surface.name}” is the only ground of the project, and a project has one.`);
  const compared = doc.comparisons.find((c) => surfacesCompared(c).includes(id));
  const series = doc.series.find((s) => surfacesInSeries(s).includes(id));
  if (series) return no(`“${surface.name}” is used by the series “${series.name}”. Delete it there first.`);
  if (compared) return no(`“${surface.name}” is used by the comparison “${compared.name}”. Delete that first.`);
  const surfaces = doc.surfaces.filter((s) => s !== surface);
  return yes(doc, surfaces, { op: 'surface.add', surface, at });
}

function setRow(doc: ProjectDocument, id: string, row: SurfaceRow, to?: number): Applied {
  const surface = doc.surfaces.find((s) => s.id === id);
  if (!surface) return no(GONE);
  const at = surface.rows.findIndex((r) => r.id === row.id);
  const rows = surface.rows.filter((r) => r.id !== row.id);
  rows.splice(to ?? (at < 0 ? rows.length : at), 0, row);
  if (usesItself(doc, { ...surface, rows })) return no(ROUND);
  const inverse: Change =
    at < 0
      ? { op: 'surface.rowRemove', surface: id, id: row.id }
      : { op: 'surface.row', surface: id, row: surface.rows[at], at };
  return put(doc, { ...surface, rows }, inverse);
}

function removeRow(doc: ProjectDocument, id: string, row: string): Applied {
  const surface = doc.surfaces.find((s) => s.id === id);
  if (!surface) return no(GONE);
  const at = surface.rows.findIndex((r) => r.id === row);
  if (at < 0) return no(`This row is no longer in the recipe of “${surface.name}”.`);
  const rows = surface.rows.filter((r) => r.id !== row);
  return put(doc, { ...surface, rows }, { op: 'surface.row', surface: id, row: surface.rows[at], at });
}

/** A line in or out of a surface: the row that excludes lines comes with the first and goes with the last. */
function useLine(doc: ProjectDocument, change: Extract<Change, { op: 'line.ground' }>): Applied {
  const surface = surfaceOf(doc, change.surface);
  if (!surface) return no(GONE);
  const rows = surface.rows.filter((r) => r.kind === 'exclude-lines');
  const holding = rows.find((r) => r.lines.includes(change.key));
  if ((holding !== undefined) === !change.used)
    return no(change.used ? 'This line is in the ground already.' : 'This line is out of the ground already.');
  if (holding) {
    const lines = holding.lines.filter((k) => k !== change.key);
    return lines.length ? setRow(doc, surface.id, { ...holding, lines }) : removeRow(doc, surface.id, holding.id); // prettier-ignore
  }
  const row = rows[0] ?? { id: freeId(surface, 'lines-out'), on: true, kind: 'exclude-lines' as const, lines: [] };
  return setRow(doc, surface.id, { ...row, lines: [...row.lines, change.key].sort() });
}
