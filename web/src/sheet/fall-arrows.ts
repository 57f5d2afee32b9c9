import { formatFixed } from '#core/measure';
import type { GroundFinder } from '#core/terrain';
import { COLOURS } from '../frame/colours.ts';
import { isNight } from '../frame/night.ts';
import type { SheetScene } from './scene.ts';

/** One arrow for so many CSS pixels each way. */
const APART = 84;
/** Length of an arrow, and of the two strokes of its head, CSS pixels. */
const LONG = 30;
const HEAD = 6;
/** Ground that is level within this has no arrow, rise over run. */
const LEVEL = 0.0005;

/** Arrows the way the ground falls, on a grid of the screen, each with its gradient in per cent. */
export function fallArrows(
  context: CanvasRenderingContext2D,
  scene: SheetScene,
  ground: GroundFinder,
  free: (x: number, y: number, width: number, height: number) => boolean,
): void {
  const ink = COLOURS.pine[isNight() ? 1 : 0];
  const paper = COLOURS.leaf[isNight() ? 1 : 0];
  context.font = "11px 'IBM Plex Mono', monospace";
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.lineWidth = 1.4;
  context.strokeStyle = ink;
  const { clientHeight } = scene.element;
  const wide = scene.sides[0].width;
  for (let px = APART / 2; px < wide; px += APART)
    for (let py = APART / 2; py < clientHeight; py += APART) {
      const { x, y } = scene.toPlan(px, py);
      const at = ground.at(x, y);
      if (!at || at.slope < LEVEL) continue;
      const [ux, uy] = [Math.sin(at.fallsTo), -Math.cos(at.fallsTo)];
      const [tipX, tipY] = [px + (ux * LONG) / 2, py + (uy * LONG) / 2];
      context.beginPath();
      context.moveTo(px - (ux * LONG) / 2, py - (uy * LONG) / 2);
      context.lineTo(tipX, tipY);
      for (const side of [-1, 1]) {
        context.moveTo(tipX, tipY);
        context.lineTo(tipX - HEAD * (ux + 0.5 * side * uy), tipY - HEAD * (uy - 0.5 * side * ux));
      }
      context.stroke();
      const text = `${formatFixed(at.slope * 100, at.slope < 0.1 ? 1 : 0)} %`;
      const width = context.measureText(text).width + 4;
      const below = py + LONG / 2 + 8;
      if (!free(px - width / 2, below - 7, width, 14)) continue;
      context.globalAlpha = 0.75;
      context.fillStyle = paper;
      context.fillRect(px - width / 2, below - 7, width, 14);
      context.globalAlpha = 1;
      context.fillStyle = ink;
      context.fillText(text, px, below);
    }
  context.textAlign = 'left';
}
