import { withoutTail } from '#core/kernel';
import { readDescription, type CodeItem } from './describe.ts';
import type { CodeIndex } from './index-codes.ts';
import { PLAIN_FORM, type LineWords, type Meaning } from './words.ts';

const nameOf = (item: CodeItem): string => item.code + item.lineNumber;

/** Where the token that starts at `at` ends. */
function tokenEnd(text: string, at: number, index: CodeIndex): number {
  let end = at;
  while (end < text.length && text.charCodeAt(end) > 32 && !index.form.separators.includes(text[end])) end++;
  return end;
}

/**
 * A description with a word put to the code of a line (`name`: code and line number), in the words of its crew;
 * all else stays as typed. Null where the setting has no such word or the description no such line.
 */
export function addWord(
  text: string,
  index: CodeIndex,
  words: LineWords,
  name: string,
  meaning: Meaning,
): string | null {
  const spelling = words[meaning];
  const item = readDescription(text, index).items.find((i) => nameOf(i) === name);
  if (!spelling || !item) return null;
  const form = words.form ?? PLAIN_FORM;
  if (form.joint === null && form.place === 'before')
    return `${text.slice(0, item.at)}${spelling} ${text.slice(item.at)}`;
  if (form.joint !== null && form.place === 'before')
    return `${text.slice(0, item.at)}${spelling}${form.joint}${text.slice(item.at)}`;
  let end = tokenEnd(text, item.at, index);
  if (form.joint !== null) return `${text.slice(0, end)}${form.joint}${spelling}${text.slice(end)}`;
  // A line number that stands apart belongs to its code.
  const apart = form.number === 'apart' ? /^\s+\d+(?=\s|$)/.exec(text.slice(end)) : null;
  if (apart) end += apart[0].length;
  return `${text.slice(0, end)} ${spelling}${text.slice(end)}`;
}

/** A description without a word of one of its codes; all else stays as typed. */
export function dropWord(text: string, index: CodeIndex, name: string, meaning: Meaning): string {
  const item = readDescription(text, index).items.find((i) => nameOf(i) === name);
  const word = item?.words.find((w) => w.meaning === meaning);
  if (!word) return text;
  const spelling = [...index.words].find(
    ([s, m]) => m === meaning && text.slice(word.at, word.at + s.length).toUpperCase() === s,
  )?.[0];
  if (!spelling) return text;
  const before = text.slice(0, word.at);
  const after = text.slice(word.at + spelling.length);
  const { joint } = index.form;
  if (joint && before.endsWith(joint)) return before.slice(0, -joint.length) + after;
  if (joint && after.startsWith(joint)) return before + after.slice(joint.length);
  return (before.trimEnd() + (after.startsWith(' ') || before.trimEnd() === '' ? after : ` ${after}`)).trim();
}

/** A description without one of its codes and all that was said about it; what else stands there stays as typed. */
export function dropCode(text: string, index: CodeIndex, name: string): string {
  const { items } = readDescription(text, index);
  const k = items.findIndex((i) => nameOf(i) === name);
  if (k < 0) return text;
  const from = (i: number): number => Math.min(items[i].at, ...items[i].words.map((w) => w.at));
  const end = k + 1 < items.length ? from(k + 1) : text.length;
  return withoutTail(text.slice(0, from(k)) + text.slice(end), ' \t/').trim();
}
