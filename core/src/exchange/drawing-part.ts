import { plainNumber } from '#core/measure';
import type { FileContent, NamedPlace } from './content.ts';
import type { DxfContent, DxfEntities, DxfPolyline, DxfText } from './dxf/content.ts';
import { placedBlocks } from './dxf/placed-blocks.ts';
import { DxfTally, type LayerKind } from './dxf/tally.ts';

// What is taken of a drawing: entities of chosen kinds on chosen layers, with or without what its blocks draw.

/** Entities of one kind on one layer. */
export interface LayerAndKind {
  layer: string;
  kind: string;
}

export interface DrawingPart {
  /** Absent: everything that is a point, a line or a face. */
  taken?: readonly LayerAndKind[];
  /** Whether what blocks draw where they are put counts as drawn there. */
  blocks?: boolean;
}

type Drawing = Extract<FileContent, { kind: 'dxf' }>;

/** Taken when somebody asks for them: symbols and texts as points, filled areas as their rims. */
const ASKED_FOR = new Set('INSERT TEXT MTEXT HATCH SOLID TRACE'.split(' '));
export const isTakenUnasked = (kind: string): boolean => !ASKED_FOR.has(kind);

/** Rows of a drawing's table at the most. */
const MOST_ROWS = 2000;

export interface DrawingTable {
  /** Lengths in the drawing's own unit. */
  rows: LayerKind[];
  /** Layers and kinds beyond those. */
  more: number;
  /** Blocks that are put in it. */
  symbols: number;
  /** Blocks that are not drawn, and why. */
  problems: string[];
}

/** A drawing's table, and what is taken of it: points by name, lines with the rims of areas among them. */
export function partOfDrawing(file: Drawing, { taken, blocks }: DrawingPart): { file: Drawing; table: DrawingTable } {
  const placed = blocks ? placedBlocks(file.content) : null;
  const whole = placed ? joined(file.content, placed.entities) : file.content;
  const { rows } = tallyOf(whole).table(file.content);
  const wanted = taken && new Set(taken.map(keyOf));
  const on = (of: LayerAndKind): boolean => (wanted ? wanted.has(keyOf(of)) : isTakenUnasked(of.kind));
  const elevationOf = (t: DxfText): number => (on(t) ? plainNumber(t.text) : NaN);
  const [elevations, words] = parted(whole.texts, (t) => !Number.isNaN(elevationOf(t)));
  const [symbols, otherSymbols] = parted(whole.inserts, on);
  const [areas, otherAreas] = parted(whole.hatches, on);
  const named: NamedPlace[] = [
    // One that is at 0 is drawn in plan.
    ...symbols.map(({ x, y, z, block }) => ({ number: '', x, y, z: z === 0 ? NaN : z, description: block })),
    ...elevations.map((t) => ({ number: '', x: t.x, y: t.y, z: elevationOf(t), description: t.layer })),
  ];
  const content: DxfContent = {
    ...file.content,
    points: whole.points.filter(on),
    polylines: [...whole.polylines.filter(on), ...rims(areas)],
    curves: whole.curves.filter(on),
    faces: whole.faces.filter(on),
    // What is left is told as what is not imported.
    texts: words,
    inserts: otherSymbols,
    hatches: otherAreas,
  };
  const problems = placed ? placed.problems.map((p) => `block ${p.block} ${p.what}`) : [];
  const table = { rows: rows.slice(0, MOST_ROWS), more: Math.max(0, rows.length - MOST_ROWS), symbols: file.content.inserts.length, problems }; // prettier-ignore
  return { file: { ...file, content, named }, table };
}

function parted<T>(list: readonly T[], isIn: (of: T) => boolean): [T[], T[]] {
  const [of, others]: [T[], T[]] = [[], []];
  for (const one of list) (isIn(one) ? of : others).push(one);
  return [of, others];
}

const keyOf = ({ layer, kind }: LayerAndKind): string => `${kind}\u0000${layer}`;

const rims = (hatches: DxfEntities['hatches']): DxfPolyline[] => hatches.flatMap((h) => h.rings);

function joined(content: DxfContent, placed: DxfEntities): DxfContent {
  const { points, polylines, curves, faces, texts, hatches } = content;
  return {
    ...content,
    points: points.concat(placed.points),
    polylines: polylines.concat(placed.polylines),
    curves: curves.concat(placed.curves),
    faces: faces.concat(placed.faces),
    texts: texts.concat(placed.texts),
    hatches: hatches.concat(placed.hatches),
  };
}

function tallyOf(content: DxfEntities): DxfTally {
  const tally = new DxfTally();
  for (const e of content.points) tally.point(e);
  for (const e of content.polylines) tally.polyline(e);
  for (const e of content.curves) tally.curve(e);
  for (const e of content.faces) tally.face(e);
  for (const e of content.texts) tally.text(e);
  for (const e of content.inserts) tally.insert(e);
  for (const e of content.hatches) tally.hatch(e);
  return tally;
}
