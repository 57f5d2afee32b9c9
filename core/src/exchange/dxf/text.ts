// Text of drawings: what lies beyond ASCII is written as \U+XXXX (DXF reference, Unicode strings in versions before 2007). Readers
// of R12 that do not know it show the number: better than a letter that is gone.

const oneLine = (text: string): string => text.replace(/[\r\n]+/g, ' ');

/** Letters beyond ASCII by their number, those beyond four digits as a pair. */
export const escaped = (text: string): string =>
  oneLine(text).replace(/[^\x20-\x7e]/g, (c) => {
    const code = c.charCodeAt(0);
    return code < 32 ? ' ' : `\\U+${code.toString(16).toUpperCase().padStart(4, '0')}`;
  });

/** \U+XXXX turned back into letters. */
export const unescaped = (text: string): string =>
  text.includes('\\U+')
    ? text.replace(/\\U\+([0-9A-Fa-f]{4})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))
    : text;

/** Whether a text is written by numbers in part. */
export const hasNumbers = (text: string): boolean => /[^\x20-\x7e\r\n]/.test(text);
