import { orientation } from '#core/kernel';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { linkNeighbours, type Surface } from '#core/terrain';
import { STATE, type PointTable, type ReadOf } from '../points/points.ts';

type TrianglesRow = Extract<SurfaceRow, { kind: 'triangles' }>;

/** The row that makes a surface of triangles as received, and where its file stands in the document; null of all others. */
export function trianglesRow(doc: ProjectDocument, recipe: SurfaceRecipe): { row: TrianglesRow; file: number } | null {
  for (const row of recipe.rows) {
    if (row.kind !== 'triangles' || !row.on) continue;
    const file = doc.intakes.findIndex((i) => i.id === row.intake && i.on);
    if (file >= 0) return { row, file };
  }
  return null;
}

export interface ReceivedPlan extends Pick<Surface, 'triangles' | 'neighbours' | 'breakSides'> {
  /** Row of the point table of vertex 0; the others follow it. */
  from: number;
  vertices: number;
  /** Vertices that no triangle has any more, and why. */
  leftOut: { why: string; count: number; rows: number[] }[];
}

/**
 * Triangles as a file has them, over the rows of its vertices. What is switched off, waits or has no elevation takes its
 * triangles along; those without area in plan go, and all are turned counter-clockwise. Nothing is triangulated again.
 */
export function planReceived(doc: ProjectDocument, file: number, points: PointTable, readOf: ReadOf): ReceivedPlan {
  const faces = readOf(doc.intakes[file]).triangles ?? new Uint32Array(0);
  const { x, y, z, state, intake } = points;
  const from = Math.max(0, intake.indexOf(file));
  let vertices = 0;
  while (from + vertices < intake.length && intake[from + vertices] === file) vertices++;
  const leftOut = new Map<string, { count: number; rows: number[] }>();
  const counts = new Uint8Array(vertices);
  for (let v = 0; v < vertices; v++) {
    const row = from + v;
    const why = state[row] !== STATE.used ? 'excluded or waiting' : Number.isNaN(z[row]) ? 'without elevation' : '';
    if (why === '') counts[v] = 1;
    else {
      const entry = leftOut.get(why) ?? { count: 0, rows: [] };
      leftOut.set(why, entry);
      entry.count++;
      if (entry.rows.length < 1000) entry.rows.push(row);
    }
  }
  const triangles: number[] = [];
  for (let t = 0; t + 2 < faces.length; t += 3) {
    const [a, b, c] = [faces[t], faces[t + 1], faces[t + 2]];
    if (!counts[a] || !counts[b] || !counts[c]) continue;
    const [p, q, r] = [from + a, from + b, from + c];
    const turn = orientation(x[p], y[p], x[q], y[q], x[r], y[r]);
    if (turn > 0) triangles.push(a, b, c);
    else if (turn < 0) triangles.push(a, c, b);
  }
  const list = Uint32Array.from(triangles);
  return {
    triangles: list,
    neighbours: linkNeighbours(list),
    breakSides: new Uint8Array(list.length),
    from,
    vertices,
    leftOut: [...leftOut].map(([why, entry]) => ({ why, ...entry })),
  };
}

/** A received plan with the elevations that its vertices have now. */
export function raiseReceived(
  { from, vertices, triangles, neighbours, breakSides }: ReceivedPlan,
  points: PointTable,
): Surface {
  const [x, y, z] = [points.x, points.y, points.z].map((column) => column.slice(from, from + vertices));
  const point = Uint32Array.from({ length: vertices }, (_, v) => from + v);
  return { x, y, z, triangles, neighbours, breakSides, point };
}
