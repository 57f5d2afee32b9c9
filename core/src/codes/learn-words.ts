import type { CodeList } from './code.ts';
import { readDescription } from './describe.ts';
import { indexCodes, type CodeIndex } from './index-codes.ts';
import { PLAIN_FORM, type LineWords, type Meaning, type WordForm } from './words.ts';

/** A word of a sample that the setting does not know, and what it most likely is. */
export interface UnknownWord {
  word: string;
  times: number;
  /** A few of the descriptions that hold it. */
  examples: string[];
  /** What it is taken for, with the reason; null where its use says nothing. */
  proposed: Meaning | null;
  why: string;
}

export interface Learnt {
  form: WordForm;
  unknown: UnknownWord[];
  /** Tokens that could be read as a code of the list, of all tokens that are no words and values. */
  codesKnown: number;
  codes: number;
}

/** Descriptions on which forms are tried, and how much better another must be, per description. */
const FORM_SAMPLE = 400;
/** No crew types more on a shot. */
const LONGEST_SAMPLE = 200;
const CLEARLY = 0.05;

const JOINTS = ['.', '*', '+', '-', '_', ':', '&', '#', ','];

/**
 * Looks through the descriptions of a crew, in the order observed: in which form their words stand, which words are
 * unknown, and from where they stand on their lines what each of them probably means.
 */
export function learnWords(descriptions: readonly string[], list: CodeList, words: LineWords = list.words): Learnt {
  const sample = descriptions.slice(0, 5000).map((d) => d.slice(0, LONGEST_SAMPLE));
  const form = likelyForm(sample, list, words);
  return { form, ...usesOf(sample, indexCodes(list, { ...words, form })) };
}

/** Unknown words under the words that are in force, each with what it most likely is; in the order observed. */
export const unknownWords = (descriptions: readonly string[], index: CodeIndex): UnknownWord[] =>
  usesOf(descriptions, index).unknown;

/** How unknown words are used: how often, and where on their lines. */
function usesOf(sample: readonly string[], index: CodeIndex): Omit<Learnt, 'form'> {
  const uses = new Map<string, Use>();
  const lines = new Map<string, string[][]>();
  let [codes, codesKnown] = [0, 0];
  for (const text of sample) {
    for (const item of itemsWithUnknown(text, index)) {
      codes++;
      if (!item.known) continue;
      codesKnown++;
      if (item.kind !== 'line') continue;
      const course = lines.get(item.name);
      if (course) course.push(item.said);
      else lines.set(item.name, [item.said]);
      for (const word of item.unknown) {
        const use = uses.get(word) ?? { times: 0, examples: [] };
        use.times++;
        if (use.examples.length < 3 && !use.examples.includes(text)) use.examples.push(text.slice(0, 60));
        uses.set(word, use);
      }
    }
  }
  const proposals = proposeFromUse([...uses.keys()], [...lines.values()]);
  const unknown = [...uses]
    .sort((a, b) => b[1].times - a[1].times || (a[0] < b[0] ? -1 : 1))
    .slice(0, 40)
    .map(([word, use]) => ({
      word,
      ...use,
      ...(proposals.get(word) ?? { proposed: null, why: 'its use says nothing' }),
    }));
  return { unknown, codesKnown, codes };
}

interface Use {
  times: number;
  examples: string[];
}

/** The form under which most tokens are codes of the list. */
function likelyForm(sample: readonly string[], list: CodeList, words: LineWords): WordForm {
  const base = words.form ?? PLAIN_FORM;
  const signs = JOINTS.filter((j) => sample.some((d) => d.includes(j)));
  const forms: WordForm[] = [
    base,
    { ...PLAIN_FORM, unit: base.unit },
    ...(['after', 'before'] as const).flatMap((place) => [
      { ...PLAIN_FORM, place, unit: base.unit },
      { ...PLAIN_FORM, place, number: 'apart' as const, unit: base.unit },
      ...signs.map((joint) => ({ ...PLAIN_FORM, place, joint, unit: base.unit })),
    ]),
  ];
  let best = base;
  let most = -Infinity;
  for (const form of forms) {
    const score = scoreOf(sample.slice(0, FORM_SAMPLE), list, words, form);
    // A plainer form wins unless another explains clearly more.
    if (score > most + CLEARLY * Math.min(sample.length, FORM_SAMPLE)) [best, most] = [form, score];
  }
  return best;
}

function scoreOf(sample: readonly string[], list: CodeList, words: LineWords, form: WordForm): number {
  const index = indexCodes(list, { ...words, form });
  let score = 0;
  for (const text of sample) {
    const items = itemsWithUnknown(text, index);
    for (const item of items) score += item.known ? 1 : -0.5;
    // In the right form every unknown word stands beside a code, and none before the first or behind the last.
    const raw = readDescription(text, index);
    score -= 0.5 * raw.problems.length;
    const first = raw.items[0];
    const last = raw.items.at(-1);
    if (form.place === 'after' && first && !first.known) score -= 0.5;
    if (form.place === 'before' && last && !last.known) score -= 0.5;
  }
  return score;
}

interface Seen {
  name: string;
  known: boolean;
  kind: 'point' | 'line' | null;
  /** Unknown words beside it; and all words, known ones by their meaning. */
  unknown: string[];
  said: string[];
}

/** Codes of a description with the unknown words that stand where words stand. */
function itemsWithUnknown(text: string, index: ReturnType<typeof indexCodes>): Seen[] {
  const { joint, place } = index.form;
  const { items, problems } = readDescription(text, index);
  const out: Seen[] = [];
  let ahead: string[] = [];
  for (const item of items) {
    const word = item.code + item.lineNumber;
    const isWord = !item.known && /^[A-Z]{1,10}\d?$/.test(word) && joint === null;
    if (isWord && place === 'before') {
      ahead.push(word);
      continue;
    }
    const owner = out.at(-1);
    if (isWord && place === 'after' && owner?.kind === 'line') {
      owner.unknown.push(word);
      owner.said.push(word, ...item.words.map((w) => w.meaning));
      continue;
    }
    const kind = item.known?.kind ?? null;
    const joined = joint
      ? problems.filter((p) => p.reason.endsWith('is not a line word') && p.at > item.at).map((p) => text.slice(p.at, p.at + p.length).toUpperCase()) // prettier-ignore
      : [];
    out.push({
      name: word,
      known: item.known !== null,
      kind,
      unknown: [...ahead, ...joined],
      said: [...ahead, ...joined, ...item.words.map((w) => w.meaning)],
    });
    ahead = [];
  }
  return out;
}

/** Shares of a word's uses: on the first shot of its line, on the last, and on a shot after which the line's shots count anew. */
function proposeFromUse(
  unknown: string[],
  courses: string[][][],
): Map<string, { proposed: Meaning | null; why: string }> {
  const out = new Map<string, { proposed: Meaning | null; why: string }>();
  const firsts = new Map<string, number>();
  const lasts = new Map<string, number>();
  const times = new Map<string, number>();
  const count = (m: Map<string, number>, key: string): void => void m.set(key, (m.get(key) ?? 0) + 1);
  for (const course of courses)
    course.forEach((said, i) => {
      for (const word of said) {
        count(times, word);
        if (i === 0) count(firsts, word);
        if (i === course.length - 1) count(lasts, word);
      }
    });
  const share = (m: Map<string, number>, word: string): number => (m.get(word) ?? 0) / (times.get(word) ?? 1);
  const taken = new Set<Meaning>();
  const give = (word: string, proposed: Meaning, why: string): void => {
    if (taken.has(proposed) || out.has(word)) return;
    taken.add(proposed);
    out.set(word, { proposed, why });
  };
  const byTimes = [...unknown]
    .sort((a, b) => (times.get(b) ?? 0) - (times.get(a) ?? 0) || (a < b ? -1 : 1))
    .slice(0, 40);
  for (const word of byTimes)
    if (share(firsts, word) > 0.6) give(word, 'begin', `${percent(share(firsts, word))} of its uses are on the first shot of a line`); // prettier-ignore
  for (const word of byTimes) {
    if (share(lasts, word) <= 0.6 || out.has(word)) continue;
    const name = /^C/.test(word) ? 'close' : 'end';
    give(word, name, `${percent(share(lasts, word))} of its uses are on the last shot of a line`);
    give(word, 'end', `${percent(share(lasts, word))} of its uses are on the last shot of a line`);
    give(word, 'close', 'it is on last shots too');
  }
  // Two words that take turns within lines begin and end a curve.
  for (const a of byTimes)
    for (const b of byTimes) {
      if (a === b || out.has(a) || out.has(b) || !takeTurns(courses, a, b)) continue;
      give(a, 'curveBegin', `${b} follows it on the same line, in turn`);
      give(b, 'curveEnd', `it follows ${a} on the same line, in turn`);
    }
  for (const word of byTimes) {
    if (out.has(word)) continue;
    const named = BY_NAME.find(([pattern]) => pattern.test(word));
    if (named) give(word, named[1], 'by what it is called');
  }
  return out;
}

/** Plain English beginnings, where use says nothing. */
const BY_NAME: [RegExp, Meaning][] = [
  [/^(B|BE|ST)/, 'begin'],
  [/^CL/, 'close'],
  [/^(CO|CN)/, 'continue'],
  [/^(E|FIN|STO)/, 'end'],
  [/^REC/, 'rectangle'],
  [/^(OF|PAR)/, 'offset'],
  [/^J/, 'join'],
  [/^G/, 'gap'],
  [/^(SM|SP)/, 'smoothBegin'],
  [/^(CU|AR)/, 'curveBegin'],
  [/^NO/, 'heightNotUsed'],
  [/^(HI|INV)/, 'notDrawn'],
  [/^(SQ|R)/, 'square'],
];

const percent = (share: number): string => `${Math.round(share * 100)} %`;

function takeTurns(courses: string[][][], a: string, b: string): boolean {
  let turns = 0;
  for (const course of courses) {
    let open = false;
    for (const said of course) {
      if (said.includes(a)) {
        if (open) return false;
        open = true;
      }
      if (said.includes(b)) {
        if (!open) return false;
        open = false;
        turns++;
      }
    }
  }
  return turns > 0;
}
