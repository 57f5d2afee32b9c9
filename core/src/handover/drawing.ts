import { distance } from '#core/kernel';
import { indexCodes, readDescription, type Ink } from '#core/codes';
import { chordPlaces, layerOf, type Line } from '#core/linework';
import type { Drawing, DrawnLine, LandXmlContent, PointRow } from '#core/exchange';
import { CONTROL, GROUND, STATE, type ChainResult, type PointTable, type ProjectDocument } from '#core/chain';

/** Colour numbers of the drawing exchange format for our inks, chosen to be seen on dark and light screens. */
const COLOUR_NUMBER: Record<Ink, number> = {
  ink: 7,
  slate: 8,
  pole: 1,
  pine: 94,
  brass: 32,
  lake: 150,
  plum: 200,
  moss: 74,
};

export const CONTROL_LAYER = 'CONTROL';

/** Which parts of a project go into a drawing. */
export interface DrawingParts {
  points: boolean;
  lines: boolean;
  contours: boolean;
  surface: boolean;
}

/** Rows that go out: used points of survey and control, in order. */
export function rowsOut(doc: ProjectDocument, points: PointTable, control: boolean): number[] {
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    const target = doc.intakes[points.intake[row]].target;
    if (points.state[row] !== STATE.used) continue;
    if (target === GROUND || (control && target === CONTROL)) rows.push(row);
  }
  return rows;
}

export const pointRow = (points: PointTable, row: number): PointRow => ({
  number: points.number[row],
  x: points.x[row],
  y: points.y[row],
  z: points.z[row],
  description: points.description[row],
});

/** The survey's lines: those built from files that belong to the ground. */
export const surveyLines = (doc: ProjectDocument, result: ChainResult): Line[] =>
  result.linework.lines.filter((l) => doc.intakes[result.points.intake[l.rows[0]]].target === GROUND);

/**
 * A line's vertices in space, arcs chorded, x, y, z …; vertices without an elevation take it from their
 * neighbours along the line, and a line without any stays out (empty).
 */
export function spatialOf(line: Line, points: PointTable, sagitta: number): number[] {
  const z = elevationsAlong(line, points);
  if (!z) return [];
  const out: number[] = [];
  const n = line.rows.length;
  for (let i = 0; i < n; i++) {
    const row = line.rows[i];
    out.push(points.x[row], points.y[row], z[i]);
    if (line.bulges[i] === 0 || (i === n - 1 && !line.closed)) continue;
    const next = line.rows[(i + 1) % n];
    const end = { x: points.x[next], y: points.y[next] };
    for (const p of chordPlaces({ x: points.x[row], y: points.y[row] }, end, line.bulges[i], sagitta))
      out.push(p.x, p.y, z[i] + p.along * (z[(i + 1) % n] - z[i]));
  }
  return out;
}

function elevationsAlong(line: Line, points: PointTable): number[] | null {
  const z = line.rows.map((r) => points.z[r]);
  if (z.every((v) => Number.isNaN(v))) return null;
  const chain = [0];
  for (let i = 1; i < z.length; i++) {
    const [a, b] = [line.rows[i - 1], line.rows[i]];
    chain.push(chain[i - 1] + distance(points.x[b] - points.x[a], points.y[b] - points.y[a]));
  }
  return z.map((v, i) => {
    if (!Number.isNaN(v)) return v;
    let before = i;
    while (before >= 0 && Number.isNaN(z[before])) before--;
    let after = i;
    while (after < z.length && Number.isNaN(z[after])) after++;
    if (before < 0) return z[after];
    if (after >= z.length) return z[before];
    const share = (chain[i] - chain[before]) / (chain[after] - chain[before] || 1);
    return z[before] + share * (z[after] - z[before]);
  });
}

export function drawingOf(doc: ProjectDocument, result: ChainResult, parts: DrawingParts): Drawing {
  const { points } = result;
  const index = indexCodes(doc.codeList);
  const colours: Record<string, number> = { [CONTROL_LAYER]: COLOUR_NUMBER.pine };
  for (const c of doc.codeList.codes) colours[c.layer] = COLOUR_NUMBER[c.ink];
  const layerOfRow = (row: number): string => {
    if (doc.intakes[points.intake[row]].target === CONTROL) return CONTROL_LAYER;
    const items = readDescription(points.description[row], index).items;
    return layerOf((items.find((i) => i.known?.kind === 'point') ?? items[0])?.known ?? undefined);
  };
  const lines: DrawnLine[] = parts.lines
    ? surveyLines(doc, result).map((line) => ({
        layer: layerOf(index.byCode.get(line.code)),
        closed: line.closed,
        spatial: spatialOf(line, points, doc.settings.sagitta),
        plan: line.rows.flatMap((row, i) => [points.x[row], points.y[row], line.bulges[i]]),
      }))
    : [];
  return {
    points: parts.points
      ? rowsOut(doc, points, true).map((row) => ({
          layer: layerOfRow(row),
          x: points.x[row],
          y: points.y[row],
          z: points.z[row],
          label: points.number[row],
        }))
      : [],
    lines,
    contours: parts.contours ? result.contours : [],
    surface: parts.surface ? result.grounds[0].surface : null,
    colours,
  };
}

export function landXmlOf(doc: ProjectDocument, result: ChainResult, project: string, made: string): LandXmlContent {
  const { points } = result;
  const breakline = new Set(doc.codeList.codes.filter((c) => c.breakline).map((c) => c.code.toUpperCase()));
  return {
    project,
    made,
    points: rowsOut(doc, points, true).map((row) => pointRow(points, row)),
    breaklines: surveyLines(doc, result)
      .filter((l) => breakline.has(l.code) && !doc.linesOutOfGround.includes(l.key))
      .map((l) => ({
        name: l.key,
        code: l.code,
        closed: l.closed,
        spatial: spatialOf(l, points, doc.settings.sagitta),
      }))
      .filter((l) => l.spatial.length >= 6),
    surfaces: result.grounds
      .filter((g) => g.surface.triangles.length > 0)
      .map((g) => ({ name: g.name, surface: g.surface })),
  };
}
