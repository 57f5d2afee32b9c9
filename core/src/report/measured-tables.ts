import type { Traverse } from '#core/adjustment';
import { fileRowOf } from '#core/book';
import { distance } from '#core/kernel';
import { formatFixed } from '#core/measure';
import { tiltText, type GnssMean, type Levelling } from '#core/reduction';
import { RULE_NAME, stationsByRule, traverseWithin, type ReductionColumns } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import type { Forms } from './forms.ts';
import { column, row, type ReportRow, type ReportTable } from './table.ts';

/** Each measurement by satellite with what says how good it is, what it differs by from the mean, and from control. */
export function gnssTable(gnss: readonly GnssMean[], { settings: s }: ProjectDocument, forms: Forms): ReportTable {
  const places = (x: number, y: number, z: number): string[] => [...(s.order === 'EN' ? [x, y] : [y, x]), z].map((v) => forms.precision(v)); // prettier-ignore
  const rowsOf = (m: GnssMean): ReportRow[] => {
    const own = m.readings.map((r) =>
      row(
        [
          m.number,
          [`row ${fileRowOf(r.row)}`, r.fix, Number.isNaN(r.satellites) ? '' : `${r.satellites} satellites`, Number.isNaN(r.antenna) ? '' : `antenna ${forms.precision(r.antenna)} ${forms.sign}`, Number.isNaN(r.tilt) ? '' : `tilt ${tiltText(r.tilt)}`].filter(Boolean).join(', '), // prettier-ignore
          ...places(r.dx, r.dy, r.dz),
          r.used ? (m.readings.length > 1 ? 'in the mean' : 'alone') : 'not in the mean',
        ],
        !r.used,
      ),
    );
    if (!m.control) return own;
    const { dx, dy, dz } = m.control;
    const within = distance(dx, dy) <= s.checkPlan && !(Math.abs(dz) > s.checkHeight);
    return [...own, row([m.number, 'mean − control', ...places(dx, dy, dz), within ? 'agrees' : 'out of tolerance'], !within)]; // prettier-ignore
  };
  const rows = gnss.flatMap(rowsOf);
  return {
    kind: 'gnss',
    title: 'Measured by satellite',
    about: ['each measurement less the mean of its point; the mean less control'],
    marked: rows.some((r) => r.marked),
    columns: [column('Point', 'sign'), column('Measurement', 'words', 30), ...forms.planColumns(), forms.lengthColumn('Height', 12), column('Result', 'words', 18)], // prettier-ignore
    rows,
  };
}

/** Misclosures of the traverses: angle, in plan, height, and what part of the length that is. */
export function traverseTable(
  traverses: readonly Traverse[],
  { settings }: ProjectDocument,
  forms: Forms,
): ReportTable {
  // prettier-ignore
  const rows = traverses.map((t) =>
    row(
      [
        t.stations.join(' – '),
        forms.length(t.length, 1),
        forms.angle(t.angular, 0),
        forms.precision(t.linear),
        forms.precision(t.dz),
        Number.isFinite(t.ratio) ? `1 in ${formatFixed(t.ratio, 0)}` : 'exact',
      ],
      !traverseWithin(t, settings),
    ),
  );
  return {
    kind: 'traverses',
    title: 'Traverses',
    about: ['misclosures: computed − known'],
    marked: rows.some((r) => r.marked),
    columns: [column('Traverse', 'words', 34), forms.lengthColumn('Length'), column('Angular misclosure', 'angle', 13), forms.lengthColumn('Linear misclosure', 12), forms.lengthColumn('Height misclosure', 12), column('Ratio', 'words', 14)], // prettier-ignore
    rows,
  };
}

/** Stations of the traverses by every rule, the one in force named. */
export function stationsTable(
  traverses: readonly Traverse[],
  { network, known }: Pick<ReductionColumns, 'network' | 'known'>,
  { settings: s }: ProjectDocument,
  forms: Forms,
): ReportTable {
  return {
    kind: 'stations',
    title: 'Stations by each rule',
    about: [],
    marked: false,
    columns: [column('Station', 'sign'), column('Rule', 'words', 20), ...forms.planColumns(14), forms.lengthColumn('Elevation', 12), column('Rule in force', 'words', 12)], // prettier-ignore
    rows: traverses.flatMap((t) =>
      stationsByRule(t, network, known, s.network ? 'network' : s.traverse).flatMap(
        ({ number, rules }) =>
        rules.map((r) => row([number, RULE_NAME[r.rule], ...forms.plan(r.x, r.y), forms.elevation(r.z), r.inForce ? 'yes' : ''])), // prettier-ignore
      ),
    ),
  };
}

/** Level runs, loops and tests of the line of sight. */
export function levelTable({ runs, loops, tests }: Levelling, forms: Forms): ReportTable {
  const rows = [
    ...runs.map((run) =>
      row(
        [`${run.from} → ${run.to}`, `level run, ${run.differences.length} setups`, forms.length(run.length, 1), forms.length(run.difference, 4), forms.length(run.misclosure, 4), Number.isNaN(run.misclosure) ? '' : forms.length(run.allowed, 4), Number.isNaN(run.misclosure) ? 'open' : run.within ? 'within' : 'out of tolerance'], // prettier-ignore
        !run.within,
      ),
    ),
    ...loops.map(
      (l) =>
      row([l.points.join(' – '), 'level loop', forms.length(l.length, 1), '', forms.length(l.misclosure, 4), forms.length(l.allowed, 4), l.within ? 'within' : 'out of tolerance'], !l.within), // prettier-ignore
    ),
    ...tests.map((t) =>
      row(
        [`${t.from} – ${t.to}`, `two-peg test, line of sight off by ${forms.angle(t.collimation, 0).text}`, forms.length(30, 1), '', forms.length(t.collimation * 30, 4), '', ''], // prettier-ignore
        Math.abs(t.collimation) > 1e-4,
      ),
    ),
  ];
  return {
    kind: 'levels',
    title: 'Levelling',
    about: tests.length ? ['of a two-peg test: the rise of the line of sight over its length'] : [],
    marked: rows.some((r) => r.marked),
    columns: [column('From – to', 'words', 22), column('What', 'words', 22), forms.lengthColumn('Length'), forms.lengthColumn('Height difference', 12), forms.lengthColumn('Misclosure', 11), forms.lengthColumn('Allowed', 10), column('Result', 'words', 14)], // prettier-ignore
    rows,
  };
}
