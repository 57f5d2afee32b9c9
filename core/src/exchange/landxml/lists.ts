import { MOST_DIGITS, numberIn, TEN } from '../dxf/records.ts';
import type { TinBuilder } from './tin.ts';

// Vertices and faces of a surface from their bytes, as far as they are written plainly: <P id="7">north east elevation</P>,
// <F>7 8 9</F>. At the first that is not, reading ends before it, and the XML parser goes on from there.

export interface ListEnd {
  /** The first byte that is not read. */
  at: number;
  /** Line ends among what is read. */
  lines: number;
}

const [BLANK, TAB, LINE, RETURN] = [32, 9, 10, 13];
const [OPEN, CLOSE, SLASH, EQUALS, QUOTE, APOSTROPHE] = [60, 62, 47, 61, 34, 39];
const [P, F, ONE, X] = [80, 70, 49, 120];
const [MINUS, POINT] = [45, 46];
/** Attributes of an element at the most; one with more is not plain. */
const MOST_ATTRIBUTES = 4;
const ID = [105, 100];
const INVISIBLE = [105];

class Cursor {
  lines = 0;

  constructor(
    readonly bytes: Uint8Array,
    public at: number,
  ) {}

  /** Over blanks and ends of lines. */
  skip(): void {
    const { bytes } = this;
    for (;;) {
      const c = bytes[this.at];
      if (c === LINE) this.lines++;
      else if (c !== BLANK && c !== TAB && c !== RETURN) return;
      this.at++;
    }
  }

  /** Over `<` and a letter that is the whole name of an element. */
  begins(letter: number): boolean {
    const { bytes, at } = this;
    if (bytes[at] !== OPEN || bytes[at + 1] !== letter) return false;
    const next = bytes[at + 2];
    if (next !== CLOSE && next !== BLANK) return false;
    this.at = at + 2;
    return true;
  }

  /** Over `</`, a letter and `>`. */
  ends(letter: number): boolean {
    const { bytes, at } = this;
    if (bytes[at] !== OPEN || bytes[at + 1] !== SLASH || bytes[at + 2] !== letter || bytes[at + 3] !== CLOSE)
      return false;
    this.at = at + 4;
    return true;
  }

  /** Over attributes and `>`; where the value of the one that is asked for stands. Null where they are not plain, or said twice. */
  attribute(asked: readonly number[]): { from: number; to: number } | null {
    const { bytes } = this;
    const found = { from: -1, to: -1 };
    let others = 0;
    for (let n = 0; n <= MOST_ATTRIBUTES; n++) {
      this.skip();
      if (bytes[this.at] === CLOSE) {
        this.at++;
        return found;
      }
      const from = this.at;
      while (isLetter(bytes[this.at])) this.at++;
      const size = this.at - from;
      const quote = bytes[this.at + 1];
      // One that begins like xmlns may say that the element is another's.
      if (size === 0 || bytes[from] === X || bytes[this.at] !== EQUALS || (quote !== QUOTE && quote !== APOSTROPHE))
        return null;
      const value = (this.at += 2);
      while (isPlain(bytes[this.at]) && bytes[this.at] !== quote) this.at++;
      if (bytes[this.at] !== quote) return null;
      if (size === asked.length && asked.every((c, i) => bytes[from + i] === c)) {
        if (found.from >= 0) return null;
        [found.from, found.to] = [value, this.at];
        // Of several others two might be the same, which is no XML.
      } else if (++others > 1) return null;
      this.at++;
      if (bytes[this.at] !== CLOSE && bytes[this.at] !== BLANK) return null;
    }
    return null;
  }

  /** A number of a list that blanks part; NaN where none is there. One of few digits is made of whole numbers, to the last bit. */
  number(): number {
    const { bytes } = this;
    this.skip();
    const from = this.at;
    let at = from;
    if (bytes[at] === MINUS) at++;
    const first = at;
    let whole = 0;
    let point = -1;
    for (let c = bytes[at]; ; c = bytes[++at]) {
      if (c >= 48 && c <= 57) whole = whole * 10 + c - 48;
      else if (c === POINT && point < 0) point = at;
      else break;
    }
    const digits = at - first - (point < 0 ? 0 : 1);
    this.at = at;
    if (isOfNumber(bytes[at]) || digits === 0 || digits > MOST_DIGITS) {
      while (isOfNumber(bytes[this.at])) this.at++;
      return numberIn(bytes, from, this.at);
    }
    const value = point < 0 ? whole : whole / TEN[at - point - 1];
    return first > from ? -value : value;
  }

  /** A whole number written plainly, of at most nine digits; -1 where none is there. */
  whole(): number {
    const { bytes } = this;
    this.skip();
    const from = this.at;
    let value = 0;
    for (let c = bytes[this.at]; c >= 48 && c <= 57; c = bytes[++this.at]) value = value * 10 + c - 48;
    const digits = this.at - from;
    return digits === 0 || digits > 9 || (bytes[from] === 48 && digits > 1) ? -1 : value;
  }
}

const isLetter = (c: number): boolean => (c >= 97 && c <= 122) || (c >= 65 && c <= 90);
/** Of the value of an attribute: no reference, no letter beyond ASCII. */
const isPlain = (c: number): boolean => c >= BLANK && c < 127 && c !== OPEN && c !== 38;
const isOfNumber = (c: number): boolean => (c >= 48 && c <= 57) || c === 46 || c === 45 || c === 43 || c === 69 || c === 101; // prettier-ignore

/** Bytes of the shortest element, <F>1 2 3</F>. */
const SHORTEST = 12;

/** How many elements a list can have at the most: it ends at the first element that begins like none of its own. */
function mostElements(bytes: Uint8Array, from: number, letter: number): number {
  let open = 0;
  let at = from;
  for (; at < bytes.length; at++) {
    if (bytes[at] !== OPEN) continue;
    const next = bytes[at + 1] === SLASH ? at + 2 : at + 1;
    const behind = bytes[next + 1];
    if (bytes[next] !== letter || (behind !== CLOSE && behind > BLANK)) break;
    open++;
  }
  return Math.min(open >> 1, Math.floor((at - from) / SHORTEST));
}

/** Reads `each` element for element, as long as it says that one was plain. */
function readList(bytes: Uint8Array, from: number, each: (cursor: Cursor) => boolean): ListEnd {
  const cursor = new Cursor(bytes, from);
  for (;;) {
    cursor.skip();
    const { at, lines } = cursor;
    if (!each(cursor)) return { at, lines };
  }
}

/** Vertices of a list that begins at a byte. */
export function plainVertices(bytes: Uint8Array, from: number, tin: TinBuilder): ListEnd {
  tin.expectVertices(mostElements(bytes, from, P));
  return readList(bytes, from, (c) => {
    if (!c.begins(P)) return false;
    const said = c.attribute(ID);
    if (!said) return false;
    const behind = c.at;
    let id = tin.vertices + 1;
    if (said.from >= 0) {
      c.at = said.from;
      id = c.whole();
      if (id < 0 || c.at !== said.to || bytes[said.from] <= BLANK) return false;
      c.at = behind;
    }
    const [north, east, elevation] = [c.number(), c.number(), c.number()];
    // What is no number makes the sum none; one that a number cannot hold is none either.
    if (Number.isNaN(north + east + elevation)) return false;
    c.skip();
    if (!c.ends(P)) return false;
    tin.vertex(id, east, north, elevation);
    return true;
  });
}

/** Faces of a list that begins at a byte; those marked as no part of the surface are passed over. */
export function plainFaces(bytes: Uint8Array, from: number, tin: TinBuilder): ListEnd {
  tin.expectFaces(mostElements(bytes, from, F));
  return readList(bytes, from, (c) => {
    if (!c.begins(F)) return false;
    const said = c.attribute(INVISIBLE);
    if (!said) return false;
    const isInvisible = said.to - said.from === 1 && bytes[said.from] === ONE;
    const [a, b, d] = [vertexNext(c, tin), nextAfterBlank(c, tin), nextAfterBlank(c, tin)];
    if (a < 0 || b < 0 || d < 0) return false;
    c.skip();
    if (!c.ends(F)) return false;
    if (!isInvisible) tin.face(a, b, d);
    return true;
  });
}

/** The vertex whose id is next; -1 where there is none. */
function vertexNext(c: Cursor, tin: TinBuilder): number {
  const id = c.whole();
  return id < 0 ? -1 : tin.vertexOf(id);
}

/** Two ids that nothing parts are one. */
function nextAfterBlank(c: Cursor, tin: TinBuilder): number {
  const from = c.at;
  c.skip();
  return c.at === from ? -1 : vertexNext(c, tin);
}
