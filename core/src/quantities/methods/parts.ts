/** As much of a part is none: what is left over by rounding is no strip of its own. */
const NO_PART = 1e-9;

/** Parts at the most that one call makes: beyond it the size is meant for another site. */
export const MOST_PARTS = 200_000;

/** Places from one side to the other, so far apart; the last part is what is left over, and both sides are met exactly. Throws RangeError beyond 200,000 of them. */
export function cutInParts(from: number, to: number, part: number): number[] {
  const places: number[] = [];
  const count = Math.ceil((to - from) / part - NO_PART);
  if (!(count <= MOST_PARTS)) throw new RangeError(`Parts of ${part} m are too many over ${(to - from).toFixed(0)} m.`);
  for (let i = 0; i < count; i++) places.push(from + i * part);
  return [...places, to];
}
