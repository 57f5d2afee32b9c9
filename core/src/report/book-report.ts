import { UNIT_NAME } from '#core/measure';
import type { SetupResult } from '#core/reduction';
import type { ReductionColumns } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import type { FileAccount } from '#core/chain';
import type { Query } from '#core/queries';
import { filesTable } from './files-table.ts';
import { formsOf, type Forms } from './forms.ts';
import { editsTable } from './edits-table.ts';
import type { ToldChange } from './hand-edits.ts';
import { gnssTable, levelTable, stationsTable, traverseTable } from './measured-tables.ts';
import type { ReportPoints } from './report-points.ts';
import {
  isOff,
  pointCells,
  pointColumns,
  readingColumns,
  readingRows,
  setupAbout,
  setupsTable,
  setupTitle,
  sightColumns,
  sightRows,
  type ReportReading,
} from './setup-tables.ts';
import type { SetupFacts } from './setup-facts.ts';
import { column, row, type Report, type ReportTable } from './table.ts';

/** How much of the reduction is reported. */
export const REPORT_LEVELS = ['setups', 'known', 'all', 'readings'] as const;
export type ReportLevel = (typeof REPORT_LEVELS)[number];

/** The sightings of a setup that count, in the order observed. */
export type ReadingsOf = (book: string, setupRow: number) => readonly ReportReading[];

export interface ReportSources {
  readingsOf?: ReadingsOf;
  /** What the record of a setup says besides its station. */
  factsOf?: (setup: SetupResult) => SetupFacts | undefined;
  /** The history, newest first. */
  changes?: readonly ToldChange[];
  files?: readonly FileAccount[];
}

/**
 * What is open first, unknown codes with it: nobody signs a report whose end says that it does not hold. Then what became of
 * each file, and the reduction setup by setup: heights, backsights and checks with their differences, every reading with the
 * point it gave, its code, lines and precision; then what was changed by hand, old and new value with who and why as far as
 * `changes` tells.
 */
export function bookReport(
  doc: ProjectDocument,
  reduction: Pick<ReductionColumns, 'setups' | 'traverses' | 'levelling' | 'gnss' | 'known' | 'network'>,
  points: ReportPoints,
  queries: readonly Query[],
  project: { name: string; revision: number },
  level: ReportLevel,
  { readingsOf = () => [], factsOf = () => undefined, changes = [], files = [] }: ReportSources = {},
): Report {
  const { setups, traverses, levelling, gnss } = reduction;
  const forms = formsOf(doc);
  const open = openOf(queries);
  const withPoints = level === 'all' || level === 'readings';
  const bySetup = withPoints ? pointsBySetup(points) : new Map<number, number[]>();
  const fileNames = new Map(doc.intakes.map((i) => [i.id, i.fileName]));
  const tables: ReportTable[] = [queriesTable(open), filesTable(doc, files)];
  tables.push(setupsTable(setups, fileNames, forms, factsOf));
  if (level !== 'setups')
    setups.forEach((setup, at) => {
      const head = { title: setupTitle(setup, fileNames.get(setup.book) ?? setup.book), about: setupAbout(setup, forms, factsOf(setup)), marked: isOff(setup) }; // prettier-ignore
      const own = bySetup.get(at) ?? [];
      const readings = level === 'readings' ? readingsOf(setup.book, setup.row) : [];
      const { vertical } = doc.settings;
      tables.push({ ...head, kind: 'setup', columns: sightColumns(forms), rows: sightRows(setup, forms) });
      const more = { title: head.title, about: [], marked: head.marked };
      if (level === 'readings') tables.push({ ...more, kind: 'readings', columns: readingColumns(forms, vertical), rows: readingRows(readings, points, own, forms, vertical, factsOf(setup)?.time.slice(0, 10) ?? '') }); // prettier-ignore
      else if (level === 'all') tables.push({ ...more, kind: 'points', columns: pointColumns(forms), rows: own.map((i) => row(pointCells(points, i, forms))) }); // prettier-ignore
    });
  const free = bySetup.get(-1) ?? [];
  tables.push({ kind: 'points', title: 'Points without a setup', about: [], marked: false, columns: pointColumns(forms), rows: free.map((i) => row(pointCells(points, i, forms))) }); // prettier-ignore
  if (level !== 'setups') tables.push(gnssTable(gnss, doc, forms));
  tables.push(traverseTable(traverses, doc, forms), stationsTable(traverses, reduction, doc, forms));
  if (levelling) tables.push(levelTable(levelling, forms));
  tables.push(editsTable(doc, changes));
  return {
    title: `Field books of ${project.name}`,
    about: aboutOf(doc, project, open.length, forms),
    tables: tables.filter((t) => t.rows.length > 0 || t.kind === 'setup'),
    wide: level === 'readings',
  };
}

function pointsBySetup(points: ReportPoints): Map<number, number[]> {
  const bySetup = new Map<number, number[]>();
  for (let i = 0; i < points.count; i++) {
    const own = bySetup.get(points.setup[i]);
    if (own) own.push(i);
    else bySetup.set(points.setup[i], [i]);
  }
  return bySetup;
}

function aboutOf(doc: ProjectDocument, project: { revision: number }, open: number, forms: Forms): string[] {
  const { settings: s, basis } = doc;
  return [
    open ? `${open} open ${open === 1 ? 'query' : 'queries'}, listed first` : 'no open queries',
    `revision ${project.revision}; ${UNIT_NAME[s.unit]}; ${s.order === 'EN' ? 'east, north' : 'north, east'}, elevation`,
    `scale factor ${basis.factor.toFixed(8)}, refraction ${s.refraction}, tolerances ${forms.precision(s.checkPlan)} and ${forms.precision(s.checkHeight)} ${forms.sign}`,
    s.network
      ? 'stations adjusted together'
      : s.traverse === 'carried'
        ? 'stations as carried'
        : `stations by the ${s.traverse} rule`,
  ];
}

const WEIGHTS = { stop: 0, look: 1, note: 2 };

/** Open queries that concern the books, the weightiest first, otherwise in the order asked. */
const openOf = (queries: readonly Query[]): Query[] =>
  queries
    .filter(
      (q) =>
        !q.accepted &&
        (q.stage === 'book' || q.kind === 'unknown-code' || (q.stage === 'basis' && q.weight === 'stop')),
    )
    .sort((a, b) => WEIGHTS[a.weight] - WEIGHTS[b.weight]);

const queriesTable = (open: readonly Query[]): ReportTable => ({
  kind: 'query',
  title: 'Open queries',
  about: [],
  marked: open.some((q) => q.weight === 'stop'),
  columns: [column('Weight', 'words', 8), column('Query', 'words', 92)],
  rows: open.map((q) => row([q.weight, q.text], q.weight === 'stop')),
});
