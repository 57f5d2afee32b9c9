import type { FileUnit } from '#core/measure';
import { drawingUnit } from './content.ts';
import type { DxfContent } from './dxf/content.ts';
import { sectionsInSpace, type DrawnSection } from './dxf/sections-in-space.ts';
import type { LandXmlRead } from './landxml/content.ts';
import { unitOfLandXml } from './landxml/unit.ts';

/** Cross sections of a file as a table of chainage, offset, ground and design, in the unit of the file. */
export type SectionTable =
  | { ok: true; text: string; unit: FileUnit | null; ground: string; design: string; sections: number; leftOut: number }
  | { ok: false; reason: string };

const GROUND = /ground|exist|orig/i;
const DESIGN = /design|propos|formation/i;

/** Of the cross sections of a LandXML file. */
export const sectionTableOfLandXml = ({ sectionDrawings, linearUnit }: LandXmlRead): SectionTable => sectionTableOf(sectionDrawings, unitOfLandXml(linearUnit)); // prettier-ignore

/** Of sections that are drawn in space where they were cut. */
export const sectionTableOfDxf = (content: DxfContent): SectionTable => sectionTableOf(sectionsInSpace(content), drawingUnit(content.units)); // prettier-ignore

/**
 * Two surfaces of cross sections side by side: at every offset that either has, the other's elevation lies straight between its
 * own places; where only one is known, and in sections that only one has, there is nothing to compare. The ground is the one that
 * says so by its name, else the first.
 */
function sectionTableOf(sectionDrawings: readonly DrawnSection[], unit: FileUnit | null): SectionTable {
  const alignments = [...new Set(sectionDrawings.map((s) => s.alignment))];
  if (alignments.length > 1) return { ok: false, reason: `The file has cross sections of ${alignments.length} alignments, ${alignments.map((a) => `“${a}”`).join(', ')}: chainages of several cannot be added up. Give a file of one.` }; // prettier-ignore
  const names = [...new Set(sectionDrawings.map((s) => s.surface))];
  if (names.length !== 2) return { ok: false, reason: names.length === 0 ? 'The file has no cross sections.' : `Its cross sections are of ${names.length === 1 ? 'one surface' : `${names.length} surfaces`}, ${names.map((n) => `“${n}”`).join(', ')}; a volume lies between two.` }; // prettier-ignore
  const isDesignFirst = DESIGN.test(names[0]) || (GROUND.test(names[1]) && !GROUND.test(names[0]));
  const [ground, design] = isDesignFirst ? [names[1], names[0]] : names;
  const at = new Map<number, Map<string, Place[]>>();
  for (const { chainage, surface, list } of sectionDrawings) {
    const here = at.get(chainage) ?? new Map<string, Place[]>();
    if (here.has(surface)) return { ok: false, reason: `The section at chainage ${chainage} is there twice for “${surface}”.` }; // prettier-ignore
    here.set(surface, placesOf(list));
    at.set(chainage, here);
  }
  const rows: string[] = [];
  let sections = 0;
  for (const [chainage, here] of [...at].sort(([a], [b]) => a - b)) {
    const [g, d] = [here.get(ground), here.get(design)];
    const both = g && d ? bothAt(g, d) : [];
    if (both.length < 2) continue;
    sections++;
    for (const [offset, z, to] of both) rows.push([chainage, offset, z, to].join('\t'));
  }
  if (sections === 0) return { ok: false, reason: `In no section do “${ground}” and “${design}” lie over each other.` };
  return { ok: true, text: rows.join('\n'), unit, ground, design, sections, leftOut: at.size - sections }; // prettier-ignore
}

type Place = readonly [offset: number, elevation: number];

/** Of a wall, whose top and foot have one offset, the second stands so far to the right, in the unit of the file. */
const STEP = 1e-6;

/** From left to right, no offset twice. */
function placesOf(list: readonly number[]): Place[] {
  const places = Array.from({ length: list.length >> 1 }, (_, i): Place => [list[2 * i], list[2 * i + 1]]).sort((a, b) => a[0] - b[0]); // prettier-ignore
  let last = -Infinity;
  return places.map(([offset, z]): Place => {
    last = offset > last ? offset : last + STEP;
    return [last, z];
  });
}

/** Offset, and elevation on both, where both are. */
function bothAt(g: readonly Place[], d: readonly Place[]): [number, number, number][] {
  const offsets = [...new Set([...g, ...d].map(([o]) => o))].sort((a, b) => a - b);
  return offsets.flatMap((o): [number, number, number][] => {
    const [z, to] = [elevationAt(g, o), elevationAt(d, o)];
    return z === null || to === null ? [] : [[o, z, to]];
  });
}

function elevationAt(places: readonly Place[], offset: number): number | null {
  const k = places.findIndex(([o]) => o >= offset);
  if (k < 0) return null;
  const [o, z] = places[k];
  if (o === offset) return z;
  if (k === 0) return null;
  const [p, y] = places[k - 1];
  return y + ((offset - p) / (o - p)) * (z - y);
}
