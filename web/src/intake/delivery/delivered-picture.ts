import { isPublished } from '#core/basis';
import { METRES_IN_FILE, UNIT_NAME, type FileUnit } from '#core/measure';
import { inMetres, isWorldFile, readWorldFile } from '#core/pictures';
import type { Picture, ProjectDocument } from '#core/project';
import { nameOf } from '../../work/open-zip.ts';
import type { OpenedPicture } from '../../work/picture/opened.ts';
import type { Gathered } from './gather.ts';

/** A picture of a delivery that says where it lies, itself or by the world file beside it. */
export interface DeliveredPicture extends Pick<Picture, 'width' | 'height' | 'matrix' | 'placed'> {
  /** What it is, and how its place was read, in words. */
  said: string;
}

const stemOf = (path: string): string => path.replace(/\.[^./]*$/, '').toLowerCase();

/** The world file of a picture: beside it in its folder, under its name; of several the first by their endings. */
export const worldFileFor = (path: string, all: readonly Gathered[]): Gathered | undefined =>
  all
    .filter((g) => g.file !== null && isWorldFile(nameOf(g.path)) && stemOf(g.path) === stemOf(path))
    .sort((a, b) => (a.path < b.path ? -1 : 1))[0];

/** The picture that a world file places; undefined of one that places none. */
export const pictureOfWorldFile = ({ path }: Gathered, all: readonly Gathered[]): Gathered | undefined =>
  isWorldFile(nameOf(path))
    ? all.find((g) => g.path !== path && /\.(png|jpe?g|tiff?)$/i.test(g.path) && stemOf(g.path) === stemOf(path))
    : undefined;

/** The unit of a place whose file says none: that of the project’s grid, else the project’s own. */
export function unitOfPlace({ basis, settings }: Pick<ProjectDocument, 'basis' | 'settings'>): FileUnit {
  const { system } = basis;
  return isPublished(system) && system.unit !== 'degree' ? system.unit : settings.unit;
}

/** Where a picture lies as its files say it; a sentence where they say nothing that serves. */
export async function placeOfDelivered(
  name: string,
  opened: OpenedPicture,
  world: File | null,
  doc: Pick<ProjectDocument, 'basis' | 'settings'>,
): Promise<DeliveredPicture | { why: string }> {
  const [size] = opened.sizes;
  const is = `${opened.kind}, ${size.width} × ${size.height} pixels`;
  const unit = unitOfPlace(doc);
  if (world) {
    const read = readWorldFile(await world.text(), unit);
    if (!read.ok) return { why: `a picture; ${world.name}: ${read.reason}` };
    return { ...size, matrix: read.matrix, placed: { by: 'file', name: world.name }, said: `${is}; placed by ${world.name}, read in ${UNIT_NAME[unit]}` }; // prettier-ignore
  }
  const own = isPublished(doc.basis.system) ? doc.basis.system.code : null;
  if (opened.system && own && opened.system !== own) return { why: `a picture in ${opened.system}, the project is in ${own}` }; // prettier-ignore
  if (!opened.matrix) return { why: 'a photograph' };
  const matrix = inMetres(opened.matrix, opened.isUnitSaid ? 1 : METRES_IN_FILE[unit]);
  const how = opened.isUnitSaid ? '' : `, read in ${UNIT_NAME[unit]}`;
  return { ...size, matrix, placed: { by: 'file', name }, said: `${is}; placed as it says itself${how}` };
}
