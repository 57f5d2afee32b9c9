import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export type Place = readonly number[];

const less = (u: Place, v: Place): number[] => u.map((c, k) => c - v[k]);
const dot = (u: Place, v: Place): number => u.reduce((s, c, k) => s + c * v[k], 0);

/** How far a place is from a straight between two, in space. */
function toSide(p: Place, a: Place, b: Place): number {
  const [along, to] = [less(b, a), less(p, a)];
  const share = Math.min(1, Math.max(0, dot(to, along) / (dot(along, along) || 1)));
  const off = less(to, along.map((c) => c * share)); // prettier-ignore
  return Math.sqrt(dot(off, off));
}

/** How far a place is from a course of straights, in space. */
export const offCourse = (p: Place, course: readonly Place[]): number =>
  course.length === 1 ? Math.sqrt(dot(less(p, course[0]), less(p, course[0]))) : Math.min(...course.slice(1).map((b, i) => toSide(p, course[i], b))); // prettier-ignore

/** The farthest that one course is from another, looked at from the places of both. */
export const apart = (a: readonly Place[], b: readonly Place[]): number =>
  Math.max(...a.map((p) => offCourse(p, b)), ...b.map((p) => offCourse(p, a)));

/** What a script beside the tests prints, as JSON: ezdxf (Debian python3-ezdxf) says there what it wrote. */
export function saidOutside<T>(script: string, ...args: string[]): T {
  const file = fileURLToPath(new URL(`./outside/${script}`, import.meta.url));
  const run = spawnSync('/usr/bin/python3', [file, ...args], { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (run.status !== 0) throw new Error(run.stderr);
  return JSON.parse(run.stdout) as T;
}
