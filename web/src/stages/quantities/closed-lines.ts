import type { Line } from '#core/linework';
import type { Tables } from '../../project-state/tables.ts';
import { coursesOf } from '../../sheet/layers.ts';

/** m; chords of arcs are off them by at most this. */
const SAGITTA = 0.01;
/** Lines that are offered at the most. */
const MOST = 500;

/** Closed lines of the project that can be a boundary or a zone, by code and number. */
export const closedLines = ({ linework }: Pick<Tables, 'linework'>): Line[] =>
  linework.lines.filter((l) => l.closed && l.x.length > 2).slice(0, MOST);

/** A closed line in plan, x, y …, arcs as chords, without its first place again. */
export function ringOfLine(line: Line): number[] {
  const [course] = coursesOf(line, [], SAGITTA);
  const plan = course.filter((_, i) => i % 3 !== 2);
  return plan.slice(0, plan[0] === plan.at(-2) && plan[1] === plan.at(-1) ? -2 : undefined);
}
