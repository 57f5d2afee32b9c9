import { METRES_IN, type LengthUnit } from '#core/measure';
import {
  asFound,
  readDxf,
  readLandXml,
  readPoints,
  splitRow,
  unitOfLandXml,
  type Drawing,
  type DxfSettings,
  type LandXmlContent,
  type PointRow,
  type Role,
  type TextOutSettings,
} from '#core/exchange';

/** What reading a written file again has shown. */
export interface ReadBack {
  ok: boolean;
  /** Things compared, by kind. */
  counts: Record<string, number>;
  /** Largest distance in any coordinate between what was meant and what was read, m. */
  largestDeviation: number;
  /** Half a unit of the last decimal written, m: what rounding alone may do. */
  allowed: number;
  problems: string[];
}

class Comparison {
  readonly counts: Record<string, number> = {};
  readonly problems: string[] = [];
  private largest = 0;

  constructor(
    private readonly factor: number,
    private readonly allowed: number,
  ) {}

  count(kind: string, meant: number, read: number): boolean {
    this.counts[kind] = read;
    if (meant !== read) this.problem(`${kind}: ${meant} were meant, ${read} were read`);
    return meant === read;
  }

  /** A value meant in metres against one read in the file's unit. */
  value(meant: number, read: number, what: () => string): void {
    const deviation = Math.abs(meant - read * this.factor);
    if (!(deviation <= this.largest)) {
      if (Number.isNaN(deviation)) this.problem(`${what()}: not a number`);
      else this.largest = deviation;
    }
    if (deviation > this.allowed) this.problem(`${what()}: off by ${deviation.toExponential(2)} m`);
  }

  problem(text: string): void {
    if (this.problems.length < 20) this.problems.push(text);
  }

  result(): ReadBack {
    return {
      ok: this.problems.length === 0,
      counts: this.counts,
      largestDeviation: this.largest,
      allowed: this.allowed,
      problems: this.problems,
    };
  }
}

/** Half of the last decimal, with room for the last bit of large coordinates. */
const rounding = (decimals: number, unit: LengthUnit): number => 0.5000001 * 10 ** -decimals * METRES_IN[unit] + 2e-9;

const PART_COLUMN: Record<string, keyof NonNullable<PointRow['parts']>> = {
  C: 'code',
  L: 'line',
  W: 'words',
  A: 'attributes',
};

export function readBackText(text: string, meant: PointRow[], settings: TextOutSettings): ReadBack {
  const c = new Comparison(1, Math.max(rounding(settings.decimals, settings.unit), settings.degrees ? 1e-4 : 0));
  const read = readPoints(text, {
    separator: settings.separator,
    decimal: '.',
    skipRows: settings.headings ? 1 : 0,
    // Columns that hold one part of the description are compared by themselves.
    roles: settings.order.map((r) => (r in PART_COLUMN ? '_' : (r as Role))),
    unit: settings.unit,
    ...(settings.degrees ? { degrees: true } : {}),
  });
  // A degree of latitude in metres: what a deviation in degrees comes to on the ground.
  const size = settings.degrees ? 111_320 : 1;
  const rows = settings.order.some((r) => r in PART_COLUMN)
    ? text
        .split(/\r?\n/)
        .slice(settings.headings ? 1 : 0)
        .map((row) => splitRow(row, settings.separator))
    : null;
  if (!read) throw new Error('Reading was stopped.');
  if (read.refusedCount > 0) c.problem(`${read.refusedCount} rows cannot be read: ${read.refused[0].reason}`);
  if (!c.count('points', meant.length, read.x.length)) return c.result();
  meant.forEach((p, i) => {
    const what = (): string => `row ${i + 1}, point ${p.number}`;
    c.value(p.x * size, read.x[i] * size, what);
    c.value(p.y * size, read.y[i] * size, what);
    if (settings.order.includes('Z')) {
      if (Number.isNaN(p.z) !== Number.isNaN(read.z[i])) c.problem(`${what()}: elevation lost or made up`);
      else if (!Number.isNaN(p.z)) c.value(p.z, read.z[i], what);
    }
    if (settings.order.includes('P') && p.number.trim() !== read.number[i])
      c.problem(`${what()}: the number came back as “${read.number[i]}”`);
    if (settings.order.includes('D') && p.description.trim() !== read.description[i])
      c.problem(`${what()}: the description came back as “${read.description[i]}”`);
    if (p.parts && rows)
      settings.order.forEach((r, k) => {
        const part = PART_COLUMN[r];
        const got = part === undefined ? '' : (rows[i]?.[k] ?? '').replace(/^-$/, '');
        if (part !== undefined && got !== p.parts![part].trim()) c.problem(`${what()}: ${part} came back as “${got}”`);
      });
  });
  return c.result();
}

export function readBackDxf(text: string, meant: Drawing, settings: DxfSettings): ReadBack {
  const c = new Comparison(METRES_IN[settings.unit], rounding(settings.decimals, settings.unit));
  const read = readDxf(text);
  for (const p of read.problems) c.problem(`line ${p.line}: ${p.what}`);
  if (read.version !== (settings.version === '2000' ? 'AC1015' : 'AC1009')) c.problem(`version ${read.version}`);
  if (c.count('points', meant.points.length, read.points.length))
    meant.points.forEach((p, i) => {
      const what = (): string => `point ${p.label}`;
      c.value(p.x, read.points[i].x, what);
      c.value(p.y, read.points[i].y, what);
      c.value(Number.isNaN(p.z) ? 0 : p.z, read.points[i].z, what);
    });
  const inserts = meant.inserts ?? [];
  if (c.count('symbols', inserts.length, read.inserts.length))
    inserts.forEach((s, i) => {
      const what = (): string => `symbol ${s.block}`;
      const got = read.inserts[i];
      c.value(s.x, got.x, what);
      c.value(s.y, got.y, what);
      c.value(Number.isNaN(s.z) ? 0 : s.z, got.z, what);
      if (
        Object.values(s.attributes)
          .map((t) => asFound(t, settings.version === '2000'))
          .join('\n') !== Object.values(got.attributes).join('\n')
      )
        c.problem(`${what()}: its attributes came back otherwise`);
    });
  const labels = settings.textHeight > 0 ? meant.points.filter((p) => p.label !== '').length : 0;
  c.count('texts', labels + (meant.texts ?? []).length, read.texts.length);
  const spatial = read.polylines.filter((p) => p.spatial);
  const plan = read.polylines.filter((p) => !p.spatial);
  const meantSpatial = meant.lines
    .filter((l) => l.spatial.length >= 6)
    .map((l) => ({ places: l.spatial, closed: l.closed, name: l.layer }));
  const meantContours = meant.contours
    .map((k) => {
      const end = k.closed ? k.line.length - 2 : k.line.length;
      const places: number[] = [];
      for (let i = 0; i < end; i += 2) places.push(k.line[i], k.line[i + 1], k.elevation);
      return { places, closed: k.closed, name: `contour ${k.elevation}` };
    })
    .filter((k) => k.places.length >= 6);
  const all = [...meantSpatial, ...meantContours];
  if (c.count('3D lines and contours', all.length, spatial.length))
    all.forEach((line, i) => {
      const got = spatial[i];
      if (got.closed !== line.closed || got.x.length * 3 !== line.places.length)
        return c.problem(`${line.name}: closing or number of vertices differs`);
      got.x.forEach((x, k) => {
        c.value(line.places[3 * k], x, () => line.name);
        c.value(line.places[3 * k + 1], got.y[k], () => line.name);
        c.value(line.places[3 * k + 2], got.z[k], () => line.name);
      });
    });
  const meantPlan = meant.lines.filter((l) => l.plan.length >= 6);
  if (c.count('2D lines', meantPlan.length, plan.length))
    meantPlan.forEach((line, i) =>
      plan[i].x.forEach((x, k) => {
        c.value(line.plan[3 * k], x, () => line.layer);
        c.value(line.plan[3 * k + 1], plan[i].y[k], () => line.layer);
        if (Math.abs(line.plan[3 * k + 2] - plan[i].bulge[k]) > 1e-8)
          c.problem(`${line.layer}: an arc came back with another curvature`);
      }),
    );
  const faces = meant.surface ? meant.surface.triangles.length / 3 : 0;
  if (c.count('faces', faces, read.faces.length) && meant.surface)
    for (let t = 0; t < faces; t++)
      for (let k = 0; k < 3; k++) {
        const v = meant.surface.triangles[3 * t + k];
        c.value(meant.surface.x[v], read.faces[t].corners[3 * k], () => `face ${t + 1}`);
        c.value(meant.surface.y[v], read.faces[t].corners[3 * k + 1], () => `face ${t + 1}`);
        c.value(meant.surface.z[v], read.faces[t].corners[3 * k + 2], () => `face ${t + 1}`);
      }
  return c.result();
}

export function readBackLandXml(text: string, meant: LandXmlContent, unit: LengthUnit, decimals: number): ReadBack {
  const c = new Comparison(METRES_IN[unit], rounding(decimals, unit));
  const read = readLandXml(text);
  for (const p of read.problems) c.problem(`line ${p.line}: ${p.what}`);
  if (unitOfLandXml(read.linearUnit) !== unit) c.problem(`unit came back as “${read.linearUnit}”`);
  if (c.count('points', meant.points.length, read.points.length))
    meant.points.forEach((p, i) => {
      const what = (): string => `point ${p.number}`;
      c.value(p.x, read.points[i].x, what);
      c.value(p.y, read.points[i].y, what);
      if (Number.isNaN(p.z) !== Number.isNaN(read.points[i].z)) c.problem(`${what()}: elevation lost or made up`);
      else if (!Number.isNaN(p.z)) c.value(p.z, read.points[i].z, what);
    });
  for (const [kind, list] of [
    ['breaklines', read.breaklines],
    ['plan features', read.features],
  ] as const) {
    if (kind === 'breaklines' && meant.surfaces.length === 0) continue;
    const lines = meant.breaklines.filter((l) => l.spatial.length >= 3);
    if (!c.count(kind, lines.length, list.length)) continue;
    lines.forEach((line, i) => {
      const places = line.closed ? [...line.spatial, ...line.spatial.slice(0, 3)] : line.spatial;
      if (list[i].spatial.length !== places.length) return c.problem(`line ${line.name}: number of vertices differs`);
      places.forEach((v, k) => c.value(v, list[i].spatial[k], () => `line ${line.name}`));
    });
  }
  if (c.count('surfaces', meant.surfaces.length, read.surfaces.length))
    meant.surfaces.forEach(({ name, surface }, i) => {
      const tin = read.surfaces[i];
      if (!c.count(`faces of ${name}`, surface.triangles.length / 3, tin.faces.length / 3)) return;
      surface.triangles.forEach((v, k) => {
        const w = tin.faces[k];
        c.value(surface.x[v], tin.x[w], () => `surface ${name}`);
        c.value(surface.y[v], tin.y[w], () => `surface ${name}`);
        c.value(surface.z[v], tin.z[w], () => `surface ${name}`);
      });
    });
  return c.result();
}
