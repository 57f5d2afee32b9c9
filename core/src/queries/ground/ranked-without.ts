/**
 * The size below which a share of the sizes along a line are, without one of them and its neighbours, which on a short line
 * would hide a wrong one. Sorted once, so that a line of a thousand points costs no more than its sorting.
 */
export function rankedWithout(sizes: readonly number[], share: number): (i: number) => number {
  const order = Array.from(sizes, (_, i) => i).sort((a, b) => sizes[a] - sizes[b]);
  const rank = new Uint32Array(sizes.length);
  order.forEach((at, r) => (rank[at] = r));
  return (i) => {
    const out = [i - 1, i, i + 1]
      .filter((k) => k >= 0 && k < sizes.length)
      .map((k) => rank[k])
      .sort((a, b) => a - b);
    const left = sizes.length - out.length;
    if (left === 0) return 0;
    let at = Math.floor(left * share);
    for (const r of out) if (r <= at) at++;
    return sizes[order[at]];
  };
}
