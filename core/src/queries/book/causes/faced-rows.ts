import { recordsOfSetup } from '#core/book';

/** Sightings of one target, one after the other in its setup, whose faces may be exchanged together. */
export function facedRows(
  records: Parameters<typeof recordsOfSetup>[0],
  setup: number,
  row: number,
): ReturnType<typeof recordsOfSetup> {
  const all = recordsOfSetup(records, setup);
  const at = all.findIndex((r) => r.row === row);
  const [first] = all.slice(at, at + 1);
  let to = at;
  while (to + 1 < all.length && all[to + 1].number === first.number && all[to + 1].role === first.role) to++;
  return all.slice(at, to + 1);
}
