import { DIGITS, withoutTail } from '#core/kernel';
import { METRES_IN } from '#core/measure';
import type { Code } from './code.ts';
import type { CodeIndex } from './index-codes.ts';
import { VALUED, type Meaning } from './words.ts';

/** A line word on a shot, with what was said behind it. */
export interface SaidWord {
  meaning: Meaning;
  /** Lengths in metres, as many as were said. */
  lengths: number[];
  /** The number of the point that a join names. */
  number: string;
  at: number;
}

/** One code on a shot, with what was said about it. */
export interface CodeItem {
  /** The token as typed, in capitals, without its line number. */
  code: string;
  /** Which of several parallel lines; empty when none was given. */
  lineNumber: string;
  words: SaidWord[];
  attributes: Record<string, string>;
  known: Code | null;
  /** Where the token starts in the description, in characters. */
  at: number;
}

/** What could not be understood, and where: characters from the beginning of the description. */
export interface DescriptionProblem {
  at: number;
  length: number;
  reason: string;
}

export interface Described {
  items: CodeItem[];
  problems: DescriptionProblem[];
}

/** The longest description that is read; what lies beyond is a remark nobody typed by hand. */
export const LONGEST_DESCRIPTION = 2000;

const NUMBER = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/;
const QUOTE = 34;
const ZERO = 48;
const isDigit = (c: number): boolean => c >= ZERO && c <= 57;
/** How many problems of one description are worth a reader's time. */
const MOST_PROBLEMS = 20;

export const says = (item: Pick<CodeItem, 'words'>, meaning: Meaning): boolean =>
  item.words.some((w) => w.meaning === meaning);

/**
 * Reads a shot's description: codes with line numbers, line words with their values, `key=value` attributes and
 * "remarks", by the word setting of the index. The grammar stands in docs/formats/code-strings.md. Never throws;
 * what is no word, no value and no attribute is taken for a code, and what makes no sense where it stands is a
 * problem with its place.
 */
export function readDescription(text: string, index: CodeIndex): Described {
  return new Reader(text, index).read();
}

class Reader {
  private readonly items: CodeItem[] = [];
  private readonly problems: DescriptionProblem[] = [];
  /** Words that wait for the code behind them, where words stand before codes. */
  private ahead: SaidWord[] = [];
  /** The word that may still take a value. */
  private open: SaidWord | null = null;

  constructor(
    private readonly text: string,
    private readonly index: CodeIndex,
  ) {}

  read(): Described {
    const { text } = this;
    if (text.length > LONGEST_DESCRIPTION)
      this.problem(LONGEST_DESCRIPTION, text.length - LONGEST_DESCRIPTION, `the description is ${text.length} characters long; the first ${LONGEST_DESCRIPTION} are read`); // prettier-ignore
    const source = text.length > LONGEST_DESCRIPTION ? text.slice(0, LONGEST_DESCRIPTION) : text;
    const { parts } = this.index;
    const n = source.length;
    let at = 0;
    while (at < n) {
      const c = source.charCodeAt(at);
      const parting = parts[c];
      if (parting !== 0) {
        if (parting === 2) this.open = null;
        else if ((c < 32 && c !== 9 && c !== 10 && c !== 13) || c === 127) this.problem(at, 1, 'a control character');
        at++;
        continue;
      }
      let end = at + 1;
      if (c === QUOTE) {
        const close = source.indexOf('"', at + 1);
        end = close < 0 ? n : close + 1;
        if (close < 0) this.problem(at, end - at, 'the remark has no closing quote');
      } else {
        while (end < n && parts[source.charCodeAt(end)] === 0) end++;
        this.token(source.slice(at, end), at);
      }
      at = end;
    }
    this.closeWord();
    for (const w of this.ahead) this.stray(w);
    return { items: this.items, problems: this.problems };
  }

  private token(raw: string, at: number): void {
    const last = this.items.at(-1);
    const equals = raw.indexOf('=');
    const typed = raw.toUpperCase();
    if (equals > 0) {
      const meaning = this.index.words.get(typed.slice(0, equals));
      if (meaning && VALUED[meaning]) return this.wordWithValue(meaning, raw.slice(equals + 1), at, equals + 1);
      this.closeWord();
      const key = raw.slice(0, equals).toLowerCase();
      if (!last) return this.problem(at, raw.length, `“${cut(raw)}” comes before any code`);
      if (key !== '__proto__') last.attributes[key] = raw.slice(equals + 1);
      return;
    }
    const meaning = this.index.words.get(typed);
    if (meaning) return this.word({ meaning, lengths: [], number: '', at });
    if (this.open && this.takeValue(raw, at)) return;
    this.closeWord();
    if (this.index.form.number === 'apart' && last && /^\d{1,9}$/.test(raw) && this.bare(last)) {
      last.lineNumber = String(Number(raw));
      return;
    }
    for (const spelling of this.index.valued) {
      if (!typed.startsWith(spelling)) continue;
      const rest = raw.slice(spelling.length);
      if (NUMBER.test(rest) && !this.isCode(typed))
        return this.wordWithValue(this.index.words.get(spelling)!, rest, at, spelling.length);
    }
    if (this.index.form.joint !== null && this.joined(raw, typed, at)) return;
    this.code(typed, at);
  }

  /** A line code that nothing has been said of yet can take a line number that stands apart. */
  private bare(item: CodeItem): boolean {
    return item.known?.kind === 'line' && item.lineNumber === '' && !Object.keys(item.attributes).length;
  }

  private isCode(typed: string): boolean {
    if (this.index.byCode.has(typed)) return true;
    const code = withoutTail(typed, DIGITS);
    return code !== typed && this.index.byCode.has(code);
  }

  private word(word: SaidWord): void {
    this.closeWord();
    const last = this.items.at(-1);
    if (this.index.form.place === 'before' && this.index.form.joint === null) this.ahead.push(word);
    else if (last) last.words.push(word);
    else this.stray(word);
    this.open = VALUED[word.meaning] ? word : null;
  }

  private wordWithValue(meaning: Meaning, value: string, at: number, valueAt: number): void {
    const word: SaidWord = { meaning, lengths: [], number: '', at };
    this.word(word);
    let from = 0;
    // A comma parts two lengths, unless it is the only one and a decimal sign: 0,15.
    const parts = VALUED[meaning] === 'lengths' && value.includes('.') ? value.split(',') : [value];
    for (const part of parts) {
      if (!this.takeValue(part, at + valueAt + from))
        this.problem(
          at + valueAt + from,
          part.length,
          `“${cut(part)}” is not a value of ${cut(this.spelling(meaning))}`,
        );
      from += part.length + 1;
    }
  }

  /** A value for the word before it; the second length of an offset carries a sign or a decimal sign. */
  private takeValue(raw: string, at: number): boolean {
    const word = this.open;
    if (!word) return false;
    const kind = VALUED[word.meaning];
    if (kind === 'number') {
      if (this.isCode(raw.toUpperCase()) && !/^\d+$/.test(raw)) return false;
      word.number = raw;
      this.open = null;
      return true;
    }
    if (!NUMBER.test(raw)) return false;
    if (word.lengths.length === 1 && !/[+\-.,]/.test(raw)) return false;
    const value = Number(raw.replace(',', '.')) * METRES_IN[this.index.form.unit];
    if (Math.abs(value) > 1000)
      this.problem(at, raw.length, `${cut(raw)} is farther than any line lies beside another`);
    else word.lengths.push(value);
    if (kind === 'length' || word.lengths.length === 2) this.open = null;
    return true;
  }

  /** What a word still lacks when no value can follow any more. */
  private closeWord(): void {
    const word = this.open;
    this.open = null;
    if (!word) return;
    const kind = VALUED[word.meaning];
    const spelling = this.spelling(word.meaning);
    if (kind === 'number' && !word.number) this.problem(word.at, spelling.length, `${spelling} needs a point’s number`);
    if (kind === 'lengths' && !word.lengths.length)
      this.problem(word.at, spelling.length, `${spelling} needs a distance`);
  }

  private spelling(meaning: Meaning): string {
    for (const [spelling, m] of this.index.words) if (m === meaning) return spelling;
    return meaning;
  }

  private stray(word: SaidWord): void {
    const spelling = this.spelling(word.meaning);
    const side = this.index.form.place === 'before' ? 'behind' : 'before';
    this.problem(word.at, spelling.length, `the word ${spelling} comes ${side} every code`);
  }

  /** Code, number and words in one token: KT1*B, or KT1B where nothing joins them. */
  private joined(raw: string, typed: string, at: number): boolean {
    const { joint } = this.index.form;
    if (this.index.byCode.has(typed)) return false;
    return joint === '' ? this.joinedBare(typed, at) : this.joinedBy(raw, typed, at, joint!);
  }

  private joinedBy(raw: string, typed: string, at: number, joint: string): boolean {
    const parts = typed.split(joint);
    if (parts.length < 2 || parts.length > 12) return false;
    const before = this.index.form.place === 'before';
    const places: number[] = [];
    parts.reduce((sum, p) => (places.push(at + sum), sum + p.length + joint.length), 0);
    const codeAt = before ? parts.length - 1 : 0;
    if (!parts[codeAt]) return false;
    this.code(parts[codeAt], places[codeAt]);
    parts.forEach((part, i) => {
      if (i === codeAt || part === '') return;
      const meaning = this.index.words.get(part);
      if (meaning) this.word({ meaning, lengths: [], number: '', at: places[i] });
      else if (!this.open || !this.takeValue(raw.slice(places[i] - at, places[i] - at + part.length), places[i]))
        this.problem(places[i], part.length, `“${cut(part)}” is not a line word`);
    });
    return true;
  }

  private joinedBare(typed: string, at: number): boolean {
    const { byCode, words, longest, form } = this.index;
    for (let length = Math.min(longest, typed.length - 1); length > 0; length--) {
      const cutAt = form.place === 'before' ? length : typed.length - length;
      const [word, rest] =
        form.place === 'before'
          ? [typed.slice(0, cutAt), typed.slice(cutAt)]
          : [typed.slice(cutAt), typed.slice(0, cutAt)];
      const meaning = words.get(word);
      const numbered = /^(\D+)\d+$/.exec(rest);
      if (!meaning || !(byCode.has(rest) || numbered)) continue;
      this.code(rest, form.place === 'before' ? at + cutAt : at);
      this.word({ meaning, lengths: [], number: '', at: form.place === 'before' ? at : at + cutAt });
      return true;
    }
    return false;
  }

  private code(typed: string, at: number): void {
    this.closeWord();
    this.items.push({ ...this.codeAndNumber(typed), words: this.ahead, attributes: {}, at });
    this.ahead = [];
  }

  private codeAndNumber(typed: string): Pick<CodeItem, 'code' | 'lineNumber' | 'known'> {
    const whole = this.index.byCode.get(typed);
    if (whole || this.index.form.number === 'none') return { code: typed, lineNumber: '', known: whole ?? null };
    let digits = typed.length;
    while (digits > 0 && isDigit(typed.charCodeAt(digits - 1))) digits--;
    if (digits === 0 || digits === typed.length) return { code: typed, lineNumber: '', known: null };
    const code = typed.slice(0, digits);
    let from = digits;
    while (from < typed.length - 1 && typed.charCodeAt(from) === ZERO) from++;
    return { code, lineNumber: typed.slice(from), known: this.index.byCode.get(code) ?? null };
  }

  private problem(at: number, length: number, reason: string): void {
    if (this.problems.length < MOST_PROBLEMS) this.problems.push({ at, length, reason });
  }
}

const cut = (text: string): string => (text.length > 24 ? `${text.slice(0, 23)}…` : text);
