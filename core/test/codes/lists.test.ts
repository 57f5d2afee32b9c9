import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addWord,
  compareLists,
  DEFAULT_CODE_LIST,
  dropCode,
  dropWord,
  indexCodes,
  LONGEST_DESCRIPTION,
  MEANINGS,
  nearestCodes,
  PLAIN_FORM,
  readDescription,
  VALUED,
  type CodeList,
} from '#core/codes';

const list = DEFAULT_CODE_LIST;
const lines = list.codes.filter((c) => c.kind === 'line').map((c) => c.code);
const index = indexCodes(list);
const names = (text: string): string[] => readDescription(text, index).items.map((i) => i.code + i.lineNumber);

describe('codes near a slip', () => {
  it('are those that one slip of the finger could have meant, the nearest first', () => {
    const codes = (typed: string, of: string[]): string[] => nearestCodes(typed, { ...list, codes: of.map((code) => ({ ...list.codes[0], code })) }).map((c) => c.code); // prettier-ignore
    expect(codes('KRT', ['KT', 'KRT2', 'ZZZ', 'KTR'])).toEqual(['KRT2', 'KT', 'KTR']);
    expect(codes('ktt', ['KT', 'TKT', 'TTK'])).toEqual(['KT', 'TKT']);
    expect(codes('LAMPPOST', ['KT'])).toEqual([]);
  });

  it('have the code itself first wherever the list has it', () => {
    for (const { code } of list.codes) expect(nearestCodes(code.toLowerCase(), list)[0].code).toBe(code);
  });

  it('do not depend on the order of the list', () => {
    const back: CodeList = { ...list, codes: [...list.codes].reverse() };
    fc.assert(fc.property(fc.string({ unit: fc.constantFrom('K', 'T', 'R', 'G', 'B'), minLength: 1, maxLength: 4 }), (typed) => {
      expect(nearestCodes(typed, back).map((c) => c.code)).toEqual(nearestCodes(typed, list).map((c) => c.code));
    })); // prettier-ignore
  });
});

describe('two lists', () => {
  it('differ in nothing from themselves', () => {
    expect(compareLists(list, structuredClone(list))).toEqual({ added: [], gone: [], changed: [], words: [] });
  });

  it('that are compared the other way round exchange what came and went', () => {
    fc.assert(
      fc.property(fc.subarray(list.codes), fc.subarray(list.codes), fc.boolean(), (a, b, renamed) => {
        const here = { ...list, codes: a };
        const there = { ...list, codes: renamed ? b.map((c) => ({ ...c, name: `${c.name} x` })) : b };
        const [one, other] = [compareLists(here, there), compareLists(there, here)];
        expect(one.added).toEqual(other.gone);
        expect(one.gone).toEqual(other.added);
        expect(one.changed.map((c) => [c.from, c.to])).toEqual(expect.arrayContaining(other.changed.map((c) => [c.to, c.from]))); // prettier-ignore
        expect(one.changed.length).toBe(renamed ? a.filter((c) => b.includes(c)).length : 0);
      }),
    );
  });

  it('say which fields and which words', () => {
    const [first, ...rest] = list.codes;
    const there = { codes: [{ ...first, layer: 'ELSEWHERE', breakline: !first.breakline }, ...rest], words: { ...list.words, end: 'S' } }; // prettier-ignore
    expect(compareLists(list, there)).toMatchObject({ changed: [{ fields: ['layer', 'breakline'] }], words: ['end'] });
  });
});

/** A description of some line codes with numbers, words and attributes between them. */
const described = fc
  .array(fc.tuple(fc.constantFrom(...lines), fc.integer({ min: 1, max: 9 }), fc.constantFrom('', ' BEG', ' END', ' w=3', ' "a remark"')), { minLength: 1, maxLength: 4 }) // prettier-ignore
  .map((parts) => parts.filter(([c, n], i) => parts.findIndex(([d, m]) => d === c && m === n) === i).map(([c, n, more]) => `${c}${n}${more}`)); // prettier-ignore

describe('an edit of a description', () => {
  it('that puts a word in is read with that word on that code, and what it takes out again leaves as it was', () => {
    const plain = MEANINGS.filter((m) => !VALUED[m] && list.words[m]);
    fc.assert(
      fc.property(described, fc.constantFrom(...plain), fc.nat(3), (parts, meaning, k) => {
        const text = parts.join(' ');
        const name = names(text)[k % parts.length];
        const before = readDescription(text, index).items.find((i) => i.code + i.lineNumber === name)!;
        fc.pre(!before.words.some((w) => w.meaning === meaning));
        const added = addWord(text, index, list.words, name, meaning)!;
        const item = readDescription(added, index).items.find((i) => i.code + i.lineNumber === name)!;
        expect(item.words.map((w) => w.meaning)).toContain(meaning);
        expect(item.attributes).toEqual(before.attributes);
        expect(dropWord(added, index, name, meaning)).toBe(text);
      }),
    );
  });

  it('that takes a code out leaves all others with what was said of them', () => {
    fc.assert(
      fc.property(described, fc.nat(3), (parts, k) => {
        const text = parts.join(' ');
        const all = readDescription(text, index).items;
        const gone = names(text)[k % parts.length];
        const left = readDescription(dropCode(text, index, gone), index).items;
        const said = (items: typeof all) => items.map((i) => [i.code, i.lineNumber, i.words.map((w) => w.meaning), i.attributes]); // prettier-ignore
        expect(said(left)).toEqual(said(all.filter((i) => i.code + i.lineNumber !== gone)));
      }),
    );
  });

  it('of a code that is not there, or by a word that the crew has not, is none', () => {
    expect(addWord('KT1', index, list.words, 'RG1', 'end')).toBeNull();
    expect(addWord('KT1', index, { ...list.words, end: undefined }, 'KT1', 'end')).toBeNull();
    expect([dropWord('KT1', index, 'KT1', 'end'), dropCode('KT1', index, 'RG1')]).toEqual(['KT1', 'KT1']);
  });
});

describe('a description from outside', () => {
  it('is read without an end to wait for, its codes where they stand', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), (text) => {
        const { items, problems } = readDescription(text, index);
        for (const i of items) expect(text.slice(i.at).toUpperCase().startsWith(i.code)).toBe(true);
        for (const p of problems) expect(p.at >= 0 && p.length > 0).toBe(true);
      }),
    );
  });

  it('that is too long is read as far as it may be, and that is said', () => {
    const { items, problems } = readDescription('KT1 '.repeat(600), index);
    expect(items).toHaveLength(LONGEST_DESCRIPTION / 4);
    expect(problems[0].reason).toMatch(/2400 characters long; the first 2000 are read/);
  });

  it('cannot put anything where attributes come from', () => {
    const [item] = readDescription('KT1 __proto__=x constructor=y', index).items;
    expect(Object.getPrototypeOf(item.attributes)).toBe(Object.prototype);
    expect(Object.keys(item.attributes)).toEqual(['constructor']);
  });

  it('reads a number that stands apart only where the crew writes it so', () => {
    const apart = indexCodes(list, { ...list.words, form: { ...PLAIN_FORM, number: 'apart' } });
    expect(readDescription('KT 007', apart).items.map((i) => [i.code, i.lineNumber])).toEqual([['KT', '7']]);
    expect(readDescription('KT 7', index).items).toHaveLength(2);
  });
});
