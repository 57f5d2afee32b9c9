import type { LandXmlAlignment, LandXmlLine, Problem } from '../content.ts';
import type { Course } from './course.ts';
import type { Profile } from './profile.ts';

/** Offsets to the right and elevations of a section across an alignment. */
export interface CrossSection {
  chainage: number;
  surface: string;
  /** offset, elevation, offset, elevation … */
  list: readonly number[];
}

/** An alignment as it is read: where it runs, and what is said along it. */
export interface OpenAlignment {
  name: string;
  start: number;
  course: Course | null;
  profiles: { name: string; of: Profile }[];
  sections: CrossSection[];
  equations: LandXmlAlignment['equations'];
}

/** Lines in space along an alignment; of a profile that goes beyond its ends, as far as it lies on it. */
export function linesOfProfiles({ name, start, course, profiles }: OpenAlignment, problem: Problem): LandXmlLine[] {
  if (profiles.length && !course) problem(`alignment “${name}” has a profile and no course`);
  if (!course) return [];
  return profiles.flatMap(({ name: profile, of }): LandXmlLine[] => {
    const end = start + course.length;
    const [from, to] = [Math.max(start, of.from), Math.min(end, of.to)];
    if (!(to > from)) {
      problem(`profile “${profile}” is nowhere on alignment “${name}”: its chainages are others`);
      return [];
    }
    const chainages = [from, ...course.drawnAt().map((d) => start + d), ...of.bends, to].filter((c) => c >= from && c <= to).sort((a, b) => a - b); // prettier-ignore
    const spatial: number[] = [];
    let last = -Infinity;
    for (const c of chainages) {
      if (c - last < APART) continue;
      last = c;
      const pose = course.poseAt(c - start);
      if (pose) spatial.push(pose.at[0], pose.at[1], of.elevation(c));
    }
    return [{ kind: 'Profile', name: joined(name, profile), spatial }];
  });
}

/** Nearer than this along an alignment, in its unit, two places are one. */
const APART = 1e-6;

/** Sections as lines in space, square across the alignment. */
export function linesOfSections({ name, start, course, sections }: OpenAlignment, problem: Problem): LandXmlLine[] {
  if (sections.length && !course) problem(`alignment “${name}” has cross sections and no course`);
  if (!course) return [];
  let astray = 0;
  const out = sections.flatMap(({ chainage, surface, list }): LandXmlLine[] => {
    const pose = course.poseAt(chainage - start);
    if (!pose) {
      astray++;
      return [];
    }
    const [ex, ey] = pose.ahead;
    const spatial: number[] = [];
    for (let i = 0; i + 1 < list.length; i += 2) spatial.push(pose.at[0] + list[i] * ey, pose.at[1] - list[i] * ex, list[i + 1]); // prettier-ignore
    return spatial.length >= 6 ? [{ kind: 'CrossSect', name: joined(name, surface), spatial }] : [];
  });
  if (astray) problem(`${astray === 1 ? 'a cross section' : `${astray} cross sections`} of alignment “${name}” ${astray === 1 ? 'is' : 'are'} beyond its ends`); // prettier-ignore
  return out;
}

const joined = (alignment: string, what: string): string => [alignment, what].filter(Boolean).join(' ');

export const factsOf = ({ name, start, course, equations }: OpenAlignment): LandXmlAlignment => ({ name, start, length: course?.length ?? 0, equations }); // prettier-ignore
