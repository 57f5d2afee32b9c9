/** The value that would stand at `at` if values were sorted, from 0; NaN where there is none. The values are moved about. */
export function nthSmallest(values: Float64Array, at: number): number {
  let [from, to] = [0, values.length - 1];
  if (!(at >= 0 && at <= to)) return NaN;
  // Hoare's selection (1961): the part that holds the place is parted again, by the middle of three.
  while (from < to) {
    const pivot = middleOf(values[from], values[(from + to) >> 1], values[to]);
    let [i, k] = [from, to];
    while (i <= k) {
      while (values[i] < pivot) i++;
      while (values[k] > pivot) k--;
      if (i <= k) {
        const swapped = values[i];
        values[i++] = values[k];
        values[k--] = swapped;
      }
    }
    if (at <= k) to = k;
    else if (at >= i) from = i;
    else break;
  }
  return values[at];
}

const middleOf = (a: number, b: number, c: number): number => Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
