import { indexCodes, type Code, type CodeList } from '#core/codes';
import type { Line } from './line.ts';
import { shapeCourse, type Shaped } from './shape.ts';
import type { Slip } from './slips.ts';
import { threadCourses, type CodedPoints, type Course, type PointCode, type Readers } from './thread.ts';

export interface Linework {
  lines: Line[];
  pointCodes: PointCode[];
  slips: Slip[];
}

/** Lines as they were shaped, so that an edit shapes only those anew whose shots, places or words changed. */
export class LineMemory {
  private kept = new Map<string, { course: Course; places: Float64Array; code: Code | null; shaped: Shaped }>();
  /** How many courses the last run shaped. */
  shaped = 0;
  readonly readers: Readers = new Map();

  /** Runs through all courses of a build; what none of them asked for is forgotten. */
  run(courses: readonly Course[], points: CodedPoints, codeOf: (code: string) => Code | null): Shaped[] {
    const next: typeof this.kept = new Map();
    this.shaped = 0;
    const out = courses.map((course) => {
      const before = this.kept.get(course.key);
      const places = placesOf(course, points);
      const code = codeOf(course.code);
      const same =
        before !== undefined &&
        sameOffsets(before.code, code) &&
        samePlaces(before.places, places) &&
        sameCourse(before.course, course);
      if (!same) this.shaped++;
      const shaped = same ? before.shaped : shapeCourse(course, points.x, points.y, code);
      next.set(course.key, { course, places, code, shaped });
      return shaped;
    });
    this.kept = next;
    return out;
  }
}

/**
 * Builds lines from coded points in the order given: courses are followed from shot to shot, then each is shaped by
 * itself. Deterministic; never throws.
 */
export function buildLines(points: CodedPoints, list: CodeList, memory = new LineMemory()): Linework {
  const { courses, pointCodes, slips } = threadCourses(points, list, memory.readers);
  const { byCode } = indexCodes(list);
  const shaped = memory.run(courses, points, (code) => byCode.get(code) ?? null);
  const at = new Map<Line, number>();
  courses.forEach((course, i) => {
    for (const line of shaped[i].lines) at.set(line, course.steps[0].row);
  });
  const lines = shaped.flatMap((s) => s.lines);
  lines.sort((a, b) => at.get(a)! - at.get(b)! || (a.key < b.key ? -1 : 1));
  return { lines, pointCodes, slips: [...slips, ...shaped.flatMap((s) => s.slips)] };
}

/** Places of a course's shots and of the points that it joins. */
function placesOf(course: Course, { x, y }: CodedPoints): Float64Array {
  const out = new Float64Array(course.steps.length * 4);
  course.steps.forEach(({ row, join }, i) => {
    out[4 * i] = x[row];
    out[4 * i + 1] = y[row];
    if (join >= 0) {
      out[4 * i + 2] = x[join];
      out[4 * i + 3] = y[join];
    }
  });
  return out;
}

function samePlaces(a: Float64Array, b: Float64Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

function sameCourse(a: Course, b: Course): boolean {
  if (a.closed !== b.closed || a.steps.length !== b.steps.length || a.code !== b.code) return false;
  return a.steps.every((s, i) => {
    const t = b.steps[i];
    if (s.row !== t.row || s.join !== t.join || s.words.length !== t.words.length) return false;
    return s.words.every((w, k) => {
      const v = t.words[k];
      return (
        w === v ||
        (w.meaning === v.meaning &&
          w.lengths.length === v.lengths.length &&
          w.lengths.every((l, j) => l === v.lengths[j]))
      );
    });
  });
}

function sameOffsets(a: Code | null, b: Code | null): boolean {
  if (a === b) return true;
  return JSON.stringify(a?.offsets ?? []) === JSON.stringify(b?.offsets ?? []);
}
