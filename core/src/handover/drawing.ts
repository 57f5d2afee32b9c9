import { indexCodes, type CodeItem, type Ink } from '#core/codes';
import { CONTOUR_LAYER } from '#core/exchange';
import { CONTROL_LAYER, layerLooks, layerOfPoint, projectLabels } from '#core/drawing';
import { formatLength } from '#core/measure';
import { drawnPieces, elevationsAlong, firstRow, layerOf, planOf, type Line } from '#core/linework';
import type { Drawing, DrawnInsert, DrawnLine, LandXmlContent, PointRow, SymbolBlock } from '#core/exchange';
import {
  CONTROL,
  GROUND,
  codeReader,
  membersOf,
  setPointsOf,
  STATE,
  type ChainResult,
  type PointTable,
  type ProjectDocument,
} from '#core/chain';

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

/** Which parts of a project go into a drawing. */
export interface DrawingParts {
  points: boolean;
  lines: boolean;
  contours: boolean;
  surface: boolean;
  /** Points of codes with a symbol as symbols, with their attributes. */
  symbols?: boolean;
  /** Labels by the drawing's rules as texts, in the place of point numbers. */
  labels?: boolean;
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

/** The drawing as it is seen: layers that are hidden stay away, inks and labels are those of the drawing. */
export function drawingOf(doc: ProjectDocument, result: ChainResult, parts: DrawingParts): Drawing {
  const { points } = result;
  const index = indexCodes(doc.codeList);
  const read = codeReader(doc);
  const look = layerLooks(doc);
  const colours: Record<string, number> = { [CONTROL_LAYER]: COLOUR_NUMBER.pine };
  for (const c of doc.codeList.codes) for (const layer of [c.layer, c.pointLayer ?? c.layer]) colours[layer] = COLOUR_NUMBER[look(layer).ink ?? c.ink]; // prettier-ignore
  const itemsOf = (row: number): CodeItem[] => read(points.description[row], points.intake[row]);
  const isControl = (row: number): boolean => doc.intakes[points.intake[row]].target === CONTROL;
  const hidden = doc.pointSets.filter((s) => s.hidden).map((s) => membersOf(s, doc, setPointsOf(points)));
  const rows = rowsOut(doc, points, true)
    .map((row) => ({ row, layer: layerOfPoint(itemsOf(row), isControl(row)) }))
    .filter(({ row, layer }) => look(layer).visible && !hidden.some((members) => members[row] === 1));
  const asSymbol = new Set<number>();
  const symbols = parts.symbols ? symbolsOf(doc, points, rows, itemsOf, asSymbol) : { inserts: [], blocks: [] };
  const lines: DrawnLine[] = parts.lines
    ? surveyLines(doc, result)
        .filter((line) => look(layerOf(index.byCode.get(line.code))).visible)
        .flatMap((line) => {
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
      ? rows
          .filter(({ row }) => !asSymbol.has(row))
          .map(({ row, layer }) => ({
            layer,
            x: points.x[row],
            y: points.y[row],
            z: points.z[row],
            label: parts.labels ? '' : points.number[row],
          }))
      : [],
    lines,
    ...symbols,
    texts: parts.labels ? labelTexts(doc, points) : [],
    contours: parts.contours && look(CONTOUR_LAYER).visible ? result.contours : [],
    surface: parts.surface ? result.grounds[0].surface : null,
    colours,
  };
}

/** Points of codes that have a symbol, each with its attributes by name, number and elevation among them. */
function symbolsOf(
  doc: ProjectDocument,
  points: PointTable,
  rows: readonly { row: number; layer: string }[],
  itemsOf: (row: number) => CodeItem[],
  taken: Set<number>,
): { inserts: DrawnInsert[]; blocks: SymbolBlock[] } {
  const blocks = new Map<string, SymbolBlock>();
  const inserts: DrawnInsert[] = [];
  const perMm = doc.settings.plotScale / 1000;
  for (const { row, layer } of rows) {
    const item = itemsOf(row).find((i) => i.known?.kind === 'point');
    if (!item?.known) continue;
    const { code, symbol, scale = 1, rotation = 0, attributes = [] } = item.known;
    if (!blocks.has(code)) blocks.set(code, { name: code, symbol, attributes: ['number', 'elevation', ...attributes.map((a) => a.name)] }); // prettier-ignore
    taken.add(row);
    const z = points.z[row];
    inserts.push({
      block: code,
      layer,
      x: points.x[row],
      y: points.y[row],
      z,
      size: doc.drawing.symbolSize * scale * perMm,
      rotation,
      attributes: {
        number: points.number[row],
        elevation: Number.isNaN(z) ? '' : formatLength(z, doc.settings.unit, doc.settings.elevationDecimals).replace(/[\u2009\u202f]/g, ''), // prettier-ignore
        ...Object.fromEntries(attributes.map((a) => [a.name, item.attributes[a.name] ?? ''])),
      },
    });
  }
  return { inserts, blocks: [...blocks.values()] };
}

/** Labels by the drawing's rules, where they stand on paper at the plot scale. */
const labelTexts = (doc: ProjectDocument, points: PointTable): NonNullable<Drawing['texts']> =>
  projectLabels(doc, setPointsOf(points)).labels;

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
