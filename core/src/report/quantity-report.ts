import type { ChainSummary } from '#core/chain';
import { proposedIn, surfacesCompared, type Comparison, type ProposedRow, type ProjectDocument } from '#core/project';
import {
  HEAP_BASES,
  type HeapVolume,
  offShare,
  together,
  spreadOf,
  WITHIN_95,
  type DifferencePieces,
  type MethodSizes,
  type CutAndFill,
  type VolumeMethod,
  type VolumeSplit,
} from '#core/quantities';
import { placeText } from '#core/queries';
import { BASE_NAME, comparedText } from './compared-text.ts';
import { barOfPlan, planFigure } from './plan-figure.ts';
import { partTables } from './part-tables.ts';
import { splitText } from './split-text.ts';
import { formsOf, type Forms } from './forms.ts';
import { rowText } from './recipe-text.ts';
import { pointsUsed, sectionsOf, type Shown } from './shown-tables.ts';
import { areaOf, cubic, VOLUME, YARDS, yards } from './volume-forms.ts';
import { column, row, type Report, type ReportTable } from './table.ts';

type Figures = Extract<ChainSummary['comparisons'][number], { ok: true }>;

/** What of a project is reported on, and when. */
export interface ReportedOn {
  name: string;
  revision: number;
  /** The day on which the report is made, as the reader writes it. */
  date: string;
  /** Who checked which revision last, and how many changes came after; null where nobody did. */
  checked: { revision: number; by: string; at: string; since: number } | null;
}

const MOST_QUERIES = 200;
const MOST_CORNERS = 5000;
/** How each method goes; its size stands behind it. */
const METHOD_NAME: Record<VolumeMethod, { name: string; size?: keyof MethodSizes }> = {
  exact: { name: 'Exact, by the planes of the triangles' },
  grid: { name: 'Grid cells, mean of four corners', size: 'cell' },
  sections: { name: 'Sections, mean of their ends', size: 'spacing' },
  prismoidal: { name: 'Sections, prismoidal formula', size: 'spacing' },
  contours: { name: 'Areas inside depth contours', size: 'interval' },
};
const WHICH_IS: Record<VolumeMethod, string> = {
  exact: '',
  grid: 'V = mean of four corner depths × area of the cell',
  sections: 'V = L (A1 + A2) / 2',
  prismoidal: 'V = L (A1 + 4 Am + A2) / 6',
  contours: 'V = interval × (A1 + A2) / 2, above the last a frustum',
};

/** A comparison for whoever has to rely on it: what against what, inside what, by which methods, how sure, and what is open. */
export function quantityReport(
  doc: ProjectDocument,
  comparison: Comparison,
  figures: Figures,
  summary: Pick<ChainSummary, 'surfaces' | 'queries'>,
  of: ReportedOn,
  /** What is shown beside the figures; null for figures alone. */
  shown: Shown | null = null,
): Report {
  const forms = formsOf(doc);
  const proposed = proposedIn(doc, comparison)?.rows;
  const open = summary.queries.filter((q) => !q.accepted && (q.stage === 'ground' || q.stage === 'quantities' || q.weight === 'stop')); // prettier-ignore
  const rim = figures.heap?.toe ?? cornersOf(comparison.within);
  return {
    title: `Quantities: ${comparison.name}`,
    about: [
      `${comparedText(comparison, doc)}. ${of.name}, revision ${of.revision}, ${of.date}.`,
      'Cut is ground above what it is compared with, fill below it; net is cut − fill. By the planes of both surfaces, exactly.',
      open.length ? `${open.length} ${open.length === 1 ? 'query is' : 'queries are'} open: see below.` : 'No query is open.', // prettier-ignore
    ],
    wide: false,
    tables: [
      volumes(figures),
      measures(doc, comparison, figures, forms),
      ...(shown?.pieces.length ? [plan(comparison, shown.pieces, figures.cells, forms)] : []),
      ...partTables(doc, comparison, figures, forms),
      ...(figures.split && !('reason' in figures.split) ? [splitTable(doc, comparison, figures.split)] : []),
      ...(figures.heap ? [bases(doc, figures.heap)] : []),
      ...(proposed ? [proposedTable(doc, proposed)] : []),
      ...(figures.byHand.ok ? [methods(figures, figures.byHand, Boolean(comparison.along), forms)] : []),
      madeFrom(doc, comparison, summary),
      ...(rim.length ? [corners(rim, figures.heap ? 'Toe' : 'Boundary', forms)] : []),
      ...(shown?.sections.length ? sectionsOf(doc, shown.sections, forms) : []),
      ...(shown?.points.length ? [pointsUsed(shown.points, forms)] : []),
      ...(open.length ? [queries(open)] : []),
      signed(of),
    ],
  };
}

function volumes({ cut, fill, sd: measured, spacing }: Figures): ReportTable {
  const sd = measured && together(measured, spacing?.sd ?? null);
  const net = cut - fill;
  const of = (name: string, volume: number, precision: number | undefined) =>
    row([name, cubic(volume), precision === undefined ? '' : cubic(WITHIN_95 * precision), yards(volume)]);
  return {
    kind: 'volumes',
    title: 'Volumes',
    about: measured
      ? [spacing ? `± is 95 %: measuring ± ${cubic(WITHIN_95 * measured.net)} m³ of cut − fill, from the precision of the points, independent of each other; how well the points describe the ground ± ${cubic(WITHIN_95 * spacing.sd.net)} m³, from leaving each of them out.` : '± is 95 %, from the precision of the points alone, independent of each other; too few of them can be left out to tell how well they describe the ground.'] // prettier-ignore
      : ['The precision of the points was not stated, so that none of the volumes is.'],
    marked: false,
    columns: [column('', 'words', 30), VOLUME('Volume'), VOLUME('±'), YARDS('Volume')],
    rows: [of('Cut', cut, sd?.cut), of('Fill', fill, sd?.fill), of('Cut − fill', net, sd?.net)],
  };
}

function plan(
  { within, zones = [], along }: Comparison,
  pieces: DifferencePieces,
  cells: number | null,
  forms: Forms,
): ReportTable {
  const rings = [...(within ? [within] : []), ...zones.map((z) => z.ring)];
  const svg = planFigure({ pieces, rings, lines: along ? [along] : [] });
  return {
    kind: 'plan',
    title: 'Plan',
    about: [`North is up; the bar is ${forms.length(barOfPlan(pieces), 2)} ${forms.sign}. Cut is hatched in red rising to the right, fill in blue falling; the black line is where one turns into the other.${cells ? ` Drawn in cells of ${forms.length(cells, 1)} ${forms.sign}.` : ''}`], // prettier-ignore
    marked: false,
    columns: [column('', 'words', 100)],
    rows: [row([{ text: '', drawing: svg }])],
  };
}

function measures(doc: ProjectDocument, comparison: Comparison, f: Figures, forms: Forms): ReportTable {
  const { strip, neither, voids = [], factors } = comparison;
  const area = areaOf(doc);
  const mean = (volume: number, m2: number): string => (m2 > 0 ? `${forms.length(volume / m2, 2)} ${forms.sign}` : 'none'); // prettier-ignore
  const deepest = (of: Figures['deepest']['cut']): string => (of ? `${forms.length(of.depth, 2)} ${forms.sign} at ${placeText(doc, of.x, of.y)}` : 'none'); // prettier-ignore
  return {
    kind: 'measures',
    title: 'Areas and depths',
    about: [],
    marked: false,
    columns: [column('', 'words', 40), column('', 'words', 60)],
    rows: [
      row(['Area of cut, in plan', area(f.cutArea)]),
      row(['Area of fill, in plan', area(f.fillArea)]),
      row(['Area of cut, as the ground lies', area(f.slope.cut)]),
      row(['Area of fill, as the ground lies', area(f.slope.fill)]),
      row(['Area that is compared', area(f.area)]),
      row(['Mean depth of cut', mean(f.cut, f.cutArea)]),
      row(['Mean depth of fill', mean(f.fill, f.fillArea)]),
      row(['Deepest cut', deepest(f.deepest.cut)]),
      row(['Deepest fill', deepest(f.deepest.fill)]),
      ...(strip && f.stripped !== null ? [row([`Topsoil, ${forms.length(strip, 3)} ${forms.sign} that go first`, `${cubic(f.stripped)} m³, not in the cut`])] : []), // prettier-ignore
      ...(neither ? [row([`No deeper than ${forms.length(neither, 3)} ${forms.sign}`, `${area(f.neither)}, neither cut nor fill`])] : []), // prettier-ignore
      ...(voids.length ? [row(['Voids', `${voids.length}, not compared`])] : []),
      ...(factors ? [row([`Cut × ${factors.cut}, loose`, `${cubic(f.cut * factors.cut)} m³`]), row([`Fill × ${factors.fill}, to bring`, `${cubic(f.fill * factors.fill)} m³`])] : []), // prettier-ignore
    ],
  };
}

function splitTable(doc: ProjectDocument, { theirs }: Comparison, split: Omit<VolumeSplit, 'pieces'>): ReportTable {
  const line = (name: string, v: CutAndFill) => row([name, cubic(v.cut), cubic(v.fill), cubic(v.cut - v.fill)]);
  const net = split.theirs.cut - split.theirs.fill;
  return {
    kind: 'split',
    title: 'Why their volume is another',
    about: [
      `Theirs is “${doc.surfaces.find((s) => s.id === theirs?.surface)?.name ?? ''}”. Both measure ${areaOf(doc)(split.commonArea)}. Ours is made into theirs one step at a time, in this order; the shares add up.`, // prettier-ignore
    ],
    marked: false,
    columns: [column('', 'words', 52), VOLUME('Cut', 16), VOLUME('Fill', 16), VOLUME('Cut − fill', 16)],
    rows: [
      line('Ours', split.ours),
      ...split.steps.map((step) => line(splitText(doc, step, split), step)),
      line('Theirs', split.theirs),
      ...(theirs?.net === undefined ? [] : [row(['Their figure beside their surface', '', '', cubic(theirs.net - net)]), row(['Their figure', '', '', cubic(theirs.net)])]), // prettier-ignore
    ],
  };
}

function bases(doc: ProjectDocument, heap: NonNullable<Figures['heap']>): ReportTable {
  const above = (v: HeapVolume | null, none: string): string[] => (v ? [cubic(v.above), cubic(v.below), cubic(v.net), yards(v.net)] : [none, '', '', '']); // prettier-ignore
  const { earlier } = heap;
  const name = earlier && (doc.surfaces.find((s) => s.id === earlier.surface)?.name ?? 'a surface that is gone');
  return {
    kind: 'bases',
    title: 'The heap above every base',
    about:
      earlier && heap.planArea - earlier.area > LEAST_BARE
        ? [`“${name}” lies under ${areaOf(doc)(earlier.area)} of the heap’s ${areaOf(doc)(heap.planArea)}; the rest has no part in the volume above it.`] // prettier-ignore
        : [],
    marked: false,
    columns: [column('Base', 'words', 34), VOLUME('Above'), VOLUME('Below'), VOLUME('Net'), YARDS('Net')],
    rows: [
      ...HEAP_BASES.map((base) => row([BASE_NAME[base], ...above(heap.volumes[base], 'no plane')])),
      ...(earlier ? [row([`“${name}”, as it was before`, ...above(earlier.volume, 'not under it')])] : []),
    ],
  };
}

/** m² of a heap without ground of an earlier surface under it that are rounding. */
const LEAST_BARE = 0.01;

const proposedTable = (doc: ProjectDocument, rows: readonly ProposedRow[]): ReportTable => ({
  kind: 'proposed',
  title: 'The proposed ground',
  about: ['Each is laid into the ground as those before it leave it. Batters are horizontal to 1 vertical.'],
  marked: false,
  columns: [column('', 'words', 60), column('Corners', 'words', 20), column('Slope', 'words', 20)],
  rows: rows.map((r) =>
    row([
      rowText(doc, r),
      r.kind === 'offset' ? '' : r.corners,
      r.kind === 'offset' ? '' : r.kind === 'pad' && r.batter === 'steepest' ? 'where steepest' : 'square to the side',
    ]),
  ),
});

function methods(
  { cut, fill }: Figures,
  { methods: all, sizes }: Extract<Figures['byHand'], { ok: true }>,
  isAlong: boolean,
  forms: Forms,
): ReportTable {
  const whole = cut + fill;
  const spread = spreadOf(all);
  const worst = all.find((m) => m.worst)?.worst;
  return {
    kind: 'methods',
    title: 'Every method',
    about: [
      `Spread of cut − fill: ${cubic(spread)} m³${whole ? `, ${((100 * spread) / whole).toFixed(2)} % of cut + fill` : ''}. Hand methods are common practice, as a check beside the exact volume.`, // prettier-ignore
      ...(worst
        ? [`Sections say least between ${forms.length(worst.from, 1)} and ${forms.length(worst.to, 1)} ${forms.sign} ${isAlong ? 'along their line' : 'from the west side'}: they are off by ${cubic(Math.abs(worst.cut) + Math.abs(worst.fill))} m³ there.`] // prettier-ignore
        : []),
    ],
    marked: false,
    columns: [column('Method', 'words', 30), column('Formula', 'words', 28), forms.lengthColumn('Size', 9), VOLUME('Cut', 11), VOLUME('Fill', 11), VOLUME('Cut − fill', 11), column('Off', 'number', 8, '%')], // prettier-ignore
    rows: all.map((m) => {
      const { name, size } = METHOD_NAME[m.method];
      return row([name, WHICH_IS[m.method], size ? forms.length(sizes[size], 3) : '', cubic(m.cut), cubic(m.fill), cubic(m.cut - m.fill), m.method === 'exact' ? '' : (100 * offShare(m, { cut, fill })).toFixed(2)]); // prettier-ignore
    }),
  };
}

function madeFrom(
  doc: ProjectDocument,
  comparison: Comparison,
  { surfaces }: Pick<ChainSummary, 'surfaces'>,
): ReportTable {
  // prettier-ignore
  const ids = surfacesCompared(comparison);
  return {
    kind: 'surfaces',
    title: 'Made from',
    about: [],
    marked: false,
    columns: [column('Surface', 'words', 24), column('Points', 'number', 10), column('Triangles', 'number', 10), column('Recipe', 'words', 56)], // prettier-ignore
    rows: ids.flatMap((id) => {
      const recipe = doc.surfaces.find((s) => s.id === id);
      const built = surfaces.find((s) => s.id === id);
      if (!recipe) return [];
      const text = recipe.rows.filter((r) => r.on).map((r) => rowText(doc, r)); // prettier-ignore
      return [row([recipe.name, String(built?.points ?? ''), String(built?.triangles ?? ''), text.join('; ')])];
    }),
  };
}

const cornersOf = (ring: readonly number[] | null): number[][] =>
  ring ? Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i], ring[2 * i + 1]]) : [];

function corners(rim: readonly number[][], title: string, forms: Forms): ReportTable {
  const haveElevations = rim.some((c) => c.length > 2);
  return {
    kind: 'boundary',
    title,
    about: rim.length > MOST_CORNERS ? [`The first ${MOST_CORNERS} of ${rim.length} corners.`] : [],
    marked: false,
    columns: [column('Corner', 'sign', 10), ...forms.planColumns(20), ...(haveElevations ? [forms.lengthColumn('Elevation', 20)] : [])], // prettier-ignore
    rows: rim.slice(0, MOST_CORNERS).map(([x, y, z], i) => row([String(i + 1), ...forms.plan(x, y), ...(haveElevations ? [forms.elevation(z)] : [])])), // prettier-ignore
  };
}

const queries = (open: ChainSummary['queries']): ReportTable => ({
  kind: 'queries',
  title: 'Open queries',
  about: open.length > MOST_QUERIES ? [`The first ${MOST_QUERIES} of ${open.length}.`] : [],
  marked: open.some((q) => q.weight === 'stop'),
  columns: [column('Weight', 'words', 10), column('Query', 'words', 90)],
  rows: open.slice(0, MOST_QUERIES).map((q) => row([q.weight, q.text], q.weight === 'stop')),
});

/** Whether somebody's check covers the revision, in words. */
function checkedText(revision: number, checked: ReportedOn['checked']): string {
  if (!checked) return 'Nobody has marked this project as checked.';
  const mark = `${checked.by} marked revision ${checked.revision} as checked on ${checked.at}`;
  return checked.revision >= revision || checked.since === 0
    ? `${mark}: it covers what stands here.`
    : `${mark}: ${checked.since === 1 ? '1 change came' : `${checked.since} changes came`} after it, so that it no longer covers what stands here.`;
}

/** For whoever stands for it by hand; a later revision is not what they signed. */
const signed = ({ revision, checked }: ReportedOn): ReportTable => ({
  kind: 'signed',
  title: 'Signed',
  about: [`For revision ${revision} alone.`, checkedText(revision, checked)],
  marked: false,
  columns: [column('', 'words', 20), column('Name', 'words', 50), column('Date', 'words', 30)],
  rows: [row(['Made by', '', '']), row(['Checked by', '', ''])],
});
