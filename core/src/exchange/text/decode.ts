/** Code pages that a drawing may declare ($DWGCODEPAGE, DXF reference), by their names in the WHATWG encoding standard. */
const CODE_PAGES = {
  ANSI_874: 'windows-874',
  ANSI_932: 'shift_jis',
  ANSI_936: 'gbk',
  ANSI_949: 'euc-kr',
  ANSI_950: 'big5',
  ANSI_1250: 'windows-1250',
  ANSI_1251: 'windows-1251',
  ANSI_1253: 'windows-1253',
  ANSI_1254: 'windows-1254',
  ANSI_1255: 'windows-1255',
  ANSI_1256: 'windows-1256',
  ANSI_1257: 'windows-1257',
  ANSI_1258: 'windows-1258',
  DOS866: 'ibm866',
} as const;

export type Encoding =
  'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' | (typeof CODE_PAGES)[keyof typeof CODE_PAGES];

export type Decoded = { ok: true; text: string; encoding: Encoding; bom: boolean } | { ok: false; reason: string };

/** Largest text file that is read, bytes. */
export const LARGEST_TEXT = 512 * 1024 * 1024;

const OPEN_FORMATS = 'text points (CSV or TXT), DXF, LandXML or GeoJSON';

/**
 * Turns received bytes into text: byte order marks, UTF-16 without one (every second byte empty), UTF-8, the code page that
 * a drawing declares, and else Windows-1252, which cannot fail. Rows end in line feeds, with or without carriage returns. Binary content is
 * refused with what to ask the sender for.
 */
export function decodeText(bytes: Uint8Array): Decoded {
  if (bytes.length === 0) return { ok: false, reason: 'The file is empty.' };
  if (bytes.length > LARGEST_TEXT)
    return {
      ok: false,
      reason: `The file has ${Math.round(bytes.length / 1048576)} MB; at most 512 MB are read at once. Split it.`,
    };
  const closed = closedFormat(bytes);
  if (closed)
    return {
      ok: false,
      reason: `This is ${closed}, which only its maker’s programs can read. Ask the sender for ${OPEN_FORMATS}.`,
    };
  const as = (encoding: Encoding, skip: number, bom: boolean): Decoded => ({
    ok: true,
    text: withLineFeeds(textOf(encoding, skip ? bytes.subarray(skip) : bytes)),
    encoding,
    bom,
  });
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return as('utf-8', 3, true);
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return as('utf-16le', 2, true);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return as('utf-16be', 2, true);

  const sample = bytes.subarray(0, 65536);
  let evenZeros = 0;
  let oddZeros = 0;
  let control = 0;
  for (let i = 0; i < sample.length; i++) {
    if (sample[i] === 0) {
      if (i % 2) oddZeros++;
      else evenZeros++;
    } else if (
      sample[i] < 32 &&
      sample[i] !== 9 &&
      sample[i] !== 10 &&
      sample[i] !== 13 &&
      sample[i] !== 12 &&
      sample[i] !== 26
    )
      control++;
  }
  const pairs = sample.length / 2;
  if (oddZeros > pairs * 0.4 && evenZeros < pairs * 0.05) return as('utf-16le', 0, false);
  if (evenZeros > pairs * 0.4 && oddZeros < pairs * 0.05) return as('utf-16be', 0, false);
  if (evenZeros + oddZeros > 0 || control > sample.length * 0.02)
    return {
      ok: false,
      reason: `This is not text but a device’s or program’s own binary data. Ask the sender for ${OPEN_FORMATS}.`,
    };
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return { ok: true, text: withLineFeeds(text), encoding: 'utf-8', bom: false };
  } catch {
    return as(declaredCodePage(sample) ?? 'windows-1252', 0, false);
  }
}

/** The code page that a drawing's header names; null where it names none, or one that is not known. */
function declaredCodePage(sample: Uint8Array): Encoding | null {
  let head = '';
  for (let i = 0; i < Math.min(sample.length, 16384); i++) head += String.fromCharCode(sample[i]);
  const name = /\$DWGCODEPAGE[ \t]*\r?\n[ \t]*3[ \t]*\r?\n[ \t]*(\w{1,20})/i.exec(head)?.[1].toUpperCase() ?? '';
  return codePage(name);
}

/** A code page by the name that a drawing declares; null of one that is not known. */
export const codePage = (name: string): Encoding | null =>
  Object.hasOwn(CODE_PAGES, name) ? CODE_PAGES[name as keyof typeof CODE_PAGES] : null;

/**
 * What stands at 0x80 … 0x9F in Windows-1252 (WHATWG encoding standard, index windows-1252). Engines with few code pages
 * give control characters for them; this gives the same everywhere, in page and server.
 */
const BETWEEN = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

export const textOf = (encoding: Encoding, bytes: Uint8Array): string => {
  const text = new TextDecoder(encoding).decode(bytes);
  return encoding === 'windows-1252' ? text.replace(/[\x80-\x9f]/g, (c) => BETWEEN[c.charCodeAt(0) - 0x80]) : text;
};

/** Rows that end in carriage returns alone, as some old devices write them, end in line feeds. */
const withLineFeeds = (text: string): string => (text.includes('\n') ? text : text.replaceAll('\r', '\n'));

/** Names containers by their first bytes, as their public signatures have it. */
function closedFormat(bytes: Uint8Array): string | null {
  const head = String.fromCharCode(...bytes.subarray(0, 8));
  if (/^AC10\d\d/.test(head)) return 'a closed native drawing';
  if (head.startsWith('PK\x03\x04'))
    return 'a zip archive or a spreadsheet; unpack it, or save the sheet as CSV. As it stands it is a container';
  if (head.startsWith('%PDF')) return 'a PDF';
  if (head.startsWith('\xd0\xcf\x11\xe0')) return 'a compound binary document';
  if (head.startsWith('\x1f\x8b')) return 'a compressed file';
  if (head.startsWith('\x89PNG') || head.startsWith('\xff\xd8\xff')) return 'a picture';
  return null;
}
