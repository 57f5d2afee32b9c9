import { fileRowOf, type BookRecord } from '#core/book';
import { shownVertical } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import type { CircleTurn, Compared, SetupResult } from '#core/reduction';
import type { Forms } from './forms.ts';
import type { SetupFacts } from './setup-facts.ts';
import type { ReportPoints } from './report-points.ts';
import { column, row, type ReportCell, type ReportColumn, type ReportRow, type ReportTable } from './table.ts';

/** A sighting as it is read now, radians and metres. */
export type ReportReading = Pick<BookRecord, 'row' | 'number' | 'role' | 'face' | 'circle' | 'zenith' | 'distance' | 'height' | 'time'>; // prettier-ignore

const TURN_NAME: Record<CircleTurn['how'], string> = {
  round: 'between rounds',
  backsight: 'at a backsight sighted again',
  decided: 'as decided by hand',
  hidden: 'found',
};

const READ_AS: Partial<Record<BookRecord['role'], string>> = { back: 'backsight', check: 'check' };

/** What stands of a setup: where, by what, how it is oriented, when and in which air. */
export function setupAbout(setup: SetupResult, forms: Forms, facts: SetupFacts | undefined): string[] {
  const how = setup.failed
    ? `not reduced: ${setup.failed}`
    : setup.waits
      ? `waits: ${setup.waits}`
      : `${setup.station?.from ?? ''}, orientation ${forms.bearing(setup.orientation).text} ± ${forms.angle(setup.sdOrientation, 0).text}`; // prettier-ignore
  const air = [
    valueOr(facts?.temperature, (t) => `${t} °C`),
    valueOr(facts?.pressure, (p) => `${p} hPa`),
    valueOr(facts?.humidity, (h) => `${h} % humidity`),
  ].filter(Boolean);
  const when = [
    facts && clock(facts.time),
    facts?.instrument && `instrument ${facts.instrument}`,
    air.join(', '),
  ].filter(Boolean);
  return [
    `instrument height ${setup.height === setup.height ? `${forms.precision(setup.height)} ${forms.sign}` : 'not stated'}; ${how}`,
    ...(when.length ? [when.join('; ')] : []),
    ...setup.turns.map(
      (t) =>
        `circle turned by ${forms.angle(t.by).text} before row ${fileRowOf(t.row)}, ${t.between.length ? `${t.between.length} sightings may be read either way` : TURN_NAME[t.how]}`,
    ),
  ];
}

/** Day and time as people write them. */
const clock = (time: string): string => time.replace(/^(\d{4}-\d\d-\d\d)T/, '$1 ');

const valueOr = (v: number | undefined, say: (v: number) => string): string => (v === undefined || Number.isNaN(v) ? '' : say(v)); // prettier-ignore

export const setupTitle = (setup: SetupResult, fileName: string): string =>
  `Setup at ${setup.number}, row ${fileRowOf(setup.row)} of ${fileName}`;

export const isOff = (setup: SetupResult): boolean => setup.failed !== null || setup.waits !== null;

export const sightColumns = (forms: Forms): ReportColumn[] => [
  column('Point', 'sign'),
  column('Sight', 'words', 12),
  column('Bearing, obs − comp', 'angle', 17),
  forms.lengthColumn('Distance, obs − comp', 19),
  forms.lengthColumn('Height, obs − comp', 17),
  column('Result', 'words', 16),
];

/** Backsights and checks of a setup, observed − computed. */
export function sightRows(setup: SetupResult, forms: Forms): ReportRow[] {
  const one = (c: Compared, kind: 'backsight' | 'check'): ReportRow =>
    row(
      [
        c.number,
        kind,
        forms.angle(c.difference, 0),
        forms.precision(c.distanceDifference),
        forms.precision(c.heightDifference),
        kind === 'check' ? (c.within ? 'agrees' : 'out of tolerance') : c.state,
      ],
      !c.within,
    );
  return [...setup.backsights.map((c) => one(c, 'backsight')), ...setup.checks.map((c) => one(c, 'check'))];
}

export const pointColumns = (forms: Forms): ReportColumn[] => [
  column('Point', 'sign', 10),
  column('Code', 'sign', 13),
  column('Line', 'sign', 10),
  ...forms.planColumns(),
  forms.lengthColumn('Elevation', 11),
  forms.lengthColumn('± plan', 8),
  forms.lengthColumn('± height', 9),
];

export const pointCells = (points: ReportPoints, i: number, forms: Forms): string[] => [
  points.number(i),
  points.code(i),
  points.line(i),
  ...forms.plan(points.x[i], points.y[i]),
  forms.elevation(points.z[i]),
  forms.precision(points.sdPlan[i]),
  forms.precision(points.sdHeight[i]),
];

export const readingColumns = (forms: Forms, vertical: ProjectDocument['settings']['vertical']): ReportColumn[] => {
  const [point, ...result] = pointColumns(forms);
  return [
    point,
    column('Sight', 'words', 13),
    column('Time', 'words', 10),
    column('Circle', 'angle', 12),
    column(vertical === 'zenith' ? 'Zenith' : 'Elevation angle', 'angle', 12),
    forms.lengthColumn('Slope distance', 10),
    forms.lengthColumn('Target height', 9),
    ...result,
  ];
};

/**
 * Every reading of a setup in the order observed, each with the point it gave; faces and rounds that were averaged with the
 * first stand by themselves. Points that come of no reading told are last. Of a time on the setup’s own `day`, the hour alone.
 */
export function readingRows(
  readings: readonly ReportReading[],
  points: ReportPoints,
  own: readonly number[],
  forms: Forms,
  vertical: ProjectDocument['settings']['vertical'],
  day: string,
): ReportRow[] {
  const byRow = new Map(own.map((i) => [points.row[i], i]));
  const result = (i: number): string[] => pointCells(points, i, forms).slice(1);
  const nothing = pointColumns(forms).slice(1).map(() => ''); // prettier-ignore
  const rows = readings.map((r): ReportRow => {
    const i = byRow.get(r.row);
    byRow.delete(r.row);
    const reading: (string | ReportCell)[] = [
      r.number,
      `${READ_AS[r.role] ?? 'shot'}${r.face ? `, face ${r.face}` : ''}`,
      day && r.time.startsWith(`${day}T`) ? r.time.slice(11) : clock(r.time),
      forms.bearing(r.circle),
      forms.angle(shownVertical(r.zenith, vertical)),
      forms.precision(r.distance),
      Number.isNaN(r.height) ? 'not stated' : forms.precision(r.height),
    ];
    return row([...reading, ...(i === undefined ? nothing : result(i))]);
  });
  for (const i of byRow.values()) rows.push(row([points.number(i), '', '', '', '', '', '', ...result(i)]));
  return rows;
}

/** One row a setup. */
export function setupsTable(
  setups: readonly SetupResult[],
  fileNames: ReadonlyMap<string, string>,
  forms: Forms,
  factsOf: (setup: SetupResult) => SetupFacts | undefined,
): ReportTable {
  return {
    kind: 'setups',
    title: 'Setups',
    about: [],
    marked: setups.some(isOff),
    columns: [
      column('Station', 'sign', 10),
      column('Book, row', 'words', 20),
      column('Time', 'words', 14),
      forms.lengthColumn('Instrument height', 11),
      column('Orientation', 'angle', 13),
      column('±', 'angle', 8),
      column('Station is', 'words', 26),
    ],
    rows: setups.map((s) =>
      row(
        [
          s.number,
          `${fileNames.get(s.book) ?? s.book}, ${fileRowOf(s.row)}`,
          clock(factsOf(s)?.time ?? ''),
          forms.precision(s.height),
          forms.bearing(s.orientation),
          forms.angle(s.sdOrientation, 0),
          s.failed ? `not reduced: ${s.failed}` : s.waits ? `waiting: ${s.waits}` : (s.station?.from ?? ''),
        ],
        isOff(s),
      ),
    ),
  };
}
