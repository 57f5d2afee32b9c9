import { distance } from '#core/kernel';
import type { Thing } from './things.ts';

// Texts by which things are told to be the same. Coordinates come in cells that begin off any round number, so that what a
// program writes as 12.0005 falls on no rim; a thing on a rim all the same is found by its place afterwards.

const OFFSET = 0.137_503;
const cell = (v: number, size: number): number => Math.floor(v / size + OFFSET);
const cells = (values: readonly number[], size: number): string => values.map((v) => (Number.isNaN(v) ? '-' : cell(v, size))).join(); // prettier-ignore

/** m, beside the tolerance: shapes are told apart from this on, and what is smaller has no shape of its own. */
const [SHAPE, LEAST] = [1e-3, 1e-2];
/** Bulges and scales are told apart from this on. */
const FORM = 1e-6;

/** Where and what it is, whatever its layer and its text. */
export const keyOfPlace = (t: Thing, tolerance: number): string => `${t.kind} ${t.closed} ${cells(t.at, tolerance)} ${cells(t.form, FORM)}`; // prettier-ignore

/** What it is, wherever it lies: layer, text, and its vertices from its first one. */
export const keyOfShape = (t: Thing, tolerance: number): string => `${keyOfKind(t)} ${cells(fromFirst(t.at), tolerance + SHAPE)} ${cells(t.form, FORM)}`; // prettier-ignore

/** What it is, however it lies and is turned: the lengths between its vertices; nothing of what has no extent of its own. */
export function keyOfTurned(t: Thing, tolerance: number): string | null {
  const spans = spansOf(t.at);
  if (spans.every((s) => s < tolerance + LEAST)) return null;
  return `${keyOfKind(t)} ${cells(spans, tolerance + SHAPE)}`;
}

/** Each place of a thing in plan, once, with its kind and layer. */
export function keysOfVertices({ kind, layer, at }: Thing, tolerance: number): Set<string> {
  const out = new Set<string>();
  for (let k = 0; k < at.length; k += 3) out.add(`${kind} ${layer} ${cells([at[k], at[k + 1]], tolerance + SHAPE)}`);
  return out;
}

const keyOfKind = ({ kind, layer, text, closed }: Thing): string =>
  `${kind} ${closed} ${JSON.stringify([layer, text])}`;

function fromFirst(at: readonly number[]): number[] {
  const [x, y, z] = at;
  return at.map((v, i) => v - (i % 3 === 0 ? x : i % 3 === 1 ? y : z));
}

/** In plan, from each vertex to the next and to the one after it. */
function spansOf(at: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = 0; i + 5 < at.length; i += 3) {
    out.push(between(at, i, i + 3));
    if (i + 8 < at.length) out.push(between(at, i, i + 6));
  }
  return out;
}

const between = (at: readonly number[], i: number, j: number): number => distance(at[i] - at[j], at[i + 1] - at[j + 1]);
