import { plainNumber } from '#core/measure';
import { unescaped } from './text.ts';

// Reads the drawing exchange format on its own terms: it shares nothing with the writer, so that a file
// read back by it has really been checked.

export interface DxfPolyline {
  layer: string;
  closed: boolean;
  /** Whether z of each vertex means something. */
  spatial: boolean;
  x: number[];
  y: number[];
  z: number[];
  bulge: number[];
}

/** What a drawing holds, in drawing units as they stand in the file. */
export interface DxfContent {
  version: string;
  /** $INSUNITS, or null where the file does not say. */
  units: number | null;
  points: { layer: string; x: number; y: number; z: number }[];
  polylines: DxfPolyline[];
  /** Twelve numbers a face. */
  faces: { layer: string; corners: number[] }[];
  texts: { layer: string; text: string; x: number; y: number; z: number }[];
  /** Symbols with what is said of them. */
  inserts: { layer: string; block: string; x: number; y: number; z: number; attributes: Record<string, string> }[];
  /** Entities met, by kind and by layer. */
  kinds: Record<string, number>;
  layers: Record<string, number>;
  /** Kinds met that are not read, with how often. */
  unread: Record<string, number>;
  /** The first of them; `problemCount` is how many there were. */
  problems: { line: number; what: string }[];
  problemCount: number;
  /** Whether the file was read to its end mark. */
  whole: boolean;
}

const READ = new Set('POINT TEXT INSERT LINE 3DFACE POLYLINE LWPOLYLINE'.split(' '));
const MOST_PROBLEMS = 200;

/** By its beginning: comments, then a section; or the mark of a binary drawing, which the reader refuses with its reason. */
export const isDxf = (text: string): boolean =>
  /^\w{1,20} Binary DXF\r?\n/.test(text.slice(0, 40)) ||
  /^\s{0,20}(?:999\r?\n[^\n]{0,300}\n\s{0,20}){0,20}0\s{0,10}\r?\n\s{0,10}SECTION/.test(text.slice(0, 8000));

type Fields = Map<number, string>;

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
    kinds: {},
    layers: {},
    unread: {},
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
  let open: (DxfPolyline & { spoilt: boolean }) | null = null;
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
  /** In plan nothing is absent: a place has both. */
  const place = (code: number): number =>
    fields.has(code) ? value(code) : spoil(`${kind} has no group ${code}, a coordinate`);

  const finish = (): void => {
    if (section !== 'ENTITIES' || kind === '') return;
    const layer = said(8) || '0';
    if (kind === 'VERTEX') {
      if (open) {
        open.x.push(place(10));
        open.y.push(place(20));
        open.z.push(value(30));
        open.bulge.push(value(42));
        open.spoilt ||= spoilt;
      } else problem(startLine, 'a VERTEX outside any POLYLINE');
      return;
    }
    if (kind === 'ATTRIB') {
      const owner = content.inserts.at(-1);
      const tag = said(2);
      if (!owner) problem(startLine, 'an ATTRIB outside any INSERT');
      else if (tag !== '__PROTO__') owner.attributes[tag] = said(1);
      return;
    }
    if (kind === 'SEQEND') {
      if (open && !open.spoilt) {
        const { spoilt: _, ...line } = open;
        content.polylines.push(line);
      }
      open = null;
      return;
    }
    content.kinds[kind] = (content.kinds[kind] ?? 0) + 1;
    content.layers[layer] = (content.layers[layer] ?? 0) + 1;
    if (!READ.has(kind)) content.unread[kind] = (content.unread[kind] ?? 0) + 1;
    else if (kind === 'POLYLINE') {
      const flags = value(70);
      open = { layer, closed: (flags & 1) !== 0, spatial: (flags & 8) !== 0, x: [], y: [], z: [], bulge: [], spoilt };
    } else keep(layer);
  };

  /** An entity that is one record, unless something of it cannot be read. */
  const keep = (layer: string): void => {
    const at = (): { x: number; y: number; z: number } => ({ x: place(10), y: place(20), z: value(30) });
    const add = <T>(list: T[], entity: T): void => {
      if (!spoilt) list.push(entity);
    };
    if (kind === 'POINT') add(content.points, { layer, ...at() });
    else if (kind === 'TEXT') add(content.texts, { layer, text: said(1), ...at() });
    else if (kind === 'INSERT') {
      const insert = { layer, block: said(2), ...at(), attributes: {} };
      add(content.inserts, insert);
    } else if (kind === 'LINE') {
      const [x, y, z] = [[place(10), place(11)], [place(20), place(21)], [value(30), value(31)]]; // prettier-ignore
      add(content.polylines, { layer, closed: false, spatial: true, x, y, z, bulge: [0, 0] });
    } else if (kind === '3DFACE') {
      const corners = [10, 20, 30, 11, 21, 31, 12, 22, 32].map((code) => (code < 30 ? place(code) : value(code)));
      // Without a fourth corner it is the third again.
      const fourth = fields.has(13) ? [place(13), place(23), value(33)] : corners.slice(6);
      add(content.faces, { layer, corners: [...corners, ...fourth] });
    } else {
      const x = vertices.map((v) => v.x);
      const y = vertices.map((v) => v.y);
      if (y.includes(NaN)) spoil(`${kind} has a vertex without a group 20, a coordinate`);
      const z = vertices.map(() => value(38));
      add(content.polylines, { layer, closed: (value(70) & 1) !== 0, spatial: false, x, y, z, bulge: vertices.map((v) => v.bulge) }); // prettier-ignore
    }
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
      if (raw === 'SECTION') expectSectionName = true;
      else if (raw === 'ENDSEC') section = '';
      else if (raw === 'EOF') {
        content.whole = true;
        break;
      } else kind = raw;
      continue;
    }
    if (code === 2 && expectSectionName) {
      section = raw;
      expectSectionName = false;
      continue;
    }
    if (section === 'HEADER') {
      if (code === 9) variable = raw;
      else if (variable === '$ACADVER') content.version = raw;
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
  if (!content.whole) problem(line, 'the file has no end mark: it may be cut short');
  return content;
}
