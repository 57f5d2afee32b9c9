import { BookBuilder } from './builder.ts';
import type { RecordText } from './record-values.ts';
import type { Book } from './records.ts';

// The open text form of a field book, as docs/formats/book.md has it: one record a row, a word, then a number
// where the record has one, then key=value.

export const isBookText = (text: string): boolean => /^\ufeff?\s*book\s+1\b/.test(text.slice(0, 200));

export const LONGEST_ROW = 4000;

/** Goes row by row through a text, with their numbers from 1. False when the caller stopped it. */
export function eachRow(
  text: string,
  see: (line: string, row: number) => void,
  onProgress?: (share: number) => boolean | void,
): number | false {
  let from = text.charCodeAt(0) === 0xfeff ? 1 : 0;
  let row = 0;
  while (from < text.length) {
    let to = text.indexOf('\n', from);
    if (to < 0) to = text.length;
    row++;
    see(text.slice(from, text[to - 1] === '\r' ? to - 1 : to), row);
    from = to + 1;
    if (row % 20_000 === 0 && onProgress?.(from / text.length) === false) return false;
  }
  return row;
}

/** Reads a book. Never throws on content: rows that cannot be read are listed with their reason. Null when stopped. */
export function readBookText(text: string, onProgress?: (share: number) => boolean | void): Book | null {
  const builder = new BookBuilder();
  const rows = eachRow(text, (line, row) => readRow(builder, line, row), onProgress);
  return rows === false ? null : builder.done(rows);
}

function readRow(builder: BookBuilder, line: string, row: number): void {
  const trimmed = line.trim();
  if (trimmed === '' || trimmed.startsWith('#')) return;
  builder.at(row, line);
  if (line.length > LONGEST_ROW) {
    builder.refuse(`the row has ${line.length} characters; at most ${LONGEST_ROW} are read`);
    if (/^setup\b/i.test(trimmed)) builder.holdPlace(`row ${row}`);
    return;
  }
  if (builder.complete) return builder.refuse('the row comes after the end of the book');
  const parts = partsOf(trimmed);
  const word = parts.words.shift()!.toLowerCase();
  if (word === 'deleted') return builder.record(parts.words.shift()?.toLowerCase() ?? '', parts, true);
  builder.record(word, parts, false);
}

/** Words, key=value, and what follows the first word as it stands; quotes hold spaces together, "" is a quote. */
function partsOf(line: string): RecordText {
  const words: string[] = [];
  const keys = new Map<string, string>();
  for (const match of line.matchAll(/([A-Za-z]{1,40})=("((?:[^"]|"")*)"?|\S*)|"((?:[^"]|"")*)"?|\S+/g)) {
    if (match[1] !== undefined) keys.set(match[1].toLowerCase(), (match[3] ?? match[2]).replaceAll('""', '"'));
    else words.push((match[4] ?? match[0]).replaceAll('""', '"'));
  }
  if (words.length === 0) words.push('');
  return { words, keys, rest: line.replace(/^\S+\s*/, '').replace(/^deleted\s+\S+\s*/i, '') };
}
