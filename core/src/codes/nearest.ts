import type { Code, CodeList } from './code.ts';

/** Codes of the list that one slip of the finger could have meant, nearest first (edit distance with neighbours swapped). */
export function nearestCodes(code: string, list: CodeList, most = 3): Code[] {
  return list.codes
    .map((c) => ({ c, d: slips(code.toUpperCase(), c.code.toUpperCase()) }))
    .filter(({ d, c }) => d <= Math.max(1, Math.floor(c.code.length / 2)))
    .sort((a, b) => a.d - b.d || (a.c.code < b.c.code ? -1 : 1))
    .slice(0, most)
    .map(({ c }) => c);
}

/** Optimal string alignment distance: letters changed, left out, put in or swapped with their neighbour. */
function slips(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > 3) return 9;
  const d: number[][] = [];
  for (let i = 0; i <= a.length; i++) d[i] = [i];
  for (let j = 0; j <= b.length; j++) d[0][j] = j;
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      d[i][j] = Math.min(d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + same);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
    }
  return d[a.length][b.length];
}
