import { SaxesParser } from 'saxes';
import { plainNumber } from '#core/measure';

export interface LandXmlTin {
  name: string;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Indices into the arrays, three a face. */
  faces: Uint32Array;
}

/** What a LandXML file holds, in the file's own unit. */
export interface LandXmlRead {
  /** linearUnit as the file states it, or empty. */
  linearUnit: string;
  project: string;
  /** The coordinate system and the vertical datum as the file names them, or empty. */
  system: string;
  verticalDatum: string;
  points: { name: string; code: string; x: number; y: number; z: number }[];
  breaklines: { name: string; spatial: number[] }[];
  features: { name: string; code?: string; spatial: number[] }[];
  surfaces: LandXmlTin[];
  /** Elements met that are not read, with how often. */
  unread: Record<string, number>;
  /** The first of them; `problemCount` is how many there were. */
  problems: { line: number; what: string }[];
  problemCount: number;
  /** Whether the file was read to its end. */
  whole: boolean;
}

const DEEPEST = 64;
const READ = new Set(
  'LandXML CoordinateSystem Units Metric Imperial Project Application CgPoints CgPoint Surfaces Surface SourceData Breaklines Breakline PntList3D Definition Pnts P Faces F PlanFeatures PlanFeature CoordGeom IrregularLine Start End'.split(
    ' ',
  ),
);

/** Elements whose own text is read; of others it is blanks between their children. */
const SAYING: ReadonlySet<string> = new Set(['CgPoint', 'P', 'F', 'PntList3D']);

/** Reads LandXML 1.0 … 1.2. No document type, no entities of its own, depth bounded; problems carry the line. */
export function readLandXml(text: string): LandXmlRead {
  const out: LandXmlRead = {
    linearUnit: '',
    project: '',
    system: '',
    verticalDatum: '',
    points: [],
    breaklines: [],
    features: [],
    surfaces: [],
    // An element may be called like something that every object has.
    unread: Object.create(null) as Record<string, number>,
    problems: [],
    problemCount: 0,
    whole: false,
  };
  const parser = new SaxesParser();
  const stack: string[] = [];
  /** What each element that is open says itself, without what its children say. */
  const said: string[] = [];
  let stopped = false;
  /** What the element that ends says. */
  let body = '';
  let attributes: Record<string, string> = {};
  let name = '';
  let ids = new Map<string, number>();
  let px: number[] = [];
  let py: number[] = [];
  let pz: number[] = [];
  let faces: number[] = [];

  const problem = (what: string): void => {
    out.problemCount++;
    if (out.problems.length < 200) out.problems.push({ line: parser.line, what });
  };
  const stop = (what: string): void => {
    problem(what);
    stopped = true;
  };
  /** The numbers of an element; null, and said, where one of them is none: half a place is no place. */
  const numbers = (what: string): number[] | null => {
    const words = body.trim() === '' ? [] : body.trim().split(/\s+/);
    const list = words.map(plainNumber);
    const wrong = list.findIndex(Number.isNaN);
    if (wrong < 0) return list;
    problem(`${what} holds “${words[wrong].slice(0, 30)}”, which is not a number; it is left out`);
    return null;
  };

  parser.on('doctype', () =>
    stop('A document type declaration is not read: it could pull in other files. Ask for the file without it.'),
  );
  parser.on('error', (e) => {
    if (!stopped) stop(`not well-formed: ${e.message.replace(/^\d+:\d+:\s*|\.$/g, '')}`);
  });
  parser.on('opentag', (tag) => {
    if (stopped) return;
    const local = tag.name.replace(/^.*:/, '');
    // A child parts what stands before it from what stands behind.
    if (SAYING.has(stack.at(-1)!)) said[said.length - 1] += ' ';
    stack.push(local);
    said.push('');
    if (stack.length > DEEPEST) return stop(`elements are nested more than ${DEEPEST} deep`);
    if (stack.length === 1 && local !== 'LandXML') return stop(`the outermost element is ${local}, not LandXML`);
    if (!READ.has(local)) out.unread[local] = (out.unread[local] ?? 0) + 1;
    if (local === 'P' || local === 'F' || local === 'CgPoint') attributes = tag.attributes as Record<string, string>;
    if (local === 'Metric' || local === 'Imperial') out.linearUnit = String(tag.attributes.linearUnit ?? '');
    else if (local === 'CoordinateSystem') {
      const a = tag.attributes as Record<string, string>;
      out.system = a.epsgCode
        ? `EPSG:${a.epsgCode.replace(/^EPSG:/i, '')}`
        : (a.horizontalCoordinateSystemName ?? a.name ?? '');
      out.verticalDatum = a.verticalDatum ?? a.verticalCoordinateSystemName ?? '';
    } else if (local === 'Project') out.project = String(tag.attributes.name ?? '');
    else if (local === 'Surface') {
      name = String(tag.attributes.name ?? '');
      ids = new Map();
      [px, py, pz, faces] = [[], [], [], []];
    } else if (local === 'Breakline' || local === 'PlanFeature') attributes = tag.attributes as Record<string, string>;
  });
  parser.on('text', (t) => {
    if (SAYING.has(stack.at(-1)!)) said[said.length - 1] += t;
  });
  parser.on('closetag', () => {
    if (stopped) return;
    const local = stack.pop()!;
    body = said.pop()!;
    if (local === 'CgPoint') cgPoint();
    else if (local === 'P') vertex();
    else if (local === 'F') face();
    else if (local === 'PntList3D') lineOf();
    else if (local === 'Surface') endSurface();
  });

  // In pieces, so that a file stopped early is not read to its end.
  for (let i = 0; i < text.length && !stopped; i += 1 << 20) parser.write(text.slice(i, i + (1 << 20)));
  if (!stopped) parser.close();
  out.whole = !stopped;
  return out;

  function cgPoint(): void {
    const read = numbers(`point ${attributes.name ?? '?'}`);
    if (!read) return;
    const [north, east, elevation = NaN] = read;
    if (north === undefined || east === undefined) return problem(`point ${attributes.name ?? '?'} has no coordinates`);
    out.points.push({ name: attributes.name ?? '', code: attributes.code ?? '', x: east, y: north, z: elevation });
  }

  function vertex(): void {
    const read = numbers(`surface point ${attributes.id ?? '?'}`);
    if (!read) return;
    const [north, east, elevation] = read;
    if (elevation === undefined) return problem(`surface point ${attributes.id ?? '?'} has fewer than three numbers`);
    ids.set(attributes.id ?? String(px.length + 1), px.length);
    px.push(east);
    py.push(north);
    pz.push(elevation);
  }

  function face(): void {
    // i="1" marks a face that is not part of the surface.
    if (attributes.i === '1') return;
    const corners = body.trim().split(/\s+/);
    const list = corners.map((id) => ids.get(id));
    if (list.length !== 3 || list.some((v) => v === undefined))
      return problem(`face “${body.trim().slice(0, 40)}” does not name three known points`);
    faces.push(...(list as number[]));
  }

  function lineOf(): void {
    const list = numbers(`line “${attributes.name ?? ''}”`);
    if (!list) return;
    if (list.length % 3)
      return problem(`the places of line “${attributes.name ?? ''}” do not come in threes; it is left out`);
    const spatial: number[] = [];
    for (let i = 0; i + 2 < list.length; i += 3) spatial.push(list[i + 1], list[i], list[i + 2]);
    (stack.includes('Breakline') ? out.breaklines : out.features).push({
      name: attributes.name ?? '',
      ...(attributes.desc === undefined ? {} : { code: attributes.desc }),
      spatial,
    });
  }

  function endSurface(): void {
    out.surfaces.push({
      name,
      x: Float64Array.from(px),
      y: Float64Array.from(py),
      z: Float64Array.from(pz),
      faces: Uint32Array.from(faces),
    });
  }
}
