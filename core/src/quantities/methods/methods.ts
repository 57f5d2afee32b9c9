import { lineOfSections } from '../cross-sections/cross-sections.ts';
import { groundFinder, ofTriangles } from '#core/terrain';
import { distance } from '#core/kernel';
import type { CutAndFill } from '../hand/given-sections.ts';
import type { DifferencePieces, Volume } from '../volume.ts';
import { contourAreaVolume } from './contour-areas.ts';
import { gridVolume, type Extent } from './grid.ts';
import { cutSections, type CutSections } from './sections.ts';
import { volumesBetween } from './stretches.ts';

export const VOLUME_METHODS = ['exact', 'grid', 'sections', 'prismoidal', 'contours'] as const;
export type VolumeMethod = (typeof VOLUME_METHODS)[number];

/** How the hand methods go; lengths in m. */
export interface MethodSettings {
  /** Side of a cell. */
  cell: number;
  /** Between sections. */
  spacing: number;
  /** Between depth contours. */
  interval: number;
  /** Line across which sections stand, x, y …; null: they run north, from the west side to the east. */
  along: readonly number[] | null;
}

/** One method's figures, and why they are not those of the exact one: a place, and what it carries. */
export interface MethodVolume extends CutAndFill {
  method: VolumeMethod;
  /** Cells, sections or contours that it took. */
  parts: number;
  /** m² that it leaves out at the rim. */
  leftOut?: number;
  /** The stretch that differs most from what lies there: chainages from and to, m; its middle; by how much, m³ of cut and of fill. */
  worst?: { from: number; to: number; x: number; y: number; cut: number; fill: number };
}

/** By how much a method is off the exact figures: cut and fill each, of cut + fill. */
export function offShare(m: CutAndFill, { cut, fill }: CutAndFill): number {
  const whole = cut + fill;
  return whole ? (Math.abs(m.cut - cut) + Math.abs(m.fill - fill)) / whole : 0;
}

/** How far methods are apart in cut − fill, m³. */
export function spreadOf(methods: readonly CutAndFill[]): number {
  const nets = methods.map((m) => m.cut - m.fill);
  return Math.max(...nets) - Math.min(...nets);
}

/** West, south, east and north of pieces, m. */
export function extentOfPieces(pieces: DifferencePieces): Extent {
  const extent: Extent = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < pieces.length; i += 3) {
    extent[0] = Math.min(extent[0], pieces[i]);
    extent[1] = Math.min(extent[1], pieces[i + 1]);
    extent[2] = Math.max(extent[2], pieces[i]);
    extent[3] = Math.max(extent[3], pieces[i + 1]);
  }
  return extent;
}

/** Sections of a difference as the methods cut them: north from the west side, or square across a line. */
export function sectionsOf(pieces: DifferencePieces, spacing: number, along: readonly number[] | null): CutSections {
  const extent = extentOfPieces(pieces);
  const reach = distance(extent[2] - extent[0], extent[3] - extent[1]);
  return cutSections(groundFinder(ofTriangles(pieces)), lineOfSections(along ?? undefined, extent), spacing, reach);
}

/**
 * What every method makes of one difference, those that are asked for; the exact figures are those of its pieces.
 * Throws RangeError where a size is meant for another site.
 */
export function volumesByMethod(
  { cut, fill, area }: Volume,
  pieces: DifferencePieces,
  { cell, spacing, interval, along }: MethodSettings,
  methods: readonly VolumeMethod[] = VOLUME_METHODS,
): MethodVolume[] {
  const extent = extentOfPieces(pieces);
  const finder = groundFinder(ofTriangles(pieces));
  const course = lineOfSections(along ?? undefined, extent);
  const reach = distance(extent[2] - extent[0], extent[3] - extent[1]);
  let cutHere: CutSections | null = null;
  const sections = (): CutSections => (cutHere ??= cutSections(finder, course, spacing, reach));
  const of = (method: VolumeMethod): MethodVolume => {
    switch (method) {
      case 'exact':
        return { method, cut, fill, parts: pieces.length / 9 };
      case 'grid': {
        const grid = gridVolume((x, y) => finder.at(x, y)?.elevation ?? null, extent, cell);
        return { method, cut: grid.cut, fill: grid.fill, parts: grid.cells, leftOut: Math.max(0, area - grid.area) };
      }
      case 'sections':
        return { method, ...sections().averageEndArea, parts: sections().sections.length, ...worstOf(finder, pieces, along, course, sections(), reach) }; // prettier-ignore
      case 'prismoidal':
        return { method, ...sections().prismoidal, parts: 2 * sections().sections.length - 1 };
      case 'contours': {
        const { contours, ...volume } = contourAreaVolume(pieces, interval);
        return { method, ...volume, parts: contours };
      }
    }
  };
  return methods.map(of);
}

/** As many sections stand for what lies between two, where they follow a line. */
const FINE = 8;

/** The stretch between two sections whose ends say least of it: held against what lies there, exactly where they run north. */
function worstOf(
  finder: ReturnType<typeof groundFinder>,
  pieces: DifferencePieces,
  along: readonly number[] | null,
  course: readonly number[],
  { between }: CutSections,
  reach: number,
): Pick<MethodVolume, 'worst'> {
  const there = along
    ? between.map(
        ({ from, to }) => cutSections(finder, stretch(course, from, to), (to - from) / FINE, reach).prismoidal,
      )
    : volumesBetween(pieces, [course[0], ...between.map(({ to }) => course[0] + to)]);
  let worst: MethodVolume['worst'];
  between.forEach(({ from, to, cut, fill }, i) => {
    const [dCut, dFill] = [cut - there[i].cut, fill - there[i].fill];
    if (worst && Math.abs(dCut) + Math.abs(dFill) <= Math.abs(worst.cut) + Math.abs(worst.fill)) return;
    const [x, y] = stretch(course, (from + to) / 2, to);
    worst = { from, to, x, y, cut: dCut, fill: dFill };
  });
  return worst && (worst.cut !== 0 || worst.fill !== 0) ? { worst } : {};
}

/** The part of a course between two chainages, m. */
function stretch(course: readonly number[], from: number, to: number): number[] {
  const out: number[] = [];
  let chainage = 0;
  for (let i = 0; i + 3 < course.length; i += 2) {
    const [dx, dy] = [course[i + 2] - course[i], course[i + 3] - course[i + 1]];
    const length = distance(dx, dy);
    const [a, b] = [Math.max(from, chainage), Math.min(to, chainage + length)];
    if (length > 0 && b > a) {
      const place = (s: number): number[] => [course[i] + (dx * (s - chainage)) / length, course[i + 1] + (dy * (s - chainage)) / length]; // prettier-ignore
      if (out.length === 0) out.push(...place(a));
      out.push(...place(b));
    }
    chainage += length;
  }
  return out;
}
