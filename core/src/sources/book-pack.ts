import { stringColumn, stringsOf, type Columns, type StringColumn } from '#core/kernel';
import { emptyRecord, FLAT_FORMS, RECORD_KINDS, ROLES, type Book, type BookRecord, type GnssQuality } from '#core/book';

const LENGTHS = [
  'height',
  'circle',
  'zenith',
  'distance',
  'x',
  'y',
  'z',
  'temperature',
  'pressure',
  'humidity',
  'ppm',
] as const;
const TEXTS = ['time', 'number', 'code', 'instrument', 'target', 'text'] as const;

/** A book's records as columns, beside what its head says. */
export function bookColumns(book: Book): Columns {
  const { records, ...head } = book;
  const columns: Columns = {
    'book.head': stringColumn([JSON.stringify(head)]),
    'book.row': Float64Array.from(records, (r) => r.row),
    'book.kind': Uint8Array.from(records, (r) => RECORD_KINDS.indexOf(r.kind)),
    'book.role': Uint8Array.from(records, (r) => ROLES.indexOf(r.role)),
    'book.face': Uint8Array.from(records, (r) => r.face),
    'book.round': Uint32Array.from(records, (r) => r.round),
    'book.deleted': Uint8Array.from(records, (r) => (r.deleted ? 1 : 0)),
    'book.flat': Uint8Array.from(records, (r) => FLAT_FORMS.indexOf(r.flat)),
    'book.sd': stringColumn(
      records.map((r) => (r.sd ? JSON.stringify([r.sd.direction, r.sd.zenith, r.sd.distance]) : '')),
    ),
    'book.gnss': stringColumn(records.map((r) => (r.gnss ? JSON.stringify(r.gnss) : ''))),
  };
  for (const field of LENGTHS) columns[`book.${field}`] = Float64Array.from(records, (r) => r[field]);
  for (const field of TEXTS) columns[`book.${field}`] = stringColumn(records.map((r) => r[field]));
  return columns;
}

/** The book of a block, or undefined where there is none. */
export function bookOfColumns(c: Columns): Book | undefined {
  if (!c['book.head']) return undefined;
  const text = (field: string): string[] => stringsOf(c[`book.${field}`] as StringColumn);
  const head = JSON.parse(text('head')[0]) as Omit<Book, 'records'>;
  const lengths = LENGTHS.map((f) => [f, c[`book.${f}`] as Float64Array] as const);
  const texts = TEXTS.map((f) => [f, text(f)] as const);
  const gnss = text('gnss');
  const deviations = text('sd');
  const rows = c['book.row'] as Float64Array;
  const records = Array.from(rows, (row, i): BookRecord => {
    // All records are made alike, so that the loops over them find every field in one place.
    const record = emptyRecord(RECORD_KINDS[(c['book.kind'] as Uint8Array)[i]], row);
    record.deleted = (c['book.deleted'] as Uint8Array)[i] === 1;
    record.role = ROLES[(c['book.role'] as Uint8Array)[i]];
    record.face = (c['book.face'] as Uint8Array)[i];
    record.round = (c['book.round'] as Uint32Array)[i];
    record.flat = FLAT_FORMS[(c['book.flat'] as Uint8Array)[i]];
    record.sd = deviations[i] ? readDeviation(deviations[i]) : null;
    record.gnss = gnss[i] ? readQuality(gnss[i]) : null;
    for (const [field, values] of lengths) record[field] = values[i];
    for (const [field, values] of texts) record[field] = values[i];
    return record;
  });
  return { ...head, records };
}

function readDeviation(json: string): BookRecord['sd'] {
  const [direction, zenith, distance] = (JSON.parse(json) as (number | null)[]).map((v) => v ?? NaN);
  return { direction, zenith, distance };
}

/** JSON knows no NaN: what was not said comes back as null. */
export function readQuality(json: string): GnssQuality {
  const q = JSON.parse(json) as Record<string, unknown>;
  for (const [key, value] of Object.entries(q)) if (value === null && key !== 'covariance') q[key] = NaN;
  return q as unknown as GnssQuality;
}
