import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { DxfPolyline } from '../dxf/content.ts';
import { withoutDoubles } from './doubles.ts';
import { joinedEnds } from './joined.ts';
import { straightened } from './straightened.ts';

// Lines of a design drawing, cleaned for a small screen: each step says what it took away.

/** What is cleaned; lengths in the unit of the lines. */
export interface CleanSettings {
  /** Ends that are no farther apart become one; 0 joins none. Lines in one place all along, within it, are doubles. */
  join: number;
  /** Vertices that are no farther from the straight between those that stay go; 0 leaves all. */
  straight: number;
  /** Lines at elevation 0 are left out where others of their layer have one: a layer that is drawn in plan stays. */
  atZero: boolean;
}

/** m; what a small screen does not show apart. */
export const USUAL_CLEANING: CleanSettings = { join: 0.01, straight: 0.005, atZero: true };

/** Lengths in m as lengths in the unit of a file. */
export const cleaningInUnit = (clean: CleanSettings, unit: FileUnit): CleanSettings => ({
  ...clean,
  join: clean.join / METRES_IN_FILE[unit],
  straight: clean.straight / METRES_IN_FILE[unit],
});

export interface Cleaned {
  before: { lines: number; vertices: number };
  after: { lines: number; vertices: number };
  noLength: number;
  doubled: number;
  atZero: number;
  /** Ends that became one. */
  joined: number;
}

/** Lines without what has no length, doubles, and what lies at 0; joined, and without vertices that say nothing. Arcs stay arcs. */
export function cleanLines(
  lines: readonly DxfPolyline[],
  { join, straight, atZero }: CleanSettings,
): { lines: DxfPolyline[]; cleaned: Cleaned } {
  const count = (of: readonly DxfPolyline[]): Cleaned['before'] => ({ lines: of.length, vertices: of.reduce((n, l) => n + l.x.length, 0) }); // prettier-ignore
  const withLength = lines.map(withoutRepeats).filter((l) => l.x.length > 1);
  const single = withoutDoubles(withLength, join);
  const inSpace = new Set(single.filter(hasElevation).map((l) => l.layer));
  const standing = atZero ? single.filter((l) => hasElevation(l) || !inSpace.has(l.layer)) : single;
  const { lines: whole, joined } = joinedEnds(standing, join);
  const out = straight > 0 ? whole.map((l) => straightened(l, straight)) : whole;
  return {
    lines: out,
    cleaned: {
      before: count(lines),
      after: count(out),
      noLength: lines.length - withLength.length,
      doubled: withLength.length - single.length,
      atZero: single.length - standing.length,
      joined,
    },
  };
}

const hasElevation = ({ z }: DxfPolyline): boolean => z.some((v) => v !== 0);

/** A line without vertices that repeat the one before; a closed one does not repeat its first. */
function withoutRepeats(line: DxfPolyline): DxfPolyline {
  const { x, y, z, bulge, closed } = line;
  const same = (i: number, k: number): boolean => x[i] === x[k] && y[i] === y[k] && z[i] === z[k];
  let keep = x.map((_, i) => i).filter((i) => i === 0 || !same(i, i - 1));
  if (closed && keep.length > 1 && same(keep[keep.length - 1], 0)) keep = keep.slice(0, -1);
  if (keep.length === x.length) return line;
  // The arc that leaves a place leaves the last of those that repeat it.
  const last = (k: number): number => (k + 1 < keep.length ? keep[k + 1] - 1 : x.length - 1);
  const at = (v: readonly number[]): number[] => keep.map((i) => v[i]);
  return { ...line, x: at(x), y: at(y), z: at(z), bulge: keep.map((_, k) => bulge[last(k)]) };
}
