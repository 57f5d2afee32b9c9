import { indexCodes } from '#core/codes';
import {
  CONTOUR_LAYER,
  INDEX_CONTOUR_LAYER,
  type Drawing,
  type DrawnLine,
  type LandXmlContent,
  type Own,
  type PointRow,
} from '#core/exchange';
import { insertsOf, LayerInks, layerLooks, pointLooks, projectLabels, type LayerLook } from '#core/drawing';
import { drawnPieces, elevationsAlong, fileOfLine, layerOf, planOf, type Line } from '#core/linework';
import type { ChainResult } from '#core/chain';
import { groundOf, linesOutOf, type ProjectDocument } from '#core/project';
import { pointKey, setPointsOf, STATE, type PointTable } from '#core/stages';

/** What of a chain's results is drawn. */
export type DrawnResult = Pick<ChainResult, 'points' | 'linework' | 'contours' | 'surfaces'>;

/** Which parts of a project go into a drawing. */
export interface DrawingParts {
  points: boolean;
  lines: boolean;
  contours: boolean;
  surface: boolean;
  /** The surface whose contours and faces are drawn, by id; the ground unless said. */
  of?: string;
  /** Points of codes with a symbol as symbols, with their attributes. */
  symbols?: boolean;
  /** Labels by the drawing's rules as texts, in the place of point numbers. */
  labels?: boolean;
}

/** Rows that go out: used points of survey and control, in order. */
export function rowsOut(doc: ProjectDocument, points: PointTable, control: boolean): number[] {
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    const { purpose } = doc.intakes[points.intake[row]];
    if (points.state[row] !== STATE.used) continue;
    if (purpose === 'survey' || (control && purpose === 'control')) rows.push(row);
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
export const surveyLines = (doc: ProjectDocument, result: Pick<ChainResult, 'points' | 'linework'>): Line[] =>
  result.linework.lines.filter((l) => {
    const file = fileOfLine(l, result.points.intake);
    return file < 0 || doc.intakes[file].purpose === 'survey';
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

/** The drawing as it is seen: layers and sets that are hidden stay away; inks, widths, line styles and labels are those of the drawing. */
export function drawingOf(doc: ProjectDocument, result: DrawnResult, parts: DrawingParts): Drawing {
  const { points } = result;
  const { byCode } = indexCodes(doc.codeList);
  const look = layerLooks(doc);
  const inks = new LayerInks(look);
  const ownPoint = (row: number): Own => ({ kind: 'point', key: pointKey(doc, points, row), part: 0 });
  const lookOf = pointLooks(doc, setPointsOf(points));
  const rows = rowsOut(doc, points, true).flatMap((row) => {
    const at = lookOf(row);
    return at?.visible ? [{ row, at, colour: inks.colourOn(at.layer, at.ink) }] : [];
  });
  const { inserts, blocks, taken } = insertsOf(
    doc,
    parts.symbols
      ? rows.map(({ row, at, colour }) => ({ number: points.number[row], x: points.x[row], y: points.y[row], z: points.z[row], look: at, colour, own: ownPoint(row) })) // prettier-ignore
      : [],
  );
  const lines: DrawnLine[] = parts.lines
    ? surveyLines(doc, result).flatMap((line) => {
        const code = byCode.get(line.code);
        const layer = layerOf(code);
        const { visible, ink } = look(layer);
        if (!visible) return [];
        const colour = inks.colourOn(layer, ink ?? code?.ink ?? 'pole');
        const spatial = spatialOf(line, points, doc.settings.sagitta);
        return planOf(line).map((plan, i) => ({
          layer,
          colour,
          style: code?.style ?? 'solid',
          closed: plan.closed,
          spatial: spatial[i]?.places ?? [],
          plan: plan.places,
          own: { key: line.key, part: i },
        }));
      })
    : [];
  const id = parts.of ?? groundOf(doc).id;
  const contours = parts.contours && look(CONTOUR_LAYER).visible ? (result.contours.get(id)?.list ?? []) : [];
  const contourInk = look(CONTOUR_LAYER).ink ?? 'brass';
  for (const layer of [CONTOUR_LAYER, INDEX_CONTOUR_LAYER]) inks.colourOn(layer, contourInk);
  const texts = parts.labels
    ? projectLabels(doc, setPointsOf(points)).labels.map((l) => ({
        ...l,
        colour: inks.colourOn(l.layer, l.ink),
        own: { kind: 'label' as const, key: l.key, part: 0 },
      }))
    : [];
  return {
    points: parts.points
      ? rows
          .filter((_, i) => !taken.has(i))
          .map(({ row, at, colour }) => ({
            layer: at.layer,
            colour,
            x: points.x[row],
            y: points.y[row],
            z: points.z[row],
            label: parts.labels ? '' : points.number[row],
            own: ownPoint(row),
          }))
      : [],
    lines,
    inserts,
    blocks,
    texts,
    contours,
    surface: parts.surface ? (result.surfaces.find((s) => s.id === id)?.surface ?? null) : null,
    colours: inks.colours,
    widths: widthsOf(inks.colours, look),
    perMm: doc.settings.plotScale / 1000,
  };
}

/** Widths of layers; contours between the index contours are half as wide, as on paper. */
function widthsOf(colours: Record<string, number>, look: (layer: string) => LayerLook): Record<string, number> {
  const widths = Object.fromEntries(Object.keys(colours).map((layer) => [layer, look(layer).width]));
  const contour = look(CONTOUR_LAYER).width;
  return { ...widths, [CONTOUR_LAYER]: contour / 2, [INDEX_CONTOUR_LAYER]: contour };
}

/** `chosen`: the surfaces that go out, by id; all of them unless said. */
export function landXmlOf(
  doc: ProjectDocument,
  result: ChainResult,
  project: string,
  made: string,
  chosen?: readonly string[],
): LandXmlContent {
  const { points } = result;
  const out = new Set(linesOutOf(groundOf(doc)));
  const breakline = new Set(doc.codeList.codes.filter((c) => c.breakline).map((c) => c.code.toUpperCase()));
  return {
    project,
    made,
    points: rowsOut(doc, points, true).map((row) => pointRow(points, row)),
    breaklines: surveyLines(doc, result)
      .filter((l) => breakline.has(l.code) && !out.has(l.key))
      .flatMap((l) =>
        spatialOf(l, points, doc.settings.sagitta, 'with').map((piece, i) => ({
          name: i === 0 ? l.key : `${l.key} part ${i + 1}`,
          code: l.code,
          closed: piece.closed,
          spatial: piece.places,
        })),
      )
      .filter((l) => l.spatial.length >= 6),
    surfaces: result.surfaces
      .filter((g) => chosen === undefined || chosen.includes(g.id))
      .filter((g) => g.surface.triangles.length > 0)
      .map((g) => ({ name: g.name, surface: g.surface })),
  };
}
