import { PlaceNumbers } from './place-numbers.ts';
import type { DifferencePieces } from './volume.ts';

/**
 * The lines along which cut turns into fill, in plan: x, y …, m, those that close with their first place at the end again.
 * Where what is compared ends, so does the line. Overlays work the corners of their pieces out each by itself: what is no
 * farther apart than rounding is one place.
 */
export function zeroLines(pieces: DifferencePieces): number[][] {
  if (pieces.length === 0) return [];
  const [ox, oy] = pieces;
  const places = new PlaceNumbers();
  const sides = sidesAtZero(pieces, (x, y) => places.of(x - ox, y - oy));
  const at: number[][] = [];
  sides.forEach((side, s) => side.forEach((place) => (at[place] ??= []).push(s)));
  const used = new Uint8Array(sides.length);
  const grow = (line: number[]): void => {
    for (;;) {
      const last = line.at(-1)!;
      const next = at[last].find((s) => !used[s]);
      if (next === undefined) return;
      used[next] = 1;
      line.push(sides[next][0] === last ? sides[next][1] : sides[next][0]);
    }
  };
  return sides.flatMap((side, s) => {
    if (used[s]) return [];
    used[s] = 1;
    const line = [...side];
    grow(line);
    line.reverse();
    grow(line);
    return [line.flatMap((place) => [places.x[place] + ox, places.y[place] + oy])];
  });
}

/** Where pieces pass through zero: the two ends of each, by the numbers of their places. */
function sidesAtZero(pieces: DifferencePieces, place: (x: number, y: number) => number): [number, number][] {
  const sides: [number, number][] = [];
  for (let i = 0; i < pieces.length; i += 9) {
    const ends: number[] = [];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [i + 3 * k, i + 3 * ((k + 1) % 3)];
      const [da, db] = [pieces[a + 2], pieces[b + 2]];
      // A corner at zero is on its upper side, so that a line through it is met once.
      if (da >= 0 === db >= 0) continue;
      const f = da / (da - db);
      ends.push(place(pieces[a] + f * (pieces[b] - pieces[a]), pieces[a + 1] + f * (pieces[b + 1] - pieces[a + 1])));
    }
    if (ends.length === 2 && ends[0] !== ends[1]) sides.push([ends[0], ends[1]]);
  }
  return sides;
}
