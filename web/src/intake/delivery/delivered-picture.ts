import { isPublished } from '#core/basis';
import { UNIT_NAME } from '#core/measure';
import { isWorldFile } from '#core/pictures';
import type { Picture, ProjectDocument } from '#core/project';
import { nameOf } from '../../work/open-zip.ts';
import type { OpenedPicture } from '../../work/picture/opened.ts';
import { isElsewhere, placeSaid, unitOfPlace } from '../picture-place.ts';
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

/** Where a picture lies as its files say it; a sentence where they say nothing that serves. */
export async function placeOfDelivered(
  name: string,
  opened: OpenedPicture,
  world: File | null,
  doc: Pick<ProjectDocument, 'basis' | 'settings'>,
): Promise<DeliveredPicture | { why: string }> {
  const [size] = opened.sizes;
  const unit = unitOfPlace(doc);
  const { place, problem } = await placeSaid(name, opened, world, unit, doc.basis);
  if (problem) return { why: `a picture; ${problem}` };
  if (!place) return { why: isElsewhere(opened, doc.basis) ? `a picture in ${opened.system}, the project is in ${codeOf(doc)}` : 'a photograph' }; // prettier-ignore
  const how = world ? `placed by ${world.name}` : 'placed as it says itself';
  const inUnit = world || !opened.isUnitSaid ? `, read in ${UNIT_NAME[unit]}` : '';
  return { ...size, ...place, said: `${opened.kind}, ${size.width} × ${size.height} pixels; ${how}${inUnit}` };
}

const codeOf = ({ basis: { system } }: Pick<ProjectDocument, 'basis'>): string => isPublished(system) ? (system.code ?? system.name) : 'none'; // prettier-ignore
