import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import fontkit from '@pdf-lib/fontkit';
import { fontOfWoff } from './woff.ts';

// What papers are written with: the faces of the page, and behind them others for the letters that those lack. Each face is
// a list of files, one a script; a letter is written with the first that has it.

export type Face = 'text' | 'bold' | 'mono';

const HOUSE = 'atkinson-hyperlegible-next';
const SANS = ['latin', 'latin-ext', 'vietnamese', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext'];
type FontName = readonly [family: string, script: string, weight: number];
const of = (family: string, scripts: readonly string[], weight = 400): FontName[] => scripts.map((s) => [family, s, weight]); // prettier-ignore
/** Arrows, comparisons, boxes. */
const SIGNS = [...of('noto-sans-math', ['latin']), ...of('noto-sans-symbols-2', ['symbols'])];
const FILES: Record<Face, FontName[]> = {
  text: [...of(HOUSE, ['latin', 'latin-ext']), ...of('noto-sans', SANS), ...SIGNS],
  bold: [...of(HOUSE, ['latin', 'latin-ext'], 700), ...of('noto-sans', SANS, 700), ...SIGNS],
  mono: [
    ...of('ibm-plex-mono', ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'vietnamese']),
    ...of('noto-sans-mono', SANS),
    ...SIGNS,
  ],
};

const resolve = createRequire(import.meta.url).resolve;

export interface FontFile {
  /** Its name among all. */
  id: string;
  bytes: Uint8Array;
  letters: ReadonlySet<number>;
}

const loaded = new Map<string, FontFile>();

function fontFile([family, script, weight]: FontName): FontFile {
  const id = `${family}-${script}-${weight}`;
  let file = loaded.get(id);
  if (!file) {
    const bytes = fontOfWoff(readFileSync(resolve(`@fontsource/${family}/files/${id}-normal.woff`)));
    const { characterSet } = fontkit.create(bytes as never) as unknown as { characterSet: number[] };
    loaded.set(id, (file = { id, bytes, letters: new Set(characterSet) }));
  }
  return file;
}

export interface Run {
  file: FontFile;
  text: string;
}

/** Stands where no face has a letter, when somebody wants the paper all the same. */
export const BOX = '\u25a1';
const CLUSTERS = new Intl.Segmenter('en', { granularity: 'grapheme' });
/** Marks of direction and joining without a form of their own. */

const FORMLESS = /[\u00ad\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufe00-\ufe0f\ufeff]/g;
/** Spaces of other widths, line ends and tabs. */
const SPACES = /[^\S\u00a0]|[\u0000-\u001f\u007f-\u009f]/g;
const NO_BREAK = '\u00a0';

/** Spaces between the digits of one number, which no line may end at. */
const TIED = /[\u2007\u2009\u202f]/g;

/** Words as letters that have a form: composed, every space a plain one or, within a number, one that does not part. */
export const printed = (words: string): string =>
  words.normalize('NFC').replace(FORMLESS, '').replace(TIED, NO_BREAK).replace(SPACES, ' ');

/** Words cut where another font file has to go on; letters that none has are boxes. */
export function runsOf(words: string, face: Face): Run[] {
  const out: Run[] = [];
  const text = printed(words);
  const first = fontFile(FILES[face][0]);
  if (hasAll(first, text)) return text ? [{ file: first, text }] : [];
  for (const { segment } of CLUSTERS.segment(text)) {
    const file = fileFor(segment, face);
    const last = out.at(-1);
    const letters = file ? segment : BOX;
    const by = file ?? fileFor(BOX, face) ?? first;
    // A space belongs to what is before it, so that words are not cut more often than they must be.
    if (last && (last.file === by || (segment === ' ' && last.file.letters.has(32)))) last.text += letters;
    else out.push({ file: by, text: letters });
  }
  return out;
}

const fileFor = (cluster: string, face: Face): FontFile | undefined => {
  for (const name of FILES[face]) {
    const file = fontFile(name);
    if (hasAll(file, cluster)) return file;
  }
  return undefined;
};

function hasAll({ letters }: FontFile, text: string): boolean {
  for (const c of text) if (!letters.has(c.codePointAt(0)!)) return false;
  return true;
}

/** Letters that no face has, each once, with the words that it was first met in. */
export function lettersLacking(texts: Iterable<string>): Map<string, string> {
  const lacking = new Map<string, string>();
  for (const words of texts) {
    const text = printed(words);
    if (hasAll(fontFile(FILES.text[0]), text)) continue;
    for (const { segment } of CLUSTERS.segment(text))
      if (!lacking.has(segment) && !fileFor(segment, 'text')) lacking.set(segment, words);
  }
  return lacking;
}
