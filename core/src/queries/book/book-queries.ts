import { formatAngle, formatLength, UNIT_SIGN } from '#core/measure';
import { fileRowOf, type Book, type BookRecord, recordIn, columnsOf } from '#core/book';
import { EARTH_RADIUS, shortcomings, type ReductionNote } from '#core/reduction';
import { makeAnew, type Keep } from '#core/kernel';
import { queryLevelling, queryNetworkOutliers, queryTraverses } from './closure-queries.ts';
import { querySetups } from './setup-queries.ts';
import { gnssLimits, type BookAt, type ReducedBooks, rowsByRecord, type PointTable } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { settleQuery, type Draft, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';

/** What books are asked about: each with its record, and the single cause that explains it best where there is one. */
export function queryBooks(
  doc: ProjectDocument,
  points: PointTable,
  { reduction, books, traverses, network, outliers }: ReducedBooks,
  keep: Keep = makeAnew,
): { queries: Query[]; doubted: ReadonlySet<number>; explains: (book: string, row: number) => boolean } {
  const drafts: Draft[] = [];
  for (const b of books.values()) drafts.push(...ofBook(doc, b, keep));
  const setups = querySetups(doc, points, reduction, books, keep);
  drafts.push(...setups.drafts);
  drafts.push(...queryTraverses(doc, traverses, reduction));
  drafts.push(...queryNetworkOutliers(doc, network, outliers, books, setups.explains), ...queryLevelling(doc, reduction.levelling)); // prettier-ignore
  const said = new Set(drafts.map((d) => d.key));
  for (const note of reduction.notes) {
    const draft = ofNote(doc, note, books.get(note.book)!);
    if (draft && !said.has(draft.key)) drafts.push(draft);
  }
  const rowAt = rowsByRecord(doc, points);
  const queries = drafts.map((d) =>
    settleQuery(doc, {
      ...d,
      rows: d.rows.flatMap((r) => (d.book === undefined ? undefined : rowAt.get(d.book, r)) ?? []),
    }),
  );
  return { queries, doubted: setups.doubted, explains: setups.explains };
}

const base = { stage: 'book' as const, lines: [] as string[] };

/** Records whose distance is level, as they stand; whether it is so is not edited. */
function flatRecords({ book, records }: BookAt): BookRecord[] {
  let places = flatIn.get(book);
  if (!places) flatIn.set(book, (places = [...book.records.keys()].filter((i) => book.records[i].flat !== '')));
  return places.map((i) => records[i]);
}
const flatIn = new WeakMap<Book, number[]>();

/** A level distance from which on curvature applied twice would be seen, m: a millimetre in height. */
const SEEN = 0.001;

/** Level distances alone: places in plan, which is not seen in the field that has no elevation. */
function ofPlan(b: BookAt): Draft[] {
  const inPlan = flatRecords(b).filter((r) => r.flat === 'plan' && Number.isNaN(r.zenith) && !r.deleted);
  if (inPlan.length === 0) return [];
  const [first] = inPlan;
  return [
    {
      ...base,
      book: b.id,
      key: `flat-plan:${b.id}`,
      kind: 'flat-plan',
      weight: 'note',
      text: `${inPlan.length === 1 ? `One sighting of ${b.name} is a level distance` : `${inPlan.length} sightings of ${b.name} are level distances`} without a rise or a vertical angle, the first in row ${fileRowOf(first.row)}: in plan only, without elevation.`,
      evidence: [inPlan.length],
      place: null,
      rows: [],
      remedies: [],
    },
  ];
}

/** Level distances and rises that do not say whether curvature and refraction are applied already. */
function ofFlat(doc: ProjectDocument, b: BookAt): Draft[] {
  if (doc.settings.flatDistances !== 'ask') return [];
  let [count, longest] = [0, 0];
  for (const r of flatRecords(b)) {
    if (r.flat !== 'unsaid' || r.deleted) continue;
    count++;
    longest = Math.max(longest, r.distance);
  }
  const effect = ((1 - doc.settings.refraction) * longest * longest) / (2 * EARTH_RADIUS);
  if (count === 0 || effect < SEEN || (b.book.earth ?? doc.settings.earth) === 'plane') return [];
  const { unit } = doc.settings;
  const length = (m: number, d: number): string => `${formatLength(m, unit, d)} ${UNIT_SIGN[unit]}`;
  const say = (flatDistances: 'geometric' | 'reduced') => ({
    op: 'settings.set' as const,
    settings: { flatDistances },
  });
  return [
    {
      ...base,
      book: b.id,
      key: `flat-unsaid:${b.id}`,
      kind: 'flat-unsaid',
      weight: 'look',
      text: `${count} sightings of ${b.name} are written as level distance and rise, and the book does not say whether curvature and refraction are in them already. They are applied here; if the instrument did so too, the longest (${length(longest, 0)}) is ${length(effect, 3)} too high.`,
      evidence: [count, Math.round(longest)],
      place: null,
      rows: [],
      remedies: [
        { label: 'The instrument has applied them', change: say('reduced') },
        { label: 'They are geometric: apply them here', change: say('geometric') },
      ],
    },
  ];
}

/** The angles of a book as columns: what is seen of their form depends on nothing else. */
function anglesOf({ id, book, records }: BookAt, keep: Keep): { packed: boolean; other: string | null } {
  const { circle, zenith } = columnsOf(records);
  return keep(`angles of ${id}`, [book.angle, circle, zenith], () => ({
    packed: book.angle === 'deg' && readsPacked(book.records),
    other: wrongCircle(book.angle, zenith),
  }));
}

function ofBook(doc: ProjectDocument, b: BookAt, keep: Keep): Draft[] {
  const out: Draft[] = [...ofFlat(doc, b), ...ofPlan(b)];
  const { packed, other } = anglesOf(b, keep);
  if (!b.book.complete)
    out.push({
      ...base,
      book: b.id,
      key: `book-cut-off:${b.id}`,
      kind: 'book-cut-off',
      weight: 'look',
      text: `${b.name} does not end as a book should: it may be cut off after row ${b.book.rows}. Ask for it again, or accept that this is all.`,
      evidence: [b.book.rows],
      place: null,
      rows: [],
      remedies: [],
    });
  if (packed)
    out.push({
      ...base,
      book: b.id,
      key: `angles-packed:${b.id}`,
      kind: 'angles-packed',
      weight: 'stop',
      text: `${b.name} says decimal degrees, but no minute or second of its angles reaches 60: they look like degrees, minutes and seconds written as decimals. Let the sender write “angle dms”, or accept it as a coincidence.`,
      evidence: [b.book.records.length],
      place: null,
      rows: [],
      remedies: [],
    });
  if (other)
    out.push({
      ...base,
      book: b.id,
      key: `angles-gon:${b.id}`,
      kind: 'angles-gon',
      weight: 'stop',
      text: `${b.name} says ${b.book.angle === 'gon' ? 'gon' : 'degrees'}, but ${other}. Let the sender write the right form, or read it by another layout.`,
      evidence: [b.book.records.length],
      place: null,
      rows: [],
      remedies: [],
    });
  return out;
}

const FULL = 6.283185307179586;

/**
 * What shows that degrees were read as gon or gon as degrees: vertical angles of both faces add up to another circle,
 * or lie about another horizon; null where nothing does.
 */
function wrongCircle(angle: Book['angle'], column: Float64Array): string | null {
  const zeniths = [...column].filter((z) => !Number.isNaN(z));
  if (zeniths.length < 6) return null;
  const toDegrees = angle === 'gon' ? 400 / FULL : 360 / FULL;
  // Seen in the form that the book does not say.
  const [right, wrong] = angle === 'gon' ? [100, 90] : [90, 100];
  const first = zeniths.map((z) => z * toDegrees).filter((z) => z < 2 * right);
  const second = zeniths.map((z) => z * toDegrees).filter((z) => z >= 2 * right);
  const middle = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1];
  const one = middle(first);
  if (!(Math.abs(one - wrong) < 3) || Math.abs(one - right) < 4) return null;
  if (second.length === 0)
    return `its vertical angles are about ${wrong}, where the horizon of ${wrong === 100 ? 'gon' : 'degrees'} is`;
  const sum = one + middle(second);
  return Math.abs(sum - 4 * wrong) < 4
    ? `its vertical angles in both faces add up to ${4 * wrong}, a full circle in ${wrong === 100 ? 'gon' : 'degrees'}`
    : null;
}

/** Whether decimals of degrees never show sixty minutes or seconds, in so many angles that it is no chance. */
function readsPacked(records: readonly BookRecord[]): boolean {
  let count = 0;
  for (const r of records)
    for (const angle of [r.circle, r.zenith]) {
      if (Number.isNaN(angle)) continue;
      count++;
      const digits = Math.round(((angle * 180) / 3.141592653589793) * 10_000);
      if (Math.floor(digits / 100) % 100 >= 60 || digits % 100 >= 60) return false;
    }
  return count >= 20;
}

const LOOK = new Set<ReductionNote['kind']>([
  'gnss-spread',
  'gnss-check',
  'typed-differs',
  'turn-unknown',
  'zenith-impossible',
  'face-wrong',
  'level-misclosure',
]);
const NOTE_KIND: Partial<Record<ReductionNote['kind'], Query['kind']>> = {
  'reading-missing': 'reading-missing',
  'turn-unknown': 'circle-turned',
  'zenith-impossible': 'reading-missing',
  'backsight-unknown': 'check-off',
  spread: 'readings-spread',
  'spread-wide': 'readings-spread',
  uncontrolled: 'uncontrolled',
  'typed-differs': 'typed-differs',
  'gnss-poor': 'gnss-poor',
  'gnss-spread': 'gnss-spread',
  'gnss-left': 'gnss-poor',
  'gnss-check': 'check-off',
  'level-misclosure': 'level-misclosure',
  'level-unreached': 'level-misclosure',
  'face-wrong': 'face-wrong',
};

function ofNote(doc: ProjectDocument, note: ReductionNote, b: BookAt): Draft | null {
  const kind = NOTE_KIND[note.kind];
  // Setups that fail say so themselves.
  if (!kind || (note.kind !== 'uncontrolled' && recordIn(b.records, note.row)?.kind === 'setup')) return null;
  const { unit } = doc.settings;
  const length = (m: number): string => `${formatLength(m, unit, 3)} ${UNIT_SIGN[unit]}`;
  const [a, c] = note.values;
  const by =
    note.kind === 'typed-differs' || note.kind === 'gnss-spread' || note.kind === 'gnss-check'
      ? ` by ${length(a)} in plan and ${length(c)} in height`
      : note.kind === 'spread' || note.kind === 'spread-wide'
        ? ` by ${formatAngle(a, doc.settings.angle, 1)} and ${length(c)}`
        : note.kind === 'level-misclosure'
          ? ` by ${length(a)}; ${length(c)} is allowed on ${formatLength(note.values[2], unit, 0)} ${UNIT_SIGN[unit]}. Its heights are not used`
          : '';
  const record = recordIn(b.records, note.row);
  const poor = note.kind === 'gnss-poor' && record?.gnss ? shortcomings(record.gnss, gnssLimits(doc.settings), length) : []; // prettier-ignore
  const said = poor.length ? `${note.text}: poor quality, ${poor.join('; ')}` : note.text;
  const what = said[0].toUpperCase() + said.slice(1);
  const rows = note.kind === 'gnss-spread' ? `rows ${note.rows.map(fileRowOf).reverse().join(' and ')}` : `row ${fileRowOf(note.row)}`; // prettier-ignore
  const stays = TAIL[note.kind]?.(note) ?? '';
  return {
    ...base,
    book: b.id,
    key:
      note.kind === 'gnss-spread'
        ? `${kind}:${b.id}:${note.rows.join('-')}`
        : note.kind === 'gnss-left'
          ? `gnss-left:${b.id}:${note.row}`
          : `${kind}:${b.id}:${note.row}`,
    kind,
    weight: note.kind === 'spread-wide' ? 'stop' : LOOK.has(note.kind) ? 'look' : 'note',
    text: `${what}${by}, ${rows} of ${b.name}.${stays}`,
    evidence: [said, note.values.map((v) => (Number.isNaN(v) ? null : Math.round(v * 1e7)))],
    place: null,
    rows: note.rows,
    remedies: [
      ...faceRemedies(note, b),
      ...otherTargets(note, b),
      ...(note.kind === 'gnss-left'
        ? []
        : [{ label: 'Exclude it', change: editOne(`${b.id}:${note.row}`, { off: true }) }]),
    ],
  };
}

/** What stands behind a note’s sentence: what is done, and what would tell. */
const TAIL: Partial<Record<ReductionNote['kind'], (note: ReductionNote) => string>> = {
  'typed-differs': () => ' Control’s coordinates are used.',
  'spread-wide': ({ others = [] }) =>
    `${others.map((o) => ` The reading in row ${fileRowOf(o.row)} points to ${o.number}.`).join('')} Its point waits.`,
  uncontrolled: () => ' Nothing would show a slip there: one more known point, sighted with its distance, would.',
};

/** Readings that point to another target of their setup, called by its number; or each of them excluded. */
function otherTargets(note: ReductionNote, b: BookAt): Remedy[] {
  if (note.kind !== 'spread-wide') return [];
  const { others = [] } = note;
  const renamed = (rows: { row: number; number: string }[]): Remedy['change'] => ({
    op: 'points.edit',
    edits: Object.fromEntries(rows.map((o) => [`${b.id}:${o.row}`, { set: { number: o.number }, undo: [] }])),
  });
  const names = [...new Set(others.map((o) => o.number))];
  const meant = names.map((n): Remedy => ({ label: `Call ${others.filter((o) => o.number === n).length > 1 ? 'those readings' : 'that reading'} ${n}`, change: renamed(others.filter((o) => o.number === n)) })); // prettier-ignore
  return [
    ...meant,
    ...note.rows.slice(1).map((row): Remedy => ({ label: `Exclude the reading in row ${fileRowOf(row)}`, change: editOne(`${b.id}:${row}`, { off: true }) })), // prettier-ignore
  ];
}

/** The other face for every reading of the pointing that says one. */
function faceRemedies(note: ReductionNote, b: BookAt): Remedy[] {
  if (note.kind !== 'face-wrong') return [];
  const edits = note.rows.flatMap((row) => recordIn(b.records, row) ?? []).filter((r) => r.face !== 0);
  if (edits.length === 0) return [];
  return [
    {
      label: `It was read in face ${3 - edits[0].face}`,
      change: {
        op: 'points.edit',
        edits: Object.fromEntries(edits.map((r) => [`${b.id}:${r.row}`, { set: { face: 3 - r.face }, undo: [] }])),
      },
    },
  ];
}
