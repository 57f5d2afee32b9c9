import type { Encoding } from '../text/decode.ts';

// Whether a file is LandXML, and whether it has readings in it; by its text, or by its bytes.

const HEAD = 4000;
const SURVEY = /<(\w+:)?Survey[\s>]/;

/** By its outermost element; a document type before it is seen past, so that the reader can refuse it with its reason. */
export function isLandXml(text: string): boolean {
  const head = text.slice(0, HEAD);
  let at = head.startsWith('\ufeff') ? 1 : 0;
  for (;;) {
    while (at < head.length && /\s/.test(head[at])) at++;
    const end = prologEnd(head, at);
    if (end === null) break;
    const to = head.indexOf(end, at + 2);
    if (to < 0) return false;
    at = to + end.length;
  }
  return /^<(?:\w{1,40}:)?LandXML[\s>]/.test(head.slice(at, at + 60));
}

/** What ends the comment, instruction or document type that begins at a place; null where none does. */
function prologEnd(head: string, at: number): string | null {
  if (head.startsWith('<!--', at)) return '-->';
  if (head.startsWith('<?', at)) return '?>';
  if (!head.startsWith('<!DOCTYPE', at)) return null;
  const [open, close] = [head.indexOf('[', at), head.indexOf('>', at)];
  return open >= 0 && open < close ? ']>' : '>';
}

/** Whether an XML text is LandXML with readings in it. */
export const isLandXmlSurvey = (text: string): boolean => isLandXml(text) && SURVEY.test(text);

/** By its bytes: LandXML without readings. */
export function isLandXmlDrawing(bytes: Uint8Array): boolean {
  const head = headOf(bytes);
  return isLandXml(head.text) && !hasSurvey(bytes, head.width, head.first);
}

/** The beginning of a file as text, how many bytes a letter has, and which of them says an ASCII letter. */
function headOf(bytes: Uint8Array): { text: string; width: 1 | 2; first: 0 | 1 } {
  const isBig = (bytes[0] === 0xfe && bytes[1] === 0xff) || (bytes[0] === 0 && bytes[1] !== 0);
  const isWide = isBig || (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes.length > 1 && bytes[1] === 0);
  const label = isBig ? 'utf-16be' : isWide ? 'utf-16le' : 'utf-8';
  return { text: new TextDecoder(label).decode(bytes.subarray(0, isWide ? 2 * HEAD : HEAD)), width: isWide ? 2 : 1, first: isBig ? 1 : 0 }; // prettier-ignore
}

const NAME = [...'Survey'].map((c) => c.charCodeAt(0));
const [OPEN, COLON, CLOSE, BLANK] = [60, 58, 62, 32];
const LONGEST_PREFIX = 40;

/** Whether an element called Survey begins anywhere. */
function hasSurvey(bytes: Uint8Array, width: 1 | 2, first: 0 | 1): boolean {
  const letter = (i: number): number => bytes[i + first] ?? 0;
  for (let i = bytes.indexOf(OPEN); i >= 0; i = bytes.indexOf(OPEN, i + 1)) {
    const at = i - first + width;
    // Nearly every element begins with another letter and has no prefix.
    if (isSurveyAt(at)) return true;
    for (let k = 1; k <= LONGEST_PREFIX; k++) {
      const c = letter(at + k * width);
      if (c === COLON && isSurveyAt(at + (k + 1) * width)) return true;
      if (c <= BLANK || c === CLOSE || c === COLON) break;
    }
  }
  return false;

  function isSurveyAt(at: number): boolean {
    if (letter(at) !== NAME[0] || !NAME.every((c, k) => letter(at + k * width) === c)) return false;
    const behind = letter(at + NAME.length * width);
    return behind === CLOSE || behind <= BLANK;
  }
}

/** Code pages of one byte a letter that an XML file may declare, by their names there; ISO 8859-1 is read as the page that holds it. */
const DECLARED: Readonly<Record<string, Encoding>> = {
  'ISO-8859-1': 'windows-1252',
  'ISO-8859-9': 'windows-1254',
  'WINDOWS-1250': 'windows-1250',
  'WINDOWS-1251': 'windows-1251',
  'WINDOWS-1252': 'windows-1252',
  'WINDOWS-1253': 'windows-1253',
  'WINDOWS-1254': 'windows-1254',
  'WINDOWS-1255': 'windows-1255',
  'WINDOWS-1256': 'windows-1256',
  'WINDOWS-1257': 'windows-1257',
  'WINDOWS-1258': 'windows-1258',
};

/** The code page that an XML declaration names; null of UTF-8, of none, and of one that is not known. */
export function codePageOfXml(bytes: Uint8Array): Encoding | null {
  const head = new TextDecoder('windows-1252').decode(bytes.subarray(0, 200));
  const name = /^<\?xml[^>]{0,120}?encoding\s{0,9}=\s{0,9}["']([\w.-]{1,40})["']/.exec(head)?.[1].toUpperCase() ?? '';
  return Object.hasOwn(DECLARED, name) ? DECLARED[name] : null;
}
