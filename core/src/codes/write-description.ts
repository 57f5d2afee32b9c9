import { METRES_IN } from '#core/measure';
import type { CodeItem, SaidWord } from './describe.ts';
import { PLAIN_FORM, VALUED, type LineWords } from './words.ts';

/**
 * Writes codes, line numbers, words and attributes in the words of a setting: the inverse of readDescription.
 * Words that the setting has no spelling for are left out and named in `lost`.
 */
export function writeDescription(
  items: readonly Pick<CodeItem, 'code' | 'lineNumber' | 'words' | 'attributes'>[],
  words: LineWords,
): { text: string; lost: string[] } {
  const form = words.form ?? PLAIN_FORM;
  const lost: string[] = [];
  const value = (metres: number, sign: boolean): string => {
    const text = String(Math.round((metres / METRES_IN[form.unit]) * 1e4) / 1e4);
    return sign && !text.startsWith('-') ? `+${text}` : text;
  };
  const valued = (w: SaidWord): string =>
    VALUED[w.meaning] === 'number' ? ` ${w.number}` : w.lengths.map((l, i) => ` ${value(l, i > 0)}`).join('');
  const text = items
    .map((item) => {
      const number = form.number === 'none' ? '' : item.lineNumber;
      const code = form.number === 'apart' && number ? `${item.code} ${number}` : item.code + number;
      const attributes = Object.entries(item.attributes).map(([k, v]) => ` ${k}=${v}`);
      const said = item.words.flatMap((w) => {
        const spelling = words[w.meaning];
        if (!spelling) lost.push(w.meaning);
        return spelling ? [{ spelling, values: valued(w) }] : [];
      });
      const apart = said.map((s) => s.spelling + s.values);
      // Words with values cannot be joined to a code where nothing parts them.
      if (form.joint !== null && said.length) {
        const joined = said.filter((s) => s.values === '' && (form.joint !== '' || said.length === 1));
        const rest = said.filter((s) => !joined.includes(s)).map((s) => ` ${s.spelling}${s.values}`);
        const parts = joined.map((s) => s.spelling);
        const token = form.place === 'before' ? [...parts, item.code + number] : [item.code + number, ...parts];
        return token.join(form.joint) + rest.join('') + attributes.join('');
      }
      return (form.place === 'before' ? [...apart, code] : [code, ...apart]).join(' ') + attributes.join('');
    })
    .join(form.separators.includes('/') ? ' / ' : ' ');
  return { text, lost: [...new Set(lost)] };
}
