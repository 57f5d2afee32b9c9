const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];

const timed = async (work: () => unknown): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};

/**
 * Median milliseconds of each of several works, in three rounds of five one after the other: an edit is not made right
 * behind a rebuilding, whose garbage would be counted with it, and each round has the machine as the others have it.
 */
export async function mediansOf<K extends string>(works: Record<K, () => unknown>): Promise<Record<K, number>> {
  const times = Object.fromEntries(Object.keys(works).map((k) => [k, [] as number[]])) as Record<K, number[]>;
  for (let round = 0; round < 3; round++)
    for (const k of Object.keys(works) as K[]) for (let i = 0; i < 5; i++) times[k].push(await timed(works[k]));
  return Object.fromEntries(Object.entries<number[]>(times).map(([k, v]) => [k, median(v)])) as Record<K, number>;
}
