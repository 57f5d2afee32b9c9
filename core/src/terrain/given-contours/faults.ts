import { closingAndCrossing } from './crossings.ts';
import { Sides, usualSide, type ContourFault, type GivenContour } from './contour.ts';
import { doubled } from './doubled.ts';
import { endFaults } from './ends.ts';
import { usualInterval, wrongElevations } from './neighbours.ts';
import { Nearest } from './nearest.ts';

// Contours as input: what is wrong with them is named with place and elevation before they make ground.

export interface ContourCheck {
  /** The usual difference between neighbours, m; null where there are none. */
  interval: number | null;
  faults: ContourFault[];
}

/** m; what is nearer than this is the same place. */
export const SAME_PLACE = 0.001;

/**
 * What is wrong with contours: those that cross, that are closed across others, doubled, of a wrong elevation, or that end
 * where they should not. A contour that is named for a graver reason is not named again for what comes of it.
 *
 * @param tolerance m; a contour within this of another, all along, is the same one
 */
export function checkContours(contours: readonly GivenContour[], tolerance = SAME_PLACE): ContourCheck {
  const sides = new Sides(contours);
  const same = doubled(sides, tolerance);
  const twice = new Set(same.map((d) => d.contour));
  const { closing, crossing } = closingAndCrossing(sides, twice);
  const cut = new Set(closing.map((f) => f.contour));
  const nearest = new Nearest(sides, usualSide(sides), twice, cut);
  const interval = usualInterval(nearest);
  const through = new Set(crossing.filter((c) => c.through).map((c) => c.contour));
  const wrong = (interval === null ? [] : wrongElevations(nearest, interval)).filter((f) => !through.has(f.contour));
  const atWrong = new Set(wrong.map((f) => f.contour));
  // What touches is named where it is not the elevation that is wrong.
  const left = crossing.filter((c) => c.through || (!atWrong.has(c.contour) && !c.others.every((o) => atWrong.has(o))));
  const ends = endFaults(sides, nearest, new Set([...twice, ...cut]));
  // Where one between them breaks off, two contours are neighbours that are none.
  const z = (k: number): number => contours[k].elevation;
  const isBetween = (o: number, a: number, b: number): boolean => (z(o) - z(a)) * (z(o) - z(b)) < 0;
  const broken = ends.filter((e) => e.kind === 'open').map((e) => e.contour);
  const sure = wrong.filter((f) => f.fits !== null || !broken.some((o) => f.neighbours.some((n) => isBetween(o, f.contour, n)))); // prettier-ignore
  return { interval, faults: [...same, ...closing, ...left, ...sure, ...ends] };
}
