import { useEffect, useState } from 'react';
import type { PointSet, ProjectDocument } from '#core/project';
import { useParts } from './store.ts';
import { plotSource, type Tables } from './tables.ts';
import { plotWork } from '../work/workers.ts';

const made = new WeakMap<Tables, Map<string, Promise<Uint8Array>>>();

/** Which rows belong to a set, worked out beside the page; kept while the tables and the rule stay. */
export function rowsOfSet(set: PointSet, doc: ProjectDocument, tables: Tables, project: string): Promise<Uint8Array> {
  let kept = made.get(tables);
  if (!kept) made.set(tables, (kept = new Map()));
  const id = JSON.stringify([set.rule, set.more, set.without, set.byHandOnly]);
  let rows = kept.get(id);
  if (!rows) {
    rows = plotWork().members(plotSource(tables, project), doc, set);
    kept.set(id, rows);
  }
  return rows;
}

/** Members of several sets by their names; null until they are known. */
export function useSets(sets: readonly PointSet[]): ReadonlyMap<string, Uint8Array> | null {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const [rows, setRows] = useState<ReadonlyMap<string, Uint8Array> | null>(null);
  const key = JSON.stringify(sets.map((s) => [s.id, s.rule, s.more, s.without, s.byHandOnly]));
  useEffect(() => {
    if (!state || !tables) return;
    let wanted = true;
    Promise.all(sets.map(async (s) => [s.id, await rowsOfSet(s, state.document, tables, id)] as const)).then(
      (list) => wanted && setRows(new Map(list)),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `key` says all that counts of the sets; the document comes with its tables
  }, [key, tables, id]);
  return rows;
}
