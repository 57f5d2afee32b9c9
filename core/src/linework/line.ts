import { distance } from '#core/kernel';
import { UNKNOWN_LAYER, type Code } from '#core/codes';
import { chordPlaces } from './arcs.ts';

/** Why a vertex is in its line. */
export const VERTEX_WHY = [
  'its code',
  'joined by number',
  'square corner',
  'corner of a rectangle',
  'joint of a smooth curve',
  'beside a line of its code',
  'beside a line by its word',
  'drawn by hand',
  'follows its point',
] as const;
export const WHY = {
  code: 0,
  joined: 1,
  square: 2,
  rectangle: 3,
  joint: 4,
  codeOffset: 5,
  offset: 6,
  hand: 7,
  follows: 8,
} as const;

/** What the side that leaves a vertex is. */
export const SIDE = { drawn: 0, hidden: 1, gap: 2 } as const;

/** The elevation of a vertex where no point stands: on the straight between two points, and so much above it. */
export interface MadeHeight {
  /** Index of the vertex. */
  at: number;
  /** Rows of the point table, or −1 where the elevation is `rise` itself. */
  from: number;
  to: number;
  share: number;
  rise: number;
}

/** A line that knows its points, and why each vertex is there. Vertices lie in plan; elevations are those of the points. */
export interface Line {
  /** Code, line number and how many of that name came before: stable while the points before it are. */
  key: string;
  code: string;
  lineNumber: string;
  closed: boolean;
  /** A row of the point table, or −1 where no point stands. */
  rows: number[];
  x: number[];
  y: number[];
  /** tan θ/4 of the side that leaves each vertex, 0 where it is straight. */
  bulges: number[];
  /** Index into VERTEX_WHY. */
  why: number[];
  /** One of SIDE for the side that leaves each vertex. */
  sides: number[];
  made: MadeHeight[];
  /** The file that it belongs to, among the project's, where that is not its first point's. */
  file?: number;
}

/** Elevations with those that are missing taken from the neighbours along the line; null where there is none at all. */
export function elevationsAlong(line: Line, z: ArrayLike<number>): number[] | null {
  const own = elevationsBetween(line, (row) => z[row]);
  const first = own.findIndex((v) => !Number.isNaN(v));
  if (first < 0) return null;
  for (let i = 0; i < first; i++) own[i] = own[first];
  for (let i = first; i < own.length; i++) if (Number.isNaN(own[i])) own[i] = own[i - 1];
  return own;
}

/**
 * Elevations where `z` gives those that count: a vertex without one takes it from the neighbours on both sides along
 * the line; before the first and behind the last that counts there is none (NaN).
 */
export function elevationsBetween(line: Line, z: (row: number) => number): number[] {
  const own = line.rows.map((row) => (row >= 0 ? z(row) : NaN));
  for (const m of line.made) {
    if (m.from < 0) own[m.at] = m.rise;
    else own[m.at] = z(m.from) + (m.share === 0 ? 0 : m.share * (z(m.to) - z(m.from))) + m.rise;
  }
  if (!own.some(Number.isNaN)) return own;
  return filledBetween(own, chordChainages(line));
}

/** Elevations with those that are missing (NaN) on the even gradient between the ones before and behind; past the ends none. */
export function filledBetween(z: number[], chain: readonly number[]): number[] {
  let before = -1;
  for (let i = 0; i < z.length; i++) {
    if (Number.isNaN(z[i])) continue;
    for (let k = before + 1; before >= 0 && k < i; k++)
      z[k] = z[before] + ((chain[k] - chain[before]) / (chain[i] - chain[before] || 1)) * (z[i] - z[before]);
    before = i;
  }
  return z;
}

/** How many sides a line has. */
export const sideCount = (line: Pick<Line, 'x' | 'closed'>): number =>
  line.closed ? line.x.length : line.x.length - 1;

/**
 * The pieces of a line that are drawn, each x, y, z …, arcs chorded by at most `sagitta` m; a line without gaps is one
 * piece, closed as the line is. `z` gives the elevation of each vertex.
 */
export function drawnPieces(
  line: Line,
  z: ArrayLike<number>,
  sagitta: number,
  hidden: 'without' | 'with' = 'without',
): { places: number[]; closed: boolean }[] {
  const n = line.x.length;
  const sides = sideCount(line);
  const whole = line.sides.every((s) => s === SIDE.drawn || (hidden === 'with' && s === SIDE.hidden));
  const pieces: { places: number[]; closed: boolean }[] = [];
  let piece: number[] = [];
  const finish = (): void => {
    if (piece.length > 3) pieces.push({ places: piece, closed: whole && line.closed });
    piece = [];
  };
  for (let i = 0; i < n; i++) {
    piece.push(line.x[i], line.y[i], z[i]);
    if (i >= sides) break;
    if (line.sides[i] === SIDE.gap || (line.sides[i] === SIDE.hidden && hidden === 'without')) {
      finish();
      continue;
    }
    const j = (i + 1) % n;
    if (line.bulges[i] !== 0)
      for (const p of chordPlaces(vertex(line, i), vertex(line, j), line.bulges[i], sagitta))
        piece.push(p.x, p.y, z[i] + p.along * (z[j] - z[i]));
    if (j === 0 && !whole) piece.push(line.x[0], line.y[0], z[0]);
  }
  finish();
  return pieces;
}

/** The pieces of a line in plan, arcs kept, x, y, bulge …, with the same parting as its pieces in space. */
export function planOf(line: Line): { places: number[]; closed: boolean }[] {
  const sides = sideCount(line);
  const whole = line.sides.every((side) => side === SIDE.drawn);
  const pieces: { places: number[]; closed: boolean }[] = [];
  let piece: number[] = [];
  const finish = (): void => {
    if (piece.length > 3) pieces.push({ places: piece, closed: whole && line.closed });
    piece = [];
  };
  for (let i = 0; i < line.x.length; i++) {
    const ends = i < sides && line.sides[i] !== SIDE.drawn;
    piece.push(line.x[i], line.y[i], ends ? 0 : line.bulges[i]);
    if (ends) finish();
  }
  if (!whole && line.closed && line.sides[sides - 1] === SIDE.drawn) piece.push(line.x[0], line.y[0], 0);
  finish();
  return pieces;
}

/** A row that the line goes through or is made from; −1 for a line drawn freely. */
export const firstRow = (line: Pick<Line, 'rows' | 'made'>): number =>
  line.rows.find((r) => r >= 0) ?? line.made.find((m) => m.from >= 0)?.from ?? -1;

/** The file that a line belongs to, among the project's: its own or its first point's; −1 for a line drawn freely. */
export function fileOfLine(line: Pick<Line, 'rows' | 'made' | 'file'>, intake: ArrayLike<number>): number {
  const row = firstRow(line);
  return line.file ?? (row >= 0 ? intake[row] : -1);
}

export const vertex = (line: Pick<Line, 'x' | 'y'>, i: number): { x: number; y: number } => ({
  x: line.x[i],
  y: line.y[i],
});

/** Chainage of each of a line's vertices along its chords, from 0; in the unit of `x` and `y`. */
export function chordChainages({ x, y }: Pick<Line, 'x' | 'y'>): number[] {
  const out = [0];
  for (let i = 1; i < x.length; i++) out.push(out[i - 1] + distance(x[i] - x[i - 1], y[i] - y[i - 1]));
  return out;
}

/** Length of a line in plan along its chords, the closing side of a closed one included; in the unit of `x` and `y`. */
export function chordLength(line: Pick<Line, 'x' | 'y' | 'closed'>): number {
  const n = line.x.length;
  let sum = 0;
  for (let i = 0; i < sideCount(line); i++) {
    const j = (i + 1) % n;
    sum += distance(line.x[j] - line.x[i], line.y[j] - line.y[i]);
  }
  return sum;
}

/** The layer that something of this code is drawn on. */
export const layerOf = (code: Code | undefined): string => code?.layer ?? UNKNOWN_LAYER;
/** The layer of a point of this code. */
export const pointLayerOf = (code: Code | undefined): string => code?.pointLayer ?? layerOf(code);
