import Flatbush from 'flatbush';
import RBush from 'rbush';
import { formatLength } from '#core/measure';
import type { Contour } from '#core/terrain';
import { COLOURS, type ColourName } from '../frame/colours.ts';
import { isNight } from '../frame/night.ts';
import type { Underlay } from '#core/exchange';
import type { Tables } from '../project-state/tables.ts';
import { EM } from '#core/drawing';
import { drawDepths } from './depth-labels.ts';
import { fallArrows } from './fall-arrows.ts';
import type { Settings } from '#core/project';
import type { SheetLabels } from '../work/plot.worker.ts';
import type { SheetLook } from './look.ts';
import type { SheetScene } from './scene.ts';
import { onEachSide } from './sides.ts';
import { textsIn } from './underlay.ts';

/** Most points whose labels are considered in one frame; beyond it the sheet is too small for any. */
const MOST_LABELLED = 4000;

const ink = (name: ColourName): string => COLOURS[name][isNight() ? 1 : 0];

/**
 * Draws labels on a canvas over the scene: point numbers, elevations, codes, and elevations on index
 * contours. A label that would stand on another is left away.
 */
/** A surface that is drawn, by id, and the ink of its contours. */
export interface ShownSurface {
  id: string;
  ink: ColourName;
}

export function drawLabels(
  canvas: HTMLCanvasElement,
  scene: SheetScene,
  tables: Tables | null,
  look: SheetLook,
  settings: Settings,
  plotted: SheetLabels | null = null,
  /** Surfaces that each side of the drawing shows, with the inks of their contours. */
  shown: readonly (readonly ShownSurface[])[] = [],
  /** What lies under the drawing: its texts are read. */
  underlays: readonly Underlay[] = [],
  /** What lies between the two of the comparison that is painted; null where none is. */
  pieces: Float64Array | null = null,
): void {
  const ratio = window.devicePixelRatio;
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, canvas.width, canvas.height);
  if (!tables) return;
  const { sides } = scene;
  onEachSide(context, sides, canvas.height / ratio, (side) => drawSide(context, scene, tables, look, settings, plotted, shown[side] ?? [], underlays, pieces)); // prettier-ignore
}

function drawSide(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  tables: Tables,
  look: SheetLook,
  settings: Settings,
  plotted: SheetLabels | null,
  shown: readonly ShownSurface[],
  underlays: readonly Underlay[],
  pieces: Float64Array | null,
): void {
  const taken = new RBush<{ minX: number; minY: number; maxX: number; maxY: number }>();
  const free = (x: number, y: number, width: number, height: number): boolean => {
    const box = { minX: x, minY: y, maxX: x + width, maxY: y + height };
    if (taken.collides(box)) return false;
    taken.insert(box);
    return true;
  };
  const arrowsOf = look.arrows && !scene.isSpatial && shown[0] ? tables.finders.get(shown[0].id) : undefined;
  if (arrowsOf) fallArrows(context, scene, arrowsOf, free);
  if (look.contours) contourLabels(context, scene, tables, settings, free, shown);
  if (pieces && !scene.isSpatial) drawDepths(context, scene, pieces, settings.unit, free);
  if (look.plotted && plotted && !scene.isSpatial) paperLabels(context, scene, plotted);
  else if (look.points && (look.numbers || look.elevations || look.codes))
    pointLabels(context, scene, tables, look, settings, free);
  underlayLabels(context, scene, underlays, free);
}

/** Smaller letters cannot be read, CSS pixels. */
const SMALLEST = 5;
const indexes = new WeakMap<SheetLabels, Flatbush>();

/** Labels where the drawing has them, as large as on paper at the plot scale. */
function paperLabels(context: CanvasRenderingContext2D, scene: SheetScene, labels: SheetLabels): void {
  if (!labels.index) return;
  let index = indexes.get(labels);
  if (!index) {
    index = Flatbush.from(labels.index!);
    indexes.set(labels, index);
  }
  const largest = labels.size[0] / scene.scale;
  const [minX, minY, maxX, maxY] = scene.view();
  if (largest < SMALLEST || roughly(index, minX, minY, maxX, maxY) > 3 * MOST_LABELLED) return;
  const room = 30 * labels.size[0];
  context.textBaseline = 'alphabetic';
  let font = 0;
  let ink0 = '';
  for (const i of index.search(minX - room, minY - room, maxX, maxY)) {
    const pixels = labels.size[i] / scene.scale;
    if (pixels < SMALLEST) continue;
    if (pixels !== font) {
      font = pixels;
      context.font = `${pixels * EM.mono}px 'IBM Plex Mono', monospace`;
    }
    const colour = ink(labels.ink[i]);
    if (colour !== ink0) {
      ink0 = colour;
      context.fillStyle = colour;
    }
    const at = scene.toScreen({ x: labels.x[i], y: labels.y[i], z: 0 });
    context.fillText(labels.text[i], at.x, at.y);
  }
}

type Free = (x: number, y: number, width: number, height: number) => boolean;

function pointLabels(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  tables: Tables,
  look: SheetLook,
  settings: Settings,
  free: Free,
): void {
  const { points, pointIndex } = tables;
  if (!pointIndex) return;
  const [minX, minY, maxX, maxY] = scene.isSpatial ? [-1e9, -1e9, 1e9, 1e9] : scene.view();
  if (
    scene.isSpatial ? points.x.length > MOST_LABELLED : roughly(pointIndex, minX, minY, maxX, maxY) > 3 * MOST_LABELLED
  )
    return;
  const rows = pointIndex.search(minX, minY, maxX, maxY);
  if (rows.length > MOST_LABELLED) return;
  context.font = "11px 'IBM Plex Mono', monospace";
  context.textBaseline = 'middle';
  rows.sort((a, b) => a - b);
  for (const row of rows) {
    const z = Number.isNaN(points.z[row]) ? scene.origin.z : points.z[row];
    const at = scene.toScreen({ x: points.x[row], y: points.y[row], z });
    if (at.behind) continue;
    const parts: string[] = [];
    if (look.numbers) parts.push(points.number.get(row));
    if (look.codes) parts.push(points.description.get(row).slice(0, 14));
    if (look.elevations && !Number.isNaN(points.z[row])) parts.push(formatLength(points.z[row], settings.unit, 2));
    const text = parts.filter(Boolean).join(' ');
    if (!text) continue;
    const width = text.length * 6.7 + 2;
    if (!free(at.x + 6, at.y - 13, width, 12)) continue;
    context.fillStyle = ink(points.state[row] === 0 ? 'slate' : 'brass');
    context.fillText(text, at.x + 7, at.y - 7);
  }
}

/** Texts of drawings that lie under this one, where there is room beside what is the project's. */
function underlayLabels(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  underlays: readonly Underlay[],
  free: Free,
): void {
  if (underlays.length === 0) return;
  context.font = "11px 'Atkinson Hyperlegible Next', sans-serif";
  context.textBaseline = 'alphabetic';
  context.fillStyle = ink('slate');
  for (const { x, y, z, text } of textsIn(
    underlays,
    scene.isSpatial ? [-1e9, -1e9, 1e9, 1e9] : scene.view(),
    MOST_LABELLED,
  )) {
    // prettier-ignore
    const at = scene.toScreen({ x, y, z: Number.isNaN(z) ? scene.origin.z + scene.meanElevation : z });
    if (!at.behind && free(at.x, at.y - 10, context.measureText(text).width + 2, 12))
      context.fillText(text, at.x, at.y);
  }
}

/** About how many points lie in a box, if they are spread evenly: enough to know that there are far too many. */
function roughly(index: Flatbush, minX: number, minY: number, maxX: number, maxY: number): number {
  const width = Math.min(maxX, index.maxX) - Math.max(minX, index.minX);
  const height = Math.min(maxY, index.maxY) - Math.max(minY, index.minY);
  const area = (index.maxX - index.minX) * (index.maxY - index.minY);
  return width <= 0 || height <= 0 || area <= 0 ? 0 : (index.numItems * width * height) / area;
}

function contourLabels(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  tables: Tables,
  settings: Settings,
  free: Free,
  shown: readonly ShownSurface[],
): void {
  if (scene.isSpatial) return;
  const [minX, minY, maxX, maxY] = scene.view();
  context.font = "600 11px 'IBM Plex Mono', monospace";
  context.textBaseline = 'middle';
  context.textAlign = 'center';
  const decimals = settings.contourInterval < 0.1 ? 2 : settings.contourInterval < 1 ? 1 : 0;
  let budget = MEASURED_A_FRAME;
  const all = shown.flatMap((s) => (tables.contours.get(s.id) ?? []).map((contour) => ({ contour, own: s.ink })));
  for (const { contour, own } of all) {
    if (!contour.index) continue;
    let runs = measured.get(contour);
    if (!runs) {
      if (budget <= 0) {
        // Measured in the next frame.
        scene.draw();
        break;
      }
      budget -= contour.line.length / 2;
      runs = runsOf(contour);
      measured.set(contour, runs);
    }
    const { line } = contour;
    const text = formatLength(
      contour.elevation,
      settings.unit,
      Number.isInteger(contour.elevation) && settings.unit === 'm' ? 0 : decimals,
    );
    const length = runs[runs.length - 1];
    // About one label every 420 pixels along the line, the first after 110.
    for (let next = 110 * scene.scale; next < length; next += 420 * scene.scale) {
      const i = 2 * sideAt(runs, next);
      const [ax, ay, bx, by] = [line[i], line[i + 1], line[i + 2], line[i + 3]];
      if (ax < minX || ax > maxX || ay < minY || ay > maxY) continue;
      const at = scene.toScreen({ x: (ax + bx) / 2, y: (ay + by) / 2, z: contour.elevation });
      const width = text.length * 7 + 6;
      if (!free(at.x - width / 2, at.y - 8, width, 16)) continue;
      let angle = -Math.atan2(by - ay, bx - ax);
      if (angle > Math.PI / 2) angle -= Math.PI;
      if (angle < -Math.PI / 2) angle += Math.PI;
      context.save();
      context.translate(at.x, at.y);
      context.rotate(angle);
      context.fillStyle = ink('leaf');
      context.fillRect(-width / 2, -7, width, 14);
      context.fillStyle = ink(own);
      context.fillText(text, 0, 0);
      context.restore();
    }
  }
  context.textAlign = 'left';
}

/** Vertices of contours that are measured in one frame at most. */
const MEASURED_A_FRAME = 60_000;
const measured = new WeakMap<Contour, Float64Array>();

/** Length along a contour up to each of its vertices, m. */
function runsOf({ line }: Contour): Float64Array {
  const runs = new Float64Array(line.length / 2);
  for (let k = 1; k < runs.length; k++)
    runs[k] = runs[k - 1] + Math.hypot(line[2 * k] - line[2 * k - 2], line[2 * k + 1] - line[2 * k - 1]);
  return runs;
}

/** The side that a length along the line falls on, by halving. */
function sideAt(runs: Float64Array, length: number): number {
  let low = 0;
  let high = runs.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (runs[middle] <= length) low = middle;
    else high = middle;
  }
  return low;
}
