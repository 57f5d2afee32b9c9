import { useMemo } from 'react';
import { recordOfKey, whereOfKey } from '#core/project';
import { RecordRows } from '#core/stages';
import { useParts, useProject } from './store.ts';

/** How a point or record is called now; its row where the tables have no number for it. */
export function useNames(rowOf: (key: string) => number | null): (key: string | null) => string {
  const { state, tables } = useParts('state', 'tables');
  return useMemo(() => {
    const files = new Map(state?.document.intakes.map((i) => [i.id, i.fileName]));
    return (key) => {
      if (key === null) return '';
      const at = rowOf(key);
      if (at !== null && tables!.points.number.get(at)) return tables!.points.number.get(at);
      return whereOfKey(key, files) ?? 'a deleted file';
    };
  }, [state, tables, rowOf]);
}

/** The row of the points' table that a key speaks of now, or null. */
export function useRows(): (key: string) => number | null {
  const tables = useProject((s) => s.tables);
  return useMemo(() => {
    if (!tables) return () => null;
    const { points, intakes } = tables;
    const rows = new RecordRows(points.fileRow, (i) => intakes[points.intake[i]] ?? null);
    return (key: string) => {
      const record = recordOfKey(key);
      return record ? (rows.get(record.intake, record.row) ?? null) : null;
    };
  }, [tables]);
}
