import { fileRowOf } from '#core/book';

/** What a key `intake:row` speaks of; null of a key of another kind, as a traverse’s is. */
export function recordOfKey(key: string): { intake: string; row: number } | null {
  const at = key.lastIndexOf(':');
  const row = Number(key.slice(at + 1));
  return at > 0 && Number.isFinite(row) && at + 1 < key.length ? { intake: key.slice(0, at), row } : null;
}

/** A key in words: `row 12 of kerb.csv`, the traverse by its stations; null where its file is gone. */
export function whereOfKey(key: string, files: ReadonlyMap<string, string>): string | null {
  if (key.startsWith('traverse:')) return key.replace(':', ' ');
  const record = recordOfKey(key);
  const file = record && files.get(record.intake);
  return record && file !== null && file !== undefined ? `row ${fileRowOf(record.row)} of ${file}` : null;
}
