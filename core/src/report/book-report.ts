import { fileRowOf, type BookRecord } from '#core/book';
import type { Traverse } from '#core/adjustment';
import { formatAngle, formatFixed, formatLength, shownVertical, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import { csvTable } from '#core/exchange';
import { distance } from '#core/kernel';
import { tiltText, type CircleTurn, type GnssMean, type LevelRun, type SetupResult } from '#core/reduction';
import { RULE_NAME, stationsByRule, type ReductionColumns, traverseWithin } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import type { FileAccount } from '#core/chain';
import { fileRows } from './file-rows.ts';
import type { ReportPoints } from './report-points.ts';
import { handEdits, type HandEdit, type ToldChange } from './hand-edits.ts';
import type { Query } from '#core/queries';

/** How much of the reduction is reported. */
export const REPORT_LEVELS = ['setups', 'known', 'all', 'readings'] as const;
export type ReportLevel = (typeof REPORT_LEVELS)[number];

/** A sighting as it is read now, radians and metres. */
export type ReportReading = Pick<BookRecord, 'row' | 'number' | 'role' | 'face' | 'circle' | 'zenith' | 'distance' | 'height'>; // prettier-ignore
/** The sightings of a setup that count, in the order observed. */
export type ReadingsOf = (book: string, setupRow: number) => readonly ReportReading[];

export interface ReportRow {
  kind:
    | 'setup'
    | 'turn'
    | 'backsight'
    | 'check'
    | 'reading'
    | 'point'
    | 'gnss'
    | 'traverse'
    | 'station'
    | 'level'
    | 'query'
    | 'file'
    | 'edit';
  cells: string[];
  /** Out of tolerance, waiting, failed. */
  marked: boolean;
}

export interface BookReport {
  title: string;
  about: string[];
  rows: ReportRow[];
}

const TURN_NAME: Record<CircleTurn['how'], string> = {
  round: 'between rounds',
  backsight: 'at a backsight sighted again',
  decided: 'as decided by hand',
  hidden: 'found',
};

const READ_AS: Partial<Record<BookRecord['role'], string>> = { back: 'backsight', check: 'check' };

/**
 * What is open first, unknown codes with it: nobody signs a report whose end says that it does not hold. Then what became of
 * each file, and the reduction setup by setup: heights, backsights and checks with their differences, every point with its
 * coordinates, code and precision; then what was changed by hand, old and new value with who and why as far as `changes`
 * (the history, newest first) tells.
 */
export function bookReport(
  doc: ProjectDocument,
  {
    setups,
    traverses,
    levelling,
    gnss,
    known,
    network,
  }: Pick<ReductionColumns, 'setups' | 'traverses' | 'levelling' | 'gnss' | 'known' | 'network'>,
  points: ReportPoints,
  queries: readonly Query[],
  project: { name: string; revision: number },
  level: ReportLevel,
  {
    readingsOf = () => [],
    changes = [],
    files = [],
  }: { readingsOf?: ReadingsOf; changes?: readonly ToldChange[]; files?: readonly FileAccount[] } = {},
): BookReport {
  const s = doc.settings;
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number, decimals = s.decimals): string =>
    Number.isNaN(m) ? '' : formatLength(m, s.unit, decimals);
  const angle = (a: number, decimals = s.angleDecimals): string =>
    Number.isNaN(a) ? '' : formatAngle(a, s.angle, decimals);
  const names = new Map(doc.intakes.map((i) => [i.id, i.fileName]));
  const open = openOf(queries);
  const rows: ReportRow[] = open.map((q) => ({ kind: 'query', cells: [q.weight, q.text, '', '', '', ''], marked: q.weight === 'stop' })); // prettier-ignore
  rows.push(...fileRows(doc, files).map((r): ReportRow => ({ kind: 'file', ...r })));
  const bySetup = new Map<number, number[]>();
  if (level === 'all' || level === 'readings')
    for (let i = 0; i < points.count; i++) {
      const own = bySetup.get(points.setup[i]);
      if (own) own.push(i);
      else bySetup.set(points.setup[i], [i]);
    }
  const point = (i: number): ReportRow => ({
    kind: 'point',
    cells: [
      points.number(i),
      points.code(i),
      ...(s.order === 'EN' ? [points.x[i], points.y[i]] : [points.y[i], points.x[i]]).map((v) => length(v)),
      length(points.z[i], s.elevationDecimals),
      `± ${length(points.sdPlan[i], 3)} ${length(points.sdHeight[i], 3)}`,
    ],
    marked: false,
  });
  const reading = (r: ReportReading): ReportRow => ({
    kind: 'reading',
    cells: [
      r.number,
      `${READ_AS[r.role] ?? 'shot'}${r.face ? `, face ${r.face}` : ''}`,
      angle(r.circle),
      angle(shownVertical(r.zenith, s.vertical)),
      length(r.distance, 3),
      `target ${length(r.height, 3) || 'not said'}`,
    ],
    marked: false,
  });
  setups.forEach((setup, at) => {
    rows.push(setupRow(setup));
    for (const t of setup.turns) rows.push({ kind: 'turn', cells: [setup.number, `circle turned before row ${fileRowOf(t.row)}`, angle(t.by), '', '', t.between.length ? `${t.between.length} sightings may be read either way` : TURN_NAME[t.how]], marked: t.between.length > 0 }); // prettier-ignore
    if (level !== 'setups')
      for (const [kind, list] of [
        ['backsight', setup.backsights],
        ['check', setup.checks],
      ] as const)
        for (const c of list)
          rows.push({
            kind,
            cells: [
              c.number,
              kind,
              angle(c.difference, 0),
              length(c.distanceDifference, 3),
              length(c.heightDifference, 3),
              kind === 'check' ? (c.within ? 'agrees' : 'out of tolerance') : c.state,
            ],
            marked: !c.within,
          });
    const own = new Map((bySetup.get(at) ?? []).map((i) => [points.row[i], i]));
    // Each reading with what came out of it; faces and rounds that were meant with the first stand by themselves.
    for (const r of level === 'readings' ? readingsOf(setup.book, setup.row) : []) {
      rows.push(reading(r));
      const i = own.get(r.row);
      if (i !== undefined) rows.push(point(i));
      own.delete(r.row);
    }
    for (const i of own.values()) rows.push(point(i));
  });
  for (const i of bySetup.get(-1) ?? []) rows.push(point(i));
  if (level !== 'setups') for (const m of gnss) rows.push(...gnssRows(m));
  for (const t of traverses) rows.push(traverseRow(t), ...stationRows(t));
  for (const run of levelling?.runs ?? []) rows.push(levelRow(run));
  for (const l of levelling?.loops ?? [])
    rows.push({ kind: 'level', cells: [l.points.join(' – '), `level loop, ${length(l.length, 1)} ${sign}`, '', '', length(l.misclosure, 4), `${length(l.allowed, 4)} allowed`], marked: !l.within }); // prettier-ignore
  for (const t of levelling?.tests ?? [])
    rows.push({ kind: 'level', cells: [`${t.from} – ${t.to}`, 'two-peg test', angle(t.collimation, 0), '', length(t.collimation * 30, 4), `rise of the line of sight in ${length(30, 1)} ${sign}`], marked: Math.abs(t.collimation) > 1e-4 }); // prettier-ignore
  for (const e of handEdits(doc, changes, s))
    rows.push({
      kind: 'edit',
      cells: [e.where, 'changed by hand', e.field, e.received, e.now, whoAndWhy(e)],
      marked: true,
    });
  return {
    title: `Field books of ${project.name}`,
    about: [
      open.length ? `${open.length} open ${open.length === 1 ? 'query' : 'queries'}, listed first` : 'no open queries',
      `revision ${project.revision}; ${UNIT_NAME[s.unit]}; ${s.order === 'EN' ? 'east, north' : 'north, east'}, elevation`,
      `scale factor ${doc.basis.factor.toFixed(8)}, refraction ${s.refraction}, tolerances ${length(s.checkPlan, 3)} and ${length(s.checkHeight, 3)} ${sign}`,
      s.network
        ? 'stations adjusted together'
        : s.traverse === 'carried'
          ? 'stations as carried'
          : `stations by the ${s.traverse} rule`,
      ...(level === 'setups'
        ? []
        : [
            `backsights and checks: observed − computed in bearing, distance ${sign}, height ${sign}; GNSS readings − their mean`,
          ]),
      ...(level === 'readings'
        ? [
            `readings: number, what for and in which face, circle, ${s.vertical === 'zenith' ? 'zenith' : 'elevation angle'}, slope ${sign}, target height ${sign}`,
          ]
        : []),
      ...(level === 'all' || level === 'readings'
        ? [
            `points: number, code, ${s.order === 'EN' ? 'east, north' : 'north, east'}, elevation ${sign}, ± plan and height ${sign}`,
          ]
        : []),
    ],
    rows,
  };

  /** Each measurement with what says how good it is, and what it differs by from the mean. */
  function gnssRows(m: GnssMean): ReportRow[] {
    const places = (x: number, y: number, z: number): string[] => [...(s.order === 'EN' ? [x, y] : [y, x]), z].map((v) => length(v, 3)); // prettier-ignore
    const own = m.readings.map((r): ReportRow => ({
      kind: 'gnss',
      cells: [
        m.number,
        [`GNSS, row ${fileRowOf(r.row)}`, r.fix, Number.isNaN(r.satellites) ? '' : `${r.satellites} satellites`, Number.isNaN(r.antenna) ? '' : `antenna ${length(r.antenna, 3)} ${sign}`, Number.isNaN(r.tilt) ? '' : `tilt ${tiltText(r.tilt)}`].filter(Boolean).join(', '), // prettier-ignore
        ...places(r.dx, r.dy, r.dz),
        r.used ? (m.readings.length > 1 ? 'in the mean' : 'alone') : 'not in the mean',
      ],
      marked: !r.used,
    }));
    if (!m.control) return own;
    const { dx, dy, dz } = m.control;
    const within = distance(dx, dy) <= s.checkPlan && !(Math.abs(dz) > s.checkHeight);
    return [...own, { kind: 'check', cells: [m.number, 'GNSS − control', ...places(dx, dy, dz), within ? 'agrees' : 'out of tolerance'], marked: !within }]; // prettier-ignore
  }

  /** Stations of a traverse by every rule, the one in force marked. */
  function stationRows(t: Traverse): ReportRow[] {
    return stationsByRule(t, network, known, s.network ? 'network' : s.traverse).flatMap(({ number, rules }) =>
      rules.map((r): ReportRow => ({
        kind: 'station',
        cells: [number, RULE_NAME[r.rule], ...(s.order === 'EN' ? [r.x, r.y] : [r.y, r.x]).map((v) => length(v)), length(r.z, s.elevationDecimals), r.inForce ? 'in force' : ''], // prettier-ignore
        marked: false,
      })),
    );
  }

  /** Carried less given: angle, gap in plan, height. */
  function traverseRow(t: Traverse): ReportRow {
    const ratio = Number.isFinite(t.ratio) ? `one in ${formatFixed(t.ratio, 0)}` : 'exact';
    return {
      kind: 'traverse',
      cells: [t.stations.join(' – '), `traverse, ${length(t.length, 1)} ${sign}`, angle(t.angular, 0), length(t.linear, 3), length(t.dz, 3), ratio], // prettier-ignore
      marked: !traverseWithin(t, s),
    };
  }

  function levelRow(run: LevelRun): ReportRow {
    return {
      kind: 'level',
      cells: [
        `${run.from} → ${run.to}`,
        `level run, ${run.differences.length} setups, ${length(run.length, 1)} ${sign}`,
        '',
        length(run.difference, 4),
        length(run.misclosure, 4),
        Number.isNaN(run.misclosure) ? 'open' : `${length(run.allowed, 4)} allowed`,
      ],
      marked: !run.within,
    };
  }

  function setupRow(setup: SetupResult): ReportRow {
    const what = setup.failed
      ? `not reduced: ${setup.failed}`
      : setup.waits
        ? `waits: ${setup.waits}`
        : `${setup.station?.from ?? ''}, orientation ${angle(setup.orientation)} ± ${angle(setup.sdOrientation, 0)}`;
    return {
      kind: 'setup',
      cells: [
        setup.number,
        `setup, row ${fileRowOf(setup.row)} of ${names.get(setup.book) ?? setup.book}`,
        `instrument height ${length(setup.height)} ${sign}`,
        what,
        '',
        '',
      ],
      marked: setup.failed !== null || setup.waits !== null,
    };
  }
}

const WEIGHTS = { stop: 0, look: 1, note: 2 };

/** Open queries that concern the books, the weightiest first, otherwise in the order asked. */
const openOf = (queries: readonly Query[]): Query[] =>
  queries
    .filter(
      (q) =>
        !q.accepted &&
        (q.stage === 'book' || q.kind === 'unknown-code' || (q.stage === 'basis' && q.weight === 'stop')),
    ) // prettier-ignore
    .sort((a, b) => WEIGHTS[a.weight] - WEIGHTS[b.weight]);

/** Why, and then who and when. */
function whoAndWhy({ why, by, at }: HandEdit): string {
  const who = by && `${by}, ${at.slice(0, 10)}`;
  return why && who ? `${why} (${who})` : why || who;
}

/** The report as text with commas. */
export function reportCsv(report: BookReport): string {
  return csvTable([
    [report.title],
    ...report.about.map((a) => [a]),
    ...report.rows.map((r) => [r.kind, ...r.cells.map((c) => c.replace(/\u2009/g, '').replace(/\u2212/g, '-'))]),
  ]);
}
