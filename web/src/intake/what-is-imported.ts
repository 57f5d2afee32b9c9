import type { Box, FilePart, TextLayout } from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { useProject } from '../project-state/store.ts';
import { sheetHandle } from '../sheet/handle.ts';
import type { Opened } from '../work/intake.worker.ts';
import type { Shift } from './where-it-lies.tsx';

/** A place of the project in a file's own unit and the order of its columns. */
function placeInFile({ unit, roles }: TextLayout, shift: Shift | null): (x: number, y: number) => [number, number] {
  const [dx, dy] = shift ?? [0, 0];
  const inOrder = roles.indexOf('E') < roles.indexOf('N');
  return (x, y) => {
    const [e, n] = [(x - dx) / METRES_IN_FILE[unit], (y - dy) / METRES_IN_FILE[unit]];
    return inOrder ? [e, n] : [n, e];
  };
}

/** What is seen on the drawing, in a file's own unit and the order of its columns; null in 3D. */
export function windowOf(layout: TextLayout, shift: Shift | null): FilePart['within'] | null {
  const seen = sheetHandle.current?.window();
  if (!seen) return null;
  const place = placeInFile(layout, shift);
  return [...place(seen[0], seen[1]), ...place(seen[2], seen[3])];
}

/** Shows on the drawing what of a file lies between two corners, in its own unit and the order of its columns. */
export function showBox({ unit, roles }: TextLayout, shift: Shift | null, [a, b, c, d]: Box): void {
  const [dx, dy] = shift ?? [0, 0];
  const [x, y] = roles.indexOf('E') < roles.indexOf('N') ? [[a, c], [b, d]] : [[b, d], [a, c]]; // prettier-ignore
  const metres = METRES_IN_FILE[unit];
  sheetHandle.current?.fitTo(
    x.map((v) => v * metres + dx),
    y.map((v) => v * metres + dy),
    false,
  );
}

/** Asks on the drawing for a fence; its corners in a file's own unit and the order of its columns. */
export function askFence(layout: TextLayout, shift: Shift | null, then: (fence: number[]) => void): void {
  const place = placeInFile(layout, shift);
  useProject.getState().trace({
    purpose: 'the fence',
    places: [],
    finish: (ring) => then(ring.flatMap((v, i) => (i % 2 ? [] : place(v, ring[i + 1])))),
  });
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
  if (together) {
    const { points: n, underlay } = together;
    const parts = [n && several(n, 'point'), lines.taken && several(lines.count, 'line')].filter(Boolean);
    return `${parts.join(' and ')}${underlay ? `${parts.length ? ', ' : ''}${underlay.count} as underlay` : ''}`;
  }
  if (lines.taken) return several(lines.count, 'line');
  return isTrial ? 'the whole file' : `${points} points`;
}
