import { indexCodes, readDescription, type Ink } from '#core/codes';
import { drawnPieces, elevationsAlong, firstRow, layerOf, planOf, pointLayerOf, type Line } from '#core/linework';
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
  result.linework.lines.filter((l) => {
    const row = firstRow(l);
    return row < 0 || doc.intakes[result.points.intake[row]].target === GROUND;
  });

/**
 * The pieces of a line in space, arcs chorded, x, y, z …; vertices without an elevation take it from their
 * neighbours along the line, and a line without any stays out.
 */
export function spatialOf(
  line: Line,
  points: PointTable,
  sagitta: number,
  hidden: 'without' | 'with' = 'without',
): { places: number[]; closed: boolean }[] {
  const z = elevationsAlong(line, points.z);
  return z ? drawnPieces(line, z, sagitta, hidden) : [];
}

export function drawingOf(doc: ProjectDocument, result: ChainResult, parts: DrawingParts): Drawing {
  const { points } = result;
  const index = indexCodes(doc.codeList);
  const colours: Record<string, number> = { [CONTROL_LAYER]: COLOUR_NUMBER.pine };
  for (const c of doc.codeList.codes) colours[c.layer] = COLOUR_NUMBER[c.ink];
  const layerOfRow = (row: number): string => {
    if (doc.intakes[points.intake[row]].target === CONTROL) return CONTROL_LAYER;
    const items = readDescription(points.description[row], index).items;
    return pointLayerOf((items.find((i) => i.known?.kind === 'point') ?? items[0])?.known ?? undefined);
  };
  const lines: DrawnLine[] = parts.lines
    ? surveyLines(doc, result).flatMap((line) => {
        const spatial = spatialOf(line, points, doc.settings.sagitta);
        return planOf(line).map((plan, i) => ({
          layer: layerOf(index.byCode.get(line.code)),
          closed: plan.closed,
          spatial: spatial[i]?.places ?? [],
          plan: plan.places,
        }));
      })
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
      .flatMap((l) =>
        spatialOf(l, points, doc.settings.sagitta, 'with').map((piece, i) => ({
          name: i === 0 ? l.key : `${l.key} part ${i + 1}`,
          code: l.code,
          closed: piece.closed,
          spatial: piece.places,
        })),
      )
      .filter((l) => l.spatial.length >= 6),
    surfaces: result.grounds
      .filter((g) => g.surface.triangles.length > 0)
      .map((g) => ({ name: g.name, surface: g.surface })),
  };
}
