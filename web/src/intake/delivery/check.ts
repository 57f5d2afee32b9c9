import { distance } from '#core/kernel';
import { formatLength, UNIT_NAME, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { Intake } from '#core/project';
import type { Opened, Tried } from '../../work/intake.worker.ts';
import type { Treatment } from './sort.ts';

/** Something to know of a file before it is imported; a warning is in the way of trusting it. */
export interface Remark {
  warning: boolean;
  text: string;
}

/** A file of a delivery, read as far as it can be before it is imported. */
export interface Checked {
  path: string;
  opened: Opened | null;
  tried: Tried | null;
  treatment: Treatment;
  /** Hashes of its rows that are not blank, to know one version of a file in another. */
  rows: Uint32Array;
}

export interface ProjectFacts {
  unit: LengthUnit;
  /** In words, for a sentence; and its code, where it is a published one. */
  system: string;
  code: string | null;
  /** Control that the project has, or that comes with the delivery. */
  control: readonly { x: number; y: number }[];
  /** Files of the project by their checksum. */
  known: ReadonlyMap<string, string>;
}

/** Farther than this from all control, and than ten times its own spread, a survey is not tied to it. */
const FAR = 2000;

/** What should be known of each file before it comes in: units, order, system, place, and what is there already. */
export function remarksOf(file: Checked, all: readonly Checked[], project: ProjectFacts): Remark[] {
  const { opened } = file;
  if (!opened) return [];
  const out: Remark[] = [];
  const warn = (text: string): void => void out.push({ warning: true, text });
  const note = (text: string): void => void out.push({ warning: false, text });
  const same = project.known.get(opened.sha256);
  if (same) warn(`the project has these bytes already, as ${same}`);
  const twin = all.find((o) => o !== file && o.opened?.sha256 === opened.sha256 && o.path < file.path);
  if (twin) warn(`the same bytes as ${twin.path}`);
  const later = laterVersion(file, all);
  if (later) warn(`an earlier version of ${later.path}: nearly all of its rows are in it too`);
  if (opened.book || file.treatment.as === 'book') {
    if (opened.book && !opened.book.complete) warn('it does not end as a book should: it may be cut off');
    return out;
  }
  const { layout, said } = opened.guess;
  if (layout.unit !== project.unit)
    (said.unit ? note : warn)(
      said.unit
        ? `in ${UNIT_NAME[layout.unit as LengthUnit] ?? layout.unit}, as it says; the project has ${UNIT_NAME[project.unit]}`
        : `taken to be in ${layout.unit}; it does not say`,
    );
  else if (!said.unit) note(`says no unit: taken to be in ${UNIT_NAME[project.unit]}, as the project`);
  if (!said.order) note(`says no order: ${opened.guess.why.order}`);
  const claimed = opened.claims.system;
  if (claimed && !(project.code && claimed.includes(project.code.replace(/^\w+:/, ''))))
    warn(`says its system is ${claimed}; the project has ${project.system}`);
  if (file.treatment.as !== 'control' && file.tried) placeRemarks(file.tried, project, warn);
  return out;
}

/** Whether points lie where control is, and whether swapped ones would. */
function placeRemarks({ x, y, placed }: Tried, project: ProjectFacts, warn: (text: string) => void): void {
  const { control, unit } = project;
  if (!placed || control.length === 0 || x.length === 0) return;
  const [px, py] = [middle(x), middle(y)];
  const [cx, cy] = [middle(control.map((c) => c.x)), middle(control.map((c) => c.y))];
  const spread = Math.max(...control.map((c) => distance(c.x - cx, c.y - cy)), 1);
  const limit = Math.max(FAR, 10 * spread);
  const away = distance(px - cx, py - cy);
  if (away <= limit) return;
  const swapped = distance(py - cx, px - cy);
  const far = `${formatLength(away, unit, 0)} ${UNIT_SIGN[unit]} from control`;
  warn(swapped <= limit ? `${far}; with east and north swapped it lies within it` : far);
}

const middle = (v: ArrayLike<number>): number => Float64Array.from(v).sort()[v.length >> 1];

/** Files of a project that another may be a later export of: those of its kind, and of what its points are. */
export function earlierOf<T extends Pick<Intake, 'form' | 'purpose' | 'sha256'>>(
  { as }: Treatment,
  sha256: string,
  intakes: readonly T[],
): T[] {
  if (as !== 'book' && as !== 'survey' && as !== 'control') return [];
  const [form, purpose] = as === 'book' ? ['book', 'survey'] : [undefined, as];
  return intakes.filter((i) => i.form === form && i.purpose === purpose && i.sha256 !== sha256);
}

/** So much of a file's rows stand in a later version of it. */
const SHARE = 0.9;

/** The file of a delivery that holds nearly everything of this one and more: this is an earlier version. */
export function laterVersion<T extends Pick<Checked, 'path' | 'rows'>>(file: T, all: readonly T[]): T | null {
  if (file.rows.length === 0) return null;
  for (const other of all) {
    if (other === file || other.rows.length <= file.rows.length) continue;
    const rows = new Set(other.rows);
    let found = 0;
    for (const r of file.rows) if (rows.has(r)) found++;
    if (found >= SHARE * file.rows.length) return other;
  }
  return null;
}
