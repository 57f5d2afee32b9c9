import { readFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { guessBookLayout, writeBookText, type Book, type BookLayout, type BookRecord } from '#core/book';
import { bookLayoutSchema } from '#core/project';
import { bookFormOf, readBookFile, writeLandXmlSurvey } from '#core/exchange';
import { textOf } from './load.ts';
import { CannotDo, WrongUsage } from './problems.ts';
import { save } from './save.ts';
import type { Common, Outcome, Values } from './verb.ts';
import type { LAYOUT } from './options.ts';

/** A layout from its JSON file, as docs/formats/book-layout.md has it. */
function layoutOf(file: string): BookLayout {
  let value: unknown;
  try {
    value = JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    throw new CannotDo(`${file} is not readable JSON.`);
  }
  const checked = bookLayoutSchema.safeParse(value);
  if (checked.success) return checked.data;
  const [issue] = checked.error.issues;
  throw new CannotDo(`${file} is not a layout of a book: ${issue.path.join('.')}: ${issue.message}`);
}

/** A field book from its file, by the layout that was given where its form does not speak for itself. */
export function bookOf(file: string, options: Values<typeof LAYOUT>): Book {
  const name = basename(file);
  const layout = options.layout ? layoutOf(options.layout) : null;
  const text = textOf(file, layout?.sheet);
  const form = bookFormOf(text);
  if (!form && !layout)
    throw new CannotDo(
      `${name} is not a field book in a form that states its own layout. Give one: --layout FILE; “inspect ${name} --json” proposes one.`,
    );
  const read = readBookFile(text, form ? null : layout);
  const book = read!.book;
  if (book.records.length === 0) {
    const [first] = book.problems;
    throw new CannotDo(`${name} holds no records${first ? `; row ${first.row}: ${first.reason}` : ''}.`);
  }
  if (read!.geographic.length === 0) return book;
  // Without a project there is no system to carry latitudes and longitudes to.
  const degrees = new Set(read!.geographic);
  const why = 'the position is latitude and longitude; only a project on a published system can take it';
  return {
    ...book,
    records: book.records.filter((r) => r.kind !== 'gnss' || !degrees.has(r.row)),
    problems: [...book.problems, ...read!.geographic.map((row) => ({ row, text: '', reason: why }))],
  };
}

/** Whether a file is, by its own form, a field book. */
export const isBookFile = (file: string): boolean => {
  if (!['.book', '.txt', '.xml', '.csv', '.raw', ''].includes(extname(file).toLowerCase())) return false;
  return bookFormOf(textOf(file)) !== null;
};

const countsOf = (records: readonly BookRecord[]): Record<string, number> => {
  const counts: Record<string, number> = {};
  for (const r of records) {
    const what = r.deleted ? 'deleted' : r.kind === 'sighting' ? r.role : r.kind;
    counts[what] = (counts[what] ?? 0) + 1;
  }
  return counts;
};

/** What a field book holds. */
export function inspectBook(file: string, options: Values<typeof LAYOUT> & Common): Outcome {
  const book = bookOf(file, options);
  const counts = countsOf(book.records);
  const json = {
    file: basename(file),
    kind: 'book',
    name: book.name,
    unit: book.unit,
    angle: book.angle,
    complete: book.complete,
    counts,
    instruments: book.instruments.map((i) => i.name),
    notRead: book.problems.map((p) => ({ where: `row ${p.row}`, why: p.reason })),
  };
  return {
    json,
    text: [
      `${json.file}: field book${book.name ? ` “${book.name}”` : ''}, lengths in ${book.unit}, angles in ${book.angle}${book.complete ? '' : ', cut off: it does not end as a book should'}`,
      ...Object.entries(counts).map(([k, v]) => `  ${v} ${k}`),
      ...json.notRead.slice(0, 20).map((p) => `  not read: ${p.where}: ${p.why}`),
    ].join('\n'),
  };
}

/** A layout proposed for a table or tagged text that looks like readings, or null. */
export function proposedLayout(file: string): { layout: BookLayout; tags: { tag: string; count: number }[] } | null {
  const guess = guessBookLayout(textOf(file).slice(0, 200_000).split(/\r?\n/).slice(0, 400));
  return guess.likely ? { layout: guess.layout, tags: guess.tags.map(({ tag, count }) => ({ tag, count })) } : null;
}

/** A book into the open text form or LandXML; what the target has no place for is noted. */
export function convertBook(from: string, to: string, options: Values<typeof LAYOUT> & Common): Outcome {
  const book = bookOf(from, options);
  const ending = extname(to).toLowerCase();
  let leftOut: string[] = [];
  if (ending === '.xml') {
    const written = writeLandXmlSurvey({ project: book.name, made: new Date().toISOString(), control: [], book });
    leftOut = written.notes;
    save(to, written.text);
  } else if (ending === '.book') save(to, writeBookText(book));
  else throw new WrongUsage('A field book is written as .book or, LandXML, .xml.');
  return {
    json: {
      from: basename(from),
      to: basename(to),
      records: book.records.length,
      leftOut,
      notRead: book.problems.map((p) => ({ where: `row ${p.row}`, why: p.reason })),
    },
    text: [
      `${basename(to)}: ${book.records.length} records`,
      ...leftOut.map((l) => `  noted: ${l}`),
      ...book.problems.slice(0, 20).map((p) => `  not read: row ${p.row}: ${p.reason}`),
    ].join('\n'),
  };
}
