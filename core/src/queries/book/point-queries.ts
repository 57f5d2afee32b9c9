import { distance, makeAnew, type Keep } from '#core/kernel';
import { UNIT_SIGN, formatLength } from '#core/measure';
import {
  MEANING_NAME,
  nearestCodes,
  unknownWords,
  type CodeIndex,
  type LineWords,
  type Meaning,
  type UnknownWord,
} from '#core/codes';
import { codeReader, indexesOf, severalChanges, type Change, type ProjectDocument } from '#core/project';
import { nextFreeNumber, pointKey, STATE, type Doubt, type PointTable } from '#core/stages';
import { askAbout, MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';
import { editOne, replaceCode } from '../remedies.ts';

const name = (points: PointTable, row: number): string =>
  points.number[row] === '' ? `in row ${points.fileRow[row]}` : points.number[row];

/** Queries about single points. */
export function queryPoints(
  doc: ProjectDocument,
  points: PointTable,
  doubts: readonly Doubt[],
  keep: Keep = makeAnew,
): Query[] {
  const { x, y, intake, fileRow, number, description, light, state } = points;
  const { settings, accepted, codeList, intakes } = doc;
  const named = [settings.unit, accepted, codeList, intakes, intake, fileRow, number, description, light, x, y, state];
  return [
    ...askAboutPoints(doc, points, doubts),
    ...keep('queries of names', named, () => [...queryNumbersTwice(doc, points), ...queryUnknownCodes(doc, points)]),
  ];
}

/** What is asked about single points that wait. */
function askAboutPoints(doc: ProjectDocument, points: PointTable, doubts: readonly Doubt[]): Query[] {
  const asked = { 'far-point': 0, 'zero-elevation': 0 };
  return doubts.flatMap((f) => (!('row' in f) || ++asked[f.kind] > MOST_OF_A_KIND ? [] : [askAboutPoint(doc, points, f)])); // prettier-ignore
}

function askAboutPoint(doc: ProjectDocument, points: PointTable, f: Extract<Doubt, { row: number }>): Query {
  const { row } = f;
  const { unit } = doc.settings;
  const key = pointKey(doc, points, row);
  const base = { stage: 'book' as const, place: { x: points.x[row], y: points.y[row] }, rows: [row] };
  if (f.kind === 'zero-elevation')
    return askAbout(f, {
      ...base,
      kind: 'zero-elevation',
      weight: 'stop',
      text: `Point ${name(points, row)} has elevation 0; the others are between ${formatLength(f.low, unit, 2)} and ${formatLength(f.high, unit, 2)} ${UNIT_SIGN[unit]}. It waits and is not in the ground.`,
      remedies: [
        { label: 'Keep it in plan, without elevation', change: editOne(key, { z: null }) },
        { label: 'Exclude the point', change: editOne(key, { off: true }) },
      ],
    });
  const far = `${formatLength(f.distance, unit, 0)} ${UNIT_SIGN[unit]}`;
  const near = `90 % within ${formatLength(f.reach, unit, 0)} ${UNIT_SIGN[unit]}`;
  return askAbout(f, {
    ...base,
    kind: f.reference ? 'reference-row' : 'far-outlier',
    weight: f.reference ? 'look' : 'stop',
    text: f.reference
      ? `Point ${name(points, row)} “${points.description[row]}” is ${far} from the site and reads like a correction reference station’s row, not a shot (${near}).`
      : `Point ${name(points, row)} is ${far} from the middle of the survey (${near}). A mistyped digit, or another grid?`,
    remedies: [{ label: 'Exclude the row', change: editOne(key, { off: true }) }],
  });
}

function queryNumbersTwice(doc: ProjectDocument, points: PointTable): Query[] {
  const first = new Map<string, number>();
  const again = new Map<string, number[]>();
  for (let row = 0; row < points.x.length; row++) {
    const number = points.number[row];
    if (number === '' || points.light[row] || points.state[row] === STATE.off || points.state[row] === STATE.leftOut)
      continue;
    if (doc.intakes[points.intake[row]].purpose === 'control') continue;
    const known = first.get(number);
    if (known === undefined) first.set(number, row);
    else again.set(number, [...(again.get(number) ?? [known]), row]);
  }
  const { unit } = doc.settings;
  const free = again.size ? nextFreeNumber(points) : '';
  const whole = queryFilesOfKnownNumbers(doc, points, again);
  return [
    ...whole,
    ...[...again].slice(0, MOST_OF_A_KIND).map(([number, rows]) => {
      const [a, b] = rows;
      const apart = distance(points.x[a] - points.x[b], points.y[a] - points.y[b]);
      const key = pointKey(doc, points, b);
      return settleQuery(doc, {
        key: `number-twice:${number}`,
        kind: 'number-twice',
        stage: 'book',
        weight: 'look',
        text: `Number ${number} is used ${rows.length === 2 ? 'twice' : `${rows.length} times`}: ${where(doc, points, a)} and ${where(doc, points, b)}, ${formatLength(apart, unit)} ${UNIT_SIGN[unit]} apart in plan.`,
        evidence: rows.map((r) => [pointKey(doc, points, r), points.x[r], points.y[r]]),
        place: { x: points.x[b], y: points.y[b] },
        rows,
        lines: [],
        remedies: [
          { label: `Number the later one ${free}`, change: editOne(key, { number: free }) },
          { label: 'Exclude the later one', change: editOne(key, { off: true }) },
        ],
      });
    }),
  ];
}

/** From so many on, numbers of one file that an earlier file has used are one question, not many. */
const MANY_NUMBERS = 6;

/** One query for each file most of whose collisions are with earlier files; takes its numbers out of `again`. */
function queryFilesOfKnownNumbers(doc: ProjectDocument, points: PointTable, again: Map<string, number[]>): Query[] {
  const byIntake = new Map<number, [string, number, number][]>();
  for (const [number, [a, b]] of again) {
    const later = points.intake[b];
    if (points.intake[a] === later) continue;
    byIntake.set(later, [...(byIntake.get(later) ?? []), [number, a, b]]);
  }
  const { unit } = doc.settings;
  const queries: Query[] = [];
  for (const [later, pairs] of byIntake) {
    if (pairs.length < MANY_NUMBERS) continue;
    const intake = doc.intakes[later];
    for (const [number] of pairs) again.delete(number);
    const apart = pairs
      .map(([, a, b]) => distance(points.x[a] - points.x[b], points.y[a] - points.y[b]))
      .sort((p, q) => p - q);
    const decide = (all: 'renumber' | 'merge' | 'leave-out') => ({
      op: 'intake.numbers' as const,
      id: intake.id,
      numbers: { all, each: intake.numbers.each },
    });
    const sign = UNIT_SIGN[unit];
    queries.push(
      settleQuery(doc, {
        key: `number-twice:file:${intake.id}`,
        kind: 'number-twice',
        stage: 'book',
        weight: 'look',
        text: `${pairs.length} numbers of ${intake.fileName} exist already in earlier files, from ${pairs[0][0]} on; the points are ${formatLength(apart[0], unit, 2)} to ${formatLength(apart[apart.length - 1], unit, 2)} ${sign} apart.`,
        evidence: pairs.map(([number, a, b]) => [number, points.x[a], points.x[b]]),
        place: { x: points.x[pairs[0][2]], y: points.y[pairs[0][2]] },
        rows: pairs.slice(0, 500).map(([, , b]) => b),
        lines: [],
        remedies: [
          { label: 'Give them new numbers', change: decide('renumber') },
          { label: 'Same points: keep the earlier', change: decide('merge') },
        ],
      }),
    );
  }
  return queries;
}

const where = (doc: ProjectDocument, points: PointTable, row: number): string =>
  `${doc.intakes[points.intake[row]].fileName} row ${points.fileRow[row]} (${points.description[row].slice(0, 30) || 'no code'})`;

function queryUnknownCodes(doc: ProjectDocument, points: PointTable): Query[] {
  const itemsOf = codeReader(doc);
  const indexOf = indexesOf(doc);
  const rowsOf = new Map<string, number[]>();
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control') continue;
    for (const { code, known } of itemsOf(points.description[row], points.intake[row])) {
      if (known) continue;
      const rows = rowsOf.get(code);
      if (rows) rows.push(row);
      else rowsOf.set(code, [row]);
    }
  }
  const words = rowsOf.size ? wordsAmong(doc, points, indexOf) : new Map<string, FoundWord>();
  return [...rowsOf].slice(0, MOST_OF_A_KIND).map(([code, rows]) => {
    const word = words.get(code);
    if (word && word.times === rows.length) return queryWord(doc, points, word, rows);
    const nearest = nearestCodes(code, doc.codeList);
    const shots =
      rows
        .slice(0, 4)
        .map((r) => name(points, r))
        .join(', ') + (rows.length > 4 ? ` and ${rows.length - 4} more` : '');
    const near = nearest.length ? ` Nearest: ${nearest.map((c) => `${c.code}, ${c.name}`).join('; ')}.` : '';
    return settleQuery(doc, {
      key: `unknown-code:${code}`,
      kind: 'unknown-code',
      stage: 'lines',
      weight: 'look',
      text: `Code ${code} on ${rows.length === 1 ? 'shot' : 'shots'} ${shots} is not in the list.${near}`,
      evidence: [code, rows.map((r) => pointKey(doc, points, r))],
      place: { x: points.x[rows[0]], y: points.y[rows[0]] },
      rows,
      lines: [],
      remedies: nearest.slice(0, 2).map((c) => ({
        label: `Replace by ${c.code}`,
        change: replaceCode(doc, points, rows, code, c.code, indexOf),
      })),
    });
  });
}

/** A word that files use, and which of them. */
type FoundWord = UnknownWord & { intakes: number[] };

/** A word is used again and again; what stands behind a line's code once may be a slip. */
const USED_AGAIN = 2;

/** Unknown words of every file by how they are used on its lines, where that says what they mean. */
function wordsAmong(
  doc: ProjectDocument,
  points: PointTable,
  indexOf: (intake: number) => CodeIndex,
): Map<string, FoundWord> {
  const texts = doc.intakes.map((): string[] => []);
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used && doc.intakes[points.intake[row]].purpose !== 'control')
      texts[points.intake[row]].push(points.description[row]);
  const out = new Map<string, FoundWord>();
  texts.forEach((list, intake) => {
    if (list.length === 0) return;
    for (const found of unknownWords(list, indexOf(intake))) {
      if (!found.proposed || found.times < USED_AGAIN) continue;
      const before = out.get(found.word);
      if (before && before.proposed !== found.proposed) continue;
      out.set(found.word, { ...found, times: found.times + (before?.times ?? 0), intakes: [...(before?.intakes ?? []), intake] }); // prettier-ignore
    }
  });
  return out;
}

/** A word that a crew uses and the list does not know, with the way to make it known. */
function queryWord(
  doc: ProjectDocument,
  points: PointTable,
  { word, proposed, why, intakes }: FoundWord,
  rows: number[],
): Query {
  const means = proposed!;
  const shots = rows.slice(0, 4).map((r) => name(points, r)).join(', ') + (rows.length > 4 ? ` and ${rows.length - 4} more` : ''); // prettier-ignore
  const withWord = (words: LineWords): LineWords => ({ ...words, also: { ...words.also, [word]: means } });
  const own = intakes.map((i) => doc.intakes[i]).filter((i) => i.words);
  const changes: Change[] = own.map((i) => ({ op: 'intake.words', id: i.id, words: withWord(i.words!) }));
  if (own.length < intakes.length)
    changes.push({ op: 'codes.set', codeList: { ...doc.codeList, words: withWord(doc.codeList.words) } });
  const label = `Read ${word} as a line word: ${MEANING_NAME[means]}`;
  return settleQuery(doc, {
    key: `unknown-word:${word}`,
    kind: 'unknown-code',
    stage: 'lines',
    weight: 'look',
    text: `${word} on ${rows.length} shots (${shots}) reads like a line word, not a code: ${why}. Does it ${MEANING_DOES[means]}?`,
    evidence: [word, means, rows.map((r) => pointKey(doc, points, r))],
    place: { x: points.x[rows[0]], y: points.y[rows[0]] },
    rows,
    lines: [],
    remedies: [{ label, change: changes.length === 1 ? changes[0] : severalChanges(changes, label) }],
  });
}

/** What a word would do, behind “Does it”. */
const MEANING_DOES: Record<Meaning, string> = {
  begin: 'begin the line',
  end: 'end the line',
  close: 'close the line',
  continue: 'continue a line that ended',
  curveBegin: 'begin a curve',
  tangentBegin: 'begin a tangential curve',
  threePoint: 'make one arc through three shots',
  smoothBegin: 'begin a smooth curve',
  curveEnd: 'end a curve',
  rectangle: 'make a rectangle',
  offset: 'draw an offset line',
  join: 'join to a point',
  gap: 'leave a gap',
  notDrawn: 'leave a side undrawn',
  heightNotUsed: 'leave the elevation out of the ground',
  square: 'make a square corner',
};
