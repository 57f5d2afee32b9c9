import { distance } from '#core/kernel';
import { FILE_UNITS, METRES_IN_FILE, type FileUnit } from '#core/measure';

// A file that lies nowhere near the project was mostly read in the wrong unit, the wrong way round, or has its leading
// digits cut off. Which of these would bring it there is told by how far it goes, without a point in common.

/** West, south, east, north. */
export type Extent = readonly [west: number, south: number, east: number, north: number];

/** One way in which a file comes to lie where the project is. */
export interface WayThere {
  unit: FileUnit;
  /** East and north the other way round. */
  swapped: boolean;
  /** m, added to east and north after that. */
  shift: readonly [east: number, north: number] | null;
  /** m between the middle of the file and that of the project, then. */
  off: number;
}

export interface Lying {
  /** m between the two as the file is read. */
  off: number;
  ways: WayThere[];
}

/** m; a project smaller than this is looked around so far. */
const AROUND = 500;
/** A file is of the project's kind where it goes at least and at most so many times as far. */
const ALIKE = [1 / 50, 20] as const;
/** Leading digits are cut off at so many metres; at fewer, too many files would fit by coincidence. */
const CUTS = [1e6, 1e5, 1e4] as const;

/**
 * Where a file lies against the project, and what would bring it there; null where it lies there, or there is no project yet.
 * @param file without what lies far from all others, m, as it is read in `unit`
 * @param project its control or its points, m
 */
export function whereItLies(file: Extent, unit: FileUnit, project: Extent | null): Lying | null {
  if (!project || liesAt(file, project)) return null;
  const inFile = file.map((v) => v / METRES_IN_FILE[unit]) as unknown as Extent;
  const ways: WayThere[] = [];
  for (const swapped of [false, true])
    for (const to of FILE_UNITS) {
      const there = readAs(inFile, to, swapped);
      if (liesAt(there, project)) ways.push({ unit: to, swapped, shift: null, off: betweenMiddles(there, project) });
    }
  if (ways.length === 0) {
    const shift = cutOff(file, project);
    if (shift) ways.push({ unit, swapped: false, shift, off: betweenMiddles(moved(file, shift), project) });
  }
  return {
    off: betweenMiddles(file, project),
    ways: ways.sort((a, b) => Number(a.swapped) - Number(b.swapped) || a.off - b.off),
  };
}

const readAs = ([w, s, e, n]: Extent, unit: FileUnit, swapped: boolean): Extent => {
  const m = METRES_IN_FILE[unit];
  return swapped ? [s * m, w * m, n * m, e * m] : [w * m, s * m, e * m, n * m];
};

const sizeOf = ([w, s, e, n]: Extent): number => Math.max(e - w, n - s);
const middleOf = ([w, s, e, n]: Extent): [number, number] => [(w + e) / 2, (s + n) / 2];

/** m between the middles of two extents. */
export function betweenMiddles(a: Extent, b: Extent): number {
  const [[ax, ay], [bx, by]] = [middleOf(a), middleOf(b)];
  return distance(ax - bx, ay - by);
}

/** Whether one meets the other, or its surroundings, and goes about as far. */
function liesAt(file: Extent, project: Extent): boolean {
  const around = Math.max(AROUND, sizeOf(project) / 2);
  const [size, share] = [sizeOf(project), sizeOf(file) / Math.max(1, sizeOf(project))];
  const alike = size < 1 || (share >= ALIKE[0] && share <= ALIKE[1]);
  return alike && file[0] <= project[2] + around && file[2] >= project[0] - around && file[1] <= project[3] + around && file[3] >= project[1] - around; // prettier-ignore
}

const moved = ([w, s, e, n]: Extent, [x, y]: readonly [number, number]): Extent => [w + x, s + y, e + x, n + y];

/** The round numbers that are missing, of each axis for itself; none for a file that lies at its own origin, which may belong anywhere. */
function cutOff(file: Extent, project: Extent): [east: number, north: number] | null {
  const [[fx, fy], [px, py]] = [middleOf(file), middleOf(project)];
  const reach = Math.max(AROUND, sizeOf(project)) / 2;
  const missing = (f: number, p: number): number | undefined =>
    CUTS.filter((cut) => f >= 0 && f < cut)
      .map((cut) => Math.round((p - f) / cut) * cut)
      .find((shift) => Math.abs(f + shift - p) <= reach);
  const [east, north] = [missing(fx, px), missing(fy, py)];
  return east !== undefined && north !== undefined && liesAt(moved(file, [east, north]), project)
    ? [east, north]
    : null;
}
