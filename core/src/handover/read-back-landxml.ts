import { readLandXml, unitOfLandXml, type LandXmlContent } from '#core/exchange';
import { METRES_IN, type LengthUnit } from '#core/measure';
import { Comparison, rounding, type ReadBack } from './comparison.ts';

export function readBackLandXml(text: string, meant: LandXmlContent, unit: LengthUnit, decimals: number): ReadBack {
  const c = new Comparison(METRES_IN[unit], rounding(decimals, unit));
  const read = readLandXml(text);
  for (const p of read.problems) c.problem(`line ${p.line}: ${p.what}`);
  if (unitOfLandXml(read.linearUnit) !== unit) c.problem(`unit came back as “${read.linearUnit}”`);
  const [taken, used] = [new Set<string>(), new Set<string>()];
  let renamed = 0;
  if (c.count('points', meant.points.length, read.points.length))
    meant.points.forEach((p, i) => {
      const what = (): string => `point ${p.number}`;
      const { name, code } = read.points[i];
      if (taken.has(name)) c.problem(`${what()}: its name “${name}” is another point’s`);
      taken.add(name);
      c.text(words(p.description), code, () => `${what()}: its code`);
      // A number used again, or none, gets a name of its own.
      const number = words(p.number.trim());
      if (number === '' || used.has(number)) renamed++;
      else c.text(number, name, () => `${what()}: its number`);
      used.add(number);
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
      c.text(words(line.name), list[i].name, () => `line ${line.name}`);
      if (kind === 'plan features') c.text(words(line.code), list[i].code ?? '', () => `line ${line.name}: its code`);
      places.forEach((v, k) => c.value(v, list[i].spatial[k], () => `line ${line.name}`));
    });
  }
  if (c.count('surfaces', meant.surfaces.length, read.surfaces.length))
    meant.surfaces.forEach(({ name, surface }, i) => {
      const tin = read.surfaces[i];
      c.text(words(name), tin.name, () => `surface ${name}`);
      if (!c.count(`faces of ${name}`, surface.triangles.length / 3, tin.faces.length / 3)) return;
      surface.triangles.forEach((v, k) => {
        const w = tin.faces[k];
        c.value(surface.x[v], tin.x[w], () => `surface ${name}`);
        c.value(surface.y[v], tin.y[w], () => `surface ${name}`);
        c.value(surface.z[v], tin.z[w], () => `surface ${name}`);
      });
    });
  if (renamed) c.notes.push(`${renamed} ${renamed === 1 ? 'point has' : 'points have'} a number that is used already, or none; LandXML asks for one of its own, given with _ and a count`); // prettier-ignore
  return c.result();
}

/** A text as an attribute can hold it. */
const words = (text: string): string => text.replace(/[\t\r\n]/g, ' ').replace(/[\x00-\x1f\ufffe\uffff]/g, '');
