import { geographicAt, gridToGround, isPublished } from '#core/basis';
import { writeDescription, type CodeItem, type LineWords } from '#core/codes';
import { codeReader, type ProjectDocument } from '#core/project';
import { bestOfEach, pointKey, STATE, type SetPoints } from '#core/stages';
import { insertsOf, LayerInks, layerLooks, pointLooks, type PointLook } from '#core/drawing';
import { writeDxf, writeText, type Drawing, type DxfSettings, type PointRow } from '#core/exchange';
import { readBackDxf, readBackText, type ReadBack } from '#core/handover';
import type { OutLayout } from '#contract';
import { naturally } from '#core/kernel';
import { fromMetres } from '#core/measure';

/** Which points go out, in what order, in whose words. */
export type OutSettings = Omit<OutLayout, 'words' | 'ending' | 'sheet'> & {
  /** Null: as the crew typed them. */
  words: LineWords | null;
};

export interface PointsFile {
  text: string;
  count: number;
  /** What reading it again has shown; of the first rows alone too. */
  readBack: ReadBack;
}

/** The file's text, or its first rows where `most` is given, and how many points it has; read back before it is handed on. */
export function pointsOut(
  doc: ProjectDocument,
  points: SetPoints & { light?: ArrayLike<number> },
  members: Uint8Array | null,
  s: OutSettings,
  most = Infinity,
): PointsFile {
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || (members && !members[row])) continue;
    if (!s.light && points.light?.[row]) continue;
    const { purpose } = doc.intakes[points.intake[row]];
    if ((!s.control && purpose === 'control') || (!s.design && purpose === 'design')) continue;
    rows.push(row);
  }
  const list = s.best
    ? bestOfEach(doc, points, rows).map((b) => ({ row: b.rows[0], x: b.x, y: b.y, z: b.z }))
    : rows.map((row) => ({ row, x: points.x[row], y: points.y[row], z: points.z[row] }));
  if (s.sorted) list.sort((a, b) => naturally(points.number(a.row), points.number(b.row)) || a.row - b.row);
  const itemsOf = codeReader(doc);
  const read = (row: number): CodeItem[] => itemsOf(points.description(row), points.intake[row]);
  const out = list.slice(0, most).map(({ row, x, y, z }) => rowOf(doc, points, s, read(row), row, x, y, z));
  if (s.what === 'text') {
    const { order, decimals, unit, separator, headings, decimal, none } = s;
    const degrees = s.system === 'geographic' ? { degrees: true } : {};
    const settings = { order, decimals, unit, separator, headings, decimal, none, ...degrees };
    const text = writeText(out, settings);
    return { text, count: list.length, readBack: readBackText(text, out, settings) };
  }
  const lookOf = pointLooks(doc, points);
  const drawn = out.map((p, i) => ({ ...p, look: lookOf(list[i].row), key: pointKey(doc, points, list[i].row) }));
  return { ...drawingOf(doc, drawn, s), count: list.length };
}

/** A drawing of points: with texts beside them, as symbols with attributes, or as texts alone; sizes as on paper. */
function drawingOf(
  doc: ProjectDocument,
  points: (PointRow & { look: PointLook | null; key: string })[],
  s: OutSettings,
): Pick<PointsFile, 'text' | 'readBack'> {
  const inks = new LayerInks(layerLooks(doc));
  const perMm = doc.settings.plotScale / 1000;
  const height = doc.drawing.labels.number.size * perMm;
  const placed = points.flatMap(
    ({ number, x, y, z, parts, look, key }) =>
    look ? [{ number, x, y, z, look, own: { kind: 'point' as const, key, part: 0 }, colour: inks.colourOn(look.layer, look.ink), label: [number, parts!.code].filter(Boolean).join(' ') }] : [], // prettier-ignore
  );
  const { inserts, blocks, taken } = insertsOf(doc, s.what === 'symbols' ? placed : []);
  const rest = placed.filter((_, i) => !taken.has(i));
  const texts = s.what === 'texts';
  const drawing: Drawing = {
    points: texts ? [] : rest.map(({ look, label, ...p }) => ({ ...p, layer: look.layer, label: s.what === 'drawing' ? label : '' })), // prettier-ignore
    texts: texts ? rest.map(({ look, label, x, y, colour, own }) => ({ layer: look.layer, x, y, height, text: label, colour, own: { ...own, kind: 'label' as const } })) : [], // prettier-ignore
    inserts,
    blocks,
    lines: [],
    contours: [],
    surface: null,
    colours: inks.colours,
  };
  const settings: DxfSettings = {
    version: 'R12',
    unit: s.unit,
    decimals: s.decimals,
    textHeight: fromMetres(height, s.unit),
  };
  const text = writeDxf(drawing, settings);
  return { text, readBack: readBackDxf(text, drawing, settings) };
}

function rowOf(
  doc: ProjectDocument,
  points: SetPoints,
  s: OutSettings,
  items: CodeItem[],
  row: number,
  x: number,
  y: number,
  z: number,
): PointRow {
  const words = s.words ?? doc.intakes[points.intake[row]].words ?? doc.codeList.words;
  return {
    number: points.number(row),
    ...placed(doc, s, x, y),
    z,
    description: s.words ? writeDescription(items, s.words).text : points.description(row),
    parts: {
      code: items.map((i) => i.code).join(' '),
      line: items
        .map((i) => i.lineNumber)
        .join(' ')
        .trim(),
      words: items
        .flatMap((i) => i.words.map((w) => words[w.meaning] ?? ''))
        .join(' ')
        .trim(),
      attributes: items.flatMap((i) => Object.entries(i.attributes).map(([k, v]) => `${k}=${v}`)).join(' '),
    },
  };
}

function placed({ basis }: ProjectDocument, s: OutSettings, x: number, y: number): { x: number; y: number } {
  if (s.system === 'ground' && basis.base) return gridToGround(basis.base, basis.factor, { x, y });
  if (s.system === 'geographic' && isPublished(basis.system)) {
    const g = geographicAt(basis.system, x, y);
    return g ? { x: g.longitude, y: g.latitude } : { x: NaN, y: NaN };
  }
  return { x, y };
}
