import { besidesPoints, notReadOf, pointsIn, type FileContent, type NamedPlace, type NotRead } from './content.ts';
import { cell } from './cell-text.ts';
import { drawingOfGeoJson } from './geojson/as-drawing.ts';
import { drawingOfLandXml } from './landxml/as-drawing.ts';
import { linesIn, rowsOfLines } from './drawn-lines.ts';
import { saysAs } from './taken.ts';
import { NOTHING_LOST, type FileClaims, type FilePart, type Lost, type TabularFile } from './tabular-file.ts';
import { partOfDrawing } from './drawing-part.ts';
import { tinsIn, type ReceivedTin } from './tins.ts';

const CALLED = { dxf: 'DXF', landxml: 'LandXML', geojson: 'GeoJSON' };
const NO_POINTS = {
  dxf: 'This drawing holds no points (POINT).',
  landxml: 'This LandXML holds no points (CgPoints).',
  geojson: 'This GeoJSON holds no points.',
};

/**
 * Points of a drawing, LandXML or GeoJSON as rows of text under a heading, number, east, north, elevation, code with tabs
 * between; or the vertices of a ready-made surface, the one that is named or the first of a file without points; or those of
 * its lines, where they are asked for or there is nothing else.
 */
export function rowsOfContent(
  all: FileContent,
  encoding: string,
  part: FilePart,
  /** The same as a drawing, where there is something to tick. */
  drawn: Drawing | null,
): TabularFile {
  const drawing = drawn && partOfDrawing(drawn, part);
  // Of a file that is no DXF the whole is what it was before anybody could tick: its points, its lines, a surface.
  const file = drawing && (all.kind === 'dxf' || part.taken) ? drawing.file : all;
  const { notRead, count, whole } = notReadOf(all);
  const points = pointsIn(file);
  const name = (all.kind === 'dxf' ? all.called : undefined) ?? CALLED[all.kind];
  const at = (p: { where: string; why: string }): string => `${name}, ${p.where}: ${p.why}`;
  if (!whole && notRead.length)
    return { ok: false, reason: points.length ? `${at(notRead[0])}. The file breaks off there; ask for it whole.` : `${at(notRead[0])}.` }; // prettier-ignore
  const besides = besidesPoints(file);
  // Every layer's faces are on offer, whatever else is taken.
  const tins = tinsIn(all);
  const lineList = linesIn(file, part.unit, part.arcs);
  const { surface } = part;
  const tin =
    part.lines || (surface === undefined && (part.taken || points.length))
      ? undefined
      : tins.find((t) => t.name === (surface ?? t.name));
  if (surface !== undefined && !tin) return { ok: false, reason: `${name} holds no surface “${surface}” any more.` };
  const surfaces = tins.map((t) => ({ name: t.name, vertices: t.x.length, triangles: t.faces.length / 3 }));
  const hasPoints = points.length > 0;
  const lines = { count: lineList.length, taken: false };
  const taken = {
    encoding,
    kind: all.kind,
    claims: claimsOf(all),
    lost: NOTHING_LOST,
    hasPoints,
    surfaces,
    ...tableOf(drawing),
  } as const;
  const under = drawing?.under?.count ? drawing.under : null;
  if (surface === undefined && saysAs(part.taken) && (points.length || lineList.length || under)) {
    const numbered = points.filter((p) => !p.ground);
    const pointRows = [...numbered, ...points.filter((p) => p.ground)].map(rowOfPoint);
    const before = [headingOf(all), ...pointRows, ...rowsOfLines(lineList)];
    const text = [...before, ...(under?.rows ?? [])].join('\n');
    const underlay = under ? { underlay: { from: before.length + 1, count: under.count } } : {};
    const together = { points: points.length, lightFrom: 2 + numbered.length, ...underlay };
    return { ok: true, ...taken, besides: besidesPoints(withoutLines(file)), lost: lostOf(notRead, count), text, lines: { ...lines, taken: lineList.length > 0 }, together }; // prettier-ignore
  }
  if (part.lines && lineList.length === 0) return { ok: false, reason: `${name} holds no lines any more.` };
  if (lineList.length && (part.lines || (!tin && !hasPoints)))
    return { ok: true, ...taken, text: [headingOf(all), ...rowsOfLines(lineList)].join('\n'), lines: { ...lines, taken: true } }; // prettier-ignore
  if (tin) return { ok: true, ...taken, text: verticesOf(all, tin), lines, surface: { name: tin.name, faces: tin.faces } }; // prettier-ignore
  if (points.length === 0) {
    const nothing = { ok: false, ...tableOf(drawing) } as const;
    if (part.taken) return { ...nothing, reason: `${name}: what is ticked of it holds no points and no lines. Tick what is wanted.` }; // prettier-ignore
    if (notRead.length) return { ...nothing, reason: `${at(notRead[0])}.` };
    return { ...nothing, reason: `${NO_POINTS[all.kind]}${besides ? ` It holds ${besides}, which are not imported as points.` : ''}` }; // prettier-ignore
  }
  return {
    ok: true,
    kind: all.kind,
    text: [headingOf(all), ...points.map(rowOfPoint)].join('\n'),
    encoding,
    claims: claimsOf(all),
    besides,
    lines,
    surfaces,
    ...tableOf(drawing),
    lost: lostOf(notRead, count),
  };
}

const tableOf = (drawing: ReturnType<typeof partOfDrawing> | null): Pick<Extract<TabularFile, { ok: true }>, 'drawing'> => (drawing ? { drawing: drawing.table } : {}); // prettier-ignore

type Drawing = Extract<FileContent, { kind: 'dxf' }>;

/** What a file has to tick layer by layer and kind by kind; null where it has none, as of longitude and latitude. */
export function asDrawing(file: FileContent): Drawing | null {
  if (file.kind === 'landxml') return drawingOfLandXml(file);
  if (file.kind === 'geojson') return isGeographic(file) || !file.content.whole ? null : drawingOfGeoJson(file);
  return file;
}

/** Of a drawing whose lines are taken, the lines are not besides. */
const withoutLines = (file: FileContent): FileContent =>
  file.kind === 'dxf' ? { ...file, content: { ...file.content, polylines: [], curves: [] } } : file;

const rowOfPoint = (p: NamedPlace): string => [cell(p.number), p.x, p.y, Number.isNaN(p.z) ? '' : p.z, cell(p.description)].join('\t'); // prettier-ignore

const lostOf = (notRead: NotRead['notRead'], count: number): Lost => ({
  list: notRead.map((p) => ({ row: lineOf(p.where), text: p.where, reason: p.why })),
  count,
});

function verticesOf(file: FileContent, { x, y, z }: ReceivedTin): string {
  const rows = [headingOf(file)];
  for (let v = 0; v < x.length; v++) rows.push(`\t${x[v]}\t${y[v]}\t${z[v]}\t`);
  return rows.join('\n');
}

const lineOf = (where: string): number => Number(/\d+/.exec(where)?.[0] ?? 0);

/** RFC 7946 means longitude and latitude where a file does not say otherwise; places that cannot be so are lengths. */
const isGeographic = (file: FileContent): boolean =>
  file.kind === 'geojson' &&
  file.content.system === null &&
  file.content.points.every((p) => Math.abs(p.x) <= 180 && Math.abs(p.y) <= 90) &&
  file.content.lines.every((l) => l.coordinates.every(([x, y]) => Math.abs(x) <= 180 && Math.abs(y) <= 90));

function headingOf(file: FileContent): string {
  if (isGeographic(file)) return 'number\tlongitude\tlatitude\televation [m]\tcode';
  const { unit } = file;
  return `number\teast${unit ? ` [${unit === 'usft' ? 'us ft' : unit}]` : ''}\tnorth\televation\tcode`;
}

function claimsOf(file: FileContent): FileClaims {
  const { unit } = file;
  if (file.kind === 'landxml')
    return { unit, system: file.content.system || null, geoid: file.content.verticalDatum || null };
  const system = file.kind === 'geojson' ? (file.content.system?.code ?? null) : (file.system ?? null);
  return { unit, system, geoid: null };
}
