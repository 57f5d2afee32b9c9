import type { Code, CodeList } from './code.ts';
import { MEANINGS, PLAIN_FORM, VALUED, type LineWords, type Meaning, type WordForm } from './words.ts';

/** A code list and a word setting, ready for reading. */
export interface CodeIndex {
  byCode: Map<string, Code>;
  words: Map<string, Meaning>;
  form: WordForm;
  /** Spellings of words that a value may follow, the longest first. */
  valued: string[];
  /** Longest spelling of a word. */
  longest: number;
  /** By character: 1 for blanks and control characters, 2 for signs that part codes. */
  parts: Uint8Array;
}

export function indexCodes(list: CodeList, words: LineWords = list.words): CodeIndex {
  const spelt = new Map<string, Meaning>();
  for (const m of MEANINGS) if (words[m]) spelt.set(words[m].toUpperCase(), m);
  for (const [spelling, m] of Object.entries(words.also ?? {})) spelt.set(spelling.toUpperCase(), m);
  return {
    byCode: new Map(list.codes.map((c) => [c.code.toUpperCase(), c])),
    words: spelt,
    form: words.form ?? PLAIN_FORM,
    valued: [...spelt.keys()].filter((w) => VALUED[spelt.get(w)!]).sort((a, b) => b.length - a.length),
    longest: Math.max(0, ...[...spelt.keys()].map((w) => w.length)),
    parts: partingCharacters((words.form ?? PLAIN_FORM).separators),
  };
}

function partingCharacters(separators: string): Uint8Array {
  const parts = new Uint8Array(65_536);
  for (let c = 0; c <= 32; c++) parts[c] = 1;
  parts[127] = 1;
  parts[160] = 1;
  for (let i = 0; i < separators.length; i++) parts[separators.charCodeAt(i)] = 2;
  return parts;
}
