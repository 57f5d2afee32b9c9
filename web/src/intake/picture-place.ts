import { isPublished } from '#core/basis';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { inMetres, readWorldFile, type Projective } from '#core/pictures';
import type { Basis, Picture, ProjectDocument } from '#core/project';
import type { OpenedPicture } from '../work/picture/opened.ts';

export interface Place {
  matrix: Projective;
  placed: Picture['placed'];
}

/** The unit of a place whose file says none: that of the project’s grid, else the project’s own. */
export function unitOfPlace({ basis, settings }: Pick<ProjectDocument, 'basis' | 'settings'>): FileUnit {
  const { system } = basis;
  return isPublished(system) && system.unit !== 'degree' ? system.unit : settings.unit;
}

/** Whether a picture says that it is in another system than the project. */
export function isElsewhere({ system }: OpenedPicture, basis: Basis): boolean {
  const own = isPublished(basis.system) ? basis.system.code : null;
  return Boolean(system && own && system !== own);
}

/**
 * Where a picture lies: as its world file says, else as it says itself, `unit` where that names none; null where neither
 * serves. With it what is wrong with the world file.
 */
export async function placeSaid(
  name: string,
  opened: OpenedPicture,
  world: File | null,
  unit: FileUnit,
  basis: Basis,
): Promise<{ place: Place | null; problem: string | null }> {
  const read = world && readWorldFile(await world.text(), unit);
  if (read?.ok) return { place: { matrix: read.matrix, placed: { by: 'file', name: world!.name } }, problem: null };
  const problem = read ? `${world!.name}: ${read.reason}` : null;
  if (!opened.matrix || isElsewhere(opened, basis)) return { place: null, problem };
  const matrix = inMetres(opened.matrix, opened.isUnitSaid ? 1 : METRES_IN_FILE[unit]);
  return { place: { matrix, placed: { by: 'file', name } }, problem };
}
