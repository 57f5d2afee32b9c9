import type { FitPair } from '#core/basis';
import { readLength } from '#core/measure';
import { editOf, type ProjectDocument, type Settings } from '#core/project';
import { unpackRead } from '#core/sources';
import { STATE } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import { api } from '../../frame/api.ts';
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
