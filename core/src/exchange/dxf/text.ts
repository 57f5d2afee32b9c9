// Text of drawings: R12 is plain ASCII here, the newer version writes what lies beyond it as \U+XXXX (DXF reference, Unicode
// strings in versions before 2007), which readers of both turn back.

const oneLine = (text: string): string => text.replace(/[\r\n]+/g, ' ');

/** A line of text that every reader takes: what is not ASCII is lost. */
export const plainText = (text: string): string => oneLine(text).replace(/[^\x20-\x7e]/gu, '?');

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

/** What a reader finds of a text that was written. */
export const asFound = (text: string, modern: boolean): string => (modern ? unescaped(escaped(text)) : plainText(text));
