import type { ChainSummary } from '#core/chain';
import { formatArea, formatFixed, formatLength, rangeNames } from '#core/measure';
import type { ProjectDocument, SurfaceRecipe } from '#core/project';
import type { Query } from '#core/queries';
import { contourSettings, type CheckShots } from '#core/stages';
import { NSSDA_SHOTS } from '#core/terrain';
import { formsOf, type Forms } from './forms.ts';
import { effectText, rowText } from './recipe-text.ts';
import { SLOPE_STEPS, type SurfaceFitness } from './surface-fitness.ts';
import { column, row, type Report, type ReportRow, type ReportTable } from './table.ts';

type Built = ChainSummary['surfaces'][number];

/** Points by their rows: what a check shot is called and where it is. */
export interface ReportPlaces {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  number: (row: number) => string;
}

/** Parts of the site that are told, the worst first. */
const MOST_CELLS = 24;
const MOST_QUERIES = 500;

/** Whether a surface is fit to use: what speaks for it and against it, and what it is made from. */
export function surfaceReport(
  doc: ProjectDocument,
  built: Built,
  fitness: SurfaceFitness,
  queries: readonly Query[],
  points: ReportPlaces,
): Report {
  const recipe = doc.surfaces.find((s) => s.id === built.id)!;
  const forms = formsOf(doc);
  const open = queries.filter((q) => !q.accepted && asksOf(q, doc, built));
  const verdicts = verdictRows(doc, built, fitness, open, forms);
  const against = verdicts.filter((v) => v.cells[2].text === 'no');
  return {
    title: `Is “${built.name}” fit to use?`,
    about: [
      built.triangles === 0
        ? 'It has no triangles.'
        : against.length === 0
          ? 'Nothing that was looked at speaks against it.'
          : `Not yet: ${against.map((v) => `${v.cells[0].text.toLowerCase()}, ${v.cells[1].text}`).join('; ')}.`,
    ],
    wide: false,
    tables: [
      {
        kind: 'verdict',
        title: 'What speaks for it and against it',
        about: [],
        marked: against.length > 0,
        columns: [column('Looked at', 'words', 34), column('Found', 'words', 52), column('In order', 'words', 14)],
        rows: verdicts,
      },
      ...(open.length ? [queryTable(open)] : []),
      ...built.account.checks.map((c) => checkTable(recipe, c, points, forms)),
      madeFrom(doc, recipe, built),
      leftOutTable(built),
      measures(doc, recipe, built, forms),
      slopeTable(doc, fitness),
      ...(fitness.map ? [partsTable(fitness, forms)] : []),
    ],
  };
}

/** Queries that are about the surface: of the ground they name no surface, and its points and lines are the ground’s. */
const asksOf = (q: Query, doc: ProjectDocument, { id, role }: Built): boolean =>
  q.stage === 'ground' && (q.key.includes(`:${id}:`) || q.key.endsWith(`:${id}`) || (role === 'ground' && !doc.surfaces.some((s) => q.key.includes(`:${s.id}`)))); // prettier-ignore

const many = (n: number, one: string, more = `${one}s`): string => `${n} ${n === 1 ? one : more}`;

function verdictRows(
  doc: ProjectDocument,
  built: Built,
  f: SurfaceFitness,
  open: readonly Query[],
  forms: Forms,
): ReportRow[] {
  const { areaUnit, unit } = doc.settings;
  const verdict = (what: string, found: string, ok: 'yes' | 'no' | 'look' | 'not known'): ReportRow =>
    row([what, found, ok], ok === 'no');
  const weighs = (weight: Query['weight']): number => open.filter((q) => q.weight === weight).length;
  const lost = Object.values(built.account.rows).filter((n) => n === null).length;
  const waiting = built.account.leftOut.find((l) => l.why === 'waiting for a decision')?.count ?? 0;
  const apart = built.account.meetings.filter((m) => !m.decided).length;
  return [
    verdict('Queries to be settled', weighs('stop') ? many(weighs('stop'), 'stop query', 'stop queries') : 'none', weighs('stop') ? 'no' : 'yes'), // prettier-ignore
    verdict('Queries to look at', weighs('look') + weighs('note') ? many(weighs('look') + weighs('note'), 'query', 'queries') : 'none', weighs('look') + weighs('note') ? 'look' : 'yes'), // prettier-ignore
    verdict('Rows of its recipe', lost ? `${many(lost, 'row')} without effect: its source or place is gone` : 'all have an effect', lost ? 'no' : 'yes'), // prettier-ignore
    verdict('Points waiting for a decision', waiting ? many(waiting, 'point') : 'none', waiting ? 'look' : 'yes'),
    verdict('Breaklines that meet at different elevations', apart ? `${many(apart, 'place')} undecided` : 'none undecided', apart ? 'look' : 'yes'), // prettier-ignore
    ...checkVerdicts(built, forms, verdict),
    verdict('Level parts between points of one elevation', f.level.parts ? `${many(f.level.parts, 'part')}, ${formatArea(f.level.area, areaUnit, unit)}` : 'none', f.level.parts ? 'look' : 'yes'), // prettier-ignore
    verdict('Triangles thinner than 1°, off breaklines', f.slivers ? many(f.slivers, 'triangle') : 'none', f.slivers ? 'look' : 'yes'), // prettier-ignore
    verdict('Hollows', f.hollows.count ? `${many(f.hollows.count, 'hollow')}, the deepest ${forms.length(f.hollows.deepest, 2)} ${forms.sign}` : 'none', f.hollows.count ? 'look' : 'yes'), // prettier-ignore
    verdict(
      'Error without each point in turn',
      f.leftOut
        ? `root mean square ${forms.precision(f.leftOut.rmse)} ${forms.sign}, largest ${forms.precision(f.leftOut.largest)} ${forms.sign} (${f.leftOut.shots} of ${many(f.leftOut.of, 'point')})`
        : 'no point can be left out',
      f.leftOut ? 'look' : 'not known',
    ),
  ];
}

function checkVerdicts(
  { account }: Built,
  forms: Forms,
  verdict: (what: string, found: string, ok: 'yes' | 'no' | 'look' | 'not known') => ReportRow,
): ReportRow[] {
  const rows = account.checks.flatMap((c) => (c.accuracy ? [{ ...c, accuracy: c.accuracy }] : []));
  if (rows.length === 0) return [verdict('Check shots', 'none on the surface', 'not known')];
  return rows.map((c) => {
    const { rmse, nssda, shots, enough } = c.accuracy;
    const few = enough ? '' : `; fewer than the ${NSSDA_SHOTS} that the standard asks for`;
    const found = `95 % within ${forms.precision(nssda)} ${forms.sign} (root mean square ${forms.precision(rmse)}, ${many(shots, 'shot')}${few})`;
    if (c.within === null) return verdict('Check shots', `${found}; no class is stated`, 'not known');
    return verdict('Check shots', `${found}; wanted ${forms.precision(c.within)} ${forms.sign}`, nssda > c.within ? 'no' : enough ? 'yes' : 'look'); // prettier-ignore
  });
}

const queryTable = (open: readonly Query[]): ReportTable => ({
  kind: 'queries',
  title: 'Open queries',
  about: [],
  marked: open.some((q) => q.weight === 'stop'),
  columns: [column('Weight', 'words', 10), column('Query', 'words', 90)],
  rows: open.slice(0, MOST_QUERIES).map((q) => row([q.weight, q.text], q.weight === 'stop')),
});

function checkTable(recipe: SurfaceRecipe, c: CheckShots, points: ReportPlaces, forms: Forms): ReportTable {
  const at = recipe.rows.findIndex((r) => r.id === c.row);
  return {
    kind: 'checks',
    title: `Check shots, row ${at + 1} of the recipe`,
    about: [
      'Surface − shot, the largest first. 95 % figure by FGDC-STD-007.3 (NSSDA): 1.9600 × root mean square.',
      ...(c.outside ? [`${many(c.outside, 'shot')} off the surface.`] : []),
      ...(c.accuracy && c.accuracy.shots > c.rows.length
        ? [`The ${c.rows.length} largest of ${c.accuracy.shots}.`]
        : []),
    ],
    marked: false,
    columns: [column('Point', 'sign', 16), ...forms.planColumns(18), forms.lengthColumn('Elevation', 16), forms.lengthColumn('Surface − shot', 16)], // prettier-ignore
    rows: c.rows.map((r, i) =>
      row([points.number(r), ...forms.plan(points.x[r], points.y[r]), forms.elevation(points.z[r]), forms.precision(c.off[i])], c.within !== null && Math.abs(c.off[i]) > c.within)), // prettier-ignore
  };
}

const madeFrom = (doc: ProjectDocument, recipe: SurfaceRecipe, { account }: Built): ReportTable => ({
  kind: 'recipe',
  title: 'Made from',
  about: [],
  marked: false,
  columns: [column('Row', 'number', 6), column('What', 'words', 70), column('Effect', 'words', 24)],
  rows: recipe.rows.map((r, i) => row([String(i + 1), rowText(doc, r), effectText(r, account.rows[r.id], doc.settings)], account.rows[r.id] === null)), // prettier-ignore
});

const leftOutTable = ({ account }: Built): ReportTable => ({
  kind: 'excluded',
  title: 'Excluded, and why',
  about: [],
  marked: false,
  columns: [column('Why', 'words', 80), column('Count', 'number', 20)],
  rows: [
    ...account.leftOut.map((l) => row([l.why, String(l.count)])),
    ...(account.coincident.length ? [row(['coincident points, one kept', String(account.coincident.length)])] : []),
    ...(account.tooLong ? [row(['triangles over the longest side', String(account.tooLong)])] : []),
  ],
});

function measures(doc: ProjectDocument, recipe: SurfaceRecipe, b: Built, forms: Forms): ReportTable {
  const { areaUnit, unit } = doc.settings;
  const contours = contourSettings(doc, recipe);
  return {
    kind: 'measures',
    title: 'Measures',
    about: [],
    marked: false,
    columns: [column('What', 'words', 60), column('Value', 'words', 40)],
    rows: [
      row(['Points, triangles', `${b.points}, ${b.triangles}`]),
      row(['Plan area', formatArea(b.planArea, areaUnit, unit)]),
      row(['Slope area', formatArea(b.slopeArea, areaUnit, unit)]),
      row([
        'Elevations',
        b.triangles ? `${forms.elevation(b.lowest)} – ${forms.elevation(b.highest)} ${forms.sign}` : '',
      ]),
      row([
        'Contours',
        contours ? `${b.contours}, every ${formatLength(contours.interval, unit)} ${forms.sign}` : 'none',
      ]),
    ],
  };
}

function slopeTable(doc: ProjectDocument, { slopes }: SurfaceFitness): ReportTable {
  const { areaUnit, unit } = doc.settings;
  const all = slopes.reduce((a, b) => a + b, 0);
  const names = rangeNames(SLOPE_STEPS, (v) => formatFixed(v * 100, 0));
  return {
    kind: 'slopes',
    title: 'Plan area by slope',
    about: [],
    marked: false,
    columns: [column('Slope', 'words', 34, '%'), column('Plan area', 'words', 33), column('Share', 'number', 33, '%')],
    rows: slopes.map((area, i) => row([names[i], formatArea(area, areaUnit, unit), all ? formatFixed((100 * area) / all, 1) : ''])), // prettier-ignore
  };
}

/** Error without each point by part of the site, the worst first. */
function partsTable({ map, leftOut }: SurfaceFitness, forms: Forms): ReportTable {
  const { x, y, cell, columns, rmse, count } = map!;
  const cells = [...rmse.keys()].filter((i) => !Number.isNaN(rmse[i])).sort((a, b) => rmse[b] - rmse[a] || a - b);
  const usual = leftOut?.rmse ?? Infinity;
  return {
    kind: 'parts',
    title: 'Error without each point, by part of the site',
    about: [
      `Squares of ${forms.length(cell, 1)} ${forms.sign}, the worst first: where the surface says least between its points.`,
    ],
    marked: false,
    columns: [...forms.planColumns(25).map((c) => ({ ...c, name: `${c.name} of the middle` })), column('Points', 'number', 15), forms.lengthColumn('Root mean square', 35)], // prettier-ignore
    rows: cells
      .slice(0, MOST_CELLS)
      .map((i) =>
        row(
          [
            ...forms.plan(x + (0.5 + (i % columns)) * cell, y + (0.5 + Math.floor(i / columns)) * cell),
            String(count[i]),
            forms.precision(rmse[i]),
          ],
          rmse[i] > 2 * usual,
        ),
      ),
  };
}
