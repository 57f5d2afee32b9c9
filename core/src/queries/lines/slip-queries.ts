import { before, makeAnew, type Keep } from '#core/kernel';
import { addWord, dropCode, dropWord, indexCodes, type CodeIndex, type LineWords, type Meaning } from '#core/codes';
import { courseToEdit, elevationsBetween, type Linework, type Slip } from '#core/linework';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { HandLine, ProjectDocument } from '#core/project';
import { courseKey, pointKey, type PointTable } from '#core/stages';
import { settleQuery, type Draft, MOST_OF_A_KIND, type Query, type Remedy } from '../query.ts';
import { editOne } from '../remedies.ts';

/** What a few rows of evidence are worth showing. */
const SHOWN = 200;

/** What codes and courses say that cannot be meant: a sentence each, with remedies in the words of the shot's crew. */
export function querySlips(doc: ProjectDocument, points: PointTable, work: Linework, keep: Keep = makeAnew): Query[] {
  const asker = new Asker(doc, points, work, keep);
  const asked = shownSlips(work);
  const { number, description, x, y, intake, fileRow } = points;
  const inPlan = [doc.codeList, doc.intakes, doc.accepted, doc.settings.unit, doc.handLines, number, description, x, y, intake, fileRow]; // prettier-ignore
  const about = keep('slips in plan', [asked, ...inPlan], () => asked.map((slip) => asker.ask(slip)));
  // An exchange of two shots writes the elevations of its line; whatever else is asked about depends on places in plan.
  const queries = asked.map((slip, i): Query => {
    if (!isExchange(slip)) return about[i];
    const inputs = [slip, ...inPlan, asker.elevationsOn(slip.line)];
    const exchange = keep(`exchange on ${slip.line}`, inputs, () => asker.exchanges(slip.line, slip.exchange));
    return { ...about[i], remedies: [...exchange, ...about[i].remedies] };
  });
  // One shot may slip twice in the same way; what is decided on one decides both.
  const byKey = new Map<string, Query>();
  for (const query of queries) if (!byKey.has(query.key)) byKey.set(query.key, query);
  return [...byKey.values()];
}

/** So many of a kind as are asked about. */
function shownSlips(work: Linework): Slip[] {
  const counts = new Map<string, number>();
  return work.slips.filter(({ kind }) => {
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
    return counts.get(kind)! <= MOST_OF_A_KIND;
  });
}

const isExchange = (slip: Slip): slip is Extract<Slip, { kind: 'crosses-itself' }> =>
  slip.kind === 'crosses-itself' && slip.exchange !== null;

/** The name of a line as the crew typed it: without the count of those before it and what lies beside it. */
export const typedName = (key: string): string => before(key, '/').replace(/\.\d+$/, '');

class Asker {
  private readonly indexes = new Map<LineWords, CodeIndex>();

  constructor(
    private readonly doc: ProjectDocument,
    private readonly points: PointTable,
    private readonly work: Linework,
    private readonly keep: Keep,
  ) {}

  ask(slip: Slip): Query {
    const draft = this.draft(slip);
    const [row] = draft.rows;
    const place = { x: this.points.x[row], y: this.points.y[row] };
    return settleQuery(this.doc, { stage: 'lines', weight: 'look', place, ...draft } as Draft);
  }

  elevationsOn(key: string): number[] {
    const line = this.work.lines.find((l) => l.key === key);
    return line ? elevationsBetween(line, (row) => this.points.z[row]) : [];
  }

  private draft(
    slip: Slip,
  ): Pick<Draft, 'key' | 'kind' | 'text' | 'evidence' | 'rows' | 'lines' | 'remedies'> & Partial<Draft> {
    const { kind } = slip;
    const at = (row: number): string => pointKey(this.doc, this.points, row);
    const name = (row: number): string => this.name(row);
    switch (kind) {
      case 'curve-not-ended': {
        const { line, beginRow, likelyEndRow, rows } = slip;
        const canEnd = likelyEndRow !== beginRow && likelyEndRow >= 0;
        return {
          key: `${kind}:${at(beginRow)}`,
          kind,
          text: `The curve begun at ${name(beginRow)} on line ${line} has no end, and is drawn straight.${canEnd ? ` The course turns straight after ${name(likelyEndRow)}.` : ''}`,
          evidence: rows.map((r) => [at(r), this.points.x[r], this.points.y[r]]),
          place: this.placeOf(canEnd ? likelyEndRow : beginRow),
          rows: canEnd ? [beginRow, likelyEndRow] : [beginRow],
          lines: [line],
          remedies: canEnd ? this.adds(likelyEndRow, line, 'curveEnd', `End it at ${name(likelyEndRow)}`) : [],
        };
      }
      case 'single-point-line': {
        const { line, row } = slip;
        const around = this.codeAround(row);
        return {
          key: `${kind}:${at(row)}`,
          kind,
          weight: around ? 'look' : 'note',
          text: `Line ${line} has one point only, ${name(row)}; nothing is drawn.${around ? ` The shots before and after it are ${around}: is it one of them?` : ''}`,
          evidence: [this.points.x[row], this.points.y[row], this.points.description[row], around],
          rows: [row],
          lines: [],
          remedies: around
            ? [{ label: `Its code is ${around}`, change: editOne(at(row), { description: around }) }]
            : [],
        };
      }
      case 'end-without-begin': {
        const { line, row, word, before, others } = slip;
        const [other] = [...others].sort((a, b) => this.apart(row, a[1]) - this.apart(row, b[1]));
        const remedies: Remedy[] = [];
        if (other) remedies.push(...this.renames(row, line, other[0], `It belongs to line ${other[0]}`));
        if (before >= 0) remedies.push(...this.adds(row, line, 'continue', `Continue from ${name(before)}`));
        return {
          key: `${kind}:${at(row)}`,
          kind,
          text: `${name(row)} says ${this.spelt(row, word)} on line ${line}, which was never begun${before >= 0 ? `; a line of that name ended at ${name(before)}` : ''}.${other ? ` Line ${other[0]} is still open.` : ''}`,
          evidence: [this.points.description[row], before, other?.[0] ?? null],
          rows: [row, ...(other ? [other[1]] : []), ...(before >= 0 ? [before] : [])],
          lines: [line],
          remedies,
        };
      }
      case 'nothing-to-continue':
        return {
          key: `${kind}:${at(slip.row)}`,
          kind,
          text: `${name(slip.row)} continues line ${slip.line}, and there is none of that name before it; a line begins there.`,
          evidence: [this.points.description[slip.row]],
          rows: [slip.row],
          lines: [slip.line],
          remedies: this.drops(slip.row, slip.line, 'continue', 'Delete the word'),
        };
      case 'join-unknown':
        return {
          key: `${kind}:${at(slip.row)}`,
          kind,
          text: `${name(slip.row)} joins line ${slip.line} to point ${slip.number}, and no point has that number.`,
          evidence: [this.points.description[slip.row], slip.number],
          rows: [slip.row],
          lines: [slip.line],
          remedies: this.drops(slip.row, slip.line, 'join', 'Delete the word'),
        };
      case 'words-at-odds':
        return {
          key: `${kind}:${at(slip.row)}:${slip.line}`,
          kind,
          text: `${name(slip.row)} says ${slip.words.map((w) => this.spelt(slip.row, w)).join(' and ')} on line ${slip.line} at once.`,
          evidence: [this.points.description[slip.row]],
          rows: [slip.row],
          lines: [slip.line],
          remedies: slip.words.flatMap((w) => this.drops(slip.row, slip.line, w, `Without ${this.spelt(slip.row, w)}`)),
        };
      case 'word-on-point':
        return {
          key: `${kind}:${at(slip.row)}:${slip.code}`,
          kind,
          text: `${name(slip.row)} says ${this.spelt(slip.row, slip.word)} on ${slip.code}, which marks a point and draws no line.`,
          evidence: [this.points.description[slip.row]],
          rows: [slip.row],
          lines: [],
          remedies: this.drops(slip.row, slip.code, slip.word, 'Delete the word'),
        };
      case 'line-twice':
        return {
          key: `${kind}:${at(slip.row)}`,
          kind,
          weight: 'note',
          text: `${name(slip.row)} names line ${slip.line} twice; it goes through the shot once.`,
          evidence: [this.points.description[slip.row]],
          rows: [slip.row],
          lines: [slip.line],
          remedies: [],
        };
      case 'description': {
        const text = this.points.description[slip.row].slice(0, 60);
        return {
          key: `${kind}:${at(slip.row)}:${slip.at}`,
          kind,
          text: `${name(slip.row)} “${text}”: at character ${slip.at + 1}, ${slip.reason}.`,
          evidence: [this.points.description[slip.row]],
          rows: [slip.row],
          lines: [],
          remedies: [],
        };
      }
      case 'no-such-shape':
        return {
          key: `${kind}:${at(slip.row)}`,
          kind,
          text: `Line ${slip.line} at ${name(slip.row)}: ${slip.reason}.`,
          evidence: [this.points.description[slip.row], slip.reason],
          rows: [slip.row],
          lines: [slip.line],
          remedies: [],
        };
      case 'line-comes-back':
      case 'long-jump': {
        const { line, fromRow, row, length, usual } = slip;
        const { unit } = this.doc.settings;
        const far = `${formatLength(length, unit, 1)} ${UNIT_SIGN[unit]}`;
        return {
          key: `${kind}:${at(row)}`,
          kind,
          text:
            kind === 'long-jump'
              ? `Line ${line} jumps ${far} from ${name(fromRow)} to ${name(row)}; its sides are ${formatLength(usual, unit, 1)} ${UNIT_SIGN[unit]} as a rule.`
              : `Line ${line} comes back at ${name(row)}, ${far} away and ${row - fromRow} shots after ${name(fromRow)}. Was its number used again for another line?`,
          evidence: [at(fromRow), at(row), Math.round(length * 100)],
          rows: [row, fromRow],
          lines: [line],
          remedies: [
            ...(slip.last
              ? this.without(row, line, `Remove ${name(row)} from the line`)
              : this.adds(row, line, 'begin', `Begin another line at ${name(row)}`)),
            ...this.adds(fromRow, line, 'gap', `Leave a gap behind ${name(fromRow)}`),
          ],
        };
      }
      case 'doubles-back':
        return {
          key: `${kind}:${at(slip.row)}`,
          kind,
          text: `Line ${slip.line} doubles back at ${name(slip.row)}: from ${name(slip.beforeRow)} it goes there and returns to ${name(slip.afterRow)}.`,
          evidence: [slip.beforeRow, slip.row, slip.afterRow].map((r) => [this.points.x[r], this.points.y[r]]),
          rows: [slip.row, slip.beforeRow, slip.afterRow],
          lines: [slip.line],
          remedies: [
            ...this.adds(slip.afterRow, slip.line, 'begin', `Begin another line at ${name(slip.afterRow)}`),
            { label: `Exclude ${name(slip.row)}`, change: editOne(at(slip.row), { off: true }) },
          ],
        };
      case 'crosses-itself': {
        const rows = slip.rows.slice(0, SHOWN);
        return {
          key: `${kind}:${slip.line}:${rows.map(at).join()}`,
          kind,
          text: `Line ${slip.line} crosses itself between ${name(rows[0])} and ${name(rows[rows.length - 1])}.${slip.exchange ? ` Were ${name(slip.exchange[0])} and ${name(slip.exchange[1])} taken in the other order?` : ''}`,
          evidence: rows.map((r) => [this.points.x[r], this.points.y[r]]),
          place: { x: slip.x, y: slip.y },
          rows,
          lines: [slip.line],
          remedies: [
            ...this.adds(rows[rows.length - 1], slip.line, 'begin', `Begin another line at ${name(rows[rows.length - 1])}`), // prettier-ignore
          ],
        };
      }
    }
  }

  /** The code of a point that the shots before and after one share, in its file; null where they do not. */
  private codeAround(row: number): string | null {
    const { description, intake } = this.points;
    const beside = [row - 1, row + 1].filter((r) => intake[r] === intake[row]).map((r) => description[r].trim().toUpperCase()); // prettier-ignore
    const [code] = beside;
    const known = this.doc.codeList.codes.find((c) => c.kind === 'point' && c.code.toUpperCase() === code);
    return beside.length === 2 && beside[1] === code && known ? known.code : null;
  }

  private name = (row: number): string => this.points.number[row] || `in row ${this.points.fileRow[row]}`;
  private placeOf = (row: number): { x: number; y: number } => ({ x: this.points.x[row], y: this.points.y[row] });
  private apart = (a: number, b: number): number =>
    Math.abs(this.points.x[a] - this.points.x[b]) + Math.abs(this.points.y[a] - this.points.y[b]);
  private wordsOf = (row: number): LineWords =>
    this.doc.intakes[this.points.intake[row]].words ?? this.doc.codeList.words;
  private spelt = (row: number, meaning: Meaning): string => this.wordsOf(row)[meaning] ?? meaning;

  private indexOf(row: number): CodeIndex {
    const words = this.wordsOf(row);
    let index = this.indexes.get(words);
    if (!index) this.indexes.set(words, (index = indexCodes(this.doc.codeList, words)));
    return index;
  }

  private describes(row: number, label: string, description: string | null): Remedy[] {
    if (description === null || description === this.points.description[row]) return [];
    return [{ label, change: editOne(pointKey(this.doc, this.points, row), { description }) }];
  }

  private adds(row: number, line: string, meaning: Meaning, label: string): Remedy[] {
    if (row < 0) return [];
    const text = this.points.description[row];
    return this.describes(row, label, addWord(text, this.indexOf(row), this.wordsOf(row), typedName(line), meaning));
  }

  private drops(row: number, line: string, meaning: Meaning, label: string): Remedy[] {
    const text = this.points.description[row];
    return this.describes(row, label, dropWord(text, this.indexOf(row), typedName(line), meaning));
  }

  /** The line by hand with two shots in the other order. */
  exchanges(key: string, pair: [number, number] | null): Remedy[] {
    const line = pair ? this.work.lines.find((l) => l.key === key) : undefined;
    if (!pair || !line) return [];
    const z = elevationsBetween(line, (row) => this.points.z[row]);
    const { vertices, closed } = courseToEdit(line, (row) => pointKey(this.doc, this.points, row), z);
    const [i, k] = pair.map((row) => line.rows.indexOf(row));
    [vertices[i], vertices[k]] = [vertices[k], vertices[i]];
    for (const v of [vertices[i - 1], vertices[i], vertices[k]]) if (v) v.bulge = 0;
    const hand = this.doc.handLines[key] as HandLine | undefined;
    const { number, fileRow, intake } = this.points;
    const course = [line.closed, line.rows, number, fileRow, intake, this.doc.intakes.map((d) => d.id)];
    const replaces = hand
      ? hand.replaces
      : { key, course: this.keep(`course ${key}`, course, () => courseKey(this.doc, this.points, line)) };
    const what = `go through ${this.name(pair[1])} before ${this.name(pair[0])} on line ${key}`;
    return [
      {
        label: `Go through ${this.name(pair[1])} before ${this.name(pair[0])}`,
        change: { op: 'lines.hand', set: { [key]: { code: line.code, lineNumber: line.lineNumber, closed, vertices, replaces } }, what }, // prettier-ignore
      },
    ];
  }

  private without(row: number, line: string, label: string): Remedy[] {
    return this.describes(row, label, dropCode(this.points.description[row], this.indexOf(row), typedName(line)));
  }

  private renames(row: number, from: string, to: string, label: string): Remedy[] {
    const text = this.points.description[row];
    const at = text
      .toUpperCase()
      .search(new RegExp(`(^|[\\s/])${from.replace(/[^A-Za-z0-9]/g, '\\$&')}(?![A-Za-z0-9])`));
    if (at < 0) return [];
    const start = text.toUpperCase().indexOf(from, at);
    return this.describes(row, label, text.slice(0, start) + to + text.slice(start + from.length));
  }
}
