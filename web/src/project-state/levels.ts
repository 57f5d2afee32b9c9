import { useEffect, useState } from 'react';
import type { Pair, Run } from '#core/linework';
import { plotWork } from '../work/workers.ts';
import { useParts } from './store.ts';
import { plotSource, type Tables } from './tables.ts';

export interface Levels {
  pairs: Pair[];
  runs: Run[];
  /** Pairs by the rows of both their points. */
  at: Map<number, Pair>;
}

const made = new WeakMap<Tables, Promise<Levels>>();

/** Pairs of levels and pipe runs of the revision that is shown, worked out beside the page; null until they are. */
export function useLevels(): Levels | null {
  const { state, tables } = useParts('state', 'tables');
  const [levels, setLevels] = useState<Levels | null>(null);
  useEffect(() => {
    if (!state || !tables) return;
    let wanted = true;
    let found = made.get(tables);
    if (!found) {
      found = plotWork()
        .levels(plotSource(tables, state.project.id), state.document)
        .then(({ pairs, runs }) => {
          const at = new Map<number, Pair>();
          for (const p of pairs) {
            at.set(p.upper, p);
            if (p.lower >= 0) at.set(p.lower, p);
          }
          return { pairs, runs, at };
        });
      made.set(tables, found);
    }
    found.then(
      (l) => wanted && setLevels(l),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the document comes with its tables
  }, [tables]);
  return levels;
}
