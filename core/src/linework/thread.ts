import {
  indexCodes,
  readDescription,
  says,
  type CodeIndex,
  type CodeList,
  type Described,
  type LineWords,
  type SaidWord,
} from '#core/codes';
import type { Slip } from './slips.ts';

/** What the builder needs of the points, as columns. */
export interface CodedPoints {
  x: Float64Array;
  y: Float64Array;
  description: readonly string[];
  /** Numbers, for lines that join to one. */
  number?: readonly string[];
  /** Points that take part in nothing. */
  off: (row: number) => boolean;
  /** Lines do not run on from one group into the next: a file, a day. Rows of a group stand together. */
  group: (row: number) => number;
  /** Rows in the order of building; absent: as observed. */
  order?: ArrayLike<number>;
  /** Line words of a group, where they are not those of the list. */
  words?: (group: number) => LineWords | undefined;
}

export interface PointCode {
  row: number;
  code: string;
  known: boolean;
}

/** A shot of a line, with what was said on it. */
export interface Step {
  row: number;
  words: SaidWord[];
  /** Row of the point that the line goes on to, or −1. */
  join: number;
}

/** One line as the crew walked it: shots in order, before curves and corners are worked out. */
export interface Course {
  key: string;
  code: string;
  lineNumber: string;
  closed: boolean;
  steps: Step[];
  /** Set by a rectangle: its width where one was said. */
  rectangle: { width: number | null } | null;
}

export interface Threaded {
  courses: Course[];
  /** Codes that mark a point (a symbol), known ones and those that the list lacks. */
  pointCodes: PointCode[];
  slips: Slip[];
}

/** Descriptions as they were read, by the words they were read with. */
export type Readers = Map<string, (text: string) => Described>;

/** Follows codes from shot to shot and parts them into courses. Never throws. */
export function threadCourses(points: CodedPoints, list: CodeList, readers: Readers = new Map()): Threaded {
  const open = new Map<string, Course>();
  const ended = new Map<string, Course>();
  const times = new Map<string, number>();
  const out: Threaded = { courses: [], pointCodes: [], slips: [] };
  const rowOfNumber = numberFinder(points);
  let lastWords = list.words;
  let read = readerFor(readers, list, lastWords);
  let group = -1;
  const total = points.order?.length ?? points.x.length;
  for (let at = 0; at < total; at++) {
    const row = points.order ? points.order[at] : at;
    if (points.group(row) !== group) {
      for (const course of open.values()) ended.set(nameOf(course), course);
      open.clear();
      group = points.group(row);
      const words = points.words?.(group) ?? list.words;
      if (words !== lastWords) read = readerFor(readers, list, (lastWords = words));
    }
    if (points.off(row)) continue;
    const described = read(points.description[row]);
    for (const p of described.problems) out.slips.push({ kind: 'description', row, ...p });
    let lines = '';
    for (const item of described.items) {
      if (item.known?.kind !== 'line') {
        out.pointCodes.push({ row, code: item.code, known: item.known !== null });
        if (item.known && item.words.some((w) => w.meaning !== 'heightNotUsed' && w.meaning !== 'join'))
          out.slips.push({ kind: 'word-on-point', row, code: item.code, word: item.words[0].meaning });
        continue;
      }
      const name = item.code + item.lineNumber;
      if (lines.includes(` ${name} `)) {
        out.slips.push({ kind: 'line-twice', row, line: name });
        continue;
      }
      lines += ` ${name} `;
      addToCourse(name, item.code, item.lineNumber, item.words, row);
    }
  }
  return out;

  function addToCourse(name: string, code: string, lineNumber: string, words: SaidWord[], row: number): void {
    const begins = says({ words }, 'begin');
    const goesOn = says({ words }, 'continue');
    if (begins && goesOn) out.slips.push({ kind: 'words-at-odds', row, line: name, words: ['begin', 'continue'] });
    let course = open.get(name);
    if (course && begins) {
      finish(name, course);
      course = undefined;
    }
    if (!course && goesOn && !begins) {
      course = ended.get(name);
      if (course) {
        course.closed = false;
        open.set(name, course);
      } else out.slips.push({ kind: 'nothing-to-continue', row, line: name });
    }
    if (!course) {
      const before = ended.get(name);
      const ends = (['end', 'close', 'curveEnd'] as const).find((m) => says({ words }, m));
      course = begin(name, code, lineNumber);
      if (ends && !begins)
        out.slips.push({
          kind: 'end-without-begin',
          row,
          line: name,
          word: ends,
          before: before ? before.steps.at(-1)!.row : -1,
          others: [...open].flatMap(([other, c]) => (other !== name && c.code === code ? [[other, c.steps.at(-1)!.row] as [string, number]] : [])), // prettier-ignore
        });
      open.set(name, course);
    }
    const joined = words.find((w) => w.meaning === 'join' && w.number);
    const join = joined ? rowOfNumber(joined.number) : -1;
    if (joined && join < 0) out.slips.push({ kind: 'join-unknown', row, line: name, number: joined.number });
    course.steps.push({ row, words, join });
    const rectangle = words.find((w) => w.meaning === 'rectangle');
    if (rectangle) course.rectangle = { width: rectangle.lengths[0] ?? null };
    if (says({ words }, 'close')) {
      course.closed = true;
      if (says({ words }, 'end')) out.slips.push({ kind: 'words-at-odds', row, line: name, words: ['close', 'end'] });
      finish(name, course);
    } else if (says({ words }, 'end')) finish(name, course);
    else if (course.rectangle && course.steps.length >= (course.rectangle.width === null ? 3 : 2)) finish(name, course);
  }

  function begin(name: string, code: string, lineNumber: string): Course {
    const n = (times.get(name) ?? 0) + 1;
    times.set(name, n);
    const key = n === 1 ? name : `${name}.${n}`;
    const course: Course = { key, code, lineNumber, closed: false, steps: [], rectangle: null };
    out.courses.push(course);
    return course;
  }

  function finish(name: string, course: Course): void {
    open.delete(name);
    ended.set(name, course);
  }
}

const nameOf = (course: Course): string => course.code + course.lineNumber;

/** More descriptions than this are read anew each time. */
const MOST_KEPT = 400_000;

/** Descriptions repeat, and most stay from one build to the next: each is read once. */
function readerFor(readers: Readers, list: CodeList, words: LineWords): (text: string) => Described {
  const key = JSON.stringify([list.codes, words]);
  let read = readers.get(key);
  if (!read) {
    // Another list or other words make what was read before worthless.
    if (readers.size > 8) readers.clear();
    const index: CodeIndex = indexCodes(list, words);
    const seen = new Map<string, Described>();
    read = (text) => {
      let described = seen.get(text);
      if (!described) {
        described = readDescription(text, index);
        if (seen.size < MOST_KEPT) seen.set(text, described);
      }
      return described;
    };
    readers.set(key, read);
  }
  return read;
}

/** Finds the row of a number; of several the one that was observed last. Made when the first line asks. */
function numberFinder({ number, off }: CodedPoints): (sought: string) => number {
  let rows: Map<string, number> | null = null;
  return (sought) => {
    if (!number) return -1;
    if (!rows) {
      rows = new Map();
      for (let row = 0; row < number.length; row++) if (number[row] !== '' && !off(row)) rows.set(number[row], row);
    }
    return rows.get(sought) ?? -1;
  };
}
