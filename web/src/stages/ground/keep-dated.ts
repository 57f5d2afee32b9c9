import { fileStem, writeLandXml } from '#core/exchange';
import type { ProjectDocument, SurfaceRecipe } from '#core/project';
import type { Surface } from '#core/terrain';
import { intakeCame, takeInFile } from '../../intake/take-in.ts';
import { startIntakeWork } from '../../work/workers.ts';
import { freeName } from './new-surface.ts';

/** Decimals of a metre that a kept surface has: below what any computation of it could tell. */
const DECIMALS = 7;

/**
 * Keeps a surface as it is now: its triangles go into the project as a file of their own, and a surface of them, as received,
 * is added to the project's. Gives the new surface's id; throws where the file is not taken.
 */
export async function keepDated(
  project: string,
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  surface: Surface,
  revision: number,
  today: Date,
): Promise<string> {
  const date = `${today.getFullYear()}-${String(today.getMonth() + 1).padStart(2, '0')}-${String(today.getDate()).padStart(2, '0')}`;
  const name = freeName(doc, `${recipe.name.slice(0, 80)} of ${date}`);
  const xml = writeLandXml({ project: name, made: today.toISOString(), points: [], breaklines: [], surfaces: [{ name, surface }] }, 'm', DECIMALS); // prettier-ignore
  const file = new File([xml], `${fileStem(recipe.name, date)} r${revision}.xml`, { type: 'application/xml' });
  const reader = startIntakeWork();
  try {
    const context = { fileName: file.name, unit: 'm' as const, near: [], order: doc.settings.order, codes: [] };
    const opened = await reader.work.open(new Uint8Array(await file.arrayBuffer()), context, { surface: name });
    if (!opened.ok || opened.kind === 'book') throw new Error('The surface could not be written as a file.');
    const layout = { ...opened.guess.layout, surface: name };
    const id = crypto.randomUUID().slice(0, 13);
    const part = { layout, purpose: 'design' as const, numbers: { all: 'both' as const, each: {} } };
    const { intake, job } = await takeInFile(project, file, part, { into: { surface: { id, name } } }, () => {}, new AbortController().signal); // prettier-ignore
    const came = await intakeCame(intake, job);
    if (!came.ok) throw new Error(came.reason);
    return id;
  } finally {
    reader.end();
  }
}
