import { asPolyline } from '#core/exchange';
import { chordPlaces } from '#core/linework';
import { METRES_IN_FILE } from '#core/measure';
import { loadedDrawing } from './layers.ts';
import { linesOf, load, unitOf, type TextOptions } from './load.ts';
import { CannotDo } from './problems.ts';

/** Chords of arcs are off them by at most this, m. */
const SAGITTA = 0.001;

/** The one line of a file in plan, x, y …, m; of LandXML the one alignment, where it has any. Points are a line in their order. */
export function courseIn(file: string, options: TextOptions): number[] {
  const loaded = load(file, options);
  if (loaded.kind === 'points') return Array.from(loaded.read.x).flatMap((x, i) => [x, loaded.read.y[i]]);
  const aligned = loaded.kind === 'landxml' && loaded.content.alignments.length > 0;
  const courses = aligned ? alignmentsOf(loaded, options) : linesOf(loaded, options).map((l) => l.places.filter((_, i) => i % 3 !== 2)); // prettier-ignore
  if (courses.length !== 1)
    throw new CannotDo(`${loaded.file} holds ${courses.length} ${aligned ? 'alignments' : 'lines'}; sections stand across one. Give a file with that one alone.`); // prettier-ignore
  return courses[0];
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
