import Flatbush from 'flatbush';
import { distance } from '#core/kernel';
import { courseToEdit, elevationsBetween, fileOfLine, type HandVertex, type Line } from '#core/linework';
import type { HandLine, ProjectDocument } from '#core/project';
import { pointKey, STATE, type PointTable } from '../points/points.ts';
import { courseKey } from './hand-lines.ts';

// Loose lines, whose vertices follow no numbered point (those of a drawing, above all), are tied to the points that they
// pass through, and follow them from then on.

export interface TieRules {
  /** A vertex is tied to a point that is no farther from it in plan, m. */
  reach: number;
  /** Whose elevation a tied vertex has: its point's; its point's where the line has none; the line's own or none. */
  elevations: 'points' | 'missing' | 'own';
  /** With several points in reach: the nearest of them, or none. */
  several: 'nearest' | 'none';
}

/** A vertex that needs an eye. */
export interface TieDoubt {
  line: string;
  /** Counted from 0. */
  vertex: number;
  x: number;
  y: number;
  /**
   * No point in reach; several; its point is taken by a vertex of the line that is nearer; it is an end of an arc, which
   * keeps its angle and changes its radius.
   */
  why: 'no point' | 'several points' | 'point taken' | 'end of an arc';
  /** Rows of the points in reach, the nearest first. */
  rows: number[];
  tied: boolean;
}

export interface Ties {
  /** Lines by hand to set, by key: those of which a vertex at least is tied. */
  set: Record<string, HandLine>;
  /** Loose lines, their vertices, and how many of these are tied. */
  lines: number;
  vertices: number;
  tied: number;
  /** The largest way from a vertex to its point, m. */
  farthest: number;
  doubts: TieDoubt[];
}

/** What answers which numbered points lie within reach of a place: rows, the nearest first. */
export type PointsNear = (x: number, y: number, reach: number) => number[];

type Points = Pick<PointTable, 'x' | 'y' | 'z' | 'state' | 'light' | 'intake' | 'fileRow'>;

/** Whether a vertex follows no numbered point. */
const isLoose = (row: number, numberOf: (row: number) => string): boolean => row < 0 || numberOf(row) === '';

/** Lines that can be tied: all of a file's whose vertices have no number, and those by hand that go through places. */
export const looseLines = (doc: ProjectDocument, lines: readonly Line[], numberOf: (row: number) => string): Line[] =>
  lines.filter((l) =>
    Object.hasOwn(doc.handLines, l.key)
      ? l.rows.some((row) => isLoose(row, numberOf))
      : l.rows.some((row) => row >= 0) && l.rows.every((row) => isLoose(row, numberOf)),
  );

/** Lines tied to numbered points of the project; lines that have no loose vertex are passed over. */
export function tieLines(
  doc: ProjectDocument,
  points: Points,
  numberOf: (row: number) => string,
  lines: readonly Line[],
  rules: TieRules,
  near: PointsNear = numberedPointsNear(points, numberOf),
): Ties {
  const out: Ties = { set: {}, lines: 0, vertices: 0, tied: 0, farthest: 0, doubts: [] };
  for (const line of looseLines(doc, lines, numberOf)) {
    out.lines++;
    const { course, insteadOf } = tieLine(line);
    if (insteadOf === null) continue;
    const hand = doc.handLines[line.key] as HandLine | undefined;
    const file = fileOfLine(line, points.intake);
    out.set[line.key] = {
      code: line.code,
      lineNumber: line.lineNumber,
      closed: line.closed,
      vertices: course,
      replaces: hand ? hand.replaces : { key: line.key, course: courseKey(doc, points, line) },
      ...(file < 0 ? {} : { file: doc.intakes[file].id }),
      insteadOf: [...new Set([...(hand?.insteadOf ?? []), ...insteadOf])].sort(),
    };
  }
  return out;

  /** Its vertices, and the points that they were before; null where none was tied. */
  function tieLine(line: Line): { course: HandVertex[]; insteadOf: string[] | null } {
    const z = elevationsBetween(line, (row) => points.z[row]);
    const said = elevationsSaid(line, points.z);
    const course = courseToEdit(line, (row) => pointKey(doc, points, row), z).vertices;
    const reached = line.rows.map((row, i) =>
      isLoose(row, numberOf) ? near(line.x[i], line.y[i], rules.reach) : null,
    );
    const nearest = nearestVertices(line, reached);
    let insteadOf: string[] | null = null;
    reached.forEach((rows, vertex) => {
      if (rows === null) return;
      out.vertices++;
      const doubt = (why: TieDoubt['why'], tied: boolean): void =>
        void out.doubts.push({ line: line.key, vertex, x: line.x[vertex], y: line.y[vertex], why, rows, tied });
      const [row] = rows;
      if (row === undefined) return doubt('no point', false);
      if (nearest.get(row) !== vertex) return doubt('point taken', false);
      const tie = rows.length === 1 || rules.several === 'nearest';
      if (rows.length > 1) doubt('several points', tie);
      if (!tie) return;
      if (isEndOfArc(line, vertex)) doubt('end of an arc', true);
      insteadOf ??= [];
      if (course[vertex].point) insteadOf.push(course[vertex].point);
      course[vertex] = tiedTo(course[vertex], row, said[vertex]);
      out.tied++;
      out.farthest = Math.max(out.farthest, distance(points.x[row] - line.x[vertex], points.y[row] - line.y[vertex]));
    });
    return { course, insteadOf };
  }

  function tiedTo({ plan: _, ...vertex }: HandVertex, row: number, own: number): HandVertex {
    const follows = rules.elevations === 'points' || (rules.elevations === 'missing' && Number.isNaN(own));
    const point = pointKey(doc, points, row);
    if (follows) return { ...vertex, point, z: null };
    return { ...vertex, point, z: Number.isNaN(own) ? null : own, plan: true };
  }

  /** Of the vertices of a line that are nearest to one point, the nearest; the first of two that are as near. */
  function nearestVertices(line: Line, reached: readonly (number[] | null)[]): Map<number, number> {
    const best = new Map<number, { vertex: number; off: number }>();
    reached.forEach((rows, vertex) => {
      const row = rows?.[0];
      if (row === undefined) return;
      const off = distance(points.x[row] - line.x[vertex], points.y[row] - line.y[vertex]);
      if (!(off >= (best.get(row)?.off ?? Infinity))) best.set(row, { vertex, off });
    });
    return new Map([...best].map(([row, { vertex }]) => [row, vertex]));
  }
}

/** Elevations that vertices have of their own: none is taken from a neighbour. */
function elevationsSaid(line: Line, z: ArrayLike<number>): number[] {
  const out = line.rows.map((row) => (row >= 0 ? z[row] : NaN));
  for (const m of line.made) if (m.from < 0) out[m.at] = m.rise;
  return out;
}

function isEndOfArc({ bulges, closed }: Line, i: number): boolean {
  const before = i > 0 ? bulges[i - 1] : closed ? bulges[bulges.length - 1] : 0;
  return before !== 0 || bulges[i] !== 0;
}

/** Numbered points in use within reach of a place, the nearest first; of two as near, the one that stands first. */
export function numberedPointsNear({ x, y, state, light }: Points, numberOf: (row: number) => string): PointsNear {
  const rows: number[] = [];
  for (let row = 0; row < x.length; row++)
    if (state[row] === STATE.used && !light[row] && numberOf(row) !== '') rows.push(row);
  if (rows.length === 0) return () => [];
  const tree = new Flatbush(rows.length);
  for (const row of rows) tree.add(x[row], y[row]);
  tree.finish();
  return (px, py, reach) => {
    const off = (row: number): number => distance(x[row] - px, y[row] - py);
    const found = tree.search(px - reach, py - reach, px + reach, py + reach).map((i) => rows[i]);
    return found.filter((row) => off(row) <= reach).sort((a, b) => off(a) - off(b) || a - b);
  };
}
