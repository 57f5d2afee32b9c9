import { distance } from '#core/kernel';
import type { OffsetRun, SectionedSurface } from './cross-sections.ts';

/** A cut along a line: chainages take the place of offsets. */
export interface Profile {
  /** m */
  length: number;
  surfaces: { name: string; runs: OffsetRun[] }[];
  /** Chainages at which the line bends, m. */
  bends: number[];
}

/** Surfaces along a line in plan, x, y, x, y …, m. */
export function profileAlong(course: readonly number[], surfaces: readonly SectionedSurface[]): Profile {
  const bends: number[] = [];
  let length = 0;
  for (let i = 0; i + 3 < course.length; i += 2) {
    length += distance(course[i + 2] - course[i], course[i + 3] - course[i + 1]);
    bends.push(length);
  }
  bends.pop();
  return {
    length,
    bends,
    surfaces: surfaces.map((s) => ({
      name: s.name,
      runs: 'level' in s ? [{ offset: [0, length], z: [s.level, s.level] }] : s.finder.along(course).map(({ at, z }) => ({ offset: [...at], z: [...z] })), // prettier-ignore
    })),
  };
}

/** The part of a profile from one chainage to another, m, cut where it ends. */
export function partOfProfile({ surfaces, bends }: Profile, from: number, to: number): Profile {
  const part = ({ offset, z }: OffsetRun): OffsetRun[] => {
    const out: OffsetRun = { offset: [], z: [] };
    const put = (o: number, v: number): void => void (out.offset.push(o), out.z.push(v));
    offset.forEach((o, i) => {
      if (i > 0) {
        const [p, q] = [offset[i - 1], z[i - 1]];
        const at = (c: number): number => q + ((z[i] - q) * (c - p)) / (o - p);
        if (p < from && o > from) put(from, at(from));
        if (p < to && o > to) put(to, at(to));
      }
      if (o >= from && o <= to) put(o, z[i]);
    });
    return out.offset.length > 1 ? [out] : [];
  };
  return {
    length: to - from,
    bends: bends.filter((b) => b > from && b < to),
    surfaces: surfaces.map(({ name, runs }) => ({ name, runs: runs.flatMap(part) })),
  };
}
