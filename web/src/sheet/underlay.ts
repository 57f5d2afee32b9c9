import { Group, type Object3D } from 'three';
import { applyMatrix } from '#core/basis';
import { sidesOfUnderlay, UNDER, type Underlay } from '#core/exchange';
import type { ProjectDocument } from '#core/project';
import type { Tables } from '../project-state/tables.ts';
import { extentOf } from './extent.ts';
import { markLayer } from './layers.ts';
import type { Place } from './place.ts';
import { thinLines } from './segments.ts';

/** Texts that are looked through for those in view at the most, in one picture. */
const MOST_TEXTS = 20_000;

const placed = new WeakMap<Underlay, { matrix: readonly number[] | null; of: Underlay }>();

/** An underlay where its file is transformed to; the same one while nothing of it changes. */
function placedOf(underlay: Underlay, matrix: readonly number[] | null): Underlay {
  const known = placed.get(underlay);
  if (known?.matrix === matrix) return known.of;
  const of = matrix ? moved(underlay, matrix) : underlay;
  placed.set(underlay, { matrix, of });
  return of;
}

function moved(underlay: Underlay, matrix: readonly number[]): Underlay {
  const [x, y, z] = [underlay.x.slice(), underlay.y.slice(), underlay.z.slice()];
  for (let i = 0; i < x.length; i++) {
    const to = applyMatrix(matrix, x[i], y[i], Number.isNaN(z[i]) ? 0 : z[i]);
    [x[i], y[i], z[i]] = [to.x, to.y, Number.isNaN(z[i]) ? NaN : to.z];
  }
  return { ...underlay, x, y, z };
}

/** Underlays of the files that are on, in the order of the files. */
export const underlaysShown = (
  { underlays }: Pick<Tables, 'underlays'>,
  { intakes }: Pick<ProjectDocument, 'intakes'>,
): Underlay[] =>
  intakes.flatMap(({ id, on, placement }) => {
    const underlay = on ? underlays.get(id) : undefined;
    return underlay ? [placedOf(underlay, placement?.matrix ?? null)] : [];
  });

/** West, south, east and north of all underlays; null without any. */
export const extentOfUnderlays = (list: readonly Underlay[]): [number, number, number, number] | null => {
  const extents = list.flatMap(({ x, y }) => extentOf(x, y, null) ?? []);
  return list.length
    ? extentOf(extents.filter((_, i) => i % 2 === 0), extents.filter((_, i) => i % 2 === 1), null) // prettier-ignore
    : null;
};

/** What the underlay layer depends on. */
export const underlayKey = (
  { stages }: Pick<Tables, 'stages'>,
  { intakes }: Pick<ProjectDocument, 'intakes'>,
  has: (intake: string) => boolean,
): string =>
  JSON.stringify(intakes.flatMap(({ id, on, placement }) => (on && has(id) ? [[stages.reads[id], placement?.matrix]] : []))); // prettier-ignore

/** Lines and marks of underlays, faint; in plan what has no elevation lies at the mean one. */
export function underlayLayer(list: readonly Underlay[], origin: Place, meanElevation: number): Object3D | null {
  const group = new Group();
  for (const u of list) {
    const sides = sidesOfUnderlay(u);
    const place = new Float32Array((sides.x.length / 2) * 6);
    for (let i = 0, at = 0; i < sides.x.length; i++) {
      place[at++] = sides.x[i] - origin.x;
      place[at++] = sides.y[i] - origin.y;
      place[at++] = Number.isNaN(sides.z[i]) ? meanElevation : sides.z[i] - origin.z;
    }
    if (place.length) group.add(thinLines(place, 'slate', 0.85));
    const marks: number[] = [];
    u.kinds.forEach((kind, t) => {
      if (kind === UNDER.point) marks.push(u.x[u.starts[t]], u.y[u.starts[t]]);
    });
    const marked = markLayer(marks, origin, 'slate', 'dot', meanElevation);
    if (marked) group.add(marked);
  }
  return group.children.length ? group : null;
}

/** Texts of underlays that lie in a window, each with its place; none where there are more than can be read. */
export function textsIn(
  list: readonly Underlay[],
  [minX, minY, maxX, maxY]: readonly [number, number, number, number],
  most: number,
): { x: number; y: number; z: number; text: string }[] {
  const out: { x: number; y: number; z: number; text: string }[] = [];
  let looked = 0;
  for (const u of list)
    for (let t = 0; t < u.kinds.length; t++) {
      if (u.kinds[t] !== UNDER.text) continue;
      if (++looked > MOST_TEXTS) return out;
      const i = u.starts[t];
      if (u.x[i] < minX || u.x[i] > maxX || u.y[i] < minY || u.y[i] > maxY) continue;
      if (out.length === most) return [];
      out.push({ x: u.x[i], y: u.y[i], z: u.z[i], text: u.names[t] });
    }
  return out;
}
