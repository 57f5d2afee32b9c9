import {
  strokesOf,
  CONTROL_STROKES,
  SYMBOL_STROKES,
  UNKNOWN_STROKES,
  type Code,
  type CodeItem,
  type Ink,
  type LineStyle,
  type Stroke,
} from '#core/codes';
import { codeReader, type ProjectDocument } from '#core/project';
import { membersOf, STATE } from '#core/stages';
import { drawnPieces, elevationsAlong, layerOf, type Line } from '#core/linework';
import { formatLength } from '#core/measure';
import { CONTOUR_LAYER } from '#core/exchange';
import { isControlIntake, layerLooks, layerOfPoint } from './layers.ts';
import { placeLabels, type WantedLabel } from './labels.ts';

/** What a drawing shows, in metres, before it is laid on paper. */
export interface DrawnLine {
  layer: string;
  ink: Ink;
  style: LineStyle;
  /** mm. */
  width: number;
  /** Of a line its code; of a contour its elevation, m. */
  code: string | null;
  contour: { elevation: number; index: boolean } | null;
  /** x, y, x, y …, arcs as chords. */
  places: number[];
  closed: boolean;
}
export interface DrawnSymbol {
  layer: string;
  ink: Ink;
  strokes: readonly Stroke[];
  /** What it stands for: a code of the list by its name, or what has none. */
  of: SymbolOf;
  x: number;
  y: number;
  /** mm. */
  size: number;
  rotation: number;
}
/** `plain`: a point that no code gives a symbol; a code that no list knows is named as it was written. */
export type SymbolOf = { kind: 'control' } | { kind: 'plain' } | { kind: 'code' | 'unknown'; code: string };
export interface Plan {
  lines: DrawnLine[];
  symbols: DrawnSymbol[];
  /** Labels with x and y in metres; sizes in mm. */
  labels: WantedLabel[];
}

/** Points of a project as the drawing needs them. */
export interface PlanPoints {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  state: ArrayLike<number>;
  intake: ArrayLike<number>;
  fileRow: ArrayLike<number>;
  light?: ArrayLike<number>;
  number: (row: number) => string;
  description: (row: number) => string;
  date: ArrayLike<number>;
}

export interface PlanContour {
  elevation: number;
  index: boolean;
  closed: boolean;
  line: ArrayLike<number>;
}

export interface Window {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

/** Everything that is visible inside a window, m; `sagitta` m is how far chords may stand off arcs. */
export function drawPlan(
  doc: ProjectDocument,
  points: PlanPoints,
  lines: readonly Line[],
  contours: readonly PlanContour[],
  window: Window,
  sagitta: number,
): Plan {
  const plan: Plan = { lines: [], symbols: [], labels: [] };
  const look = layerLooks(doc);
  const contourLook = look(CONTOUR_LAYER);
  if (contourLook.visible)
    for (const c of contours) {
      const places = Array.from(c.line as ArrayLike<number>);
      if (!meets(places, window)) continue;
      plan.lines.push({ layer: CONTOUR_LAYER, ink: contourLook.ink ?? 'brass', style: 'solid', width: c.index ? contourLook.width : contourLook.width * 0.5, code: null, contour: { elevation: c.elevation, index: c.index }, places, closed: c.closed }); // prettier-ignore
    }
  addLines(doc, plan, points, lines, window, sagitta);
  addPoints(doc, plan, points, window);
  return plan;
}

const inside = (x: number, y: number, w: Window): boolean => x >= w.minX && x <= w.maxX && y >= w.minY && y <= w.maxY;

/** Whether the extent of places x, y, x, y … touches a window, both in one unit. */
export function meets(places: readonly number[], w: Window): boolean {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < places.length; i += 2) {
    minX = Math.min(minX, places[i]);
    maxX = Math.max(maxX, places[i]);
    minY = Math.min(minY, places[i + 1]);
    maxY = Math.max(maxY, places[i + 1]);
  }
  return minX <= w.maxX && maxX >= w.minX && minY <= w.maxY && maxY >= w.minY;
}

function addLines(
  doc: ProjectDocument,
  plan: Plan,
  points: PlanPoints,
  lines: readonly Line[],
  window: Window,
  sagitta: number,
): void {
  const look = layerLooks(doc);
  const byCode = new Map(doc.codeList.codes.map((c) => [c.code.toUpperCase(), c]));
  for (const line of lines) {
    const code = byCode.get(line.code);
    const layer = layerOf(code);
    const { visible, ink, width } = look(layer);
    if (!visible) continue;
    const z = elevationsAlong(line, points.z) ?? line.x.map(() => 0);
    for (const piece of drawnPieces(line, z, sagitta)) {
      const places: number[] = [];
      for (let i = 0; i < piece.places.length; i += 3) places.push(piece.places[i], piece.places[i + 1]);
      if (!meets(places, window)) continue;
      plan.lines.push({ layer, ink: ink ?? code?.ink ?? 'pole', style: code?.style ?? 'solid', width, code: line.code, contour: null, places, closed: piece.closed }); // prettier-ignore
    }
  }
}

/** How a point is drawn. */
export interface PointLook {
  layer: string;
  /** Whether its layer is shown, and no set that it belongs to is hidden; its labels are on layers of their own. */
  visible: boolean;
  control: boolean;
  items: readonly CodeItem[];
  /** The code that says how it looks; null of control and of what no list knows. */
  code: Code | null;
  ink: Ink;
  strokes: readonly Stroke[];
  /** mm. */
  size: number;
  rotation: number;
}

/** How every point is drawn that is used; null where it is not. */
export function pointLooks(doc: ProjectDocument, points: PlanPoints): (row: number) => PointLook | null {
  const itemsOf = codeReader(doc);
  const look = layerLooks(doc);
  const { symbolSize } = doc.drawing;
  const sets = doc.pointSets
    .filter((s) => s.ink !== null || s.hidden)
    .map((s) => ({ ...s, members: membersOf(s, doc, points) }));
  return (row) => {
    if (points.state[row] !== STATE.used) return null;
    // What a person named and hid or coloured comes last, as on the sheet.
    const named = sets.filter((s) => s.members[row] === 1);
    const intake = points.intake[row];
    const control = isControlIntake(doc, intake);
    const items = itemsOf(points.description(row), intake);
    const layer = layerOfPoint(items, control);
    const at = look(layer);
    const code = control ? null : (items.find((i) => i.known?.kind === 'point')?.known ?? items[0]?.known ?? null);
    const marked = code?.kind === 'point';
    return {
      layer,
      visible: at.visible && !named.some((s) => s.hidden),
      control,
      items,
      code,
      ink: named.at(-1)?.ink ?? at.ink ?? (control ? 'pine' : (code?.ink ?? (items.length ? 'pole' : 'ink'))),
      strokes: marked
        ? strokesOf(code)
        : control
          ? CONTROL_STROKES
          : items.length && !code
            ? UNKNOWN_STROKES
            : SYMBOL_STROKES.dot,
      size:
        (points.light?.[row] ? 0.4 : 1) *
        symbolSize *
        (code?.scale ?? 1) *
        (marked || control || (items.length && !code) ? 1 : 0.5),
      rotation: code?.rotation ?? 0,
    };
  };
}

function addPoints(doc: ProjectDocument, plan: Plan, points: PlanPoints, window: Window): void {
  const lookOf = pointLooks(doc, points);
  for (let row = 0; row < points.x.length; row++) {
    const [x, y] = [points.x[row], points.y[row]];
    if (!inside(x, y, window)) continue;
    const at = lookOf(row);
    if (!at?.visible) continue;
    const { layer, ink, strokes, size, rotation, items, code } = at;
    plan.symbols.push({ layer, ink, strokes, of: symbolOf(at), x, y, size, rotation });
    if (!points.light?.[row]) addLabels(doc, plan, points, row, items, code, x, y);
  }
}

function symbolOf({ control, code, items }: PointLook): SymbolOf {
  if (control) return { kind: 'control' };
  if (code) return code.kind === 'point' ? { kind: 'code', code: code.code } : { kind: 'plain' };
  return items.length ? { kind: 'unknown', code: items[0].code } : { kind: 'plain' };
}

function addLabels(
  doc: ProjectDocument,
  plan: Plan,
  points: PlanPoints,
  row: number,
  items: readonly CodeItem[],
  code: Code | null,
  x: number,
  y: number,
): void {
  const { labels, moved } = doc.drawing;
  const look = layerLooks(doc);
  const key = `${doc.intakes[points.intake[row]].id}:${points.fileRow[row]}`;
  const z = points.z[row];
  const textOf = (part: string): string =>
    part === 'number'
      ? points.number(row)
      : part === 'elevation'
        ? Number.isNaN(z)
          ? ''
          : formatLength(z, doc.settings.unit, doc.settings.elevationDecimals).replace(/[\u2009\u202f]/g, '')
        : part === 'code'
          ? items.map((i) => i.code + i.lineNumber).join(' ')
          : (items.find((i) => part in i.attributes)?.attributes[part] ?? '');
  // A code’s own rule comes before what the drawing shows of all.
  const parts = code?.label ?? (Object.keys(labels) as (keyof typeof labels)[]).filter((p) => labels[p].on);
  for (const part of parts) {
    const rule = labels[part as keyof typeof labels] ?? labels.code;
    const at = look(rule.layer);
    const text = textOf(part);
    if (!text || !at.visible) continue;
    const id = `${key}:${part}`;
    plan.labels.push({ key: id, text, layer: rule.layer, ink: at.ink ?? 'ink', x, y, size: rule.size, corner: rule.corner, moved: moved[id] ?? null }); // prettier-ignore
  }
}

/** Labels of a whole project at its plot scale: `x` and `y` where each line of letters begins, and its height, m. */
export function projectLabels(
  doc: ProjectDocument,
  points: PlanPoints,
): {
  labels: { key: string; layer: string; ink: Ink; text: string; x: number; y: number; height: number }[];
  leftAway: number;
} {
  const plan = drawPlan(doc, points, [], [], { minX: -1e9, minY: -1e9, maxX: 1e9, maxY: 1e9 }, 1);
  const perMm = doc.settings.plotScale / 1000;
  const [ox, oy] = [plan.symbols[0]?.x ?? 0, plan.symbols[0]?.y ?? 0];
  const paper = <T extends { x: number; y: number }>(v: T): T => ({ ...v, x: (v.x - ox) / perMm, y: (v.y - oy) / perMm }); // prettier-ignore
  const { placed, leftAway } = placeLabels(
    plan.labels.map(paper),
    plan.symbols.map((s) => ({ ...paper(s), radius: s.size * 0.45 })),
    { far: false },
  );
  const labels = placed.map(({ key, layer, ink, text, textX, textY, size }) => ({ key, layer, ink, text, x: ox + textX * perMm, y: oy + textY * perMm, height: size * perMm })); // prettier-ignore
  return { labels, leftAway };
}
