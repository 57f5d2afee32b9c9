import type { ReadPoints } from './text/read.ts';
import { type BookRecord, recordIn } from '#core/book';

/** A field of one row of a received file, by the name that edits know it by. */
export interface ReceivedField {
  row: number;
  field: string;
}
/** A value as the file has it: metres and radians, texts; null where the file says nothing of it. */
export type ReceivedValue = number | string | null;

const OF_RECORD: Record<string, (r: BookRecord) => ReceivedValue> = {
  number: (r) => r.number,
  description: (r) => r.code,
  x: (r) => r.x,
  y: (r) => r.y,
  z: (r) => r.z,
  height: (r) => r.height,
  circle: (r) => r.circle,
  zenith: (r) => r.zenith,
  distance: (r) => r.distance,
  face: (r) => r.face || null,
  role: (r) => r.role || null,
};

/** Values as a file has them, in the order asked for; undefined where the file has no such row or field. */
export function receivedValues(read: ReadPoints, asked: readonly ReceivedField[]): (ReceivedValue | undefined)[] {
  const valueOf = read.book ? ofBook(read.book.records) : ofTable(read);
  return asked.map(({ row, field }) => {
    const value = valueOf(row, field);
    return typeof value === 'number' && !Number.isFinite(value) ? null : value;
  });
}

type ValueOf = (row: number, field: string) => ReceivedValue | undefined;

function ofBook(records: readonly BookRecord[]): ValueOf {
  return (row, field) => {
    const record = recordIn(records, row);
    return record && OF_RECORD[field]?.(record);
  };
}

function ofTable(read: ReadPoints): ValueOf {
  const at = new Map<number, number>();
  read.row.forEach((row, i) => at.set(row, i));
  const columns: Record<string, ArrayLike<number | string>> = { number: read.number, description: read.description, x: read.x, y: read.y, z: read.z }; // prettier-ignore
  return (row, field) => {
    const i = at.get(row);
    return i === undefined ? undefined : columns[field]?.[i];
  };
}
