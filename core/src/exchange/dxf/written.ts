import { codePage, textOf, type Encoding } from '../text/decode.ts';

/** Since this version letters are written as UTF-8 (DXF reference, 2007). */
const UTF8_SINCE = 'AC1021';

/** The name of how a drawing of some version writes its letters. */
export const encodingOf = (version: string, page: string): Encoding =>
  version >= UTF8_SINCE ? 'utf-8' : (codePage(page) ?? 'windows-1252');

/** How a drawing's letters are written: UTF-8 where they are that, else the code page that it declares. */
export function lettersOf(page: string): (bytes: Uint8Array) => string {
  const declared: Encoding = codePage(page) ?? 'windows-1252';
  const utf8 = new TextDecoder('utf-8', { fatal: true });
  return (bytes) => {
    try {
      return utf8.decode(bytes);
    } catch {
      return textOf(declared, bytes);
    }
  };
}
