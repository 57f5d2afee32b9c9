import { dayOf, type Book, type BookRecord, replaceRecords } from '#core/book';
import type { ReadPoints } from '#core/exchange';
import { makeAnew, type Keep } from '#core/kernel';
import { findTraverses, traverseStations, type Adjustment, type NetworkOutlier, type Traverse } from '#core/adjustment';
import {
  reduce,
  type BookInput,
  type Decision,
  type Known,
  type ReducedPoints,
  type Reduction,
  type ReductionMemory,
  type ReductionSettings,
} from '#core/reduction';
import { isDistributed } from './traverse-tolerance.ts';
import {
  editOf,
  editsOf,
  type Intake,
  type PointEdit,
  type ProjectDocument,
  type Settings,
  type Standing,
} from '#core/project';
import { adjustedStations, adjustReduction } from './network.ts';
import { makeControl, type ReadOf } from './points.ts';

export const isBook = (intake: Intake): boolean => intake.form === 'book';

export interface ReducedBooks {
  reduction: Reduction;
  /** Stations and known points adjusted together; null where nothing is sighted between them. */
  network: Adjustment | null;
  /** Observations that the network's test left out. */
  outliers: NetworkOutlier[];
  /** Chains of stations between given ones, with their misclosures before any of them is shared out. */
  traverses: Traverse[];
  /** What each book gives to the chain, by intake. */
  reads: Map<string, ReadPoints>;
  /** The books that were reduced, as a person left them, by intake. */
  books: Map<string, BookAt>;
}

/** Books with edits laid over them, reduced from the project's control; null when the project has none. */
export function reduceBooks(
  doc: ProjectDocument,
  readOf: ReadOf,
  memory: ReductionMemory | null = null,
  keep: Keep = makeAnew,
): ReducedBooks | null {
  const intakes = doc.intakes.filter((i) => i.on && isBook(i) && readOf(i).book);
  if (intakes.length === 0) return null;
  const edited = intakes.map((intake): BookAt => {
    const book = readOf(intake).book!;
    return { id: intake.id, name: intake.fileName, book, records: editedRecords(doc, intake.id, book.records) };
  });
  const books = edited.map(({ id, records, book }): BookInput => {
    const named = namesOf(book);
    return {
      id,
      records,
      instruments: withListed(book.instruments, doc.register.instruments, named.instruments),
      targets: withListed(book.targets, doc.register.targets, named.targets),
      turned: turnedRows(doc, id),
      earth: book.earth,
      seaLevel: book.seaLevel,
    };
  });
  const s = doc.settings;
  const control = controlOf(doc, readOf);
  const decisionOf = (book: string, row: number): Decision | undefined => {
    const decision = doc.decisions[`${book}:${row}`];
    return decision === 'turned' ? undefined : decision;
  };
  const how: ReductionSettings = {
    checkPlan: s.checkPlan,
    checkHeight: s.checkHeight,
    angleSpread: s.angleSpread,
    refraction: s.refraction,
    centring: s.centring,
    distanceParts: s.distanceParts,
    orientationWeights: s.orientationWeights,
    typedOrGnss: s.typedOrGnss,
    levelDeviation: s.levelDeviation,
    earth: s.earth,
    seaLevel: s.seaLevel,
    flatDistances: s.flatDistances,
    gnss: gnssLimits(s),
    gnssMean: s.gnssMean,
    scaleFree: s.resectionScale === 'free',
    levelClosure: s.levelClosure,
    factor: doc.basis.factor,
    rule: s.backsightRule,
  };
  let reduction = reduce(books, control, decisionOf, how, [], memory);
  // Levels alone have a net of their own (levelling.ts).
  const tested = reduction.sights.length
    ? adjustReduction(reduction, standings(doc, readOf), s, s.networkDatum, keep)
    : null;
  const network = tested?.adjustment ?? null;
  const traverses = findTraverses(reduction, s.centring);
  if (s.network && network?.ok)
    reduction = reduce(books, control, decisionOf, how, adjustedStations(network, reduction), memory);
  else if (s.traverse !== 'carried') {
    // What misses its end by more than is allowed is not distributed, unless somebody said so: it would hide a blunder.
    const good = traverses.filter((t) => isDistributed(t, s, doc.decisions));
    if (good.length) reduction = reduce(books, control, decisionOf, how, traverseStations(good, s.traverse, reduction));
  }
  const reads = new Map<string, ReadPoints>();
  const { points } = reduction;
  for (const [index, intake] of intakes.entries()) {
    const own: number[] = [];
    for (let i = 0; i < points.count; i++) if (points.book[i] === index) own.push(i);
    const all = own.length === points.count;
    reads.set(intake.id, asRead(all ? points : points.pick(Uint32Array.from(own)), readOf(intake)));
  }
  return {
    reduction,
    network,
    outliers: tested?.outliers ?? [],
    traverses,
    reads,
    books: new Map(edited.map((b) => [b.id, b])),
  };
}

/** Rows of a book before which a person says that the circle was turned. */
const turnedRows = (doc: ProjectDocument, book: string): Set<number> =>
  new Set(
    Object.entries(doc.decisions).flatMap(([key, decision]) =>
      decision === 'turned' && key.startsWith(`${book}:`) ? [Number(key.slice(book.length + 1))] : [],
    ),
  );

/**
 * What a book says of its instruments or targets, the project’s instrument list coming before it; of the list only what
 * the book has or names.
 */
export function withListed<T extends { name: string }>(
  said: readonly T[],
  listed: readonly T[],
  named: ReadonlySet<string>,
): T[] {
  const own = new Set(said.map((s) => s.name));
  const kept = listed.filter((r) => own.has(r.name) || named.has(r.name));
  const names = new Set(kept.map((r) => r.name));
  return [...said.filter((s) => !names.has(s.name)), ...kept];
}

/** Instruments and targets that the records of a book name. */
export function namesIn(records: Iterable<Pick<BookRecord, 'instrument' | 'target'>>): {
  instruments: Set<string>;
  targets: Set<string>;
} {
  const [instruments, targets] = [new Set<string>(), new Set<string>()];
  for (const r of records) {
    if (r.instrument !== '') instruments.add(r.instrument);
    if (r.target !== '') targets.add(r.target);
  }
  return { instruments, targets };
}

/** Instruments and targets are not edited: those of a received book are looked up once. */
function namesOf(book: Book): ReturnType<typeof namesIn> {
  let names = namesOfBook.get(book);
  if (!names) namesOfBook.set(book, (names = namesIn(book.records)));
  return names;
}
const namesOfBook = new WeakMap<Book, ReturnType<typeof namesIn>>();

/** What the project wants of a position by satellite. */
export const gnssLimits = (s: Settings): ReductionSettings['gnss'] => ({
  plan: s.gnssPlan,
  height: s.gnssHeight,
  pdop: s.gnssPdop,
  satellites: s.gnssSatellites,
  tilt: s.gnssTilt,
});

/** The records of a book as a person left them: the file as received stays beside. */
export function editedRecords(doc: ProjectDocument, intake: string, records: readonly BookRecord[]): BookRecord[] {
  const edits = editsOf(doc, intake);
  return replaceRecords(records, Object.keys(edits).map(Number), (r) => editedRecord(r, edits[r.row]!));
}

/** Records as edited, so that one edit of one record is one record however often it is asked for. */
const editedBefore = new WeakMap<BookRecord, { edit: PointEdit; made: BookRecord }>();

function editedRecord(r: BookRecord, edit: PointEdit): BookRecord {
  const before = editedBefore.get(r);
  // A document that came as text has the same edit as another thing.
  if (before && (before.edit === edit || JSON.stringify(before.edit) === JSON.stringify(edit))) return before.made;
  const made = withEdit(r, edit);
  editedBefore.set(r, { edit, made });
  return made;
}

function withEdit(r: BookRecord, edit: PointEdit): BookRecord {
  return {
    ...r,
    number: edit.number ?? r.number,
    code: edit.description ?? r.code,
    height: edit.height ?? r.height,
    circle: edit.circle ?? r.circle,
    zenith: edit.zenith ?? r.zenith,
    distance: edit.distance ?? r.distance,
    face: edit.face ?? r.face,
    role: edit.role ?? r.role,
    x: edit.x ?? r.x,
    y: edit.y ?? r.y,
    z: edit.z === undefined ? r.z : (edit.z ?? NaN),
    deleted: edit.off ?? r.deleted,
  };
}

/** How control of a number stands. */
function standings(doc: ProjectDocument, readOf: ReadOf): (number: string) => Standing {
  const table = makeControl(doc, readOf);
  const out = new Map<string, Standing>();
  for (let row = 0; row < table.x.length; row++) {
    if (table.state[row] !== 0) continue;
    const intake = doc.intakes[table.intake[row]];
    const edit = editOf(doc, intake.id, table.fileRow[row]);
    out.set(table.number[row], edit?.standing ?? intake.given?.standing ?? 'fixed');
  }
  return (number) => out.get(number) ?? 'fixed';
}

/** Control as given: used, not for checking only; accuracies as stated, a few millimetres where nobody did. */
function controlOf(doc: ProjectDocument, readOf: ReadOf): Known[] {
  const table = makeControl(doc, readOf);
  const out = new Map<string, Known>();
  for (let row = 0; row < table.x.length; row++) {
    if (table.state[row] !== 0 || table.number[row] === '') continue;
    const intake = doc.intakes[table.intake[row]];
    const given = intake.given;
    out.set(table.number[row], {
      number: table.number[row],
      x: table.x[row],
      y: table.y[row],
      z: table.z[row],
      sdPlan: given?.plan ?? 0.003,
      sdHeight: given?.height ?? 0.003,
      from: 'control',
    });
  }
  return [...out.values()];
}

function asRead(points: ReducedPoints, received: ReadPoints): ReadPoints {
  const book = received.book!;
  const { x, y, z, waits, sdPlan, sdHeight } = points;
  const row = points.rows();
  return {
    number: points.numbers(),
    x,
    y,
    z,
    description: points.codes(),
    row,
    refused: book.problems,
    refusedCount: book.problemCount,
    blank: 0,
    rows: book.rows,
    waits,
    sdPlan,
    sdHeight,
    date: datesOf(book, row),
  };
}

/** The day of each record's time, for rows in the order of the book. */
function datesOf(book: Book, rows: Uint32Array): Uint32Array {
  let days = daysOf.get(book);
  if (!days) daysOf.set(book, (days = { of: new Map(book.records.map((r) => [r.row, dayOf(r.time)])), by: new WeakMap() })); // prettier-ignore
  let dates = days.by.get(rows);
  if (!dates) days.by.set(rows, (dates = rows.map((row) => days.of.get(row) ?? 0)));
  return dates;
}

/** Times are not edited: days of a received book are found once. */
const daysOf = new WeakMap<Book, { of: Map<number, number>; by: WeakMap<Uint32Array, Uint32Array> }>();

/** A book with the records as they stand now. */
export interface BookAt {
  id: string;
  name: string;
  book: Book;
  records: BookRecord[];
}
