import { plainNumber } from '#core/measure';
import { arcOf, circleOf } from './arcs.ts';
import type { DxfContent, DxfPolyline } from './content.ts';
import { inPlane, isFaceRecord, OpenPolyline } from './open-polyline.ts';
import { planeOf, type Plane } from './plane.ts';
import { unescaped } from './text.ts';

// Reads the drawing exchange format on its own terms: it shares nothing with the writer, so that a file
// read back by it has really been checked.

const READ = new Set('POINT TEXT INSERT LINE ARC CIRCLE 3DFACE POLYLINE LWPOLYLINE'.split(' '));
const MOST_PROBLEMS = 200;

/** By its beginning: comments, then a section; or the mark of a binary drawing, which the reader refuses with its reason. */
export const isDxf = (text: string): boolean =>
  /^\w{1,20} Binary DXF\r?\n/.test(text.slice(0, 40)) ||
  /^\s{0,20}(?:999\r?\n[^\n]{0,300}\n\s{0,20}){0,20}0\s{0,10}\r?\n\s{0,10}SECTION/.test(text.slice(0, 8000));

type Fields = Map<number, string>;

/** Counts by names that a file chooses: none of them is something that every object has. */
const counts = (): Record<string, number> => Object.create(null) as Record<string, number>;

/**
 * Reads ASCII drawings; binary ones and anything else give a problem, never an exception. A group that a format lets be
 * absent is 0; an entity with one that is no number, or without a coordinate in plan, is named and left out.
 */
export function readDxf(text: string): DxfContent {
  const content: DxfContent = {
    version: '',
    units: null,
    points: [],
    polylines: [],
    faces: [],
    texts: [],
    inserts: [],
    kinds: counts(),
    layers: counts(),
    unread: counts(),
    onPaper: 0,
    problems: [],
    problemCount: 0,
    whole: false,
  };
  const problem = (line: number, what: string): void => {
    content.problemCount++;
    if (content.problems.length < MOST_PROBLEMS) content.problems.push({ line, what });
  };
  let section = '';
  let variable = '';
  let kind = '';
  let fields: Fields = new Map();
  let startLine = 0;
  let vertices: { x: number; y: number; bulge: number }[] = [];
  /** Null where a POLYLINE is passed over: what follows it is too. */
  let open: OpenPolyline | 'passed' | null = null;
  /** The symbol that attributes are said of. */
  let owner: DxfContent['inserts'][number] | 'passed' | null = null;
  let expectSectionName = false;
  /** Whether the entity at hand says something that cannot be read. */
  let spoilt = false;

  const value = (code: number): number => {
    const raw = fields.get(code);
    return raw === undefined ? 0 : numberOf(code, raw);
  };
  /** The first of a file's many problems is the one that is told; a spoilt entity is told once. */
  const spoil = (what: string): number => {
    if (!spoilt) problem(startLine, `${what}; the ${kind} is left out`);
    spoilt = true;
    return NaN;
  };
  const numberOf = (code: number, raw: string): number => {
    const n = plainNumber(raw);
    return Number.isNaN(n) ? spoil(`group ${code} of ${kind} is “${raw.slice(0, 30)}”, not a number`) : n;
  };
  const said = (code: number): string => unescaped(fields.get(code) ?? '');
  const named = (code: number): string => said(code).trim();
  /** In plan nothing is absent: a place has both. */
  const place = (code: number): number =>
    fields.has(code) ? value(code) : spoil(`${kind} has no group ${code}, a coordinate`);

  /** The plane that the entity at hand lies in; null for the ground's own. */
  const plane = (): Plane | null => (fields.has(210) || fields.has(220) || fields.has(230) ? planeOf(value(210), value(220), value(230)) : null); // prettier-ignore
  const closeOpen = (why: string | null): void => {
    if (open && open !== 'passed') {
      if (why) problem(open.line, `a POLYLINE has no SEQEND ${why}; what it has is kept`);
      open.finish(content, problem);
    }
    open = null;
  };

  const finish = (): void => {
    if (section !== 'ENTITIES' || kind === '') return;
    if (kind === 'VERTEX') {
      if (!open) problem(startLine, 'a VERTEX outside any POLYLINE');
      else if (open !== 'passed') vertex(open);
      return;
    }
    if (kind === 'ATTRIB') {
      if (!owner) problem(startLine, 'an ATTRIB outside any INSERT');
      else if (owner !== 'passed') owner.attributes[named(2)] = said(1);
      return;
    }
    if (kind === 'SEQEND') return closeOpen(null);
    closeOpen('before the next entity');
    owner = null;
    if (value(67) === 1) {
      content.onPaper++;
      // What follows belongs to it.
      if (kind === 'POLYLINE') open = 'passed';
      if (kind === 'INSERT') owner = 'passed';
      return;
    }
    const layer = named(8) || '0';
    content.kinds[kind] = (content.kinds[kind] ?? 0) + 1;
    content.layers[layer] = (content.layers[layer] ?? 0) + 1;
    if (!READ.has(kind)) content.unread[kind] = (content.unread[kind] ?? 0) + 1;
    else if (kind === 'POLYLINE') {
      const size = { m: value(71), n: value(72), smoothM: value(73), smoothN: value(74), smoothed: value(75) !== 0 };
      const head = { layer, flags: value(70), elevation: value(30), plane: plane(), size };
      open = new OpenPolyline({ ...head, spoilt }, startLine);
    } else keep(layer);
  };

  /** A place of a polyline, or a face of a mesh, which stands nowhere. */
  const vertex = (of: OpenPolyline): void => {
    const flags = value(70);
    const [x, y] = isFaceRecord(flags) ? [0, 0] : [place(10), place(20)];
    const z = fields.has(30) ? value(30) : null;
    of.add({ x, y, z, bulge: value(42), flags, face: [71, 72, 73, 74].map(value), line: startLine });
    of.spoilt ||= spoilt;
  };

  /** An entity that is one record, unless something of it cannot be read. */
  const keep = (layer: string): void => {
    const at = (within: Plane | null = null): { x: number; y: number; z: number } => {
      const own = [place(10), place(20), value(30)] as const;
      const [x, y, z] = within ? within.at(...own) : own;
      return { x, y, z };
    };
    const add = <T>(list: T[], entity: T): void => {
      if (!spoilt) list.push(entity);
    };
    if (kind === 'POINT') add(content.points, { layer, ...at() });
    else if (kind === 'TEXT') add(content.texts, { layer, text: said(1), ...at(plane()) });
    else if (kind === 'INSERT') {
      const insert = { layer, block: named(2), ...at(plane()), attributes: Object.create(null) as Record<string, string> }; // prettier-ignore
      add(content.inserts, insert);
      owner = spoilt ? 'passed' : insert;
    } else if (kind === 'LINE') {
      const [x, y, z] = [[place(10), place(11)], [place(20), place(21)], [value(30), value(31)]]; // prettier-ignore
      // One that is at 0 from end to end is drawn in plan.
      add(content.polylines, { layer, closed: false, spatial: z[0] !== 0 || z[1] !== 0, x, y, z, bulge: [0, 0] });
    } else if (kind === 'CIRCLE' || kind === 'ARC') round(layer);
    else if (kind === '3DFACE') {
      const corners = [10, 20, 30, 11, 21, 31, 12, 22, 32].map((code) => (code < 30 ? place(code) : value(code)));
      // Without a fourth corner it is the third again.
      const fourth = fields.has(13) ? [place(13), place(23), value(33)] : corners.slice(6);
      add(content.faces, { layer, corners: [...corners, ...fourth] });
    } else {
      const x = vertices.map((v) => v.x);
      const y = vertices.map((v) => v.y);
      if (y.includes(NaN)) spoil(`${kind} has a vertex without a group 20, a coordinate`);
      const closed = (value(70) & 1) !== 0;
      if (!spoilt) drawn(layer, { closed, x, y, bulge: vertices.map((v) => v.bulge) }, value(38));
    }
  };

  /** A line in the plane of the entity at hand, at one elevation above it. */
  const drawn = (layer: string, course: Pick<DxfPolyline, 'closed' | 'x' | 'y' | 'bulge'>, z: number): void => {
    const line = { layer, spatial: false, ...course, z: course.x.map(() => z) };
    const within = plane();
    if (!spoilt) content.polylines.push(inPlane(line, within));
  };

  /** A circle, or a part of it. */
  const round = (layer: string): void => {
    const [cx, cy, radius, z] = [place(10), place(20), value(40), value(30)];
    if (!(radius > 0)) spoil(`${kind} has a radius of ${radius}`);
    if (kind === 'ARC' && !(fields.has(50) && fields.has(51))) spoil('ARC does not say its two angles');
    const [from, to] = [value(50), value(51)];
    if (!spoilt) drawn(layer, kind === 'ARC' ? arcOf(cx, cy, radius, from, to) : circleOf(cx, cy, radius), z);
  };

  let at = 0;
  let line = 0;
  const nextLine = (): string | null => {
    if (at >= text.length) return null;
    let end = text.indexOf('\n', at);
    if (end < 0) end = text.length;
    const s = text.slice(at, end).replace(/\r$/, '');
    at = end + 1;
    line++;
    return s;
  };

  for (;;) {
    const codeLine = nextLine();
    if (codeLine === null) break;
    const code = Number(codeLine);
    if (codeLine.trim() === '' || !Number.isInteger(code)) {
      problem(line, `“${codeLine.slice(0, 30)}” is where a group code belongs; reading stopped there`);
      break;
    }
    const raw = nextLine();
    if (raw === null) {
      problem(line, 'the file ends between a group code and its value');
      break;
    }
    if (code === 0) {
      finish();
      kind = '';
      fields = new Map();
      vertices = [];
      spoilt = false;
      startLine = line;
      const word = raw.trim();
      if (word === 'SECTION') expectSectionName = true;
      else if (word === 'ENDSEC') {
        closeOpen('before its section ends');
        section = '';
      } else if (word === 'EOF') {
        closeOpen('before the file ends');
        content.whole = true;
        break;
      } else kind = word;
      continue;
    }
    if (code === 2 && expectSectionName) {
      section = raw.trim();
      expectSectionName = false;
      continue;
    }
    if (section === 'HEADER') {
      if (code === 9) variable = raw.trim();
      else if (variable === '$ACADVER') content.version = raw.trim();
      else if (variable === '$INSUNITS') {
        const units = plainNumber(raw);
        if (Number.isNaN(units)) problem(line, `$INSUNITS is “${raw.slice(0, 30)}”, not a number`);
        else content.units = units;
      }
      continue;
    }
    if (section !== 'ENTITIES') continue;
    if (kind === 'LWPOLYLINE') {
      const vertex = vertices.at(-1);
      if (code === 10) vertices.push({ x: numberOf(code, raw), y: NaN, bulge: 0 });
      else if (code === 20 && vertex) vertex.y = numberOf(code, raw);
      else if (code === 42 && vertex) vertex.bulge = numberOf(code, raw);
    }
    fields.set(code, raw);
  }
  if (!content.whole) {
    closeOpen('before the file ends');
    problem(line, 'the file has no end mark: it may be cut short');
  }
  return content;
}
