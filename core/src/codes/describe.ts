import type { Code, CodeList, LineWords } from './code-list.ts';

/** One code on a shot, with what was said about it. */
export interface CodeItem {
  /** The token as typed, in capitals, without its line number. */
  code: string;
  /** Which of several parallel lines; empty when none was given. */
  lineNumber: string;
  words: (keyof LineWords)[];
  attributes: Record<string, string>;
  known: Code | null;
  /** Where the token starts in the description, in characters. */
  at: number;
}

export interface Described {
  items: CodeItem[];
  /** Words that stand before any code, and so tell nobody anything. */
  strayWords: { word: string; at: number }[];
}

/** The longest description that is read; what lies beyond is a remark nobody typed by hand. */
const LONGEST = 2000;

export interface CodeIndex {
  byCode: Map<string, Code>;
  words: Map<string, keyof LineWords>;
}

export function indexCodes(list: CodeList): CodeIndex {
  return {
    byCode: new Map(list.codes.map((c) => [c.code.toUpperCase(), c])),
    words: new Map((Object.keys(list.words) as (keyof LineWords)[]).map((k) => [list.words[k].toUpperCase(), k])),
  };
}

/**
 * Reads a shot's description: codes, each followed by its line words and `key=value` attributes, parted
 * by spaces or slashes. A code may carry a line number in digits. The grammar stands in
 * docs/formats/code-strings.md. Never throws; what is no word and no attribute is taken for a code.
 */
export function readDescription(text: string, index: CodeIndex): Described {
  const items: CodeItem[] = [];
  const strayWords: Described['strayWords'] = [];
  const token = /"[^"]*"?|[^\s/]+/g;
  const source = text.length > LONGEST ? text.slice(0, LONGEST) : text;
  for (let match = token.exec(source); match; match = token.exec(source)) {
    const at = match.index;
    const raw = match[0];
    if (raw.startsWith('"')) continue;
    const last = items.at(-1);
    const equals = raw.indexOf('=');
    if (equals > 0) {
      if (last) last.attributes[raw.slice(0, equals).toLowerCase()] = raw.slice(equals + 1);
      continue;
    }
    const typed = raw.toUpperCase();
    const word = index.words.get(typed);
    if (word) {
      if (last) last.words.push(word);
      else strayWords.push({ word: raw, at });
      continue;
    }
    items.push({ ...codeAndNumber(typed, index), words: [], attributes: {}, at });
  }
  return { items, strayWords };
}

function codeAndNumber(typed: string, index: CodeIndex): Pick<CodeItem, 'code' | 'lineNumber' | 'known'> {
  const whole = index.byCode.get(typed);
  if (whole) return { code: typed, lineNumber: '', known: whole };
  const split = /^(.*?)(\d+)$/.exec(typed);
  if (split && split[1]) {
    const known = index.byCode.get(split[1]);
    return { code: split[1], lineNumber: String(Number(split[2])), known: known ?? null };
  }
  return { code: typed, lineNumber: '', known: null };
}

/** Codes of the list that one slip of the finger could have meant, nearest first (edit distance with neighbours swapped). */
export function nearestCodes(code: string, list: CodeList, most = 3): Code[] {
  return list.codes
    .map((c) => ({ c, d: slips(code.toUpperCase(), c.code.toUpperCase()) }))
    .filter(({ d, c }) => d <= Math.max(1, Math.floor(c.code.length / 2)))
    .sort((a, b) => a.d - b.d || (a.c.code < b.c.code ? -1 : 1))
    .slice(0, most)
    .map(({ c }) => c);
}

/** Optimal string alignment distance: letters changed, left out, put in or swapped with their neighbour. */
function slips(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > 3) return 9;
  const d: number[][] = [];
  for (let i = 0; i <= a.length; i++) d[i] = [i];
  for (let j = 0; j <= b.length; j++) d[0][j] = j;
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      d[i][j] = Math.min(d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + same);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
    }
  return d[a.length][b.length];
}
