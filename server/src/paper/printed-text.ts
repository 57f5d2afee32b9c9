import type { PDFFont } from 'pdf-lib';

/** The standard fonts hold Western European letters only; what they lack is written plainly or as a question mark. */
export const printable = (words: string): string =>
  words
    .replace(/[\u2009\u202f\u00a0]/g, ' ')
    .replace(/\u2212/g, '-')
    .replace(/\u2032/g, "'")
    .replace(/\u2033/g, '"')
    .replace(/\u2192/g, '\u2013')
    .normalize('NFC')
    .replace(/[^\u0020-\u007e\u00a1-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2022\u2026\u20ac]/g, (c) => {
      const plain = c.normalize('NFD').replace(/[\u0300-\u036f]/g, '');
      return /^[\u0020-\u007e]+$/.test(plain) ? plain : '?';
    });

export function fitted(font: PDFFont, size: number, words: string, width: number): string {
  if (font.widthOfTextAtSize(words, size) <= width) return words;
  let cut = words;
  while (cut.length > 1 && font.widthOfTextAtSize(`${cut}…`, size) > width) cut = cut.slice(0, -1);
  return `${cut}…`;
}
