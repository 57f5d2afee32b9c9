import type { GroundFinder, SectionRun } from '#core/terrain';
import type { CutAndFill } from '../hand/given-sections.ts';
import { cutInParts } from './parts.ts';
import { lineInPlan, type LineInPlan } from './alignment.ts';

/** What a section cuts through: areas, m², and their first moments about the line, m³, to its left positive. */
export interface DifferenceSection extends CutAndFill {
  chainage: number;
  cutMoment: number;
  fillMoment: number;
}

/** Between two sections that follow each other, m³. */
export interface BetweenCut extends CutAndFill {
  from: number;
  to: number;
}

export interface CutSections {
  sections: DifferenceSection[];
  /** Average end area, and by the prismoidal formula with a section half way. */
  averageEndArea: CutAndFill;
  prismoidal: CutAndFill;
  between: (BetweenCut & { prismoidal: CutAndFill })[];
}

/**
 * Volumes by sections square across a line: average end area, V = L (A1 + A2) / 2, and the prismoidal formula with a section
 * half way, V = L (A1 + 4 Am + A2) / 6 (common practice). Where the line turns, what lies on its inner side counts for less
 * and on its outer side for more: each area loses its first moment times the turn (theorem of Pappus), and a section ends at
 * the middle of its curve.
 * @param difference design − ground
 * @param reach as far as sections go to either side, m
 * Throws RangeError for a line without length and for more than 200,000 sections.
 */
export function cutSections(
  difference: Pick<GroundFinder, 'along'>,
  course: ArrayLike<number>,
  spacing: number,
  reach: number,
): CutSections {
  const line = lineInPlan(course);
  const places = cutInParts(0, line.length, spacing);
  const at = (chainage: number, part: number): DifferenceSection => sectionAt(difference, line, chainage, part, reach);
  const sections = places.map((s, i) => at(s, places[i + 1] - s || s - places[i - 1]));
  const between = places.slice(1).map((to, i) => {
    const [a, b, from] = [sections[i], sections[i + 1], places[i]];
    const middle = at((from + to) / 2, to - from);
    const length = to - from;
    const turn = line.at(to).turned - line.at(from).turned;
    const mean = (pick: (s: DifferenceSection) => [number, number]): [ends: number, simpson: number] => {
      const [[a1, m1], [am, mm], [a2, m2]] = [pick(a), pick(middle), pick(b)];
      const part = (area: number, moment: number): number => length * area - turn * moment;
      return [part(a1 + a2, m1 + m2) / 2, part(a1 + 4 * am + a2, m1 + 4 * mm + m2) / 6];
    };
    const [[cut, sharpCut], [fill, sharpFill]] = [mean((s) => [s.cut, s.cutMoment]), mean((s) => [s.fill, s.fillMoment])]; // prettier-ignore
    return { from, to, cut, fill, prismoidal: { cut: sharpCut, fill: sharpFill } };
  });
  return {
    sections,
    between,
    averageEndArea: sumOf(between),
    prismoidal: sumOf(between.map((b) => b.prismoidal)),
  };
}

const sumOf = (parts: readonly CutAndFill[]): CutAndFill =>
  parts.reduce<CutAndFill>((sum, { cut, fill }) => ({ cut: sum.cut + cut, fill: sum.fill + fill }), {
    cut: 0,
    fill: 0,
  });

/** One section; `part`: how far along the line its neighbours are, over which the line's turn is told. */
function sectionAt(
  difference: Pick<GroundFinder, 'along'>,
  line: LineInPlan,
  chainage: number,
  part: number,
  reach: number,
): DifferenceSection {
  const { x, y, tx, ty } = line.at(chainage);
  const bent = (line.at(chainage + part).turned - line.at(chainage - part).turned) / (Math.min(chainage + part, line.length) - Math.max(chainage - part, 0)); // prettier-ignore
  const left = bent > 0 ? Math.min(reach, 1 / bent) : reach;
  const right = bent < 0 ? Math.min(reach, -1 / bent) : reach;
  const across = [x - left * ty, y + left * tx, x + right * ty, y - right * tx];
  const section: DifferenceSection = { chainage, cut: 0, fill: 0, cutMoment: 0, fillMoment: 0 };
  for (const run of difference.along(across)) addRun(section, run, left);
  return section;
}

/** Adds a stretch of a section, `left` of which its chainages begin; straights that pass through zero are parted there. */
function addRun(section: DifferenceSection, { at, z }: SectionRun, left: number): void {
  const add = (o1: number, d1: number, o2: number, d2: number): void => {
    const width = o1 - o2;
    const area = (width * (d1 + d2)) / 2;
    // Of a quadratic, Simpson's rule is exact.
    const moment = (width * (o1 * d1 + (o1 + o2) * (d1 + d2) + o2 * d2)) / 6;
    if (area > 0) {
      section.fill += area;
      section.fillMoment += moment;
    } else {
      section.cut -= area;
      section.cutMoment -= moment;
    }
  };
  for (let i = 1; i < at.length; i++) {
    const [o1, o2, d1, d2] = [left - at[i - 1], left - at[i], z[i - 1], z[i]];
    if ((d1 >= 0 && d2 >= 0) || (d1 <= 0 && d2 <= 0)) add(o1, d1, o2, d2);
    else {
      const middle = o1 + ((o2 - o1) * d1) / (d1 - d2);
      add(o1, d1, middle, 0);
      add(middle, 0, o2, d2);
    }
  }
}
