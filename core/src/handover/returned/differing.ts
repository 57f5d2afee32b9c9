import { readOwn, type Compared, type Own, type Thing, type Told } from '#core/exchange';

// A drawing of ours that came back, held against what was sent: what differs, pair by pair.

/** One thing in both drawings, or in one of them alone: what of it differs, in words. */
export interface Differing {
  was?: Thing;
  is?: Thing;
  /** What it was to us. */
  own: Own | null;
  what: string[];
}

/** Things that differ, in the order of the drawing that was sent, those that are new behind them. */
export function differingOf(before: readonly Thing[], after: readonly Thing[], compared: Compared): Differing[] {
  const pairs = new Map<string, Differing & { at: number }>();
  const tell = ({ before: i, after: j }: Told, what: string): void => {
    const key = `${i ?? ''} ${j ?? ''}`;
    const found = pairs.get(key);
    if (found) return void found.what.push(what);
    const [was, is] = [i === undefined ? undefined : before[i], j === undefined ? undefined : after[j]];
    const own = readOwn(was?.own);
    pairs.set(key, { was, is, own, what: [what], at: i ?? before.length + (j ?? 0) });
  };
  for (const t of compared.removed) tell(t, 'deleted');
  for (const t of compared.added) tell(t, readOwn(after[t.after ?? -1]?.own) ? 'added, a copy' : 'added');
  for (const t of compared.moved) tell(t, `moved ${t.distance.toFixed(3)} m`);
  for (const t of compared.changed) tell(t, t.what.split('\n').join(' '));
  for (const t of compared.relayered) tell(t, `on layer ${t.to}, was on ${t.from}`);
  for (const g of compared.groups)
    for (const t of g.things)
      tell(t, `rotated by ${((g.angle * 180) / Math.PI).toFixed(4)}° with ${g.things.length - 1} more`);
  return [...pairs.values()].sort((a, b) => a.at - b.at).map(({ at: _, ...pair }) => pair);
}
