import type { FilePart, TextLayout } from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { sheetHandle } from '../sheet/handle.ts';
import type { Opened } from '../work/intake.worker.ts';
import type { Shift } from './where-it-lies.tsx';

/** What is seen on the drawing, in a file's own unit and the order of its columns; null in 3D. */
export function windowOf({ unit, roles }: TextLayout, shift: Shift | null): FilePart['within'] | null {
  const seen = sheetHandle.current?.window();
  if (!seen) return null;
  const [dx, dy] = shift ?? [0, 0];
  const [w, s, e, n] = seen.map((v, i) => (v - (i % 2 ? dy : dx)) / METRES_IN_FILE[unit]);
  return roles.indexOf('E') < roles.indexOf('N') ? [w, s, e, n] : [s, w, n, e];
}

const several = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;

/** What the button says that is imported. */
export function whatIsImported(
  { surface, lines, together }: Opened,
  points: number,
  isTrial: boolean,
  besides = 0,
): string {
  if (surface !== null) return besides ? `${besides + 1} surfaces` : 'the surface';
  if (together) return [together.points && several(together.points, 'point'), lines.taken && several(lines.count, 'line')].filter(Boolean).join(' and '); // prettier-ignore
  if (lines.taken) return several(lines.count, 'line');
  return isTrial ? 'the whole file' : `${points} points`;
}
