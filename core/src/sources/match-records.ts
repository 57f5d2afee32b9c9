import type { BookRecord } from '#core/book';
import type { ReadPoints } from '#core/exchange';

// A job that is exported again has more records, fewer, or the same ones in other rows. What a person did to a record
// finds it again by what the record is: when it was observed, of what, from where, with which readings; never by its row.

/** The row that each row of an earlier export has in a later one; rows that are in one of them alone are left out. */
export function matchRecords(before: ReadPoints, after: ReadPoints): Map<number, number> {
  const [old, now] = [identitiesOf(before), identitiesOf(after)];
  const out = new Map<number, number>();
  const taken = new Set<number>();
  // The strictest sign first; each later one sees only what is left on both sides.
  for (let sign = 0; sign < SIGNS; sign++) {
    const [was, is] = [bySign(old, sign, (i) => out.has(old.rows[i])), bySign(now, sign, (i) => taken.has(now.rows[i]))]; // prettier-ignore
    for (const [key, places] of was) {
      const found = is.get(key);
      // Several of one sign are told apart by their order, where there are as many of them as before.
      if (!found || (found.length !== places.length && sign > 0)) continue;
      for (let k = 0; k < Math.min(places.length, found.length); k++) {
        out.set(old.rows[places[k]], now.rows[found[k]]);
        taken.add(now.rows[found[k]]);
      }
    }
  }
  return out;
}

/** Everything it says; when and what; from where and what. */
const SIGNS = 3;

interface Identities {
  rows: ArrayLike<number>;
  /** A sign of a place; empty where it says too little. */
  sign: (place: number, which: number) => string;
}

function bySign({ rows, sign }: Identities, which: number, isFound: (place: number) => boolean): Map<string, number[]> {
  const out = new Map<string, number[]>();
  for (let i = 0; i < rows.length; i++) {
    if (isFound(i)) continue;
    const key = sign(i, which);
    if (key === '') continue;
    const places = out.get(key);
    if (places) places.push(i);
    else out.set(key, [i]);
  }
  return out;
}

const identitiesOf = (read: ReadPoints): Identities => (read.book ? ofRecords(read.book.records) : ofPoints(read));

function ofRecords(records: readonly BookRecord[]): Identities {
  // A setup is which occupation of its station; a sighting depends on its setup.
  const occupations = new Map<string, number>();
  let setup = '';
  const from = records.map((r) => {
    if (r.kind !== 'setup') return setup;
    const n = (occupations.get(r.number) ?? 0) + 1;
    occupations.set(r.number, n);
    return (setup = JSON.stringify([r.number, n]));
  });
  const what = (i: number): unknown[] => [records[i].kind, records[i].number, records[i].role, records[i].face, records[i].round]; // prettier-ignore
  return {
    rows: records.map((r) => r.row),
    sign: (i, which) => {
      const r = records[i];
      if (which === 0) return JSON.stringify([from[i], what(i), r.time, r.code, r.height, r.circle, r.zenith, r.distance, r.x, r.y, r.z, r.text]); // prettier-ignore
      if (which === 1) return r.time === '' ? '' : JSON.stringify([what(i), r.time]);
      return JSON.stringify([from[i], what(i)]);
    },
  };
}

function ofPoints({ row, number, x, y, z, description }: ReadPoints): Identities {
  return {
    rows: row,
    sign: (i, which) => {
      if (which === 0) return JSON.stringify([number[i], x[i], y[i], z[i], description[i]]);
      if (which === 1) return JSON.stringify([number[i], x[i], y[i]]);
      return number[i] === '' ? '' : JSON.stringify([number[i]]);
    },
  };
}
