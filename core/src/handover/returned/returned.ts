import { CONTOUR_LAYER, NO_ELEVATION, compareThings, drawingUnit, extentOfThings, readDxf, readOwn, thingsOf, writeDxf, type DxfContent, type Thing } from '#core/exchange'; // prettier-ignore
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { drawingOf, type DrawnResult } from '../drawing.ts';
import { differingOf, type Differing } from './differing.ts';
import { flat, type ReturnedItem, type ReturnedTo } from './item.ts';
import { addedLines, isLine, returnedLines, type SentLine } from './lines.ts';
import { returnedLabels } from './labels.ts';
import { attributeOf, returnedPoints, type MovedPoints } from './points.ts';

// A drawing of ours comes back: what its recipient did to it, thing by thing, and what each would be as a change of the project.

export interface Returned {
  /** Held against the package that it went out in, or against the project as it is now. */
  against: 'package' | 'now';
  unchanged: number;
  items: ReturnedItem[];
  /** Points that are new in it, as rows of text: number, east, north, elevation, code, in metres. */
  newPoints: string[];
  /** Labels that differ otherwise: they are made fresh, and nothing is taken of them. */
  labels: number;
}

/** m; coordinates are rounded when they are written. */
const [SAME_AS_SENT, SAME_AS_NOW] = [5e-4, 1e-3];

/**
 * What came back otherwise. `sent`: the drawing as it went out, where it is to be had; else it is held against the project
 * as it is. Of things without what they were to us, place, shape, layer and text tell which they are.
 */
export function returnedDrawing(
  doc: ProjectDocument,
  result: DrawnResult,
  back: DxfContent,
  sent: DxfContent | null,
  /** Of what came back and of what was sent: a drawing of the older version does not say it. */
  units: { back?: FileUnit; sent?: FileUnit } = {},
): Returned {
  const against = sent ? 'package' : 'now';
  const ours = sent ?? drawnNow(doc, result, back);
  const plain = doc.settings.unit;
  const sentUnit = sent ? (drawingUnit(sent.units) ?? units.sent ?? plain) : plain;
  const backUnit = drawingUnit(back.units) ?? units.back ?? sentUnit;
  const [before, after] = [thingsIn(ours, sentUnit), thingsIn(back, backUnit)];
  const tolerance = sent ? SAME_AS_SENT : SAME_AS_NOW;
  const compared = compareThings(before, after, { tolerance, reach: extentOfThings([...before, ...after]) / 10 });
  const pairs = differingOf(before, after, compared);
  const to: ReturnedTo = { doc, points: result.points, lines: result.linework.lines, tolerance };
  const moved: MovedPoints = new Map();
  const isLabel = (p: Differing): boolean => p.own?.kind === 'label' || readOwn(p.is?.own)?.kind === 'label';
  const known = pairs.filter((p) => !isLabel(p));
  const points = returnedPoints(to, known, moved);
  const lines = returnedLines(to, known, { sent: sentLines(before), moved });
  const labels = returnedLabels(to, pairs, moved);
  const fresh = known.filter((p) => !p.own);
  return {
    against,
    unchanged: compared.unchanged,
    items: [...points, ...lines, ...labels, ...addedLines(to, fresh), ...others(fresh)],
    newPoints: fresh.flatMap(({ was, is }) => (!was && is && isPoint(is) ? [pointRow(is)] : [])),
    labels: pairs.length - known.length - labels.length,
  };
}

/** Triangles and contours are made fresh each time. */
const thingsIn = (content: DxfContent, unit: FileUnit): Thing[] =>
  thingsOf({ kind: 'dxf', content: { ...content, faces: [] }, unit }, METRES_IN_FILE[unit]).filter((t) => !t.layer.startsWith(CONTOUR_LAYER)); // prettier-ignore

/** The project as it is now, drawn as what came back is: symbols where that has them. */
function drawnNow(doc: ProjectDocument, result: DrawnResult, back: DxfContent): DxfContent {
  const own = (of: readonly { own?: string }[], kinds: readonly string[]): boolean => of.some(({ own: said }) => kinds.includes(readOwn(said)?.kind ?? '')); // prettier-ignore
  const stripped = !own([...back.points, ...back.inserts, ...back.polylines], ['point', 'line', 'plan']);
  const parts = {
    points: stripped ? back.points.length + back.inserts.length > 0 : own([...back.points, ...back.inserts], ['point']),
    lines: stripped ? back.polylines.length > 0 : own(back.polylines, ['line', 'plan']),
    contours: false,
    surface: false,
    symbols: back.inserts.length > 0,
  };
  const drawing = drawingOf(doc, result, parts);
  const text = writeDxf(drawing, { version: '2000', unit: doc.settings.unit, decimals: 4, textHeight: 0 });
  return readDxf(new TextEncoder().encode(text));
}

function sentLines(before: readonly Thing[]): ReadonlyMap<string, SentLine> {
  const out = new Map<string, SentLine>();
  for (const t of before) {
    const own = readOwn(t.own);
    if (own?.kind !== 'line' && own?.kind !== 'plan') continue;
    const of = out.get(own.key) ?? { entities: 0, parts: 0 };
    of.entities++;
    of.parts = Math.max(of.parts, own.part + 1);
    out.set(own.key, of);
  }
  return out;
}

const isPoint = ({ kind }: Thing): boolean => kind === 'POINT' || kind === 'INSERT';

/** What is new and neither point nor line, or was drawn beside ours and is gone. */
const others = (pairs: readonly Differing[]): ReturnedItem[] =>
  pairs.flatMap(({ was, is, what }) => {
    const t = is ?? was!;
    if (is && !was && (isLine(is) || isPoint(is))) return [];
    return [{ of: 'other' as const, name: `${t.kind} ${t.text.split('\n')[0]}`.trim(), what: what.join(', '), layer: t.layer, x: t.at[0], y: t.at[1], was: [], is: flat(t.at), choices: [], note: 'Import the drawing to take it.', sure: false }]; // prettier-ignore
  });

function pointRow({ at: [x, y, z], layer, text, kind }: Thing): string {
  const [block] = text.split('\n');
  const number = attributeOf(text, 'NUMBER') ?? '';
  const noHeight = layer.endsWith(NO_ELEVATION) || Number.isNaN(z) || z === 0;
  const clean = (said: string): string => said.replace(/[\t\r\n]+/g, ' ').trim();
  return [clean(number), x.toFixed(4), y.toFixed(4), noHeight ? '' : z.toFixed(4), clean(kind === 'INSERT' ? block : layer)].join('\t'); // prettier-ignore
}
