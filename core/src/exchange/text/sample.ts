/** Longer rows are cut: what a layout is guessed from needs no more. */
const LONGEST = 2000;

/**
 * Rows to guess a layout from: the first ones, and as many again taken evenly from the rest of the file, since the
 * first thousand points of a day may all be of one kind.
 */
export function sampleRows(text: string, count = 200): string[] {
  const rows: string[] = [];
  let from = 0;
  const take = (): void => {
    let to = text.indexOf('\n', from);
    if (to < 0) to = text.length;
    rows.push(text.slice(from, Math.min(to, from + LONGEST)).replace(/\r$/, ''));
    from = to + 1;
  };
  while (rows.length < count / 2 && from < text.length) take();
  const step = (text.length - from) / (count / 2);
  // What is left is short enough to be taken whole, or long enough to step through.
  for (let at = from; rows.length < count && from < text.length; at += step) {
    const next = text.indexOf('\n', Math.max(from, Math.floor(at)) - 1) + 1;
    if (next <= 0) break;
    from = Math.max(from, next);
    if (from < text.length) take();
  }
  return rows;
}
