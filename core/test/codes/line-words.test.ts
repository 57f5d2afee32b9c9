import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addWord,
  DEFAULT_CODE_LIST,
  dropWord,
  indexCodes,
  MEANINGS,
  PLAIN_FORM,
  readDescription,
  VALUED,
  WORD_PRESETS,
  writeDescription,
  type CodeItem,
  type LineWords,
  type WordForm,
} from '#core/codes';

const list = DEFAULT_CODE_LIST;
const form = (part: Partial<WordForm>, words: LineWords = list.words): LineWords => ({
  ...words,
  form: { ...PLAIN_FORM, ...part },
});
const read = (text: string, words: LineWords = list.words) => readDescription(text, indexCodes(list, words));
const brief = (text: string, words?: LineWords) =>
  read(text, words).items.map((i) => [i.code + i.lineNumber, ...i.words.map((w) => w.meaning)].join(' '));

describe('line words in the forms that crews use', () => {
  it('stand behind or before their code, apart from it or joined to it', () => {
    expect(brief('KT1 BEG CUR FN2')).toEqual(['KT1 begin curveBegin', 'FN2']);
    expect(brief('BEG CUR KT1 FN2', form({ place: 'before' }))).toEqual(['KT1 begin curveBegin', 'FN2']);
    expect(brief('KT 1 BEG FN 2', form({ number: 'apart' }))).toEqual(['KT1 begin', 'FN2']);
    const short = WORD_PRESETS[3].words;
    expect(brief('KT1.B.A FN', short)).toEqual(['KT1 begin curveBegin', 'FN']);
    expect(brief('B*KT1 FN', { ...short, form: { ...PLAIN_FORM, joint: '*', place: 'before' } })).toEqual(['KT1 begin', 'FN']); // prettier-ignore
    expect(brief('KT1B FNE', { ...short, form: { ...PLAIN_FORM, joint: '' } })).toEqual(['KT1 begin', 'FN end']);
    expect(brief('KT1', form({ number: 'none' }))).toEqual(['KT1']);
    expect(read('KT1', form({ number: 'none' })).items[0].known).toBeNull();
  });

  it('carry their values, in the unit of the setting', () => {
    const [item] = read('BW1 OFF 0.15 -0.10 JOIN 205 RECT 4.5').items;
    expect(item.words.map((w) => [w.meaning, w.lengths, w.number])).toEqual([
      ['offset', [0.15, -0.1], ''],
      ['join', [], '205'],
      ['rectangle', [4.5], ''],
    ]);
    expect(read('BW1 OFF=0.15,-0.1').items[0].words[0].lengths).toEqual([0.15, -0.1]);
    expect(read('BW1 OFF 10', form({ unit: 'ft' })).items[0].words[0].lengths[0]).toBeCloseTo(3.048, 12);
    // A second number without a sign or a decimal sign is none of a height: it is a code of digits.
    expect(read('BW1 OFF 0.15 12').items.map((i) => i.code)).toEqual(['BW', '12']);
  });

  it('say where something makes no sense, to the character', () => {
    const at = (text: string, words?: LineWords) => read(text, words).problems.map((p) => [p.at, p.length]);
    expect(at('BEG KT1')).toEqual([[0, 3]]);
    expect(at('KT1 BEG', form({ place: 'before' }))).toEqual([[4, 3]]);
    expect(at('KT1 OFF FN2')).toEqual([[4, 3]]);
    expect(at('KT1 JOIN')).toEqual([[4, 4]]);
    expect(at('d=3 KT1')).toEqual([[0, 3]]);
    expect(at('KT1\u0007BEG')).toEqual([[3, 1]]);
    expect(at('KT1.Y', WORD_PRESETS[3].words)).toEqual([[4, 1]]);
    expect(at(`KT1 "no end`)).toEqual([[4, 7]]);
    expect(at('x'.repeat(10_000))).toEqual([[2000, 8000]]);
  });

  it('never make reading throw, and every place lies within the text', () => {
    const words = fc.constantFrom(...WORD_PRESETS.map((p) => p.words), form({ joint: '' }), form({ place: 'before', joint: '-' })); // prettier-ignore
    const token = fc.oneof(
      fc.constantFrom(...Object.values(list.words).map(String), ...list.codes.map((c) => c.code), 'KT12', '0.5', '-3', '=', 'a=b', '"', '.', '/', '__proto__=1'), // prettier-ignore
      fc.string({ unit: 'binary', maxLength: 12 }),
    );
    fc.assert(
      fc.property(words, fc.array(token, { maxLength: 40 }), fc.constantFrom(' ', '/', ''), (w, tokens, by) => {
        const text = tokens.join(by);
        const { items, problems } = read(text, w);
        for (const p of [...items.map((i) => ({ ...i, length: 1 })), ...problems]) {
          expect(p.at).toBeGreaterThanOrEqual(0);
          expect(p.at + p.length).toBeLessThanOrEqual(Math.max(text.length, 2000));
        }
      }),
      { numRuns: 400 },
    );
  });
});

const word = fc.constantFrom(...MEANINGS).chain((meaning) =>
  fc.record({
    meaning: fc.constant(meaning),
    lengths:
      VALUED[meaning] === 'lengths'
        ? fc.array(
            fc.integer({ min: -99, max: 99 }).map((v) => v / 100),
            { minLength: 1, maxLength: 2 },
          )
        : fc.constant<number[]>([]),
    number: VALUED[meaning] === 'number' ? fc.integer({ min: 1, max: 9999 }).map(String) : fc.constant(''),
    at: fc.constant(0),
  }),
);
const items = fc.uniqueArray(
  fc.record({
    code: fc.constantFrom('KT', 'FN', 'BW', 'ED'),
    lineNumber: fc.constantFrom('', '1', '27'),
    words: fc.uniqueArray(word, { maxLength: 3, selector: (w) => w.meaning }),
    attributes: fc.constantFrom<Record<string, string>>({}, { d: '0.4' }),
  }),
  { minLength: 1, maxLength: 3, selector: (i) => i.code },
);
const plainly = (list: Pick<CodeItem, 'code' | 'lineNumber' | 'words' | 'attributes'>[]) =>
  list.map((i) => [
    i.code + i.lineNumber,
    i.attributes,
    i.words.map((w) => `${w.meaning} ${w.lengths.map((l) => l.toFixed(4)).join()} ${w.number}`).sort(),
  ]);

describe('descriptions in a recipient’s words', () => {
  it('are read again as the same codes, numbers, words and values, in every preset', () => {
    fc.assert(
      fc.property(items, fc.constantFrom(...WORD_PRESETS.map((p) => p.words)), (said, words) => {
        const { text, lost } = writeDescription(said, words);
        expect(lost).toEqual([]);
        const back = read(text, words);
        expect([text, back.problems]).toEqual([text, []]);
        expect(plainly(back.items)).toEqual(plainly(said));
      }),
      { numRuns: 500 },
    );
  });

  it('name the words that the recipient has none for', () => {
    const { text, lost } = writeDescription(read('KT1 BEG SMOOTH').items, { begin: 'S' });
    expect([text, lost]).toEqual(['KT1 S', ['smoothBegin']]);
  });

  it('take a word more and give it back, all else as typed', () => {
    for (const { words } of WORD_PRESETS) {
      const index = indexCodes(list, words);
      const { text } = writeDescription(read('KT1 / FN2').items, words);
      const longer = addWord(text, index, words, 'KT1', 'curveEnd')!;
      expect(readDescription(longer, index).items.map((i) => i.words.map((w) => w.meaning))).toEqual([
        ['curveEnd'],
        [],
      ]);
      expect(dropWord(longer, index, 'KT1', 'curveEnd')).toBe(text);
    }
  });
});
