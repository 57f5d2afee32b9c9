import { plainNumber } from '#core/measure';
import { arcOf, circleOf } from './arcs.ts';
import type { DxfInsert, DxfPolyline, DxfSink } from './content.ts';
import type { EntityFields } from './entity-fields.ts';
import { curveThrough, type EndTangents } from './fit-spline.ts';
import { readHatch } from './hatch.ts';
import { readMesh } from './mesh.ts';
import { inPlane } from './open-polyline.ts';
import { cross, unit } from './plane.ts';
import { ellipse, faultOf, type RationalCurve } from './rational-curve.ts';
import type { DxfRecord } from './records.ts';
import { textLine } from './text-line.ts';
import { unescaped } from './text.ts';
import { mtextWords, textWords } from './words.ts';

type Reader = (of: EntityFields, sink: DxfSink) => void;

/** Entities that are one record, by their kinds. */
export const ENTITY: Record<string, Reader> = {
  POINT: (of, sink) => {
    const [x, y, z] = of.places(10);
    if (!of.spoilt) sink.point({ layer: of.layer, x, y, z, kind: of.kind, ...of.said() });
  },
  TEXT: (of, sink) => text(of, sink, textWords(of.record.text(1))),
  MTEXT: (of, sink) => text(of, sink, mtextWords(longText(of.record))),
  LINE: (of, sink) => {
    const [a, b] = [of.places(10), of.places(11)];
    const [x, y, z] = [0, 1, 2].map((k) => [a[k], b[k]]);
    // One that is at 0 from end to end is drawn in plan.
    const line = { layer: of.layer, closed: false, spatial: z[0] !== 0 || z[1] !== 0, x, y, z, bulge: [0, 0], kind: of.kind, ...of.said() }; // prettier-ignore
    if (!of.spoilt) sink.polyline(line);
  },
  CIRCLE: (of, sink) => round(of, sink),
  ARC: (of, sink) => round(of, sink),
  LWPOLYLINE: (of, sink) => {
    const course = verticesOf(of);
    if (!of.spoilt) drawn(of, sink, course, of.value(38));
  },
  '3DFACE': (of, sink) => {
    const corners = [10, 11, 12].flatMap((code) => of.places(code));
    // Without a fourth corner it is the third again.
    const fourth = of.record.has(13) ? of.places(13) : corners.slice(6);
    if (!of.spoilt) sink.face({ layer: of.layer, corners: [...corners, ...fourth], kind: of.kind });
  },
  SOLID: (of, sink) => filled(of, sink),
  TRACE: (of, sink) => filled(of, sink),
  ELLIPSE: (of, sink) => {
    const [centre, major] = [of.places(10), of.places(11)];
    const [share, from, to] = [of.value(40, 1), of.value(41), of.value(42, 2 * Math.PI)];
    const n = unit(of.normal());
    const minor = cross(n, major).map((v) => v * share) as [number, number, number];
    if (!of.spoilt && !(Math.abs(share) > 0 && major.some((v) => v !== 0))) of.spoil('an ELLIPSE has an axis of no length'); // prettier-ignore
    if (of.spoilt) return;
    const turn = 2 * Math.PI;
    const sweep = ((((to - from) % turn) + turn) % turn) || turn; // prettier-ignore
    sink.curve({ layer: of.layer, kind: of.kind, curve: ellipse(centre, major, minor, from, from + sweep), closed: sweep > turn - 1e-9, ...of.said() }); // prettier-ignore
  },
  SPLINE: spline,
  MESH: readMesh,
  HATCH: readHatch,
  INSERT: (of, sink) => {
    const insert = insertOf(of);
    if (insert) sink.insert(insert);
  },
};

/** A block put somewhere; null where something of it can not be read. */
export function insertOf(of: EntityFields): DxfInsert | null {
  const own = of.places(10);
  const [x, y, z] = of.plane()?.at(...own) ?? own;
  const scale = [41, 42, 43].map((code) => of.value(code, 1)) as [number, number, number];
  const [columns, rows] = [70, 71].map((code) => Math.max(1, Math.floor(of.value(code, 1))));
  const insert: DxfInsert = {
    layer: of.layer,
    block: unescaped(of.record.name(2)),
    x,
    y,
    z,
    attributes: Object.create(null) as Record<string, string>,
    scale,
    rotation: (of.value(50) * Math.PI) / 180,
    columns,
    rows,
    spacing: [of.value(44), of.value(45)],
    normal: of.normal(),
    kind: of.kind,
    ...of.said(),
  };
  return of.spoilt ? null : insert;
}

/** Pieces of a long text, then its end. */
function longText(record: DxfRecord): string {
  let out = '';
  for (let i = 0; i < record.count; i++) if (record.codes[i] === 3) out += record.textAt(i);
  return out + record.text(1);
}

const isNumber = (words: string): boolean => !Number.isNaN(plainNumber(words.replace(',', '.')));

function text(of: EntityFields, sink: DxfSink, words: string): void {
  const own = of.places(10);
  // An MTEXT says its place in space.
  const [x, y, z] = (of.kind === 'TEXT' ? of.plane()?.at(...own) : null) ?? own;
  // Only numbers are ever asked where they lie.
  const line = isNumber(words) ? textLine(of, words) : undefined;
  if (!of.spoilt) sink.text({ layer: of.layer, text: words, x, y, z, kind: of.kind, ...(line ? { line } : {}), ...of.said() }); // prettier-ignore
}

type Course = Pick<DxfPolyline, 'closed' | 'x' | 'y' | 'bulge'>;

/** Vertices of an LWPOLYLINE: each begins with its group 10. */
function verticesOf(of: EntityFields): Course {
  const { record } = of;
  const [x, y, bulge]: [number[], number[], number[]] = [[], [], []];
  let wants = false;
  const missing = (): void => {
    if (wants) of.spoil(`${of.kind} has a vertex without a group 20, a coordinate`);
  };
  for (let i = 0; i < record.count; i++) {
    const code = record.codes[i];
    if (code === 10) {
      missing();
      x.push(of.at(i));
      bulge.push(0);
      wants = true;
    } else if (code === 20 && wants) {
      y.push(of.at(i));
      wants = false;
    } else if (code === 42 && x.length) bulge[x.length - 1] = of.at(i);
  }
  missing();
  return { closed: (of.value(70) & 1) !== 0, x, y, bulge };
}

/** A line in the plane of an entity, at one elevation above it. */
function drawn(of: EntityFields, sink: DxfSink, course: Course, z: number): void {
  const { closed, x, y, bulge } = course;
  const heights = new Array<number>(x.length).fill(z);
  const line = { layer: of.layer, closed, spatial: false, x, y, z: heights, bulge, kind: of.kind, ...of.said() };
  const within = of.plane();
  if (!of.spoilt) sink.polyline(inPlane(line, within));
}

/** A circle, or a part of it. */
function round(of: EntityFields, sink: DxfSink): void {
  const [cx, cy, z] = of.places(10);
  const radius = of.value(40);
  if (!(radius > 0)) of.spoil(`${of.kind} has a radius of ${radius}`);
  const isArc = of.kind === 'ARC';
  if (isArc && !(of.record.has(50) && of.record.has(51))) of.spoil('ARC does not say its two angles');
  const [from, to] = [of.value(50), of.value(51)];
  if (!of.spoilt) drawn(of, sink, isArc ? arcOf(cx, cy, radius, from, to) : circleOf(cx, cy, radius), z);
}

/** A filled area: its corners stand in the file as first, second, fourth, third. */
function filled(of: EntityFields, sink: DxfSink): void {
  const corners = [10, 11, 12].map((code) => of.places(code));
  if (of.record.has(13)) corners.splice(2, 0, of.places(13));
  const [x, y] = [0, 1].map((k) => corners.map((p) => p[k]));
  const z = x.map(() => corners[0][2]);
  const ring = { layer: of.layer, kind: of.kind, closed: true, spatial: false, x, y, z, bulge: x.map(() => 0) };
  const within = of.plane();
  if (!of.spoilt) sink.hatch({ layer: of.layer, kind: of.kind, rings: [inPlane(ring, within)], ...of.said() });
}

const CLOSED = 1;

function spline(of: EntityFields, sink: DxfSink): void {
  const { record } = of;
  const curve: RationalCurve = { degree: of.value(71, 3), knots: [], control: of.placesInOrder(10), weights: [] };
  const through = of.placesInOrder(11);
  for (let i = 0; i < record.count; i++) {
    const code = record.codes[i];
    if (code === 40) curve.knots.push(of.at(i));
    else if (code === 41) curve.weights.push(of.at(i));
  }
  if (of.spoilt) return;
  if (curve.weights.length === 0) curve.weights = new Array<number>(curve.control.length / 3).fill(1);
  const closed = (of.value(70) & CLOSED) !== 0;
  if (curve.control.length === 0 && through.length >= 6) {
    const tangents: EndTangents = { ...(record.has(12) ? { start: of.places(12) } : {}), ...(record.has(13) ? { end: of.places(13) } : {}) }; // prettier-ignore
    const fitted = curveThrough(through, closed, tangents);
    if (of.spoilt) return;
    if (fitted) sink.curve({ layer: of.layer, kind: of.kind, curve: fitted, closed, ...of.said() });
    else of.spoil('a SPLINE goes through one place alone');
    return;
  }
  const fault = faultOf(curve);
  if (fault) of.spoil(`a SPLINE ${fault}`);
  else sink.curve({ layer: of.layer, kind: of.kind, curve, closed, ...of.said() });
}
