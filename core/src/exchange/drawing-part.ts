import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { cleaningInUnit, cleanLines, type Cleaned, type CleanSettings } from './clean/clean.ts';
import type { FileContent, NamedPlace } from './content.ts';
import type { DxfContent, DxfEntities, DxfHatch, DxfPoint, DxfPolyline, DxfText } from './dxf/content.ts';
import { footprintsOf, type Footprints } from './footprints.ts';
import { emptyLayers, type EmptyLayers } from './dxf/empty-layers.ts';
import { sentWith, type SentWith } from './dxf/own.ts';
import { placedBlocks } from './dxf/placed-blocks.ts';
import { DxfTally, type Box, type LayerKind } from './dxf/tally.ts';
import { inFence, inWindow } from './dxf/reach.ts';
import {
  atElevation,
  elevationSaid,
  hasNoElevation,
  elevationsFromLayers,
  elevationsFromTexts,
  writtenNumbers,
  type WrittenElevations,
  type WrittenWhere,
} from './written-elevations.ts';
import { tinsIn } from './tins.ts';
import { rowsOfUnderlay } from './underlay-rows.ts';
import {
  BY_LAYER,
  codeOfTaken,
  isTakenUnasked,
  keyOfTaken,
  rowFinder,
  saysAs,
  type LayerAndKind,
  type TakenRow,
} from './taken.ts';

// What is taken of a drawing: entities of chosen kinds on chosen layers, with or without what its blocks draw.

export interface DrawingPart {
  /** Absent: everything that is a point, a line or a face. */
  taken?: readonly TakenRow[];
  /** Whether what blocks draw where they are put counts as drawn there. */
  blocks?: boolean;
  /** The unit that it is read in; absent: what it says itself. */
  unit?: FileUnit;
  /** What reaches into this window alone, in the drawing's unit; a line that does is taken whole. */
  within?: Box;
  /** What reaches into this fence alone, corners x, y, x, y … in the drawing's unit; a line that does is taken whole. */
  fence?: readonly number[];
  /** Its lines are cleaned; lengths in m. */
  clean?: CleanSettings;
  /** Contours without an elevation get the one that is written there. */
  written?: WrittenWhere;
}

type Drawing = Extract<FileContent, { kind: 'dxf' }>;

/** Rows of a drawing's table at the most. */
const MOST_ROWS = 2000;

export interface DrawingTable {
  /** Lengths in the drawing's own unit. */
  rows: LayerKind[];
  /** Layers and kinds beyond those. */
  more: number;
  /** Layers that hold nothing. */
  empty?: EmptyLayers;
  /** Blocks that are put in it. */
  symbols: number;
  /** Blocks that are not drawn, and why. */
  problems: string[];
  /** Whether it is a drawing that went out from here. */
  ours: SentWith;
  /** Ready-made surfaces that it holds, as they are called. */
  surfaces?: string[];
  /** What became of lines that are taken as footprints. */
  footprints?: Footprints;
  /** What cleaning did, where it was asked for. */
  cleaned?: Cleaned;
  /** Contours that have no elevation of their own, what became of them, and how many would get one from where. */
  contours?: WrittenElevations & { from: Record<WrittenWhere, number> };
}

/** A drawing's table, what is taken of it (points by name, lines with the rims of areas among them), and what of it lies under the drawing. */
export function partOfDrawing(
  file: Drawing,
  { taken, blocks, within, fence, clean, written, unit = file.unit ?? 'm' }: DrawingPart,
): { file: Drawing; table: DrawingTable; under: ReturnType<typeof rowsOfUnderlay> | null } {
  const placed = blocks ? placedBlocks(file.content) : null;
  const all = placed ? joined(file.content, placed.entities) : file.content;
  const { rows } = tallyOf(all, inSeveralColours(all)).table(file.content);
  const seen = within ? inWindow(all, within) : all;
  const whole = fence ? inFence(seen, fence) : seen;
  const rowOf = taken ? rowFinder(taken) : (): undefined => undefined;
  const isUnder = (of: LayerAndKind): boolean => rowOf(of)?.as === 'underlay';
  const on = (of: LayerAndKind): boolean => (taken ? rowOf(of) !== undefined && !isUnder(of) : isTakenUnasked(of.kind));
  const isLeft = (of: LayerAndKind): boolean => !isUnder(of);
  const codes = new Map(taken?.map((t) => [t, codeOfTaken(t)]));
  const codeOf = (of: LayerAndKind): string | null => codes.get(rowOf(of)!) ?? null;
  const coded = <T extends LayerAndKind>(of: T): T => {
    const code = codeOf(of);
    return code === null ? of : { ...of, layer: code };
  };
  const codedPoint = (p: DxfPoint): DxfPoint => {
    const { description: _, ...without } = p;
    return codeOf(p) === null ? p : coded(without);
  };
  // One that is at 0 is drawn in plan, as symbols and lines are, unless its file knows another way to say nothing.
  const together = saysAs(taken) && !file.saysElevations;
  const inPlan = (p: DxfPoint): DxfPoint => (together && p.z === 0 ? { ...p, z: NaN } : p);
  const isGround = (of: LayerAndKind): boolean => rowOf(of)?.as === 'ground points';
  const elevationOf = (t: DxfText): number => (on(t) ? elevationSaid(t.text, unit) : NaN);
  const [elevations, words] = parted(whole.texts, (t) => !Number.isNaN(elevationOf(t)));
  const [symbols, otherSymbols] = parted(whole.inserts, on);
  const [areas, otherAreas] = parted(whole.hatches, on);
  const named: NamedPlace[] = [
    // One that is at 0 is drawn in plan.
    ...symbols.map((s) => ({ number: '', x: s.x, y: s.y, z: s.z === 0 ? NaN : s.z, description: codeOf(s) ?? s.block, ground: isGround(s) })), // prettier-ignore
    ...elevations.map((t) => ({ number: '', x: t.x, y: t.y, z: elevationOf(t), description: codeOf(t) ?? t.layer, ground: isGround(t) })), // prettier-ignore
    ...whole.points.filter((p) => on(p) && isGround(p)).map((p) => ({ number: '', x: p.x, y: p.y, z: inPlan(p).z, description: codeOf(p) ?? p.layer, ground: true })), // prettier-ignore
  ];
  const [plans, notPlans] = parted(whole.polylines.filter(on), (of) => rowOf(of)?.as === 'footprints');
  const [contours, otherLines] = parted(notPlans, (of) => rowOf(of)?.as === 'contours');
  const footprints = plans.length
    ? footprintsOf(
        plans.map(coded),
        whole.texts,
        all.polylines.filter((l) => rowOf(l)?.as !== 'footprints'),
        unit,
      )
    : null;
  const typedOf = (line: DxfPolyline): number | undefined => rowOf(line)?.elevation;
  const [typed, untyped] = parted(contours, (line) => typedOf(line) !== undefined && hasNoElevation(line));
  const elevated = untyped.length ? contoursWithElevations(untyped, whole.texts, unit, written) : null;
  const lines = [
    ...(footprints?.lines ?? []),
    ...otherLines.map(coded),
    ...typed.map((line) => coded(atElevation(line, typedOf(line)! / METRES_IN_FILE[unit]))),
    ...(elevated?.lines ?? []).map(coded),
    ...areas.flatMap((h) => rimsOf(h, codeOf(h))),
  ];
  const cleaned = clean && cleanLines(lines, cleaningInUnit(clean, unit));
  const content: DxfContent = {
    ...file.content,
    points: whole.points.filter((p) => on(p) && !isGround(p)).map((p) => codedPoint(inPlan(p))),
    polylines: cleaned?.lines ?? lines,
    curves: whole.curves.filter(on).map(coded),
    faces: whole.faces.filter(on),
    // What is left is told as what is not imported.
    texts: words.filter(isLeft),
    inserts: otherSymbols.filter(isLeft),
    hatches: otherAreas.filter(isLeft),
  };
  const tins = file.surfaces ? tinsIn(file) : [];
  const problems = placed ? placed.problems.map((p) => `block ${p.block} ${p.what}`) : [];
  const table: DrawingTable = { rows: rows.slice(0, MOST_ROWS), more: Math.max(0, rows.length - MOST_ROWS), symbols: file.content.inserts.length, problems, ours: sentWith(file.content), ...(tins.length ? { surfaces: tins.map((t) => t.name) } : {}), ...(cleaned ? { cleaned: cleaned.cleaned } : {}), ...(footprints ? { footprints: footprints.told } : {}), ...(elevated && elevated.told.without ? { contours: elevated.told } : {}) }; // prettier-ignore
  const empty = emptyLayers(file.content);
  if (empty.count) table.empty = empty;
  const under = taken?.some((t) => t.as === 'underlay') ? rowsOfUnderlay(whole, isUnder, unit) : null;
  return { file: { ...file, content, named }, table, under };
}

/** Contours with what is written of their elevations, and what each way would give. */
function contoursWithElevations(
  contours: readonly DxfPolyline[],
  texts: readonly DxfText[],
  unit: FileUnit,
  written: WrittenWhere | undefined,
): { lines: readonly DxfPolyline[]; told: NonNullable<DrawingTable['contours']> } {
  const by = { texts: elevationsFromTexts(contours, writtenNumbers(texts, unit)), layers: elevationsFromLayers(contours, unit) }; // prettier-ignore
  const from = { texts: by.texts.told.given, layers: by.layers.told.given };
  const chosen = written ? by[written] : null;
  const { without } = by.texts.told;
  return { lines: chosen?.lines ?? contours, told: { without, given: 0, unclear: [], ...chosen?.told, from } };
}

function parted<T>(list: readonly T[], isIn: (of: T) => boolean): [T[], T[]] {
  const [of, others]: [T[], T[]] = [[], []];
  for (const one of list) (isIn(one) ? of : others).push(one);
  return [of, others];
}

const rimsOf = ({ rings }: DxfHatch, code: string | null): DxfPolyline[] =>
  code === null ? rings : rings.map((r) => ({ ...r, layer: code }));

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

/** What it holds, layer by layer and kind by kind; of those named, colour by colour. */
export function tallyOf(content: DxfEntities, byColour?: ReadonlySet<string>): DxfTally {
  const tally = new DxfTally(byColour);
  for (const e of content.points) tally.point(e);
  for (const e of content.polylines) tally.polyline(e);
  for (const e of content.curves) tally.curve(e);
  for (const e of content.faces) tally.face(e);
  for (const e of content.texts) tally.text(e);
  for (const e of content.inserts) tally.insert(e);
  for (const e of content.hatches) tally.hatch(e);
  return tally;
}

/** Colours of a layer and kind that are listed one by one at the most. */
const MOST_COLOURS = 12;

/** Layers and kinds whose entities say several colours, and few enough to choose among. */
function inSeveralColours({ points, polylines, curves, texts, hatches }: DxfEntities): ReadonlySet<string> {
  const colours = new Map<string, Set<number>>();
  for (const list of [points, polylines, curves, texts, hatches])
    for (const { layer, kind, drawnIn = BY_LAYER } of list) {
      const key = keyOfTaken({ layer, kind });
      const said = colours.get(key);
      if (!said) colours.set(key, new Set([drawnIn]));
      else if (said.size <= MOST_COLOURS) said.add(drawnIn);
    }
  return new Set([...colours].flatMap(([key, { size }]) => (size > 1 && size <= MOST_COLOURS ? [key] : [])));
}
