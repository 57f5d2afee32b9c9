import type { Change, HandLine, ProjectDocument } from '#core/project';
import { courseKey } from '#core/stages';
import {
  courseToEdit,
  elevationsBetween,
  extended,
  joined,
  lineOfCourse,
  nearestSide,
  placeVertex,
  trimmed,
  type Edited,
  type HandCourse,
  type HandVertex,
  type Line,
} from '#core/linework';
import { lineNear, type Snapped } from './snap.ts';
import { useProject } from './store.ts';
import type { Tables } from './tables.ts';

const store = () => useProject.getState();

const sentence = (what: string): string => what[0].toUpperCase() + what.slice(1);

/** How far from a line the hand may point when it names one, m. */
const POINTING = 30;

const keyOf = (doc: ProjectDocument, tables: Tables, row: number): string =>
  `${doc.intakes[tables.points.intake[row]].id}:${tables.points.fileRow[row]}`;

/** A drawn line as a course to edit, with coordinates of now. */
export function courseOfLine(line: Line, doc: ProjectDocument, tables: Tables): HandCourse {
  const z = elevationsBetween(line, (row) => tables.points.z[row]);
  return courseToEdit(line, (row) => keyOf(doc, tables, row), z);
}

/** A place from the sheet as a vertex: a point is followed, another place takes the elevation of the ground. */
export function vertexOf(place: Snapped, doc: ProjectDocument, tables: Tables): HandVertex {
  const ground = tables.ground.at(place.x, place.y)?.elevation ?? null;
  return place.row >= 0
    ? { ...placeVertex(place.x, place.y), point: keyOf(doc, tables, place.row) }
    : placeVertex(place.x, place.y, ground);
}

const handOf = (
  course: HandCourse,
  line: Pick<Line, 'code' | 'lineNumber'>,
  replaces: HandLine['replaces'],
  kept: Pick<HandLine, 'file' | 'insteadOf'> = {},
): HandLine => ({
  code: line.code,
  lineNumber: line.lineNumber,
  closed: course.closed,
  vertices: course.vertices,
  replaces,
  ...kept,
});

/** What a line by hand keeps whatever its course becomes: the file that it is of, and the points that it was tied from. */
function keptOf(line: Line, doc: ProjectDocument): Pick<HandLine, 'file' | 'insteadOf'> {
  const { file, insteadOf } = (doc.handLines[line.key] as HandLine | undefined) ?? {};
  return { ...(file === undefined ? {} : { file }), ...(insteadOf ? { insteadOf } : {}) };
}

/** What a line by hand stands for: the line by codes that it was made of, or what its hand line said of that. */
function replacesOf(line: Line, doc: ProjectDocument, tables: Tables): HandLine['replaces'] {
  const hand = doc.handLines[line.key] as HandLine | undefined;
  if (hand) return hand.replaces;
  const points = { intake: tables.points.intake, fileRow: tables.points.fileRow };
  return { key: line.key, course: courseKey(doc, points, line) };
}

/** Of the second part of a line: its file alone. */
const fileKept = (line: Line, doc: ProjectDocument): Pick<HandLine, 'file'> => {
  const { file } = keptOf(line, doc);
  return file === undefined ? {} : { file };
};

/** The next free key of a line by hand with a code. */
export function freeKey(code: string, doc: ProjectDocument): string {
  for (let i = 1; ; i++) if (!(`${code}~${i}` in doc.handLines)) return `${code}~${i}`;
}

/** Shows what a line would be with another course, before it is taken. */
export function proposeCourse(line: Line, edited: Edited, what: string): void {
  const { state, tables, tell, propose } = store();
  if (!edited.ok) return tell(edited.reason);
  const kept = keptOf(line, state!.document);
  const replaces = replacesOf(line, state!.document, tables!);
  void propose(sentence(what), {
    op: 'lines.hand',
    set: { [line.key]: handOf(edited.course, line, replaces, kept) },
    what,
  });
}

/** Several lines in the place of one: its first part keeps the key. */
export function proposeParts(line: Line, edited: Edited<HandCourse[]>, what: string): void {
  const { state, tables, tell, propose } = store();
  if (!edited.ok) return tell(edited.reason);
  const doc = state!.document;
  const set: Record<string, HandLine | null> = {};
  edited.course.forEach((course, i) => {
    const key = i === 0 ? line.key : freeKey(line.code + line.lineNumber, { ...doc, handLines: { ...doc.handLines, ...set } as ProjectDocument['handLines'] }); // prettier-ignore
    set[key] = handOf(
      course,
      line,
      i === 0 ? replacesOf(line, doc, tables!) : null,
      i === 0 ? keptOf(line, doc) : fileKept(line, doc),
    );
  });
  void propose(sentence(what), { op: 'lines.hand', set, what });
}

/** Joins two lines: the second is taken out, the first goes on through it. */
export function proposeJoin(line: Line, other: Line): void {
  const { state, tables, tell, propose } = store();
  const doc = state!.document;
  const whole = joined(courseOfLine(line, doc, tables!), courseOfLine(other, doc, tables!));
  if (!whole.ok) return tell(whole.reason);
  const what = `join line ${other.key} to ${line.key}`;
  void propose(sentence(what), { op: 'lines.hand', set: { [line.key]: handOf(whole.course, line, replacesOf(line, doc, tables!), keptOf(line, doc)), ...gone(other, doc, tables!) }, what }); // prettier-ignore
}

function gone(line: Line, doc: ProjectDocument, tables: Tables): Record<string, HandLine | null> {
  const replaces = replacesOf(line, doc, tables);
  if (!replaces) return { [line.key]: null };
  return { [line.key]: handOf({ vertices: [], closed: false }, line, replaces) };
}

export function proposeGone(line: Line): void {
  const { state, tables, propose } = store();
  const what = `delete line ${line.key}`;
  void propose(sentence(what), { op: 'lines.hand', set: gone(line, state!.document, tables!), what });
}

export function proposeCodes(line: Line): void {
  const what = `draw line ${line.key} from its codes again`;
  void store().propose(sentence(what), { op: 'lines.hand', set: { [line.key]: null }, what });
}

export function proposeNew(code: string, course: HandCourse, what: string): void {
  const { state, propose } = store();
  const key = freeKey(code, state!.document);
  void propose(sentence(what), {
    op: 'lines.hand',
    set: { [key]: handOf(course, { code, lineNumber: '' }, null) },
    what,
  });
}

/** Asks for one place on the drawing, then does something with it. */
export function pick(
  purpose: string,
  then: (place: Snapped, doc: ProjectDocument, tables: Tables) => void,
  free = false,
): void {
  store().trace({
    purpose,
    places: [],
    finish: () => undefined,
    course: {
      most: 1,
      free,
      finish: ([place]) => {
        const { state, tables } = store();
        if (state && tables && place) then(place, state.document, tables);
      },
    },
  });
}

/** Asks for another line, then for what is to be done with it. */
export function pickLine(
  line: Line,
  purpose: string,
  then: (other: Line, doc: ProjectDocument, tables: Tables) => void,
): void {
  pick(purpose, (place, doc, tables) => {
    const other = lineNear(tables, place.x, place.y, POINTING, line.key);
    if (other) then(other, doc, tables);
    else store().tell('There is no other line near that place.');
  });
}

/** Index of the vertex nearest to a place. */
export function nearestVertex(line: Line, place: { x: number; y: number }): number {
  let best = 0;
  line.x.forEach((x, i) => {
    if (Math.hypot(x - place.x, line.y[i] - place.y) < Math.hypot(line.x[best] - place.x, line.y[best] - place.y)) best = i; // prettier-ignore
  });
  return best;
}

/** Behind which vertex a place belongs: into the nearest side, or beyond the end that it lies past. */
export function placeInCourse(line: Line, place: { x: number; y: number }): number {
  const { side, place: on } = nearestSide(line, place);
  const n = line.x.length;
  if (!line.closed) {
    if (side === 0 && on.x === line.x[0] && on.y === line.y[0]) return -1;
    if (side === n - 2 && on.x === line.x[n - 1] && on.y === line.y[n - 1]) return n - 1;
  }
  return side;
}

export function pickTrim(line: Line): void {
  pickLine(line, `the line at which ${line.key} is cut`, (other) =>
    pick(
      `the part of ${line.key} to keep`,
      (place, doc, tables) =>
      proposeCourse(line, trimmed(courseOfLine(line, doc, tables), courseOfLine(other, doc, tables), place), `trim line ${line.key} at ${other.key}`), // prettier-ignore
    ),
  );
}

export function pickExtend(line: Line): void {
  pickLine(line, `the line that ${line.key} is to reach`, (other, doc, tables) => {
    const course = courseOfLine(line, doc, tables);
    const target = courseOfLine(other, doc, tables);
    // The end that reaches it with the least.
    const ways = (['first', 'last'] as const)
      .map((end) => ({ edited: extended(course, end, target) }))
      .sort((a, b) => grown(a.edited) - grown(b.edited));
    proposeCourse(line, ways[0].edited, `extend line ${line.key} to ${other.key}`);
  });
}

function grown(edited: Edited): number {
  if (!edited.ok) return Infinity;
  const v = edited.course.vertices;
  const length = (a: HandVertex, b: HandVertex): number => Math.hypot(a.x - b.x, a.y - b.y);
  const free = (i: number): boolean => v[i].point === null;
  return free(0) && !free(v.length - 1) ? length(v[0], v[1]) : length(v[v.length - 1], v[v.length - 2]);
}

/** Courses of the lines that a pending change would draw by hand: x, y, x, y … */
export function coursesOfChange(change: Change): { line: Line }[] {
  if (change.op !== 'lines.hand') return [];
  return Object.entries(change.set).flatMap(([key, hand]) =>
    hand && hand.vertices.length > 1
      ? [lineOfCourse({ ...hand, vertices: hand.vertices.map((v) => ({ ...v, point: null })) }, { key, code: hand.code, lineNumber: hand.lineNumber }, () => -1, () => ({ x: 0, y: 0 }))] // prettier-ignore
      : [],
  );
}
