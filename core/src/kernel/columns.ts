/** Places as x y z x y z … as a column of each. */
export function columnsOf(places: ArrayLike<number>): [x: number[], y: number[], z: number[]] {
  const out: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < places.length; i++) out[i % 3].push(places[i]);
  return out;
}
