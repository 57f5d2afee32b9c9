import { sinCos } from '#core/kernel';
import type { GroundFinder, SectionRun } from '#core/terrain';
import type { Extent } from '../methods/grid.ts';
import { lineInPlan } from '../methods/alignment.ts';
import type { NearSection, SectionPlace } from './near.ts';

/** A surface that sections are cut through; a level is one that is everywhere. */
export type SectionedSurface = { name: string } & ({ finder: Pick<GroundFinder, 'along'> } | { level: number });

/** Where a section runs over a surface: offsets, to the right positive, and elevations, m; a run ends where the surface does. */
export interface OffsetRun {
  offset: number[];
  z: number[];
}

/** A section across a line, square to it or skewed. */
export interface CrossSection extends SectionPlace {
  chainage: number;
  /** By how much its right side is ahead of square, rad. */
  skew: number;
  /** In the order of the surfaces. */
  surfaces: { name: string; runs: OffsetRun[] }[];
  /** m² of what is compared where the section cuts it; without that, between the first surface and the second where both are: cut where the first is above. Null where there is neither. */
  cut: number | null;
  fill: number | null;
  /** What lies near it, where that is asked. */
  near?: readonly NearSection[];
}

export interface SectionsAsked {
  /** x, y, x, y …, m; in the order in which chainages grow. */
  course: readonly number[];
  /** m from section to section. */
  spacing: number;
  /** A section at every place where the line bends too. */
  bends: boolean;
  /** As far as sections go to either side, m. */
  left: number;
  right: number;
  /** By how much their right side is ahead of square to the line, rad; offsets run along the section. Square unless said. */
  skew?: number;
}

/** Skewed by more a section runs along its line, rad. */
export const MOST_SKEW = (75 / 180) * Math.PI;

/** The line that sections of a comparison stand across: the one that was drawn for them, else from west to east through the middle of what is compared. */
export const lineOfSections = (along: readonly number[] | undefined, [w, s, e, n]: Extent): readonly number[] => along ?? [w, (s + n) / 2, e, (s + n) / 2]; // prettier-ignore

/** Sections of a line at the most. */
export const MOST_SECTIONS = 2000;
/** m; chainages nearer than this are one. */
const TOGETHER = 1e-6;

/** Where sections stand along a line: every so many metres from its beginning, at its end, and where it bends. Throws RangeError for too many, and for a line without length. */
export function chainagesOf({ course, spacing, bends }: Pick<SectionsAsked, 'course' | 'spacing' | 'bends'>): number[] {
  const { length } = lineInPlan(course);
  if (!(length / spacing <= MOST_SECTIONS)) throw new RangeError(`Sections that near would be more than ${MOST_SECTIONS}. Set them farther apart.`); // prettier-ignore
  const all = [0, length];
  for (let k = 1; k * spacing < length; k++) all.push(k * spacing);
  let along = 0;
  for (let i = 0; bends && i + 3 < course.length; i += 2) {
    along += Math.sqrt((course[i + 2] - course[i]) ** 2 + (course[i + 3] - course[i + 1]) ** 2);
    all.push(along);
  }
  all.sort((a, b) => a - b);
  return all.filter((s, i) => s <= length + TOGETHER && (i === 0 || s - all[i - 1] > TOGETHER));
}

/** Sections through surfaces across a line. */
export const crossSections = (
  asked: SectionsAsked,
  surfaces: readonly SectionedSurface[],
  difference: Difference | null = null,
): CrossSection[] => chainagesOf(asked).map((chainage) => sectionAt(asked, chainage, surfaces, difference));

/** Design − ground over all that is compared, inside its boundary. */
type Difference = Pick<GroundFinder, 'along'>;

/** One section at a chainage, m. */
export function sectionAt(
  { course, left, right, skew = 0 }: Pick<SectionsAsked, 'course' | 'left' | 'right' | 'skew'>,
  chainage: number,
  surfaces: readonly SectionedSurface[],
  difference: Difference | null = null,
): CrossSection {
  const { x, y, tx, ty } = lineInPlan(course).at(chainage);
  const [sin, cos] = sinCos(skew);
  const [ex, ey] = [cos * ty + sin * tx, sin * ty - cos * tx];
  const across = [x - left * ex, y - left * ey, x + right * ex, y + right * ey];
  const cuts = surfaces.map((s) => ({ name: s.name, runs: 'level' in s ? [{ offset: [-left, right], z: [s.level, s.level] }] : s.finder.along(across).map((run) => fromLine(run, left)) })); // prettier-ignore
  const nothing = { offset: [-left, right], z: [0, 0] };
  const areas = difference ? areaBetween([nothing], difference.along(across).map((run) => fromLine(run, left))) : cuts.length > 1 ? areaBetween(cuts[0].runs, cuts[1].runs) : null; // prettier-ignore
  return { chainage, x, y, ex, ey, skew, surfaces: cuts, cut: areas && areas.cut, fill: areas && areas.fill };
}

const fromLine = ({ at, z }: SectionRun, left: number): OffsetRun => ({ offset: at.map((s) => s - left), z: [...z] });

/** A part of two cuts where both are straight and neither crosses the other: offsets of its ends, elevations of each there, m. */
export interface StraightPart {
  from: number;
  to: number;
  first: [number, number];
  second: [number, number];
}

/** Two cuts where both are, in straight parts that end where they cross. */
export function straightParts(first: readonly OffsetRun[], second: readonly OffsetRun[]): StraightPart[] {
  const out: StraightPart[] = [];
  for (const a of first)
    for (const b of second) {
      const [from, to] = [Math.max(a.offset[0], b.offset[0]), Math.min(a.offset.at(-1)!, b.offset.at(-1)!)];
      if (!(to > from)) continue;
      const at = [...new Set([from, to, ...a.offset, ...b.offset])].filter((o) => o >= from && o <= to).sort((p, q) => p - q); // prettier-ignore
      for (let i = 1; i < at.length; i++) {
        const [l, r] = [at[i - 1], at[i]];
        const [a0, a1, b0, b1] = [elevationOn(a, l), elevationOn(a, r), elevationOn(b, l), elevationOn(b, r)];
        const [d0, d1] = [b0 - a0, b1 - a1];
        if ((d0 >= 0 && d1 >= 0) || (d0 <= 0 && d1 <= 0))
          out.push({ from: l, to: r, first: [a0, a1], second: [b0, b1] });
        else {
          const share = d0 / (d0 - d1);
          const [middle, z] = [l + share * (r - l), a0 + share * (a1 - a0)];
          out.push({ from: l, to: middle, first: [a0, z], second: [b0, z] }, { from: middle, to: r, first: [z, a1], second: [z, b1] }); // prettier-ignore
        }
      }
    }
  return out;
}

/** Areas between two cuts where both are, m²: cut where the first is above the second, fill where it is below. */
export function areaBetween(first: readonly OffsetRun[], second: readonly OffsetRun[]): { cut: number; fill: number } {
  let [cut, fill] = [0, 0];
  for (const { from, to, first: a, second: b } of straightParts(first, second)) {
    const area = ((to - from) * (b[0] - a[0] + b[1] - a[1])) / 2;
    if (area > 0) fill += area;
    else cut -= area;
  }
  return { cut, fill };
}

/** Elevation of a run at an offset within it; at a step in it the one to the left. */
export function elevationOn({ offset, z }: OffsetRun, at: number): number {
  let [low, high] = [0, offset.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (offset[middle] < at) low = middle;
    else high = middle;
  }
  const width = offset[high] - offset[low];
  return width > 0 ? z[low] + ((z[high] - z[low]) * (at - offset[low])) / width : z[low];
}
