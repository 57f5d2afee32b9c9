import { hashOnce, hashValue, isThere, sameColumn } from '#core/kernel';
import { proposedRows, surfacesIn, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import type { Surface } from '#core/terrain';
import { codesKey } from '../keys.ts';
import { tiedFrom } from '../lines/hand-lines.ts';
import { linesStage } from '../lines/stage.ts';
import { planColumns, pointsStage } from '../points/stage.ts';
import { one, readsOf, type Stage } from '../stage.ts';
import { buildReceived, buildSurface, type BuiltSurface } from './build.ts';
import { tracedTolerance } from './traced-tolerance.ts';
import { layOutSurface } from './layout.ts';
import { packSurface } from './pack.ts';
import { buildProposed, placesOf } from './proposed-ground.ts';
import { planReceived, trianglesRow } from './received.ts';

export const surfaceIds = (doc: ProjectDocument): string[] => doc.surfaces.map((s) => s.id);
export const recipeOf = (doc: ProjectDocument, id: string): SurfaceRecipe => doc.surfaces.find((s) => s.id === id)!;

/** Surfaces, each behind those that it is made from. */
function inOrderOfMaking(doc: ProjectDocument): string[] {
  const out = new Set<string>();
  const add = (id: string, above: readonly string[]): void => {
    if (out.has(id) || above.includes(id)) return;
    for (const of of namedIn(doc, id)) add(of, [...above, id]);
    out.add(id);
  };
  for (const id of surfaceIds(doc)) add(id, []);
  return [...out];
}

function namedIn(doc: ProjectDocument, id: string): string[] {
  const used = surfacesIn({ rows: recipeOf(doc, id).rows.filter((r) => r.on) });
  return surfaceIds(doc).filter((s) => used.includes(s));
}

/** Surfaces that one is made from now and that are there; were it made from itself, not those that come back to it. */
function sourcesOf(doc: ProjectDocument, id: string): string[] {
  const named = namedIn(doc, id);
  if (named.length === 0) return named;
  const order = inOrderOfMaking(doc);
  return named.filter((s) => order.indexOf(s) < order.indexOf(id));
}

/** What a surface depends on besides points and lines. */
const settings = (doc: ProjectDocument, id: string): unknown => {
  const { coincidence, longestSide, sagitta, checkHeight } = doc.settings;
  const files = doc.intakes.map((i) => [i.id, i.purpose, i.on, i.words ?? null]);
  const tied = tiedFrom(doc);
  const tolerance = tracedTolerance(doc, recipeOf(doc, id));
  return [coincidence, longestSide, sagitta, checkHeight, codesKey(doc), files, hashOnce(recipeOf(doc, id)), ...(tied.length ? [tied] : []), ...(tolerance ? [tolerance] : [])]; // prettier-ignore
};

/** Every surface of the document, as its recipe makes it. */
export const surfaceStage: Stage<BuiltSurface> = {
  name: 'surfaces',
  doing: (doc, id) => `triangulating ${recipeOf(doc, id).name}`,
  version: 31,
  subjects: inOrderOfMaking,
  inputs: (doc, id) => {
    const own = new Set(recipeOf(doc, id).rows.flatMap((r) => (r.kind === 'triangles' ? [r.intake] : [])));
    return [
      one(pointsStage),
      one(linesStage),
      ...readsOf(doc.intakes.filter((i) => own.has(i.id))),
      ...sourcesOf(doc, id).map((subject) => ({ stage: surfaceStage, subject })),
    ];
  },
  settings,
  run: ({ doc, subject: id, result, readOf, memory, progress }) => {
    const { points } = result(pointsStage);
    const linework = result(linesStage);
    const recipe = recipeOf(doc, id);
    const others = new Map(sourcesOf(doc, id).map((s) => [s, result(surfaceStage, s).surface]));
    const proposed = proposedRows(recipe);
    if (proposed.length) {
      const built = buildProposed(recipe, proposed, others, (keys) => placesOf(doc, points, keys));
      return { ...built, surface: memory.same(`surface ${id}`, built.surface, sameSurface) };
    }
    const received = trianglesRow(doc, recipe);
    if (received) {
      const { file, row } = received;
      const { triangles } = readOf(doc.intakes[file]);
      const inPlan = [file, triangles, points.x, points.y, points.state, points.intake, isThere(points.z)];
      const plan = memory.keep(`received ${id}`, inPlan, () => planReceived(doc, file, points, readOf));
      const built = buildReceived(recipe, row.id, plan, points, others);
      return { ...built, surface: memory.same(`surface ${id}`, built.surface, sameSurface) };
    }
    // A point without an elevation is another one than with it; how large it is moves no triangle.
    const laid = [hashValue(settings(doc, id)), memory.id(linework), ...planColumns(points), isThere(points.z)];
    // Contours are held against one another by their elevations.
    if (recipe.rows.some((r) => r.on && r.kind === 'contours')) laid.push(points.z);
    // A rule may ask for elevations and dates.
    if (recipe.rows.some((r) => r.on && 'rule' in r)) laid.push(points.z, points.date);
    for (const r of recipe.rows) if (r.kind === 'surface' && r.on && others.has(r.surface)) laid.push(memory.id(others.get(r.surface)!)); // prettier-ignore
    const layout = memory.keep(`layout ${id}`, laid, () => layOutSurface(doc, recipe, points, linework.lines, others));
    progress(0.2);
    const built = buildSurface(
      doc,
      recipe,
      points,
      linework.lines,
      (name, input, make) => {
        const inPlan = [
          input.x,
          input.y,
          input.segments,
          input.coincidence,
          input.longestSide,
          input.claim,
          input.mean,
          input.rounding,
        ];
        return memory.keep(`triangles ${name}`, inPlan, () => {
          const plan = make(input);
          memory.count('triangles made', plan.triangles.length / 3);
          return plan;
        });
      },
      layout,
      (inputs, make) => memory.keep(`thinned ${id}`, inputs, make),
      others,
    );
    return { ...built, surface: memory.same(`surface ${id}`, built.surface, sameSurface) };
  },
  identity: ({ surface }) => surface,
  pack: ({ surface }) => packSurface(surface),
};

/** Whether two surfaces are the same, whatever was computed anew. */
export const sameSurface = (a: Surface, b: Surface): boolean =>
  sameColumn(a.triangles, b.triangles) &&
  sameColumn(a.x, b.x) &&
  sameColumn(a.y, b.y) &&
  sameColumn(a.z, b.z) &&
  sameColumn(a.point, b.point) &&
  sameColumn(a.breakSides, b.breakSides);
