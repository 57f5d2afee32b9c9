import { SaxesParser } from 'saxes';
import { METRES_IN_FILE, plainNumber } from '#core/measure';
import { SAGITTA } from '../chords.ts';
import { CoordGeom, type Ends, type Place } from './coord-geom.ts';
import { unitOfLandXml } from './unit.ts';

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
  'LandXML CoordinateSystem Units Metric Imperial Project Application CgPoints CgPoint Surfaces Surface SourceData Breaklines Breakline PntList2D PntList3D Definition Pnts P Faces F PlanFeatures PlanFeature Parcels Parcel Alignments Alignment CoordGeom Line Curve Spiral IrregularLine Start End Center PI Contours Contour Boundaries Boundary DataPoints'.split(
    ' ',
  ),
);

/** Elements whose own text is read; of others it is blanks between their children. */
const SAYING: ReadonlySet<string> = new Set('CgPoint P F PntList2D PntList3D Start End Center PI'.split(' '));
/** Elements that own the lists and the geometry in them. */
const OWNERS: ReadonlySet<string> = new Set(
  'Breakline PlanFeature Parcel Alignment Contour Boundary DataPoints'.split(' '),
);
/** Parts of a CoordGeom, with ends of their own. */
const PARTS: ReadonlySet<string> = new Set(['Line', 'Curve', 'Spiral', 'IrregularLine']);

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
  /** Of the line, feature, parcel … that is open, and what kind it is. */
  let owner = { kind: '', attributes: {} as Record<string, string> };
  let geometry: CoordGeom | null = null;
  /** The part of it that is open. */
  let part = { attributes: {} as Record<string, string>, ends: {} as Ends, list: null as number[] | null };
  /** Places by the names of their points. */
  const named = new Map<string, Place>();
  /** Prefix and namespace of the file's own elements; how deep an element of another one is open. */
  let own = { prefix: '', space: undefined as string | undefined };
  let foreign = 0;
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
    const colon = tag.name.indexOf(':');
    const [prefix, local] = [tag.name.slice(0, Math.max(0, colon)), tag.name.slice(colon + 1)];
    const space = (tag.attributes as Record<string, string>)[prefix ? `xmlns:${prefix}` : 'xmlns'];
    if (stack.length === 0) own = { prefix, space };
    if (foreign || prefix !== own.prefix || (space !== undefined && space !== own.space)) {
      if (foreign++ === 0) {
        const what = prefix === own.prefix ? `${local} of another namespace` : tag.name;
        out.unread[what] = (out.unread[what] ?? 0) + 1;
        if (SAYING.has(stack.at(-1)!)) said[said.length - 1] += ' ';
      }
      if (stack.length + foreign > DEEPEST) stop(`elements are nested more than ${DEEPEST} deep`);
      return;
    }
    // A child parts what stands before it from what stands behind.
    if (SAYING.has(stack.at(-1)!)) said[said.length - 1] += ' ';
    stack.push(local);
    said.push('');
    if (stack.length > DEEPEST) return stop(`elements are nested more than ${DEEPEST} deep`);
    if (stack.length === 1 && local !== 'LandXML') return stop(`the outermost element is ${local}, not LandXML`);
    if (!READ.has(local)) out.unread[local] = (out.unread[local] ?? 0) + 1;
    if (SAYING.has(local)) attributes = tag.attributes as Record<string, string>;
    if (OWNERS.has(local)) owner = { kind: local, attributes: tag.attributes as Record<string, string> };
    else if (local === 'CoordGeom')
      geometry = new CoordGeom(SAGITTA / METRES_IN_FILE[unitOfLandXml(out.linearUnit) ?? 'm']);
    else if (PARTS.has(local)) part = { attributes: tag.attributes as Record<string, string>, ends: {}, list: null };
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
    }
  });
  parser.on('text', (t) => {
    if (!foreign && SAYING.has(stack.at(-1)!)) said[said.length - 1] += t;
  });
  parser.on('closetag', () => {
    if (stopped) return;
    if (foreign) return void foreign--;
    const local = stack.pop()!;
    body = said.pop()!;
    if (local === 'CgPoint') cgPoint();
    else if (local === 'P') vertex();
    else if (local === 'F') face();
    else if (local === 'PntList3D' || local === 'PntList2D') list(local === 'PntList3D' ? 3 : 2);
    else if (local === 'Start' || local === 'End' || local === 'Center') end(local);
    else if (PARTS.has(local)) endPart(local);
    else if (local === 'CoordGeom') endGeometry();
    else if (local === 'Surface') endSurface();
  });

  // In pieces, so that a file stopped early is not read to its end.
  for (let i = 0; i < text.length && !stopped; i += 1 << 20) parser.write(text.slice(i, i + (1 << 20)));
  if (!stopped) parser.close();
  out.whole = !stopped;
  return out;

  function cgPoint(): void {
    const of = `point ${attributes.name ?? '?'}`;
    const place =
      attributes.pntRef !== undefined && body.trim() === '' ? placeNamed(attributes.pntRef, of) : placeOf(of);
    if (!place) return;
    const [x, y, z] = place;
    out.points.push({ name: attributes.name ?? '', code: attributes.code ?? '', x, y, z });
    if (attributes.name) named.set(attributes.name, place);
  }

  /** North, east and, where it is said, elevation. */
  function placeOf(what: string): Place | null {
    const read = numbers(what);
    if (!read) return null;
    const [north, east, elevation = NaN] = read;
    if (north !== undefined && east !== undefined) return [east, north, elevation];
    problem(`${what} has no coordinates`);
    return null;
  }

  function placeNamed(ref: string, what: string): Place | null {
    const place = named.get(ref);
    if (!place) problem(`${what} names point ${ref.slice(0, 40)}, which is not in the file or behind it`);
    return place ?? null;
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

  function ownerName(): string {
    const { kind, attributes: of } = owner;
    if (kind === 'Contour') return 'CONTOUR';
    if (kind === 'Boundary') return `BOUNDARY-${(of.bndType ?? 'outer').toUpperCase()}`;
    return of.name ?? '';
  }

  /** A list of places: a line of its own, a part of a geometry, or points of the ground. */
  function list(size: 2 | 3): void {
    const what = `line “${ownerName()}”`;
    const read = numbers(what);
    if (!read) return;
    if (read.length % size) return problem(`the places of ${what} do not come in ${size === 3 ? 'threes' : 'twos'}; it is left out`); // prettier-ignore
    const z = elevationOfOwner();
    const spatial: number[] = [];
    for (let i = 0; i < read.length; i += size) spatial.push(read[i + 1], read[i], size === 3 ? read[i + 2] : z);
    if (stack.at(-1) === 'IrregularLine' && geometry) part.list = spatial;
    else if (owner.kind === 'DataPoints')
      for (let i = 0; i < spatial.length; i += 3) out.points.push({ name: '', code: '', x: spatial[i], y: spatial[i + 1], z: spatial[i + 2] }); // prettier-ignore
    else keep(spatial);
  }

  /** What a contour says of itself; NaN of all else. */
  function elevationOfOwner(): number {
    const { kind, attributes: of } = owner;
    if (kind !== 'Contour') return NaN;
    const z = plainNumber(of.elev ?? '');
    if (Number.isNaN(z))
      problem(`a contour has the elevation “${(of.elev ?? '').slice(0, 30)}”, which is not a number`);
    return z;
  }

  function keep(spatial: number[]): void {
    const { kind, attributes: of } = owner;
    const line = { name: ownerName(), ...(of.desc === undefined ? {} : { code: of.desc }), spatial };
    (kind === 'Breakline' ? out.breaklines : out.features).push(line);
  }

  function end(which: keyof Ends): void {
    const what = `${which} of “${ownerName()}”`;
    const place =
      attributes.pntRef !== undefined && body.trim() === '' ? placeNamed(attributes.pntRef, what) : placeOf(what);
    if (place) part.ends[which] = place;
  }

  function endPart(kind: string): void {
    const { ends, attributes: of, list: places } = part;
    if (!geometry) return;
    if (kind === 'IrregularLine' && places) return geometry.course(places);
    // Half a part is none; which number was wrong is said already.
    if (!ends.Start || !ends.End) return;
    if (kind === 'Curve' && ends.Center && (of.rot === 'cw' || of.rot === 'ccw'))
      return geometry.curve(ends.Start, ends.End, ends.Center, of.rot);
    if (kind === 'Curve')
      problem(`a curve of “${ownerName()}” has no centre or no sense of rotation; it is drawn straight`);
    if (kind === 'Spiral') problem(`a spiral of “${ownerName()}” is drawn straight from its start to its end`);
    geometry.straight(ends.Start, ends.End);
  }

  function endGeometry(): void {
    for (const spatial of geometry?.lines() ?? []) keep(spatial);
    geometry = null;
  }

  function endSurface(): void {
    // One that only says what it was made of is no surface to take as it is.
    if (px.length === 0) return;
    out.surfaces.push({
      name,
      x: Float64Array.from(px),
      y: Float64Array.from(py),
      z: Float64Array.from(pz),
      faces: Uint32Array.from(faces),
    });
  }
}
