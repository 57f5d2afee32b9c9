/** Repeatable random numbers in 0 … 1. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

export interface Cloud {
  x: Float64Array;
  y: Float64Array;
  /** The same, x, y, x, y … as the peers take them. */
  xy: Float64Array;
  /** Breakline segments as pairs. */
  segments: Int32Array;
}

const LINE = 100;

/** n points in a square kilometre, a share of them on wavy lines of 100 points from west to east. */
export function cloud(n: number, onLines: number): Cloud {
  const next = random(n + 1);
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  const segments: number[] = [];
  const lines = Math.floor((n * onLines) / LINE);
  for (let l = 0; l < lines; l++)
    for (let k = 0; k < LINE; k++) {
      const i = l * LINE + k;
      x[i] = ((k + 0.5) * 1000) / LINE;
      y[i] = ((l + 0.5 + 0.35 * Math.sin(k * 0.4)) * 1000) / lines;
      if (k) segments.push(i - 1, i);
    }
  for (let i = lines * LINE; i < n; i++) {
    x[i] = next() * 1000;
    y[i] = next() * 1000;
  }
  const xy = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    xy[2 * i] = x[i];
    xy[2 * i + 1] = y[i];
  }
  return { x, y, xy, segments: Int32Array.from(segments) };
}
