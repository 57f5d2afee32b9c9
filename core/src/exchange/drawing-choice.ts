import { codeOfName } from './code-of-name.ts';
import type { DrawingTable } from './drawing-part.ts';
import type { LayerKind } from './dxf/tally.ts';
import {
  comesAsPoints,
  hasOwnCode,
  isTakenUnasked,
  keyOfTaken,
  MOST_TAKEN,
  type TakenAs,
  type TakenRow,
} from './taken.ts';

// What is ticked of a drawing before anybody ticks.

/** What was ticked of a drawing earlier, which one that was, and its name. */
export interface KeptChoice {
  id: string;
  name: string;
  taken: readonly TakenRow[];
}

/** A code and the layers that its lines and its points are drawn on. */
export interface ListedCode {
  code: string;
  layer: string;
  pointLayer?: string;
}

export interface DrawingChoice {
  taken: TakenRow[];
  /** The drawing that it was ticked for; null where nothing like it was imported. */
  from: Pick<KeptChoice, 'id' | 'name'> | null;
}

/** At least so many of the rows ticked earlier are there again in another issue of a drawing. */
const ALIKE = 0.6;
const FACES = new Set(['3DFACE', 'MESH']);

/** Whether a row can be ticked: faces come as a surface, as they are. */
export const canBeTaken = ({ read, kind }: Pick<LayerKind, 'read' | 'kind'>): boolean => read && !FACES.has(kind);

/** What a kind of entities can become; the first is what it becomes unless somebody says otherwise. */
export const choicesFor = (kind: string): readonly TakenAs[] => {
  const choices: TakenAs[] = comesAsPoints(kind) ? ['points', 'ground points', 'underlay'] : ['lines', 'breaklines', 'contours', 'boundary', 'footprints', 'underlay']; // prettier-ignore
  const usual = USUAL[kind];
  return usual ? [usual, ...choices.filter((c) => c !== usual)] : choices;
};

/** What some elements are. */
const USUAL: Readonly<Record<string, TakenAs>> = { Breakline: 'breaklines', Contour: 'contours', Boundary: 'boundary', DataPoint: 'ground points' }; // prettier-ignore
/** What a surface was made of: it is there already where the surface is. */
const OF_SURFACE = new Set(Object.keys(USUAL));

/**
 * What an earlier issue of the drawing was taken as, where one is alike; else its points and lines, without layers that its
 * maker does not see, each with the code whose layer its own is.
 */
export function chooseTaken(
  { rows, surfaces = [] }: Pick<DrawingTable, 'rows' | 'surfaces'>,
  codes: readonly ListedCode[],
  kept: readonly KeptChoice[],
): DrawingChoice {
  const there = new Map(rows.filter(canBeTaken).map((r) => [keyOfTaken(r), r]));
  const before = mostAlike(there, kept);
  if (before) {
    const { id, name, taken } = before;
    return { taken: onceEach(taken.flatMap((t) => againIn(there, t))), from: { id, name } };
  }
  const usual = [...there.values()].filter((r) => isTakenUnasked(r.kind) && !(surfaces.length && OF_SURFACE.has(r.kind))); // prettier-ignore
  const seen = usual.filter((r) => !r.hidden);
  return { taken: (seen.length ? seen : usual).slice(0, MOST_TAKEN).map((r) => takenRow(r, codes)), from: null };
}

/** A row as it is taken when it is ticked. */
export function takenRow(
  { layer, kind, ...part }: Pick<LayerKind, 'layer' | 'kind' | 'block' | 'drawnIn'>,
  codes: readonly ListedCode[],
): TakenRow {
  const [as] = choicesFor(kind);
  const code = hasOwnCode(kind) && kind !== 'INSERT' ? null : codeOfLayer(layer, comesAsPoints(kind), codes);
  return { layer, kind, ...partOfRow(part), as, ...(code ? { code } : {}) };
}

/** The one code whose things lie on a layer of this name; null where none does or several do. */
function codeOfLayer(layer: string, ofPoints: boolean, codes: readonly ListedCode[]): string | null {
  const name = layer.trim().toUpperCase();
  const on = codes.filter((c) => (ofPoints ? (c.pointLayer ?? c.layer) : c.layer).toUpperCase() === name);
  return on.length === 1 && codeOfName(on[0].code) === on[0].code.toUpperCase() ? on[0].code : null;
}

/**
 * A row that was ticked as it is there again: what a layer has may be listed together in one issue, and by block or by colour
 * in another.
 */
function againIn(there: ReadonlyMap<string, LayerKind>, t: TakenRow): TakenRow[] {
  if (there.has(keyOfTaken(t))) return [t];
  const { block, drawnIn, ...any } = t;
  if (block !== undefined || drawnIn !== undefined) return there.has(keyOfTaken(any)) ? [any] : [];
  const parts = [...there.values()].filter((r) => r.layer === t.layer && r.kind === t.kind);
  return parts.map((r) => ({ ...any, ...partOfRow(r) }));
}

/** Parts that come as one row now were taken as several: as the first of them. */
function onceEach(rows: readonly TakenRow[]): TakenRow[] {
  const by = new Map<string, TakenRow>();
  for (const r of rows) if (!by.has(keyOfTaken(r))) by.set(keyOfTaken(r), r);
  return [...by.values()];
}

const partOfRow = ({ block, drawnIn }: Pick<LayerKind, 'block' | 'drawnIn'>): Pick<LayerKind, 'block' | 'drawnIn'> => ({
  ...(block === undefined ? {} : { block }),
  ...(drawnIn === undefined ? {} : { drawnIn }),
});

function mostAlike(there: ReadonlyMap<string, LayerKind>, kept: readonly KeptChoice[]): KeptChoice | null {
  let best: KeptChoice | null = null;
  let share = 0;
  for (const k of kept) {
    const again = k.taken.filter((t) => t.as && againIn(there, t).length > 0).length / k.taken.length;
    if (again >= ALIKE && again > share) [best, share] = [k, again];
  }
  return best;
}
