/** Index of the last number of a rising list that is not above a value; -1 where all are. */
export function lastAtMost(list: readonly number[], value: number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle] <= value) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
