import type { SurfaceRow } from '#core/project';

/** What is pointed out for an edit before its figures are typed. */
export interface Pointed {
  ring: number[];
  places: { x: number; y: number; z: number }[];
  /** Points by their keys, and lines by theirs. */
  points: string[];
  lines: string[];
}
export const NOTHING_POINTED: Pointed = { ring: [], places: [], points: [], lines: [] };

/** A figure that is asked for: a length in the project's unit, or a plain number. */
export interface Asks {
  name: string;
  typed: string;
  plain?: boolean;
}

/** What somebody can do to a surface by hand. */
export const EDIT_NAMES = {
  spot: 'add a spot height',
  'move-point': 'move the selected point',
  'move-area': 'move the points of an area',
  'omit-point': 'delete the selected point',
  'omit-area': 'delete the points of an area',
  raise: 'raise or lower an area',
  tilt: 'tilt an area onto three heights',
  'even-out': 'even out an area',
  'breakline-typed': 'draw a breakline, elevations typed',
  'breakline-surface': 'draw a breakline on the surface',
  'breakline-gradient': 'draw a breakline by gradient',
  'raise-line': 'raise or lower the selected line',
  swap: 'swap a side',
  'delete-triangles': 'delete a triangle',
  'found-boundary': 'find the boundary by longest side',
  rim: 'find the boundary by itself',
  thin: 'thin to a height error',
  'fill-level': 'fill level parts between contours',
} as const;
export type EditKind = keyof typeof EDIT_NAMES;

/** A row before it has an identity. */
export type HandRow = {
  [K in SurfaceRow['kind']]: Omit<Extract<SurfaceRow, { kind: K }>, 'id' | 'on'>;
}[SurfaceRow['kind']];

/**
 * The row that was asked for; a sentence where a figure makes no sense.
 * @param values m, or the number itself where it is a plain one
 */
export function rowOf(
  kind: EditKind,
  { ring, places, points, lines }: Pointed,
  values: readonly number[],
): HandRow | string {
  switch (kind) {
    case 'raise':
      return values[0] === 0 ? ZERO : { kind, ring, by: values[0] };
    case 'raise-line':
      return values[0] === 0 ? ZERO : { kind: 'raise-lines', lines, by: values[0] };
    case 'move-point':
    case 'move-area': {
      const [x, y, z] = values;
      return x === 0 && y === 0 && z === 0 ? ZERO : { kind: 'move', points, by: { x, y, z } };
    }
    case 'omit-point':
    case 'omit-area':
      return { kind: 'omit', points };
    case 'tilt':
      return { kind, ring, onto: places.map((p, i) => ({ ...p, z: values[i] })) };
    case 'even-out': {
      const [strength, rounds] = values;
      if (!(strength > 0 && strength <= 100)) return 'The strength lies between 0 and 100 %.';
      if (!(Number.isInteger(rounds) && rounds >= 1 && rounds <= 50)) return 'Rounds are a whole number up to 50.';
      return { kind, ring, strength: strength / 100, rounds };
    }
    case 'breakline-surface':
      return { kind: 'breakline', course: places };
    case 'breakline-typed':
      return { kind: 'breakline', course: places.map((p, i) => ({ ...p, z: values[i] })) };
    case 'breakline-gradient': {
      const [start, gradient] = values;
      if (!(Math.abs(gradient) <= 1000)) return 'A gradient is between −1000 and 1000 %.';
      return { kind: 'breakline', course: byGradient(places, start, gradient / 100) };
    }
    case 'thin':
      return values[0] >= 0.001 && values[0] <= 100 ? { kind, error: values[0] } : 'A height error is at least a millimetre.'; // prettier-ignore
    case 'fill-level':
      return values[0] >= 0 && values[0] < 100 ? { kind, summit: values[0] / 100 } : 'A summit rises by 0 to 99 % of the step to the next contour.'; // prettier-ignore
    case 'found-boundary':
      return values[0] >= 0.01 ? { kind, longest: values[0] } : 'The longest side is at least a centimetre.';
    case 'spot':
      return { kind, x: places[0].x, y: places[0].y, z: values[0] };
    case 'rim':
    case 'swap':
    case 'delete-triangles':
      return 'This edit asks for no figures.';
  }
}
const ZERO = 'Type by how much: zero changes nothing.';

/** A course whose elevations rise from a start by a gradient, rise over run, along it. */
export function byGradient(course: readonly { x: number; y: number }[], start: number, gradient: number) {
  let along = 0;
  return course.map(({ x, y }, i) => {
    if (i > 0) along += Math.hypot(x - course[i - 1].x, y - course[i - 1].y);
    return { x, y, z: start + gradient * along };
  });
}
