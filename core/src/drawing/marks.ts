import type { Stroke } from '#core/codes';
import { cos, sin } from '#core/kernel';
import type { Face } from './letters.ts';

export type Colour = readonly [number, number, number];

/** A part of a sheet, mm. */
export interface Frame {
  left: number;
  bottom: number;
  width: number;
  height: number;
}

/** What is put on paper, mm from its lower left corner, y up. The page and the printed sheet draw the same list. */
export type Mark =
  | { kind: 'course'; places: number[]; closed: boolean; width: number; colour: Colour; dash?: readonly number[]; fill?: Colour; inside?: Frame } // prettier-ignore
  /** An outer ring with its holes, filled. */
  | { kind: 'area'; rings: readonly (readonly number[])[]; colour: Colour; inside?: Frame }
  | { kind: 'circle'; x: number; y: number; radius: number; width: number; colour: Colour; filled?: boolean; inside?: Frame } // prettier-ignore
  | TextMark;

export interface TextMark {
  kind: 'text';
  x: number;
  y: number;
  /** Height of its capitals. */
  size: number;
  text: string;
  face: Face;
  colour: Colour;
  align: 'left' | 'right' | 'middle';
  /** Radians, anticlockwise. */
  turn?: number;
}

/** Letters are never smaller on paper, mm: what is smaller is not read in the field. */
export const SMALLEST = 1.8;

export const within = (x: number, y: number, f: Frame): boolean =>
  x >= f.left && x <= f.left + f.width && y >= f.bottom && y <= f.bottom + f.height;

export const boxMark = (f: Frame, width: number, colour: Colour): Mark => ({
  kind: 'course',
  places: [f.left, f.bottom, f.left + f.width, f.bottom, f.left + f.width, f.bottom + f.height, f.left, f.bottom + f.height], // prettier-ignore
  closed: true,
  width,
  colour,
});

/** A symbol of strokes, `half` mm from its middle to its side, turned clockwise. */
export function symbolMarks(
  strokes: readonly Stroke[],
  x: number,
  y: number,
  half: number,
  turn: number,
  colour: Colour,
  inside?: Frame,
): Mark[] {
  const [s, c] = [sin(turn), cos(turn)];
  const at = (px: number, py: number): [number, number] => [x + half * (px * c + py * s), y + half * (py * c - px * s)];
  const clip = inside ? { inside } : {};
  return strokes.map((stroke): Mark => {
    if (stroke.kind === 'circle') {
      const [cx, cy] = at(stroke.x, stroke.y);
      return { kind: 'circle', x: cx, y: cy, radius: stroke.radius * half, width: 0.18, colour, filled: stroke.filled, ...clip }; // prettier-ignore
    }
    const places: number[] = [];
    for (let i = 0; i < stroke.places.length; i += 2) places.push(...at(stroke.places[i], stroke.places[i + 1]));
    return { kind: 'course', places, closed: stroke.closed ?? false, width: 0.18, colour, ...(stroke.filled ? { fill: colour } : {}), ...clip }; // prettier-ignore
  });
}
