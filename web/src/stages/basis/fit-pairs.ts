import type { FitPair } from '#core/basis';
import { fromMetres, readLength } from '#core/measure';
import { editOf, type ProjectDocument, type Settings } from '#core/project';
import { unpackRead } from '#core/sources';
import { STATE } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import { api } from '../../frame/api.ts';
import type { Snapped } from '../../project-state/snap.ts';
import type { Tables } from '../../project-state/tables.ts';

/** What files say of their points as received, by intake: what a fit begins from. */
export async function readsOf(
  project: string,
  tables: Tables,
  intakes: readonly string[],
): Promise<Map<string, ReadPoints>> {
  const out = new Map<string, ReadPoints>();
  for (const intake of intakes) {
    const hash = tables.stages.reads[intake];
    if (hash) out.set(intake, unpackRead(await api.result(project, hash)));
  }
  return out;
}

export interface Pairing {
  from: string;
  to: string;
  plan: boolean;
  height: boolean;
}

interface Place {
  x: number;
  y: number;
  z: number;
}

/** Points that a fit may go to, by number: control, then points of files that stay where they are. */
export function targets(doc: ProjectDocument, tables: Tables, chosen: readonly string[]): Map<string, Place> {
  const out = new Map<string, Place>();
  const { points } = tables;
  const control: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    const intake = doc.intakes[points.intake[row]];
    if (points.state[row] === STATE.off || points.number.get(row) === '') continue;
    if (intake.purpose === 'control') control.push(row);
    else if (!chosen.includes(intake.id))
      out.set(points.number.get(row), { x: points.x[row], y: points.y[row], z: points.z[row] });
  }
  for (const row of control) out.set(points.number.get(row), { x: points.x[row], y: points.y[row], z: points.z[row] });
  return out;
}

/** Points of the chosen files by number, as received; a number that stands twice is no common point. */
export function origins(doc: ProjectDocument, reads: Map<string, ReadPoints>): Map<string, Place> {
  const out = new Map<string, Place>();
  const twice = new Set<string>();
  for (const [intake, read] of reads)
    for (let i = 0; i < read.x.length; i++) {
      const edit = editOf(doc, intake, read.row[i]);
      if (edit?.off) continue;
      const number = edit?.number ?? read.number[i];
      if (number === '') continue;
      if (out.has(number)) twice.add(number);
      out.set(number, { x: read.x[i], y: read.y[i], z: read.z[i] });
    }
  for (const number of twice) out.delete(number);
  return out;
}

/** Common points by equal number with control. */
export function commonPairs(doc: ProjectDocument, tables: Tables, from: Map<string, Place>): Pairing[] {
  const { points } = tables;
  const names = new Set<string>();
  for (let row = 0; row < points.x.length; row++)
    if (doc.intakes[points.intake[row]].purpose === 'control' && points.state[row] !== STATE.off)
      names.add(points.number.get(row));
  return [...names]
    .filter((n) => from.has(n))
    .sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
    .map((n) => ({ from: n, to: n, plan: true, height: true }));
}

/** Points by number, and places that are typed as two or three coordinates, in the project's unit and order. */
export interface NamedPlaces {
  get: (name: string) => Place | undefined;
  has: (name: string) => boolean;
}

export function withTyped(points: Map<string, Place>, settings: Pick<Settings, 'unit' | 'order'>): NamedPlaces {
  const get = (name: string): Place | undefined => points.get(name) ?? typedPlace(name, settings);
  return { get, has: (name) => get(name) !== undefined };
}

/** A place as its coordinates with blanks or semicolons between; what it has no elevation for is fitted in plan alone. */
function typedPlace(text: string, { unit, order }: Pick<Settings, 'unit' | 'order'>): Place | undefined {
  const parts = text.trim().split(/[\s;]+/);
  if (parts.length < 2 || parts.length > 3) return undefined;
  const read = parts.map((p) => readLength(p, unit));
  const [a, b, z] = read.map((r) => (r.ok ? r.metres : NaN));
  if (read.some((r) => !r.ok)) return undefined;
  return { ...(order === 'EN' ? { x: a, y: b } : { x: b, y: a }), z: z ?? NaN };
}

/** Whether both places of a pair have an elevation. */
export const hasHeights = (
  { from: a, to: b }: Pick<Pairing, 'from' | 'to'>,
  from: NamedPlaces,
  to: NamedPlaces,
): boolean => [from.get(a), to.get(b)].every((p) => p && !Number.isNaN(p.z));

export function fitPairsOf(
  pairs: readonly Pairing[],
  from: Pick<NamedPlaces, 'get'>,
  to: Pick<NamedPlaces, 'get'>,
): FitPair[] {
  return pairs.flatMap((p) => {
    const [f, t] = [from.get(p.from), to.get(p.to)];
    if (!f || !t) return [];
    return [{ name: p.from === p.to ? p.from : `${p.from} → ${p.to}`, from: f, to: t, plan: p.plan, height: p.height }];
  });
}

/** A place as it is typed: its coordinates in the project's unit and order, and its elevation where it has one. */
export function placeText({ x, y, z }: Place, { unit, order }: Pick<Settings, 'unit' | 'order'>): string {
  const parts = [...(order === 'EN' ? [x, y] : [y, x]), ...(Number.isNaN(z) ? [] : [z])];
  return parts.map((m) => fromMetres(m, unit).toFixed(4)).join(' ');
}

/** What a place on the drawing is called in a pair, or why it can be none of it. */
export type Picked = { name: string } | { problem: string };

/** What the files that are fitted are known by: their points as received, and the numbers that only one of them has. */
interface Origin {
  chosen: readonly string[];
  reads: ReadonlyMap<string, ReadPoints>;
  named: ReadonlyMap<string, Place>;
}

/** A place of the files, pointed at where they are drawn now: a number, else its coordinates as received. */
export function pickedOrigin(
  place: Snapped,
  doc: ProjectDocument,
  { points }: Tables,
  { chosen, reads, named }: Origin,
): Picked {
  if (place.by === 'point') {
    const intake = doc.intakes[points.intake[place.row]];
    if (!chosen.includes(intake.id))
      return { problem: `That point is of ${intake.fileName}, which stays where it is: point at one of the files that are transformed.` }; // prettier-ignore
    const number = points.number.get(place.row);
    if (named.has(number)) return { name: number };
    const read = reads.get(intake.id);
    const i = read ? read.row.indexOf(points.fileRow[place.row]) : -1;
    if (read && i >= 0) return { name: placeText({ x: read.x[i], y: read.y[i], z: read.z[i] }, doc.settings) };
  }
  const placements = chosen.map((id) => doc.intakes.find((i) => i.id === id)?.placement ?? null);
  const [first] = placements;
  if (placements.some((p) => JSON.stringify(p?.matrix) !== JSON.stringify(first?.matrix)))
    return { problem: 'The files are transformed in different ways now: point at one of their points.' };
  if (!first) return { name: placeText({ x: place.x, y: place.y, z: NaN }, doc.settings) };
  const back = planBefore(first.matrix, place);
  if (!back) return { problem: 'The files are transformed in space now: point at one of their points.' };
  return { name: placeText({ ...back, z: NaN }, doc.settings) };
}

/** The place in plan that a matrix, row by row, puts at another; null where elevations count in plan or nothing can be told. */
function planBefore(m: readonly number[], to: { x: number; y: number }): { x: number; y: number } | null {
  const determinant = m[0] * m[5] - m[1] * m[4];
  if (m[2] !== 0 || m[6] !== 0 || !(Math.abs(determinant) > 0)) return null;
  const [x, y] = [to.x - m[3], to.y - m[7]];
  return { x: (m[5] * x - m[1] * y) / determinant, y: (m[0] * y - m[4] * x) / determinant };
}

/** Where a place of the files is: the number of control or of a point that stays, else its coordinates. */
export function pickedTarget(
  place: Snapped,
  doc: ProjectDocument,
  { points }: Tables,
  to: ReadonlyMap<string, Place>,
): string {
  if (place.by !== 'point') return placeText({ x: place.x, y: place.y, z: NaN }, doc.settings);
  const number = points.number.get(place.row);
  const there = { x: points.x[place.row], y: points.y[place.row], z: points.z[place.row] };
  const known = to.get(number);
  // Another point may have the number as well.
  if (known && known.x === there.x && known.y === there.y) return number;
  return placeText(there, doc.settings);
}
