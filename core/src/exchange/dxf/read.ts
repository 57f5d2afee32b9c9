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
  problems: { line: number; what: string }[];
}

type Fields = Map<number, string>;

/** Reads ASCII drawings; binary ones and anything else give a problem, never an exception. */
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
    problems: [],
  };
  const problem = (line: number, what: string): void => {
    if (content.problems.length < 200) content.problems.push({ line, what });
  };
  let section = '';
  let variable = '';
  let kind = '';
  let fields: Fields = new Map();
  let startLine = 0;
  let vertices: [number, number][] = [];
  let bulges: number[] = [];
  let open: DxfPolyline | null = null;
  let expectSectionName = false;
  let sawEnd = false;

  const value = (code: number): number => {
    const raw = fields.get(code);
    if (raw === undefined) return 0;
    const n = Number(raw);
    if (!Number.isFinite(n)) {
      problem(startLine, `group ${code} of ${kind} is “${raw.slice(0, 30)}”, not a number`);
      return NaN;
    }
    return n;
  };

  const finish = (): void => {
    if (section !== 'ENTITIES' || kind === '') return;
    const layer = fields.get(8) ?? '0';
    if (kind === 'VERTEX') {
      if (open) {
        open.x.push(value(10));
        open.y.push(value(20));
        open.z.push(value(30));
        open.bulge.push(value(42));
      } else problem(startLine, 'a VERTEX outside any POLYLINE');
      return;
    }
    if (kind === 'ATTRIB') {
      const owner = content.inserts.at(-1);
      const tag = fields.get(2) ?? '';
      if (!owner) problem(startLine, 'an ATTRIB outside any INSERT');
      else if (tag !== '__PROTO__') owner.attributes[tag] = fields.get(1) ?? '';
      return;
    }
    if (kind === 'SEQEND') {
      if (open) content.polylines.push(open);
      open = null;
      return;
    }
    content.kinds[kind] = (content.kinds[kind] ?? 0) + 1;
    content.layers[layer] = (content.layers[layer] ?? 0) + 1;
    if (kind === 'POINT') content.points.push({ layer, x: value(10), y: value(20), z: value(30) });
    else if (kind === 'TEXT')
      content.texts.push({ layer, text: fields.get(1) ?? '', x: value(10), y: value(20), z: value(30) });
    else if (kind === 'INSERT')
      content.inserts.push({ layer, block: fields.get(2) ?? '', x: value(10), y: value(20), z: value(30), attributes: {} }); // prettier-ignore
    else if (kind === 'LINE')
      content.polylines.push({
        layer,
        closed: false,
        spatial: true,
        x: [value(10), value(11)],
        y: [value(20), value(21)],
        z: [value(30), value(31)],
        bulge: [0, 0],
      });
    else if (kind === '3DFACE')
      content.faces.push({ layer, corners: [10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 33].map(value) });
    else if (kind === 'POLYLINE') {
      const flags = value(70);
      open = { layer, closed: (flags & 1) !== 0, spatial: (flags & 8) !== 0, x: [], y: [], z: [], bulge: [] };
    } else if (kind === 'LWPOLYLINE')
      content.polylines.push({
        layer,
        closed: (value(70) & 1) !== 0,
        spatial: false,
        x: vertices.map((v) => v[0]),
        y: vertices.map((v) => v[1]),
        z: vertices.map(() => value(38)),
        bulge: bulges,
      });
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
      problem(line, `“${codeLine.slice(0, 30)}” stands where a group code belongs; reading stopped there`);
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
      bulges = [];
      startLine = line;
      if (raw === 'SECTION') expectSectionName = true;
      else if (raw === 'ENDSEC') section = '';
      else if (raw === 'EOF') {
        sawEnd = true;
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
      else if (variable === '$INSUNITS') content.units = Number(raw);
      continue;
    }
    if (section !== 'ENTITIES') continue;
    if (kind === 'LWPOLYLINE') {
      if (code === 10) {
        vertices.push([Number(raw), 0]);
        bulges.push(0);
      } else if (code === 20 && vertices.length) vertices[vertices.length - 1][1] = Number(raw);
      else if (code === 42 && bulges.length) bulges[bulges.length - 1] = Number(raw);
    }
    fields.set(code, raw);
  }
  if (!sawEnd) problem(line, 'the file has no end mark: it may be cut short');
  return content;
}
