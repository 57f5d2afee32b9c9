import { unescaped } from './text.ts';

// What texts of a drawing say, without what says how they look (DXF reference, TEXT and MTEXT).

const SIGNS: Record<string, string> = { d: '°', p: '±', c: '⌀', '%': '%' };

/** A TEXT: %%d, %%p and %%c are signs, %%nnn a letter by its number; what turns underlining on and off goes. */
export const textWords = (text: string): string =>
  unescaped(text).replace(/%%(\d{3}|[a-z%])/gi, (_, said: string) =>
    /^\d/.test(said) ? String.fromCharCode(Number(said)) : (SIGNS[said.toLowerCase()] ?? ''),
  );

const MTEXT_SIGNS = /\\([\\{}~P])|\\[ACFHQTWacfhpqtw][^;\\]{0,200};|\\S([^;]{0,200});|\\[KLNOXklnox]|[{}]/g;

/** An MTEXT: paragraphs become lines, fractions a/b; fonts, heights, colours and braces go. */
export const mtextWords = (text: string): string =>
  textWords(
    unescaped(text).replace(MTEXT_SIGNS, (_, plain: string | undefined, stacked: string | undefined) => {
      if (plain === undefined) return stacked === undefined ? '' : stacked.replace(/[#^] ?/, '/');
      return plain === 'P' ? '\n' : plain === '~' ? ' ' : plain;
    }),
  );
