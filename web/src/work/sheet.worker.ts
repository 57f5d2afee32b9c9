import Flatbush from 'flatbush';
import { expose, transfer } from 'comlink';
import {
  findHollows,
  flowFinder,
  groundFinder,
  ofTriangles,
  triangleIndex,
  waterIn,
  type ContourSettings,
  type Surface,
} from '#core/terrain';
import {
  balanced,
  cheapestLevel,
  extentOfPieces,
  levelCurve,
  madeFrom,
  refinedGrid,
  type AtLevel,
  type EarthPrices,
  type Levelled,
  type Pad,
  type VolumeSources,
} from '#core/quantities';
import { readDxf, readLandXmlBytes, sectionTableOfDxf, sectionTableOfLandXml, type SectionTable } from '#core/exchange';
import { surfaceFitness, type SurfaceFitness } from '#core/report';
import { groundBefore, levelledRow } from '#core/stages';
import type { PadRow, ProposedRow, StripRow } from '#core/project';
import { writeSurface, type WriteAsked } from './write-surface.ts';
import { LiveEdit, type Compared, type HeldEdit, type LiveChange, type MadeFrom } from './live-edit.ts';

// Indexes for picking and for the elevation under the cursor, made beside the page.

/** What is tried at other levels, by the row that proposes it: several curves may be open at once. */
const tried = new Map<string, Levelled>();

/** A pad that is tried: what of it follows while the hand moves. */
export type PadTried = Pick<Pad, 'level' | 'cut' | 'fill' | 'daylight'> & { pieces: Float64Array };

const work = {
  pointIndex(x: Float64Array, y: Float64Array): ArrayBuffer | null {
    if (x.length === 0) return null;
    const index = new Flatbush(x.length);
    for (let i = 0; i < x.length; i++) index.add(x[i], y[i], x[i], y[i]);
    index.finish();
    return give(index);
  },
  /** What drawing and picking need of a surface: an index of its triangles, and each side once as a pair of vertices. */
  surface(surface: Surface): { index: ArrayBuffer | null; sides: Uint32Array } {
    const index = triangleIndex(surface);
    const sides = sidesOf(surface);
    const data = index ? (index.data as ArrayBuffer) : null;
    return transfer({ index: data, sides }, data ? [data, sides.buffer] : [sides.buffer]);
  },
  /** Takes a surface under the hand: what it is compared with follows. */
  hold(surface: Surface, settings: ContourSettings | null, compared: Compared[], madeFrom: MadeFrom | null): void {
    held = new LiveEdit(surface, settings, compared, madeFrom);
  },
  /** Tells what an edit of it changes; null where that cannot be shown before it is computed. */
  changeHeld: (edit: HeldEdit): LiveChange | null => held?.change(edit) ?? null,
  letGo(): void {
    held = null;
  },
  /** Keeps what is tried at other levels, in the ground as the parts before it leave it: every trial sends its level alone. */
  holdProposed(ground: Surface, before: ProposedRow[], row: PadRow | StripRow): void {
    tried.set(row.id, levelledRow(groundBefore(ground, before), row));
  },
  dropProposed: (row: string): void => void tried.delete(row),
  /** What is held at a level: cut, fill, what lies between and where its batters meet the ground. */
  tryLevel(row: string, at: number): PadTried | null {
    const made = tried.get(row)?.at(at);
    if (!made?.ok) return null;
    const { level, cut, fill, daylight } = made.pad;
    const pieces = made.pad.pieces().slice();
    return transfer({ level, cut, fill, daylight, pieces }, [pieces.buffer]);
  },
  /** The level at which the cut of what is held, times a factor, is its fill. */
  balance(row: string, factor: number): { ok: true; level: number } | { ok: false; reason: string } {
    const of = tried.get(row);
    const made = of ? balanced(of, factor) : { ok: false as const, reason: 'Nothing is held to be balanced.' };
    return made.ok ? { ok: true, level: made.balance.pad.level } : made;
  },
  curve(row: string, from: number, to: number): AtLevel[] {
    const of = tried.get(row);
    return of ? levelCurve(of, from, to) : [];
  },
  cheapest(row: string, prices: EarthPrices, from: number, to: number): number | null {
    const of = tried.get(row);
    return of ? (cheapestLevel(of, prices, from, to)?.level ?? null) : null;
  },
  /** Triangles and points that a volume goes over. */
  madeFrom: (pieces: Float64Array, surface: Surface): VolumeSources => madeFrom(pieces, surface),
  /** Cross sections of a LandXML file, or drawn in space in a DXF, as a table. */
  sectionTable: (bytes: Uint8Array, isDxf: boolean): SectionTable =>
    isDxf ? sectionTableOfDxf(readDxf(bytes)) : sectionTableOfLandXml(readLandXmlBytes(bytes)),
  /** A grid's cells halved until that changes cut and fill by no more than a share. */
  refineGrid(pieces: Float64Array, cell: number, share: number): { cell: number; change: number; reached: boolean } {
    const finder = groundFinder(ofTriangles(pieces));
    const { cell: size, change, reached } = refinedGrid((x, y) => finder.at(x, y)?.elevation ?? null, extentOfPieces(pieces), cell, share); // prettier-ignore
    return { cell: size, change, reached };
  },
  /** What a surface is worth, from its triangles alone. */
  fitness: (surface: Surface): SurfaceFitness => surfaceFitness(surface),
  /** A surface as a file; throws where what was asked makes none. */
  write(surface: Surface, asked: WriteAsked): Uint8Array {
    const bytes = writeSurface(surface, asked);
    return transfer(bytes, [bytes.buffer]);
  },
  /** Where water runs on a surface, from places spread over it, and where it stands: pieces x, y, depth. */
  flow(surface: Surface): { lines: Float64Array[]; water: Float64Array } {
    const from = flowFinder(surface);
    const lines = seedsOf(surface).flatMap(([x, y]) => {
      const flow = from(x, y);
      return flow && flow.line.length > 3 ? [Float64Array.from(flow.line)] : [];
    });
    const hollows = findHollows(surface, LEAST_DEPTH).slice(0, MOST_HOLLOWS);
    return { lines, water: Float64Array.from(hollows.flatMap((h) => waterIn(surface, h))) };
  },
};

let held: LiveEdit | null = null;

/** Shallower hollows are within what shots are good for, m. */
const LEAST_DEPTH = 0.02;
const MOST_HOLLOWS = 500;
/** About so many places are water's beginning. */
const SEEDS = 250;

/** Places spread evenly over the extent of a surface's vertices. */
function seedsOf({ x, y }: Surface): [number, number][] {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let v = 0; v < x.length; v++) {
    west = Math.min(west, x[v]);
    east = Math.max(east, x[v]);
    south = Math.min(south, y[v]);
    north = Math.max(north, y[v]);
  }
  const apart = Math.sqrt(((east - west) * (north - south)) / SEEDS);
  const out: [number, number][] = [];
  if (!(apart > 0)) return out;
  for (let px = west + apart / 2; px < east; px += apart)
    for (let py = south + apart / 2; py < north; py += apart) out.push([px, py]);
  return out;
}

/** Where there is a neighbour, the half-edge with the lower number stands for the side. */
function sidesOf({ triangles, neighbours }: Surface): Uint32Array<ArrayBuffer> {
  const sides = new Uint32Array(triangles.length * 2);
  let used = 0;
  for (let e = 0; e < triangles.length; e++) {
    if (neighbours[e] >= 0 && neighbours[e] < e) continue;
    sides[used++] = triangles[e];
    sides[used++] = triangles[e % 3 === 2 ? e - 2 : e + 1];
  }
  return sides.slice(0, used);
}

const give = (index: Flatbush): ArrayBuffer => transfer(index.data as ArrayBuffer, [index.data as ArrayBuffer]);

export type SheetWork = typeof work;
expose(work);
