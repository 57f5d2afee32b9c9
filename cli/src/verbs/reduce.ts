import { basename, extname } from 'node:path';
import type { Book } from '#core/book';
import { writeText, type Role } from '#core/exchange';
import { PLAIN_SETTINGS, reduce as reduceBooks, type Known, type Reduction } from '#core/reduction';
import { bookOf } from '../books.ts';
import { load, pointsOf, unitOption } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { save } from '../save.ts';
import type { Options, Outcome } from '../main.ts';

export function controlOf(options: Options): Known[] {
  if (!options.control) throw new WrongUsage('Control is needed: --control FILE.');
  const points = pointsOf(load(options.control, options), options);
  return points.number.map((number, i) => ({
    number,
    x: points.x[i],
    y: points.y[i],
    z: points.z[i],
    sdPlan: 0.003,
    sdHeight: 0.003,
    from: 'control',
  }));
}

export function reduceFiles(files: string[], options: Options): { books: Book[]; reduction: Reduction } {
  const books = files.map((f) => bookOf(f, options));
  const reduction = reduceBooks(
    books.map((b, i) => ({
      id: basename(files[i]),
      records: b.records,
      instruments: b.instruments,
      targets: b.targets,
    })),
    controlOf(options),
    () => undefined,
    {
      ...PLAIN_SETTINGS,
      ...(options.tolerancePlan === undefined ? {} : { checkPlan: options.tolerancePlan }),
      ...(options.toleranceHeight === undefined ? {} : { checkHeight: options.toleranceHeight }),
      ...(options.refraction === undefined ? {} : { refraction: options.refraction }),
      ...(options.factor === undefined ? {} : { factor: options.factor }),
    },
  );
  return { books, reduction };
}

/** Field books and control to points, with a report of every setup. */
export function reduce(files: string[], options: Options): Outcome {
  const { books, reduction } = reduceFiles(files, options);
  const { setups, notes } = reduction;
  const points = reduction.points.list();
  const out = points.filter((p) => !p.waits);
  if (options.output) {
    if (!['.csv', '.txt'].includes(extname(options.output).toLowerCase()))
      throw new CannotDo('Reduced points are written as .csv or .txt.');
    if (out.length === 0)
      throw new CannotDo(`No point came out of the books; nothing was written. ${whyNone(reduction, books, files)}`);
    save(
      options.output,
      writeText(
        out.map((p) => ({ number: p.number, x: p.x, y: p.y, z: p.z, description: p.code })),
        {
          order: [...(options.toOrder ?? 'PENZD')] as Exclude<Role, '_'>[],
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
      row: s.row,
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
    queries: notes.map(({ kind, book, row, text }) => ({ kind, book, row, text })),
  };
  const said = setups.map(
    (s) =>
      `  ${s.number} (row ${s.row}): ${s.failed ? `not reduced: ${s.failed}` : s.waits ? `waits: ${s.waits}` : `${s.shots} shots`}`,
  );
  return {
    json,
    text: [
      `${points.length} points, ${points.length - out.length} of them waiting`,
      ...said,
      ...notes.map((n) => `  row ${n.row} of ${n.book}: ${n.text}`),
      ...books.flatMap((b, i) => [
        ...b.problems.map((p) => `  row ${p.row} of ${basename(files[i])} is not read: ${p.reason}`),
        ...(b.complete ? [] : [`  ${basename(files[i])} has no end: it may be cut off`]),
      ]),
    ].join('\n'),
  };
}

/** The first reason, how many more there are, and where they all stand. */
function whyNone({ setups, notes }: Reduction, books: Book[], files: string[]): string {
  const why = [
    ...setups.flatMap((s) => (s.failed || s.waits ? [`${s.number} (row ${s.row}): ${s.failed ?? s.waits}`] : [])),
    ...notes.map((n) => `row ${n.row}: ${n.text}`),
    ...books.flatMap((b, i) => b.problems.map((p) => `row ${p.row} of ${basename(files[i])} is not read: ${p.reason}`)),
  ];
  if (why.length === 0) return 'They hold no sightings.';
  return `${why[0]}${why.length > 1 ? ` (and ${why.length - 1} more reasons)` : ''}. Without -o they are all listed.`;
}

const compared = (c: Reduction['setups'][number]['checks'][number]) => ({
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
