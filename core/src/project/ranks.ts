/** Where parts of a list stand, by their keys: any numbers that rise. */
export type Ranks = ReadonlyMap<string, number>;

/**
 * Ranks for a list in its order now, from those that its members had (null of a new one): as many as can be stay as they
 * are, the others come between their neighbours. Where there is no room left between two, all are counted anew.
 */
export function ranksOf(had: readonly (number | null)[]): number[] {
  const stays = longestRise(had);
  const out: number[] = [];
  for (let i = 0; i < had.length;) {
    if (stays.has(i)) {
      out.push(had[i++]!);
      continue;
    }
    let end = i;
    while (end < had.length && !stays.has(end)) end++;
    const low = i > 0 ? out[i - 1] : end < had.length ? had[end]! - (end - i + 1) : -1;
    const high = end < had.length ? had[end]! : low + (end - i + 1);
    for (let k = i; k < end; k++) out.push(low + ((k - i + 1) / (end - i + 1)) * (high - low));
    i = end;
  }
  return out.every((rank, i) => i === 0 || rank > out[i - 1]) ? out : had.map((_, i) => i);
}

/** Places of a longest run of ranks that rises: patience sorting. */
function longestRise(had: readonly (number | null)[]): Set<number> {
  const tails: number[] = [];
  const before: number[] = [];
  had.forEach((rank, i) => {
    if (rank === null) return;
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (had[tails[middle]]! < rank) low = middle + 1;
      else high = middle;
    }
    before[i] = low > 0 ? tails[low - 1] : -1;
    tails[low] = i;
  });
  const out = new Set<number>();
  for (let i = tails.at(-1) ?? -1; i >= 0; i = before[i]) out.add(i);
  return out;
}
