import { drawnPieces, elevationsAlong, type Line } from '#core/linework';
import { nearFinder } from '#core/quantities';
import { STATE, type SetPoints } from '#core/stages';

/** m; chords of arcs are off them by at most this. */
const SAGITTA = 0.01;

/** Finds what of a project lies near sections: its points that are used, and its lines, by number and code. */
export function nearOf(
  points: Pick<SetPoints, 'x' | 'y' | 'z' | 'state' | 'number' | 'description'>,
  lines: readonly Line[],
): ReturnType<typeof nearFinder> {
  const named = [];
  for (let i = 0; i < points.x.length; i++)
    if (points.state[i] === STATE.used) named.push({ name: `${points.number(i)} ${points.description(i)}`.trim(), x: points.x[i], y: points.y[i], z: points.z[i] }); // prettier-ignore
  const courses = lines.flatMap((line) => {
    const z = elevationsAlong(line, points.z) ?? line.x.map(() => NaN);
    return drawnPieces(line, z, SAGITTA).map(({ places, closed }) => ({
      name: line.code + line.lineNumber,
      places: closed ? [...places, ...places.slice(0, 3)] : places,
    }));
  });
  return nearFinder(named, courses);
}
