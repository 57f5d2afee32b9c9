// Names of the files that leave: what the words say, in letters of any script, and nothing that a file system refuses.

/** Longest stem: file systems hold 255 bytes, and folders, dates and endings come to it. */
const MOST_LETTERS = 80;
const MOST_BYTES = 160;
/** Names of devices on one widespread system, whatever their ending. */
const DEVICE = /^(?:con|prn|aux|nul|com\d|lpt\d)$/i;

/** Words as the stem of a file name: letters, digits and marks of any script, hyphens between. */
export function fileStem(...words: readonly string[]): string {
  const joined = words
    .join('-')
    .normalize('NFC')
    .split(/[^\p{L}\p{N}\p{M}]+/u)
    .filter(Boolean)
    .join('-');
  let [stem, bytes, letters] = ['', 0, 0];
  for (const letter of joined) {
    bytes += bytesOf(letter.codePointAt(0)!);
    if (++letters > MOST_LETTERS || bytes > MOST_BYTES) break;
    stem += letter;
  }
  stem = stem.replace(/-$/, '');
  return DEVICE.test(stem) ? `${stem}-file` : stem || 'unnamed';
}

const bytesOf = (codePoint: number): number =>
  codePoint < 0x80 ? 1 : codePoint < 0x800 ? 2 : codePoint < 0x10000 ? 3 : 4;

/** A name that none of `taken` has, capitals or not; it is one of them from then on. */
export function distinctName(taken: Set<string>, stem: string, ending: string): string {
  const free = (name: string): boolean => !taken.has(name.toLowerCase());
  let name = `${stem}.${ending}`;
  for (let i = 2; !free(name); i++) name = `${stem}-${i}.${ending}`;
  taken.add(name.toLowerCase());
  return name;
}
