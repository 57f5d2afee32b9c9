import { distance } from '#core/kernel';
import { fromMetres, type LengthUnit } from '#core/measure';
import type { Surface } from '#core/terrain';

/** What goes into a LandXML file; metres. Dates are the caller's, so that writing stays a pure function. */
export interface LandXmlContent {
  project: string;
  /** ISO date and time. */
  made: string;
  /** Named where the coordinates lie on a published grid. */
  system?: { name: string; epsg: string | null; verticalDatum: string | null };
  points: { number: string; x: number; y: number; z: number; description: string }[];
  breaklines: { name: string; code: string; closed: boolean; spatial: number[] }[];
  surfaces: { name: string; surface: Surface }[];
  /** Lines that sections stand across: where they run, and offset, elevation … of every surface at a chainage, m; to the right positive. */
  alignments?: { name: string; course: readonly number[]; sections: { chainage: number; surface: string; list: readonly number[] }[] }[]; // prettier-ignore
}

const LINEAR_UNIT: Record<LengthUnit, string> = { m: 'meter', ft: 'foot', usft: 'USSurveyFoot' };

/** Writes LandXML 1.2: points, breaklines as plan features and as source of the first surface, surfaces as TINs. Coordinates stand north, east, elevation, as the schema has it. */
export function writeLandXml(content: LandXmlContent, unit: LengthUnit, decimals: number): string {
  const n = (metres: number): string => fromMetres(metres, unit).toFixed(decimals);
  const out: string[] = [];
  // A line without a place is none.
  const lines = content.breaklines.filter((l) => l.spatial.length >= 3);
  const [date, time] = content.made.replace(/\.\d+Z?$|Z$/, '').split('T');
  out.push(
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="${date}" time="${time}" readOnly="false" language="English">`,
    '<Units>',
    unit === 'm'
      ? '<Metric linearUnit="meter" areaUnit="squareMeter" volumeUnit="cubicMeter" temperatureUnit="celsius" pressureUnit="HPA" angularUnit="decimal degrees" directionUnit="decimal degrees"/>'
      : `<Imperial linearUnit="${LINEAR_UNIT[unit]}" areaUnit="squareFoot" volumeUnit="cubicYard" temperatureUnit="fahrenheit" pressureUnit="inHG" angularUnit="decimal degrees" directionUnit="decimal degrees"/>`,
    '</Units>',
    ...(content.system ? [coordinateSystem(content.system)] : []),
    `<Project name="${escaped(content.project.trim() || 'unnamed')}"/>`,
    '<Application name="Dunrik"/>',
  );
  if (content.points.length) {
    out.push('<CgPoints>');
    const names = uniqueNames(content.points.map((p) => p.number.trim()));
    for (const [i, p] of content.points.entries()) {
      const name = names[i];
      const place = Number.isNaN(p.z) ? `${n(p.y)} ${n(p.x)}` : `${n(p.y)} ${n(p.x)} ${n(p.z)}`;
      out.push(`<CgPoint name="${escaped(name)}" code="${escaped(p.description)}">${place}</CgPoint>`);
    }
    out.push('</CgPoints>');
  }
  if (content.surfaces.length) {
    out.push('<Surfaces>');
    content.surfaces.forEach(({ name, surface }, i) => {
      out.push(`<Surface name="${escaped(name)}">`);
      if (i === 0 && lines.length) pushBreaklines(out, lines, n);
      pushTin(out, surface, n);
      out.push('</Surface>');
    });
    out.push('</Surfaces>');
  }
  if (lines.length) pushFeatures(out, lines, n);
  if (content.alignments?.length) pushAlignments(out, content.alignments, n);
  out.push('</LandXML>', '');
  return out.join('\n');
}

/**
 * Names must be there and be unique in the file: a number used twice gets its occurrence behind it, a point without one
 * is called by its place in the list. A number that somebody gave stays with the first who has it.
 */
function uniqueNames(numbers: readonly string[]): string[] {
  const taken = new Set(numbers);
  const seen = new Set<string>();
  const times = new Map<string, number>();
  return numbers.map((number, i) => {
    if (number !== '' && !seen.has(number)) {
      seen.add(number);
      return number;
    }
    const base = number === '' ? `point-${i + 1}` : number;
    let n = times.get(base) ?? (number === '' ? 0 : 1);
    let name: string;
    do name = ++n === 1 && number === '' ? base : `${base}_${n}`;
    while (taken.has(name));
    times.set(base, n);
    taken.add(name);
    return name;
  });
}

function coordinateSystem({ name, epsg, verticalDatum }: NonNullable<LandXmlContent['system']>): string {
  const code = epsg ? ` epsgCode="${escaped(epsg)}"` : '';
  const vertical = verticalDatum ? ` verticalDatum="${escaped(verticalDatum)}"` : '';
  return `<CoordinateSystem name="${escaped(name)}"${code} horizontalCoordinateSystemName="${escaped(name)}"${vertical}/>`;
}

type Format = (metres: number) => string;

function places(line: LandXmlContent['breaklines'][number], n: Format): string[] {
  const out: string[] = [];
  const s = line.spatial;
  for (let i = 0; i < s.length; i += 3) out.push(`${n(s[i + 1])} ${n(s[i])} ${n(s[i + 2])}`);
  if (line.closed && out.length) out.push(out[0]);
  return out;
}

function pushAlignments(out: string[], alignments: NonNullable<LandXmlContent['alignments']>, n: Format): void {
  out.push('<Alignments>');
  for (const { name, course, sections } of alignments) {
    const legs = Array.from({ length: course.length / 2 - 1 }, (_, i) => course.slice(2 * i, 2 * i + 4));
    const length = legs.reduce((sum, [ax, ay, bx, by]) => sum + distance(bx - ax, by - ay), 0);
    out.push(`<Alignment name="${escaped(name)}" length="${n(length)}" staStart="0">`, '<CoordGeom>');
    for (const [ax, ay, bx, by] of legs) out.push(`<Line><Start>${n(ay)} ${n(ax)}</Start><End>${n(by)} ${n(bx)}</End></Line>`); // prettier-ignore
    out.push('</CoordGeom>', '<CrossSects>');
    const stations = [...new Set(sections.map((s) => s.chainage))];
    for (const chainage of stations) {
      out.push(`<CrossSect sta="${n(chainage)}">`);
      for (const { surface, list } of sections.filter((s) => s.chainage === chainage)) out.push(`<CrossSectSurf name="${escaped(surface)}"><PntList2D>${list.map(n).join(' ')}</PntList2D></CrossSectSurf>`); // prettier-ignore
      out.push('</CrossSect>');
    }
    out.push('</CrossSects>', '</Alignment>');
  }
  out.push('</Alignments>');
}

function pushBreaklines(out: string[], lines: LandXmlContent['breaklines'], n: Format): void {
  out.push('<SourceData>', '<Breaklines>');
  for (const line of lines)
    out.push(
      `<Breakline brkType="standard" name="${escaped(line.name)}"><PntList3D>${places(line, n).join(' ')}</PntList3D></Breakline>`,
    );
  out.push('</Breaklines>', '</SourceData>');
}

function pushTin(out: string[], s: Surface, n: Format): void {
  out.push('<Definition surfType="TIN">', '<Pnts>');
  const used = new Uint32Array(s.x.length);
  let next = 0;
  for (const v of s.triangles) if (used[v] === 0) used[v] = ++next;
  const order = new Uint32Array(next);
  for (let v = 0; v < used.length; v++) if (used[v]) order[used[v] - 1] = v;
  order.forEach((v, i) => out.push(`<P id="${i + 1}">${n(s.y[v])} ${n(s.x[v])} ${n(s.z[v])}</P>`));
  out.push('</Pnts>', '<Faces>');
  for (let t = 0; t < s.triangles.length; t += 3)
    out.push(`<F>${used[s.triangles[t]]} ${used[s.triangles[t + 1]]} ${used[s.triangles[t + 2]]}</F>`);
  out.push('</Faces>', '</Definition>');
}

function pushFeatures(out: string[], lines: LandXmlContent['breaklines'], n: Format): void {
  out.push('<PlanFeatures name="Lines">');
  for (const line of lines) {
    const all = places(line, n);
    out.push(
      `<PlanFeature name="${escaped(line.name)}" desc="${escaped(line.code)}"><CoordGeom><IrregularLine>`,
      `<Start>${all[0]}</Start><End>${all[all.length - 1]}</End><PntList3D>${all.join(' ')}</PntList3D>`,
      '</IrregularLine></CoordGeom></PlanFeature>',
    );
  }
  out.push('</PlanFeatures>');
}

/** XML text: what XML 1.0 cannot carry at all is left out, the rest is escaped. */
export const escaped = (text: string): string =>
  text
    .replace(/[^\t\n\r\x20-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');
