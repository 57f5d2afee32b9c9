/**
 * The order in which a Hilbert curve over the points' extent visits them, so that neighbours in the
 * order are neighbours in plan. Returns a permutation of 0 … n−1. Points with a coordinate that is
 * not finite must be left out by the caller.
 */
export function hilbertOrder(x: Float64Array, y: Float64Array): Uint32Array {
  const n = x.length;
  let minX = Infinity;
  let minY = Infinity;
  let maxX = -Infinity;
  let maxY = -Infinity;
  for (let i = 0; i < n; i++) {
    if (x[i] < minX) minX = x[i];
    if (x[i] > maxX) maxX = x[i];
    if (y[i] < minY) minY = y[i];
    if (y[i] > maxY) maxY = y[i];
  }
  const scaleX = maxX > minX ? 65535 / (maxX - minX) : 0;
  const scaleY = maxY > minY ? 65535 / (maxY - minY) : 0;
  const keys = new Uint32Array(n);
  for (let i = 0; i < n; i++) {
    keys[i] = hilbertKey(Math.floor((x[i] - minX) * scaleX), Math.floor((y[i] - minY) * scaleY));
  }
  return sortByKey(keys);
}

/** Position of cell (x, y), both 0 … 65535, along a Hilbert curve of order 16. */
function hilbertKey(x: number, y: number): number {
  let key = 0;
  for (let s = 32768; s > 0; s >>= 1) {
    const rx = (x & s) > 0 ? 1 : 0;
    const ry = (y & s) > 0 ? 1 : 0;
    key = key * 4 + ((3 * rx) ^ ry);
    if (ry === 0) {
      if (rx === 1) {
        x = 65535 - x;
        y = 65535 - y;
      }
      const swap = x;
      x = y;
      y = swap;
    }
  }
  return key;
}

/** Stable radix sort: the permutation that puts 32-bit keys in ascending order. */
function sortByKey(keys: Uint32Array): Uint32Array {
  const n = keys.length;
  let from = new Uint32Array(n);
  let to = new Uint32Array(n);
  for (let i = 0; i < n; i++) from[i] = i;
  const starts = new Uint32Array(65536);
  for (let shift = 0; shift < 32; shift += 16) {
    starts.fill(0);
    for (let i = 0; i < n; i++) starts[(keys[i] >>> shift) & 65535]++;
    let sum = 0;
    for (let b = 0; b < 65536; b++) {
      const count = starts[b];
      starts[b] = sum;
      sum += count;
    }
    for (let i = 0; i < n; i++) {
      const id = from[i];
      to[starts[(keys[id] >>> shift) & 65535]++] = id;
    }
    [from, to] = [to, from];
  }
  return from;
}
