import { asPolyline } from '#core/exchange';
import { chordPlaces } from '#core/linework';
import { METRES_IN_FILE } from '#core/measure';
import { loadedDrawing } from './layers.ts';
import { linesOf, load, pointsOf, unitOf, type TextOptions } from './load.ts';
import { CannotDo } from './problems.ts';

/** Chords of arcs are off them by at most this, m. */
const SAGITTA = 0.001;

/** The one line of a file in plan, x, y …, m; of LandXML the one alignment, where it has any. Points are a line in their order. */
export function courseIn(file: string, options: TextOptions): number[] {
  const loaded = load(file, options);
  if (loaded.kind === 'points') {
    const { x, y } = pointsOf(loaded, options);
    return Array.from(x).flatMap((at, i) => [at, y[i]]);
  }
  const aligned = loaded.kind === 'landxml' && loaded.content.alignments.length > 0;
  const courses = aligned ? alignmentsOf(loaded, options) : linesOf(loaded, options).map((l) => l.places.filter((_, i) => i % 3 !== 2)); // prettier-ignore
  if (courses.length !== 1)
    throw new CannotDo(`${loaded.file} holds ${courses.length} ${aligned ? 'alignments' : 'lines'}; sections stand across one. Give a file with that one alone.`); // prettier-ignore
  return courses[0];
}

/** The one line of a file with its elevations: x, y, z of every place, m. Points are a line in their order. */
export function spatialCourseIn(file: string, options: TextOptions): number[][] {
  const loaded = load(file, options);
  const spatial = (): number[] => {
    if (loaded.kind === 'points') {
      const { x, y, z } = pointsOf(loaded, options);
      return Array.from(x).flatMap((at, i) => [at, y[i], z[i]]);
    }
    const lines = linesOf(loaded, options);
    if (lines.length !== 1) throw new CannotDo(`${loaded.file} holds ${lines.length} lines; a strip runs along one. Give a file with that one alone.`); // prettier-ignore
    return lines[0].places;
  };
  const flat = spatial();
  const places = Array.from({ length: flat.length / 3 }, (_, i) => flat.slice(3 * i, 3 * i + 3));
  const bare = places.findIndex(([, , z]) => !Number.isFinite(z));
  if (bare >= 0) throw new CannotDo(`Place ${bare + 1} of the line in ${loaded.file} has no elevation. A strip needs one at every place.`); // prettier-ignore
  return places;
}

function alignmentsOf(loaded: Extract<ReturnType<typeof load>, { kind: 'landxml' }>, options: TextOptions): number[][] {
  const factor = METRES_IN_FILE[unitOf(loaded, options)];
  const { polylines, curves } = loadedDrawing(loaded)!.content;
  const plans = [...polylines, ...curves.map((c) => asPolyline(c, SAGITTA / factor))];
  return plans
    .filter((l) => l.kind === 'Alignment')
    .map(({ x, y, bulge }) => {
      const at = (i: number): { x: number; y: number } => ({ x: x[i], y: y[i] });
      return x
        .flatMap((_, i) => {
          const arc =
            i + 1 < x.length && bulge[i] !== 0 ? chordPlaces(at(i), at(i + 1), bulge[i], SAGITTA / factor) : [];
          return [at(i), ...arc].flatMap((p) => [p.x, p.y]);
        })
        .map((v) => v * factor);
    });
}
