import {
  CONTOUR_LAYER,
  hasNumbers,
  INDEX_CONTOUR_LAYER,
  LABEL_LAYER,
  layerAt,
  layerName,
  NO_ELEVATION,
  PLAN_SUFFIX,
  readDxf,
  unescaped,
  type Drawing,
  type DxfSettings,
} from '#core/exchange';
import { METRES_IN } from '#core/measure';
import { Comparison, rounding, type ReadBack } from './comparison.ts';

export function readBackDxf(text: string, meant: Drawing, settings: DxfSettings): ReadBack {
  const c = new Comparison(METRES_IN[settings.unit], rounding(settings.decimals, settings.unit));
  const read = readDxf(text);
  for (const p of read.problems) c.problem(`line ${p.line}: ${p.what}`);
  if (read.version !== (settings.version === '2000' ? 'AC1015' : 'AC1009')) c.problem(`version ${read.version}`);
  const modern = settings.version === '2000';
  const layer = (name: string, z = 0): string => unescaped(layerName(layerAt(name, z), modern));
  if (c.count('points', meant.points.length, read.points.length))
    meant.points.forEach((p, i) => {
      const what = (): string => `point ${p.label}`;
      const got = read.points[i];
      c.value(p.x, got.x, what);
      c.value(p.y, got.y, what);
      c.value(Number.isNaN(p.z) ? 0 : p.z, got.z, what);
      c.text(layer(p.layer, p.z), got.layer, () => `${what()}: its layer`);
    });
  const inserts = meant.inserts ?? [];
  if (c.count('symbols', inserts.length, read.inserts.length))
    inserts.forEach((s, i) => {
      const what = (): string => `symbol ${s.block}`;
      const got = read.inserts[i];
      c.value(s.x, got.x, what);
      c.value(s.y, got.y, what);
      c.value(Number.isNaN(s.z) ? 0 : s.z, got.z, what);
      c.text(layer(s.layer, s.z), got.layer, () => `${what()}: its layer`);
      c.text(unescaped(layerName(s.block, modern)), got.block, () => `${what()}: its block`);
      const values = Object.values(got.attributes);
      Object.entries(s.attributes).forEach(([name, value], k) => c.text(inOneLine(value), values[k] ?? '', () => `${what()}: ${name}`)); // prettier-ignore
    });
  const labels = settings.textHeight > 0 ? meant.points.filter((p) => p.label !== '') : [];
  const texts = [...labels.map((p) => ({ layer: LABEL_LAYER, text: p.label, x: p.x, y: p.y })), ...(meant.texts ?? [])];
  if (c.count('texts', texts.length, read.texts.length))
    texts.forEach((t, i) => {
      const what = (): string => `text ${t.text}`;
      const got = read.texts[i];
      c.value(t.x, got.x, what);
      c.value(t.y, got.y, what);
      c.text(inOneLine(t.text), got.text, what);
      c.text(layer(t.layer), got.layer, () => `${what()}: its layer`);
    });
  const spatial = read.polylines.filter((p) => p.spatial);
  const plan = read.polylines.filter((p) => !p.spatial);
  const meantSpatial = meant.lines
    .filter((l) => l.spatial.length >= 6)
    .map((l) => ({ places: l.spatial, closed: l.closed, name: l.layer, layer: l.layer }));
  const meantContours = meant.contours
    .map((k) => {
      const end = k.closed ? k.line.length - 2 : k.line.length;
      const places: number[] = [];
      for (let i = 0; i < end; i += 2) places.push(k.line[i], k.line[i + 1], k.elevation);
      return { places, closed: k.closed, name: `contour ${k.elevation}`, layer: k.index ? INDEX_CONTOUR_LAYER : CONTOUR_LAYER }; // prettier-ignore
    })
    .filter((k) => k.places.length >= 6);
  const all = [...meantSpatial, ...meantContours];
  if (c.count('3D lines and contours', all.length, spatial.length))
    all.forEach((line, i) => {
      const got = spatial[i];
      c.text(layer(line.layer), got.layer, () => `${line.name}: its layer`);
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
    meantPlan.forEach((line, i) => {
      c.text(layer(line.layer + PLAN_SUFFIX), plan[i].layer, () => `${line.layer}: the layer of its plan`);
      plan[i].x.forEach((x, k) => {
        c.value(line.plan[3 * k], x, () => line.layer);
        c.value(line.plan[3 * k + 1], plan[i].y[k], () => line.layer);
        if (Math.abs(line.plan[3 * k + 2] - plan[i].bulge[k]) > 1e-8)
          c.problem(`${line.layer}: an arc came back with another curvature`);
      });
    });
  const faces = meant.surface ? meant.surface.triangles.length / 3 : 0;
  if (c.count('faces', faces, read.faces.length) && meant.surface)
    for (let t = 0; t < faces; t++)
      for (let k = 0; k < 3; k++) {
        const v = meant.surface.triangles[3 * t + k];
        c.value(meant.surface.x[v], read.faces[t].corners[3 * k], () => `face ${t + 1}`);
        c.value(meant.surface.y[v], read.faces[t].corners[3 * k + 1], () => `face ${t + 1}`);
        c.value(meant.surface.z[v], read.faces[t].corners[3 * k + 2], () => `face ${t + 1}`);
      }
  c.notes.push(...notesOf(meant, settings));
  return c.result();
}

/** A text as it can stand in a drawing: in one line, what is no letter as a blank. */
const inOneLine = (text: string): string => text.replace(/[\r\n]+/g, ' ').replace(/[\x00-\x1f]/g, ' ');

/** What the drawing says otherwise than it was meant, and what an old reader makes of it. */
function notesOf(meant: Drawing, { version, textHeight }: DxfSettings): string[] {
  const out: string[] = [];
  const words = [
    ...(textHeight > 0 ? meant.points.map((p) => p.label) : []),
    ...(meant.texts ?? []).map((t) => t.text),
    ...(meant.inserts ?? []).flatMap((i) => Object.values(i.attributes)),
  ];
  const numbered = words.filter(hasNumbers).length;
  if (numbered) out.push(`${numbered} ${numbered === 1 ? 'text has' : 'texts have'} letters beyond ASCII, written as \\U+ and their number; a reader that does not know it shows the number`); // prettier-ignore
  const flat = [...meant.points, ...(meant.inserts ?? [])].filter((p) => Number.isNaN(p.z)).length;
  if (flat) out.push(`${flat} ${flat === 1 ? 'point has' : 'points have'} no elevation; ${flat === 1 ? 'it is' : 'they are'} drawn at 0 on layers that end in ${NO_ELEVATION}`); // prettier-ignore
  const layers = new Set([...meant.points, ...(meant.texts ?? []), ...(meant.inserts ?? []), ...meant.lines].map((e) => e.layer)); // prettier-ignore
  const renamed = version === 'R12' ? [...layers].filter((l) => layerName(l) !== l.toUpperCase()) : [];
  if (renamed.length) out.push(`layers in letters that R12 has: ${renamed.map((l) => `${l} is ${layerName(l)}`).join(', ')}`); // prettier-ignore
  return out;
}
