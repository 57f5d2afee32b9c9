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

/**
 * Four levels of the curve at a time: for each of its four turnings and four bits of x and y the eight bits of the
 * position, and from bit 8 on the turning that follows. A turning is 1 where x and y are exchanged, 2 where both run
 * backwards.
 */
const STEPS = makeSteps();

function makeSteps(): Uint16Array {
  const steps = new Uint16Array(4 * 256);
  for (let turning = 0; turning < 4; turning++)
    for (let cell = 0; cell < 256; cell++) {
      let now = turning;
      let key = 0;
      for (let bit = 3; bit >= 0; bit--) {
        let [bx, by] = [(cell >> (4 + bit)) & 1, (cell >> bit) & 1];
        if (now & 1) [bx, by] = [by, bx];
        if (now & 2) [bx, by] = [1 - bx, 1 - by];
        key = key * 4 + ((3 * bx) ^ by);
        if (by === 0) now ^= bx === 1 ? 3 : 1;
      }
      steps[turning * 256 + cell] = key | (now << 8);
    }
  return steps;
}

/** Position of cell (x, y), both 0 … 65535, along a Hilbert curve of order 16. */
function hilbertKey(x: number, y: number): number {
  const first = STEPS[((x >> 8) & 240) | (y >> 12)];
  const second = STEPS[(first & 768) | ((x >> 4) & 240) | ((y >> 8) & 15)];
  const third = STEPS[(second & 768) | (x & 240) | ((y >> 4) & 15)];
  const fourth = STEPS[(third & 768) | ((x << 4) & 240) | (y & 15)];
  return (((first & 255) << 24) | ((second & 255) << 16) | ((third & 255) << 8) | (fourth & 255)) >>> 0;
}

/** Bits that a pass of the sort looks at: so few that its counters stay at hand. */
const DIGIT = 11;

/**
 * Stable radix sort: the permutation that puts 32-bit keys in ascending order. Keys go along with what they are of, so that
 * no pass looks anything up out of order.
 */
function sortByKey(keys: Uint32Array<ArrayBuffer>): Uint32Array {
  const n = keys.length;
  let [from, to] = [new Uint32Array(n), new Uint32Array(n)];
  let [key, keyTo] = [keys, new Uint32Array(n)];
  for (let i = 0; i < n; i++) from[i] = i;
  const size = 1 << DIGIT;
  // How often each digit stands in each place: counted once, before any is moved.
  const counts = new Uint32Array(3 * size);
  for (let i = 0; i < n; i++) {
    const k = keys[i];
    counts[k & (size - 1)]++;
    counts[size + ((k >>> DIGIT) & (size - 1))]++;
    counts[2 * size + (k >>> (2 * DIGIT))]++;
  }
  for (let pass = 0; pass < 3; pass++) {
    const starts = counts.subarray(pass * size, (pass + 1) * size);
    let sum = 0;
    for (let b = 0; b < size; b++) {
      const count = starts[b];
      starts[b] = sum;
      sum += count;
    }
    const shift = pass * DIGIT;
    for (let i = 0; i < n; i++) {
      const k = key[i];
      const at = starts[(k >>> shift) & (size - 1)]++;
      keyTo[at] = k;
      to[at] = from[i];
    }
    [from, to] = [to, from];
    [key, keyTo] = [keyTo, key];
  }
  return from;
}
