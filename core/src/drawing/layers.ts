import type { Code, Ink } from '#core/codes';
import type { ProjectDocument } from '#core/project';
import { CONTOUR_LAYER } from '#core/exchange';
import { layerOf, pointLayerOf, type Line } from '#core/linework';

/** A layer with what is on it and how it is drawn. */
export interface Layer {
  name: string;
  points: number;
  lines: number;
  labels: boolean;
  visible: boolean;
  locked: boolean;
  /** Null where each code has its own. */
  ink: Ink | null;
  /** mm on paper. */
  width: number;
}

export const CONTROL_LAYER = 'CONTROL';

export interface LayerLook {
  visible: boolean;
  ink: Ink | null;
  width: number;
}

/** How each layer is drawn. */
export function layerLooks(doc: Pick<ProjectDocument, 'drawing'>): (layer: string) => LayerLook {
  const { layers, lineWidth } = doc.drawing;
  return (name) => {
    const own = layers[name] as (typeof layers)[string] | undefined;
    return { visible: own?.visible ?? true, ink: own?.ink ?? null, width: own?.width ?? lineWidth };
  };
}

/** The layer that a point is on: of the first code that marks a point, else of its first code. */
export function layerOfPoint(items: readonly { known: Code | null }[], isControl: boolean): string {
  if (isControl) return CONTROL_LAYER;
  return pointLayerOf((items.find((i) => i.known?.kind === 'point') ?? items[0])?.known ?? undefined);
}

/** All layers of a project with what is on them, by name. */
export function layersOf(
  doc: ProjectDocument,
  lines: readonly Line[],
  pointLayers: Iterable<string>,
  contours: number,
): Layer[] {
  const byCode = new Map(doc.codeList.codes.map((c) => [c.code.toUpperCase(), c]));
  const counts = new Map<string, { points: number; lines: number; labels: boolean }>();
  const at = (name: string) => {
    let entry = counts.get(name);
    if (!entry) counts.set(name, (entry = { points: 0, lines: 0, labels: false }));
    return entry;
  };
  for (const layer of pointLayers) at(layer).points++;
  for (const line of lines) at(layerOf(byCode.get(line.code))).lines++;
  for (const label of Object.values(doc.drawing.labels)) if (label.on) at(label.layer).labels = true;
  if (contours) at(CONTOUR_LAYER).lines += contours;
  const look = layerLooks(doc);
  return [...counts]
    .sort((a, b) => (a[0] < b[0] ? -1 : 1))
    .map(([name, c]) => ({ name, ...c, ...look(name), locked: doc.drawing.layers[name]?.locked ?? false }));
}

export const isControlIntake = (doc: ProjectDocument, intake: number): boolean => doc.intakes[intake]?.purpose === 'control'; // prettier-ignore
