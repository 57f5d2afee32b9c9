/** What a line word can mean to whoever builds lines. */
export const MEANINGS = [
  'begin',
  'end',
  'close',
  'continue',
  'curveBegin',
  'tangentBegin',
  'threePoint',
  'smoothBegin',
  'curveEnd',
  'rectangle',
  'offset',
  'join',
  'gap',
  'notDrawn',
  'heightNotUsed',
  'square',
] as const;
export type Meaning = (typeof MEANINGS)[number];

/** What each word does, in a few words. */
export const MEANING_NAME: Record<Meaning, string> = {
  begin: 'begin a line',
  end: 'end it',
  close: 'close it',
  continue: 'go on with a line that ended',
  curveBegin: 'begin a curve through many shots',
  tangentBegin: 'begin a curve that leaves the course smoothly',
  threePoint: 'one arc through this shot and the next two',
  smoothBegin: 'begin a smooth curve',
  curveEnd: 'end the curve',
  rectangle: 'rectangle: two shots and a width, or three shots',
  offset: 'a line offset from this one: to the right, and higher',
  join: 'join to a point by its number',
  gap: 'a gap up to the next shot',
  notDrawn: 'not drawn up to the next shot, yet in the ground',
  heightNotUsed: 'elevation not used',
  square: 'a square corner between this shot and the next',
};

/** Words that a value may follow. */
export const VALUED: Partial<Record<Meaning, 'length' | 'lengths' | 'number'>> = {
  rectangle: 'length',
  offset: 'lengths',
  join: 'number',
};

/** How words stand among codes. */
export interface WordForm {
  /** Words stand behind the code that they belong to, or before it. */
  place: 'after' | 'before';
  /** Line numbers: KT1, or KT 1, or there are none and digits belong to the code. */
  number: 'attached' | 'apart' | 'none';
  /** What joins a word to its code (KT1*B), empty for nothing between them (KT1B); null where words stand apart. */
  joint: string | null;
  /** Signs that part codes, beside blanks. */
  separators: string;
  /** The unit of lengths behind words. */
  unit: 'm' | 'ft' | 'usft';
}

export const PLAIN_FORM: WordForm = { place: 'after', number: 'attached', joint: null, separators: '/', unit: 'm' };

/** One spelling for each meaning; a meaning without one does not occur. More spellings stand in `also`. */
export type Spellings = { [M in Meaning]?: string };
export interface LineWords extends Spellings {
  form?: WordForm;
  also?: Record<string, Meaning>;
}

export const DEFAULT_WORDS: Required<Spellings> = {
  begin: 'BEG',
  end: 'END',
  close: 'CLOSE',
  continue: 'CON',
  curveBegin: 'CUR',
  tangentBegin: 'CURT',
  threePoint: 'CUR3',
  smoothBegin: 'SMOOTH',
  curveEnd: 'CURX',
  rectangle: 'RECT',
  offset: 'OFF',
  join: 'JOIN',
  gap: 'GAP',
  notDrawn: 'HID',
  heightNotUsed: 'NOZ',
  square: 'SQ',
};

/** Ready settings under plain names; each can be changed afterwards. */
export const WORD_PRESETS: { name: string; words: LineWords }[] = [
  { name: 'short words behind the code', words: { ...DEFAULT_WORDS, form: PLAIN_FORM } },
  {
    name: 'whole words behind the code',
    words: {
      begin: 'BEGIN',
      end: 'FINISH',
      close: 'CLOSE',
      continue: 'CONTINUE',
      curveBegin: 'CURVE',
      tangentBegin: 'TANGENT',
      threePoint: 'ARC',
      smoothBegin: 'SMOOTH',
      curveEnd: 'STRAIGHT',
      rectangle: 'RECTANGLE',
      offset: 'BESIDE',
      join: 'JOIN',
      gap: 'GAP',
      notDrawn: 'HIDDEN',
      heightNotUsed: 'PLAN',
      square: 'SQUARE',
      form: PLAIN_FORM,
    },
  },
  {
    name: 'words before the code, line number apart',
    words: { ...DEFAULT_WORDS, form: { ...PLAIN_FORM, place: 'before', number: 'apart' } },
  },
  {
    name: 'letters joined to the code by a full stop',
    words: {
      begin: 'B',
      end: 'E',
      close: 'C',
      continue: 'N',
      curveBegin: 'A',
      tangentBegin: 'T',
      threePoint: 'P',
      smoothBegin: 'S',
      curveEnd: 'X',
      rectangle: 'R',
      offset: 'O',
      join: 'J',
      gap: 'G',
      notDrawn: 'H',
      heightNotUsed: 'Z',
      square: 'Q',
      form: { ...PLAIN_FORM, joint: '.' },
    },
  },
];
