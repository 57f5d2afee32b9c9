import { before } from '#core/kernel';
import { pointsIn, type FileContent } from '../content.ts';
import { drawnElevation, linesIn } from '../drawn-lines.ts';
import type { DxfContent } from '../dxf/content.ts';

/** Something that is drawn, as two drawings are compared by it. Lengths in m. */
export interface Thing {
  /** Of DXF as its reference names them; point or line of other files. */
  kind: string;
  layer: string;
  /** What is written in or beside it: a text, the name and attributes of a symbol, a number and a code. */
  text: string;
  closed: boolean;
  /** Its vertices, x, y, z, x …; z is NaN where none is said. The first is its place. */
  at: readonly number[];
  /** Bulges of its sides, or how a symbol is turned and scaled; nothing where there is none. */
  form: readonly number[];
  /** What it was to us when we wrote it, where it says so. */
  own?: string;
}

/** Everything of a file that two drawings are compared by, in its order; `factor` m to its unit. */
export function thingsOf(file: FileContent, factor: number): Thing[] {
  const things = file.kind === 'dxf' ? ofDrawing(file.content) : ofOthers(file);
  return factor === 1 ? things : things.map((t) => ({ ...t, at: t.at.map((v) => v * factor) }));
}

/** How far the places of things go, the wider way, m. */
export function extentOfThings(things: readonly Thing[]): number {
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { at } of things) {
    box[0] = Math.min(box[0], at[0]);
    box[1] = Math.min(box[1], at[1]);
    box[2] = Math.max(box[2], at[0]);
    box[3] = Math.max(box[3], at[1]);
  }
  return things.length ? Math.max(box[2] - box[0], box[3] - box[1]) : 0;
}

function ofDrawing({ points, polylines, curves, faces, texts, inserts, hatches }: DxfContent): Thing[] {
  const none: readonly number[] = [];
  const place = ({ x, y, z }: { x: number; y: number; z: number }): number[] => [x, y, z];
  const line = (l: DxfContent['polylines'][number]): Thing => ({
    kind: l.kind,
    layer: l.layer,
    text: '',
    closed: l.closed,
    at: l.x.flatMap((x, i) => [x, l.y[i], drawnElevation(l, i)]),
    form: l.bulge.some((b) => b !== 0) ? l.bulge : none,
    ...ownOf(l),
  });
  return [
    ...points.map((p): Thing => ({
      kind: p.kind,
      layer: p.layer,
      text: '',
      closed: false,
      at: place(p),
      form: none,
      ...ownOf(p),
    })),
    ...polylines.map(line),
    ...curves.map(({ kind, layer, closed, curve }): Thing => ({ kind, layer, text: '', closed, at: curve.control, form: curve.weights })), // prettier-ignore
    ...faces.map(({ kind, layer, corners }): Thing => ({ kind, layer, text: '', closed: true, at: corners, form: none })), // prettier-ignore
    ...texts.map((t): Thing => ({ kind: t.kind, layer: t.layer, text: t.text, closed: false, at: place(t), form: none, ...ownOf(t) })), // prettier-ignore
    ...inserts.map((i): Thing => ({ kind: i.kind, layer: i.layer, text: symbolText(i), closed: false, at: place(i), form: [i.rotation, ...i.scale], ...ownOf(i) })), // prettier-ignore
    ...hatches.flatMap(({ kind, layer, rings }) => rings.map((r): Thing => ({ ...line(r), kind, layer, closed: true }))), // prettier-ignore
  ].filter((t) => t.at.length > 0);
}

/** Without the package that it went out in: it is the same thing in all of them. */
const ownOf = ({ own }: { own?: string }): Pick<Thing, 'own'> => (own === undefined ? {} : { own: before(own, '\n') });

const symbolText = ({ block, attributes }: DxfContent['inserts'][number]): string =>
  [block, ...Object.keys(attributes).sort().map((k) => `${k}=${attributes[k]}`)].join('\n'); // prettier-ignore

function ofOthers(file: Exclude<FileContent, { kind: 'dxf' }>): Thing[] {
  const points = pointsIn(file).map(
    (p): Thing => ({ kind: 'point', layer: p.description, text: p.number, closed: false, at: [p.x, p.y, p.z], form: [] }), // prettier-ignore
  );
  const lines = linesIn(file).map(
    (l): Thing => ({ kind: 'line', layer: l.code, text: '', closed: l.closed, at: l.x.flatMap((x, i) => [x, l.y[i], l.z[i]]), form: [] }), // prettier-ignore
  );
  return [...points, ...lines];
}
