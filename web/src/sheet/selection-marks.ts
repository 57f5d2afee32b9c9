import type { Place } from './place.ts';
import { COLOURS, type ColourName } from '../frame/colours.ts';
import { isNight } from '../frame/night.ts';
import { onEachSide, type Side } from './sides.ts';

/** What is selected, as it is drawn over the drawing: courses x, y, z … and rings round points x, y. */
export interface SelectionMarks {
  courses: { places: readonly number[]; ink: ColourName; width: number }[];
  rings: readonly number[];
}

export const NO_MARKS: SelectionMarks = { courses: [], rings: [] };

/** Of the drawing: where a place stands on the canvas, CSS pixels. */
export interface Shown {
  toScreen(place: Place): { x: number; y: number; behind: boolean };
  origin: Place;
  meanElevation: number;
  sides: readonly Side[];
}

const RING = { radius: 7.5, width: 2.4 };

/** Draws what is selected on a canvas of its own: stepping from row to row draws nothing else anew. */
export function drawSelection(canvas: HTMLCanvasElement, shown: Shown, marks: SelectionMarks): void {
  const ratio = window.devicePixelRatio;
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, canvas.width, canvas.height);
  onEachSide(context, shown.sides, canvas.height / ratio, () => drawMarks(context, shown, marks));
}

function drawMarks(context: CanvasRenderingContext2D, shown: Shown, { courses, rings }: SelectionMarks): void {
  const ink = (name: ColourName): string => COLOURS[name][isNight() ? 1 : 0];
  context.lineJoin = context.lineCap = 'round';
  for (const { places, ink: name, width } of courses) {
    context.strokeStyle = ink(name);
    context.lineWidth = width;
    context.beginPath();
    let drawing = false;
    for (let i = 0; i + 2 < places.length; i += 3) {
      const at = shown.toScreen({ x: places[i], y: places[i + 1], z: places[i + 2] });
      if (at.behind) drawing = false;
      else if (drawing) context.lineTo(at.x, at.y);
      else context.moveTo(at.x, at.y);
      drawing = !at.behind;
    }
    context.stroke();
  }
  context.strokeStyle = ink('pole');
  context.lineWidth = RING.width;
  const z = shown.origin.z + shown.meanElevation;
  for (let i = 0; i + 1 < rings.length; i += 2) {
    const at = shown.toScreen({ x: rings[i], y: rings[i + 1], z });
    if (at.behind) continue;
    context.beginPath();
    context.arc(at.x, at.y, RING.radius, 0, 2 * Math.PI);
    context.stroke();
  }
}
