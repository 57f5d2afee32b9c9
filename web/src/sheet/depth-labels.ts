import { groundFinder, ofTriangles, type GroundFinder } from '#core/terrain';
import { fromMetres, toMetres, type LengthUnit } from '#core/measure';
import { COLOURS } from '../frame/colours.ts';
import { isNight } from '../frame/night.ts';
import type { SheetScene } from './scene.ts';

/** About so many CSS pixels between labels, and at the most so many of them. */
const APART = 72;
const MOST = 600;
/** Pieces beyond which labels wait for a boundary: to find a place among them would hold the page up. */
const MOST_PIECES = 60_000;
/** m; less is no depth to write down. */
const NO_DEPTH = 0.005;

const finders = new WeakMap<Float64Array, GroundFinder>();

/** Depths of cut (−) and fill (+) at round coordinates, as far apart on the drawing as they can be read. */
export function depthLabels(
  scene: Pick<SheetScene, 'scale' | 'view'>,
  pieces: Float64Array,
  unit: LengthUnit,
): { x: number; y: number; d: number; text: string }[] {
  if (pieces.length === 0 || pieces.length / 9 > MOST_PIECES) return [];
  let finder = finders.get(pieces);
  if (!finder) finders.set(pieces, (finder = groundFinder(ofTriangles(pieces))));
  const step = toMetres(roundUp(fromMetres(APART * scene.scale, unit)), unit);
  const [minX, minY, maxX, maxY] = scene.view();
  const first = (low: number): number => Math.ceil(low / step) * step;
  const out: { x: number; y: number; d: number; text: string }[] = [];
  if (((maxX - minX) / step) * ((maxY - minY) / step) > 4 * MOST) return out;
  for (let x = first(minX); x <= maxX; x += step)
    for (let y = first(minY); y <= maxY && out.length < MOST; y += step) {
      const d = finder.at(x, y)?.elevation;
      if (d === undefined || Math.abs(d) < NO_DEPTH) continue;
      const shown = Math.abs(fromMetres(d, unit)).toFixed(2);
      out.push({ x, y, d, text: `${d < 0 ? '−' : '+'}${shown}` });
    }
  return out;
}

/** Writes them where there is room. */
export function drawDepths(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  pieces: Float64Array,
  unit: LengthUnit,
  free: (x: number, y: number, width: number, height: number) => boolean,
): void {
  context.font = "11px 'IBM Plex Mono', monospace";
  context.textBaseline = 'middle';
  context.textAlign = 'center';
  for (const { x, y, d, text } of depthLabels(scene, pieces, unit)) {
    const at = scene.toScreen({ x, y, z: 0 });
    const width = text.length * 6.7 + 4;
    if (!free(at.x - width / 2, at.y - 7, width, 14)) continue;
    context.fillStyle = inkOf('leaf');
    context.fillRect(at.x - width / 2, at.y - 7, width, 14);
    context.fillStyle = inkOf(d < 0 ? 'cut' : 'fill');
    context.fillText(text, at.x, at.y);
  }
  context.textAlign = 'left';
}

const inkOf = (name: 'leaf' | 'cut' | 'fill'): string => COLOURS[name][isNight() ? 1 : 0];

/** The next 1, 2 or 5 times a power of ten. */
function roundUp(v: number): number {
  const power = 10 ** Math.floor(Math.log10(v));
  return power * ([1, 2, 5, 10].find((k) => k * power >= v * (1 - 1e-9)) ?? 10);
}
