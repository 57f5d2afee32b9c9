// What of a drawing lies under the project's own: it is seen, and is never a point, a line or part of a surface.

/** What a thing of an underlay is. */
export const UNDER = { line: 0, closed: 1, point: 2, text: 3 } as const;

/** Things as columns, metres; a missing elevation is NaN. */
export interface Underlay {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Where each thing begins, and where the last one ends. */
  starts: Uint32Array;
  /** One of UNDER, of each thing. */
  kinds: Uint8Array;
  /** What a text says; the layer of anything else. */
  names: string[];
}

/** Both ends of each side of an underlay's lines, one after another; of every so many-th line, so that they are about as many as asked. */
export function sidesOfUnderlay(
  { x, y, z, starts, kinds }: Underlay,
  most = Infinity,
): Record<'x' | 'y' | 'z', Float64Array> {
  const step = Math.max(1, Math.ceil(x.length / most));
  const ends: number[] = [];
  for (let t = 0; t < kinds.length; t += step) {
    if (kinds[t] > UNDER.closed) continue;
    for (let i = starts[t] + 1; i < starts[t + 1]; i++) ends.push(i - 1, i);
    const last = starts[t + 1] - 1;
    if (kinds[t] === UNDER.closed) ends.push(last, starts[t]);
  }
  const [xs, ys, zs] = [x, y, z].map((v) => Float64Array.from(ends, (i) => v[i]));
  return { x: xs, y: ys, z: zs };
}
