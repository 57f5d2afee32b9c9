import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { PadRow, ProjectDocument, Settings, StripRow, SurfaceRow, TracedRow } from '#core/project';
import { ruleText } from './rule-text.ts';

const USE_NAME = { point: 'elevation of the point', mean: 'the mean', highest: 'the highest', lowest: 'the lowest' };

const surfaceName = (doc: ProjectDocument, id: string): string => {
  const found = doc.surfaces.find((s) => s.id === id);
  return found ? `“${found.name}”` : 'a surface that is gone';
};

/** A row of a recipe as it is read. */
export function rowText(doc: ProjectDocument, row: SurfaceRow): string {
  const { unit } = doc.settings;
  const signed = (m: number): string => `${m < 0 ? '−' : '+'}${formatLength(Math.abs(m), unit)}`;
  const length = (m: number): string => `${formatLength(m, unit)} ${UNIT_SIGN[unit]}`;
  switch (row.kind) {
    case 'survey':
      return 'points of all survey files';
    case 'file': {
      const file = doc.intakes.find((i) => i.id === row.intake);
      return file ? `points of ${file.fileName}${file.on ? '' : ' (switched off)'}` : 'points of a file that is gone';
    }
    case 'triangles': {
      const file = doc.intakes.find((i) => i.id === row.intake);
      return file
        ? `triangles of ${file.fileName}, as received${file.on ? '' : ' (switched off)'}`
        : 'triangles of a file that is gone';
    }
    case 'lines':
      return `${row.codes === null ? 'breaklines by the code list' : `lines ${row.codes.join(', ')} as breaklines`}${row.pointsOnly ? ', their points only' : ''}`;
    case 'contours':
      return `lines ${row.codes.join(', ')} as contours`;
    case 'exclude-codes':
      return 'excluded by code';
    case 'exclude-lines':
      return `lines excluded by hand: ${row.lines.join(', ')}`;
    case 'points':
      return `points by rule: ${ruleText(row.rule, doc)}`;
    case 'exclude-points':
      return `excluded by rule: ${ruleText(row.rule, doc)}`;
    case 'checks':
      return `check shots: ${ruleText(row.rule, doc)}${row.within === null ? '' : `, 95 % wanted within ${length(row.within)}`}`;
    case 'boundary':
      return 'boundary drawn by hand';
    case 'line-boundary':
      return `boundary along closed lines ${row.codes.join(', ')}`;
    case 'void':
      return 'void drawn by hand';
    case 'island':
      return 'island within a void';
    case 'thin':
      return `thinned: within ${length(row.error)} of every point left out`;
    case 'fill-level':
      return `level parts filled along their middle, summits by ${Math.round(row.summit * 100)} % of the step to the next contour`;
    case 'spot':
      return `spot height ${length(row.z)}`;
    case 'raise':
      return `area ${row.by < 0 ? 'lowered' : 'raised'} by ${length(Math.abs(row.by))}`;
    case 'tilt':
      return `area tilted onto ${row.onto.map((p) => length(p.z)).join(', ')}`;
    case 'even-out':
      return `area evened out, ${Math.round(row.strength * 100)} %, ${row.rounds} ${row.rounds === 1 ? 'round' : 'rounds'}`;
    case 'swap':
      return 'side swapped';
    case 'delete-triangles':
      return row.places.length === 2 ? 'triangle deleted' : `${row.places.length / 2} triangles deleted`;
    case 'move': {
      const { x, y, z } = row.by;
      const parts = [x && `E ${signed(x)}`, y && `N ${signed(y)}`, z && `elevation ${signed(z)}`].filter(Boolean);
      return `${row.points.length === 1 ? 'point' : `${row.points.length} points`} moved: ${parts.join(', ')} ${UNIT_SIGN[unit]}`;
    }
    case 'omit':
      return row.points.length === 1 ? 'point deleted by hand' : `${row.points.length} points deleted by hand`;
    case 'breakline':
      return `breakline drawn by hand, ${row.course.length} vertices`;
    case 'traced':
      return tracedText(row, length);
    case 'raise-lines':
      return `${row.lines.join(', ')} ${row.by < 0 ? 'lowered' : 'raised'} by ${length(Math.abs(row.by))}`;
    case 'surface':
      return `points and breaklines of ${surfaceName(doc, row.surface)}${row.ring ? ', inside an area' : ''}`;
    case 'lay-in':
      return `${surfaceName(doc, row.surface)} laid in${row.ring ? ' inside an area' : ''}`;
    case 'pad':
      return `pad ${row.through ? `on the plane of ${row.through.length} points` : `at ${length(row.level)}${row.gradient ? `, rising ${(100 * row.gradient).toFixed(2)} %` : ''}`}, ${battersText(row, length)}`;
    case 'strip':
      return `${row.template.length > 2 ? `template of ${row.template.length} places` : 'bank or ditch'} along a line, ${length(row.template.at(-1)!.offset - row.template[0].offset)} wide, ${battersText(row, length)}`;
    case 'offset':
      return `${surfaceName(doc, row.surface)} ${row.by < 0 ? 'lowered' : 'raised'} by ${length(Math.abs(row.by))}${row.ring ? ', inside an area' : ''}`;
    case 'found-boundary':
      return row.longest === 'auto'
        ? 'boundary found by itself'
        : `boundary found: no side at the rim over ${length(row.longest)}`;
    case 'meeting':
      return `where ${row.lines.join(' and ')} meet: ${typeof row.use === 'object' ? `elevation of ${row.use.line}` : USE_NAME[row.use]}`;
  }
}

/** A traced line: at what elevation it is, or how many of its elevations are known. */
export function tracedText({ as, course, closed }: TracedRow, length: (m: number) => string): string {
  const known = course.flatMap(({ z }) => (z === null ? [] : [z]));
  const of = closed ? `closed ${as}` : as;
  if (as === 'contour') return `traced ${of} at ${length(known[0])}`;
  return `traced ${of}, ${course.length} vertices, ${known.length === course.length ? 'all elevations known' : `${known.length} elevations known, the others solved along it`}`;
}

const battersText = ({ cutSlope, fillSlope, benches }: PadRow | StripRow, length: (m: number) => string): string =>
  `batters 1 : ${cutSlope} in cut, 1 : ${fillSlope} in fill${benches ? `, benches ${length(benches.width)} wide every ${length(benches.every)}` : ''}`;

/** What a row did: points or lines that it brought in or kept out, triangles or area that it took. */
export function effectText(
  row: SurfaceRow,
  n: number | null | undefined,
  { areaUnit, unit }: Pick<Settings, 'areaUnit' | 'unit'>,
): string {
  if (!row.on) return 'off';
  if (n === null)
    return row.kind === 'meeting'
      ? 'no longer meet'
      : 'intake' in row
        ? 'its file is gone'
        : row.kind === 'surface'
          ? 'the surface is gone'
          : row.kind === 'line-boundary'
            ? 'no closed line'
            : 'place lost';
  if (
    row.kind === 'island' ||
    row.kind === 'meeting' ||
    row.kind === 'spot' ||
    row.kind === 'swap' ||
    row.kind === 'breakline' ||
    row.kind === 'traced'
  )
    return '';
  if (n === undefined) return '…';
  const many = (one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;
  if (row.kind === 'boundary' || row.kind === 'void' || row.kind === 'line-boundary')
    return `${formatArea(n, areaUnit, unit)} less`;
  if (row.kind === 'found-boundary') return `${many('triangle')} less`;
  if (
    row.kind === 'triangles' ||
    row.kind === 'delete-triangles' ||
    row.kind === 'lay-in' ||
    row.kind === 'pad' ||
    row.kind === 'strip' ||
    row.kind === 'offset'
  )
    return many('triangle');
  if (row.kind === 'thin') return `${many('point')} less`;
  if (row.kind === 'fill-level') return `${many('point')} more`;
  return many(
    row.kind === 'lines' || row.kind === 'contours' || row.kind === 'exclude-lines' || row.kind === 'raise-lines'
      ? 'line'
      : 'point',
  );
}
