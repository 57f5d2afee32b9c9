import type { Object3D } from 'three';

/** What of the canvas a side of the drawing takes, CSS pixels. */
export interface Side {
  left: number;
  width: number;
}

/** The line between two sides, CSS pixels. */
export const BETWEEN = 2;

/** One side, or two of the same width that show the same part of the site. */
export function sidesOf(width: number, two: boolean): Side[] {
  if (!two) return [{ left: 0, width }];
  const half = Math.max(1, Math.floor((width - BETWEEN) / 2));
  return [
    { left: 0, width: half },
    { left: half + BETWEEN, width: half },
  ];
}

/** A place on the canvas as if it were on the first side. */
export function onFirst(sides: readonly Side[], px: number): number {
  const second = sides[1] as Side | undefined;
  return second && px >= second.left ? px - second.left : px;
}

/** Of what is drawn of several surfaces, shows what is of those that a side shows. */
export function showSurfaces(layer: Object3D, shown: readonly string[] | null): void {
  for (const o of [layer, ...layer.children]) {
    const of = o.userData.surface as string | undefined;
    if (of !== undefined) o.visible = o === layer ? o.visible && isIn(of, shown) : isIn(of, shown);
  }
}

const isIn = (surface: string, shown: readonly string[] | null): boolean => shown === null || shown.includes(surface);

/** Draws on a canvas over the drawing what stands on each side, nothing beyond it. */
export function onEachSide(
  context: CanvasRenderingContext2D,
  sides: readonly Side[],
  height: number,
  draw: (side: number) => void,
): void {
  sides.forEach(({ left, width }, side) => {
    context.save();
    context.beginPath();
    context.rect(left, 0, width, height);
    context.clip();
    context.translate(left, 0);
    draw(side);
    context.restore();
  });
}
