import { basename, extname } from 'node:path';
import { fileRowOf, type Book } from '#core/book';
import { runChain } from '#core/chain';
import { newDocument, plainIntake, type ProjectDocument } from '#core/project';
import type { Query } from '#core/queries';
import type { ReadOf } from '#core/stages';
import { failedRead, writeText, type ReadPoints, type Role } from '#core/exchange';
import type { Compared } from '#core/reduction';
import { bookOf } from '../books.ts';
import { load, pointsOf, unitOption } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { OUTPUT, READING, REDUCING, TEXT_OUT } from '../options.ts';

const OPTIONS = { ...READING, ...REDUCING, ...OUTPUT, ...TEXT_OUT };
type Options = Values<typeof OPTIONS> & Common;

export interface FiledBooks {
  books: Book[];
  doc: ProjectDocument;
  readOf: ReadOf;
}

const CONTROL_ID = 'control';

/** Books and control as a project would hold them. */
export function fileBooks(files: string[], options: Options): FiledBooks {
  if (!options.control) throw new WrongUsage('Control is needed: --control FILE.');
  const books = files.map((f) => bookOf(f, options));
  const ids = files.map((f, i) => uniqueName(files, i, basename(f)));
  const reads = new Map<string, ReadPoints>(books.map((book, i) => [ids[i], { ...failedRead(''), failure: undefined, book }])); // prettier-ignore
  const control = pointsOf(load(options.control, options), options);
  reads.set(CONTROL_ID, { ...failedRead(''), failure: undefined, ...control, row: Uint32Array.from(control.number, (_, i) => i + 1) }); // prettier-ignore
  const start = newDocument();
  const { tolerancePlan, toleranceHeight, refraction, factor } = options;
  const doc: ProjectDocument = {
    ...start,
    settings: {
      ...start.settings,
      checkPlan: tolerancePlan ?? start.settings.checkPlan,
      checkHeight: toleranceHeight ?? start.settings.checkHeight,
      refraction: refraction ?? start.settings.refraction,
    },
    basis: { ...start.basis, factor: factor ?? start.basis.factor },
    intakes: [
      plainIntake(CONTROL_ID, { fileName: basename(options.control), purpose: 'control' }),
      ...ids.map((id) => plainIntake(id, { form: 'book' })),
    ],
  };
  return { books, doc, readOf: (intake) => reads.get(intake.id)! };
}

/** A file's name; of several of one name the later ones are counted. */
function uniqueName(files: string[], at: number, name: string): string {
  const before = files.slice(0, at).filter((f) => basename(f) === name).length;
  return before ? `${name} (${before + 1})` : name;
}

/** Field books and control to points, with a report of every setup. */
function reduce(files: string[], options: Options): Outcome {
  const { books, doc, readOf } = fileBooks(files, options);
  // The whole chain, since some slips show in the ground that readings make.
  const chain = runChain(doc, readOf);
  // Of every stage that ran: a forgotten code or a spike is as much a slip of the book as a backsight.
  const { queries } = chain;
  const reduction = chain.reduction!;
  const { setups } = reduction;
  const points = reduction.points.list();
  const out = points.filter((p) => !p.waits);
  if (options.output) {
    if (!['.csv', '.txt'].includes(extname(options.output).toLowerCase()))
      throw new CannotDo('Reduced points are written as .csv or .txt.');
    if (out.length === 0)
      throw new CannotDo(`The books gave no point; nothing was written. ${whyNone(queries, books, files)}`);
    save(
      options.output,
      writeText(
        out.map((p) => ({ number: p.number, x: p.x, y: p.y, z: p.z, description: p.code })),
        {
          order: [...(options.toOrder ?? 'PENZD')] as Exclude<Role, '_' | 'S'>[],
          decimals: options.decimals ?? 4,
          unit: unitOption(options.toUnit) ?? 'm',
          separator: ',',
          headings: true,
        },
      ),
    );
  }
  const plain = (v: number): number | null => (Number.isNaN(v) ? null : v);
  const json = {
    books: books.map((b, i) => ({
      file: basename(files[i]),
      records: b.records.length,
      complete: b.complete,
      notRead: b.problems,
    })),
    setups: setups.map((s) => ({
      book: s.book,
      row: fileRowOf(s.row),
      station: s.number,
      from: s.station?.from ?? null,
      x: s.station ? s.station.x : null,
      y: s.station ? s.station.y : null,
      z: s.station ? plain(s.station.z) : null,
      orientation: plain(s.orientation),
      sdOrientation: plain(s.sdOrientation),
      index: s.errors.index,
      collimation: s.errors.collimation,
      directionSd: plain(s.directionSd),
      backsights: s.backsights.map(compared),
      checks: s.checks.map(compared),
      shots: s.shots,
      waits: s.waits,
      failed: s.failed,
    })),
    points: points.length,
    waiting: points.length - out.length,
    list: points.map((p) => ({
      book: p.book,
      row: p.row,
      number: p.number,
      code: p.code,
      x: p.x,
      y: p.y,
      z: plain(p.z),
      sdPlan: p.sdPlan,
      sdHeight: plain(p.sdHeight),
      waits: p.waits,
    })),
    queries: queries.map(({ key, kind, stage, weight, text, remedies }) => ({ key, kind, stage, weight, text, remedies: remedies.map((r) => r.label) })), // prettier-ignore
  };
  const said = setups.map(
    (s) =>
      `  ${s.number} (row ${fileRowOf(s.row)}): ${s.failed ? `not reduced: ${s.failed}` : s.waits ? `waits: ${s.waits}` : `${s.shots} shots`}`,
  );
  return {
    json,
    text: [
      `${points.length} points, ${points.length - out.length} of them waiting`,
      ...said,
      ...books.flatMap((b, i) => b.problems.map((p) => `  row ${p.row} of ${basename(files[i])} is not read: ${p.reason}`)), // prettier-ignore
      ...queries.map((q) => `  ${q.stage}, ${q.weight}: ${q.text}`),
    ].join('\n'),
  };
}

/** The first reason, how many more there are, and where they all stand. */
function whyNone(queries: Query[], books: Book[], files: string[]): string {
  const why = [
    ...queries.map((q) => q.text),
    ...books.flatMap((b, i) =>
      b.problems.map((p) => `Row ${p.row} of ${basename(files[i])} is not read: ${p.reason}.`),
    ),
  ];
  if (why.length === 0) return 'They hold no sightings.';
  const more = why.length - 1;
  return `${why[0]}${more ? ` There ${more === 1 ? 'is 1 more reason' : `are ${more} more reasons`}; without -o they are all listed.` : ''}`;
}

const compared = (c: Compared) => ({
  number: c.number,
  row: c.row,
  bearing: c.bearing,
  observed: c.observed,
  difference: c.difference,
  distanceDifference: Number.isNaN(c.distanceDifference) ? null : c.distanceDifference,
  heightDifference: Number.isNaN(c.heightDifference) ? null : c.heightDifference,
  within: c.within,
  state: c.state,
});

export const REDUCE = defineVerb({
  name: 'reduce',
  about: 'reduces field books to points',
  files: { name: 'BOOK', least: 1, most: 100 },
  options: OPTIONS,
  run: reduce,
});
