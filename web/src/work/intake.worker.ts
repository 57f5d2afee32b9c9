import { expose, transfer } from 'comlink';
import { gridsNamed, transformBetween, type PublishedSystem } from '#core/basis';
import { guessBookLayout, bookLayoutProblem, type Book, type BookLayout, type GuessedBookLayout } from '#core/book';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { degreesExchanged } from '#core/sources';
import { distance, hashBytes } from '#core/kernel';
import {
  drawingChoices,
  bookFormOf,
  decodeText,
  formatOf,
  firstLines,
  guessLayout,
  layoutProblem,
  readBookFile,
  readPoints,
  chooseTaken,
  partsOfFile,
  sampleRows,
  withLost,
  sidesOfRows,
  sidesOfUnderlay,
  splitRow,
  compareThings,
  contentOfFile,
  extentOfThings,
  thingsOf,
  type Compared,
  type DrawingChoice,
  type DrawingTable,
  type FileClaims,
  type FilePart,
  type FormatName,
  type GridFacts,
  type GuessContext,
  type GuessedLayout,
  type KeptChoice,
  type ListedCode,
  type Lost,
  type ReadPoints,
  type RefusedRow,
  type Sheet,
  type SurfaceInFile,
  type TextLayout,
  type Underlay,
  withoutUnderlay,
} from '#core/exchange';

// Reads a dropped file on a thread of its own, so that the page answers while hundreds of thousands of rows go by.

let text = '';
/** The file that is open, read once for whatever is asked of it. */
let file: { bytes: Uint8Array; parts: ReturnType<typeof partsOfFile> } | null = null;
/** A file that is to be opened next. */
let arrived: Uint8Array | null = null;
/** All of the file as text, a book's too. */
let whole = '';
let lost: Lost = { list: [], count: 0 };
/** Where points and lines are rows together: how many of the first are points, and where an underlay begins. */
let together: Opened['together'];

export interface Opened {
  ok: true;
  encoding: string;
  kind: FormatName;
  /** What it holds that is not imported, in words. */
  besides: string | null;
  /** The sheet of a spreadsheet that was read, and all of them. */
  sheet?: Sheet;
  /** Ready-made surfaces that it holds, and the one whose vertices the rows are. */
  surfaces: SurfaceInFile[];
  surface: string | null;
  /** How many lines it holds, and whether the rows are their vertices. */
  lines: { count: number; taken: boolean };
  /** Whether it has points besides. */
  points: boolean;
  /** What a drawing holds, and which part of the file this is. */
  drawing?: DrawingTable;
  part: FilePart;
  /** What is taken of a grid of elevations. */
  grid?: GridFacts;
  /** The earlier drawing that the same was ticked of, where it is proposed. */
  tickedAs: DrawingChoice['from'];
  /** How many points are taken beside lines, and how many things as an underlay from which row on, where there are several. */
  together?: { points: number; underlay?: { from: number; count: number } };
  /** What a field book holds. */
  book?: BookFacts;
  /** How its rows could be readings, of a table or of tagged text. */
  readings?: GuessedBookLayout;
  /** The first rows, to define a layout on. */
  sample: string[];
  /** What the file says of its own numbers. */
  claims: FileClaims;
  rows: string[];
  guess: GuessedLayout;
  sha256: string;
  /** What the first rows look like, to know a sender's layout again. */
  signature: string;
}

/** What the project knows that a file is opened for. */
export type OpenContext = Omit<GuessContext, 'knownCodes'> & {
  codes: string[];
  /** Where somebody ticks: the codes with their layers, and what was ticked of drawings before. */
  drawing?: { codes: readonly ListedCode[]; kept: readonly KeptChoice[] };
};

export interface BookFacts {
  name: string;
  unit: string;
  angle: string;
  complete: boolean;
  counts: Record<string, number>;
  stations: string[];
  instruments: string[];
  problems: { row: number; text: string; reason: string }[];
  problemCount: number;
}

export interface Tried {
  problem: string | null;
  read: number;
  /** Things that lie under the drawing. */
  underlay: number;
  refusedCount: number;
  refused: RefusedRow[];
  blank: number;
  withoutElevation: number;
  lowest: number;
  highest: number;
  extent: [number, number, number, number] | null;
  /** The extent without points that lie far from all others, and how many those are. */
  near: [number, number, number, number] | null;
  far: number;
  /** Points whose number stands in the project already, and in the file twice. */
  known: string[];
  twice: string[];
  /** Against control that the project has, when the file is control; null otherwise. */
  compared: ComparedControl | null;
  /** Whether places and extent are in the project's own coordinates; false while degrees cannot be brought over. */
  placed: boolean;
  /** Latitude and longitude stand the wrong way round. */
  exchanged: boolean;
  /** Places for the sheet: at most 100,000, evenly taken. */
  x: Float64Array;
  y: Float64Array;
  /** Sides of its lines, where those are taken: x, y of both ends. */
  sides: Float64Array;
}

export interface ComparedControl {
  same: number;
  fresh: number;
  differ: { number: string; plan: number; height: number }[];
}

/** Places and sides of lines for the sheet, m, and their extent without what lies far from all others. */
export type Glance = Pick<Tried, 'x' | 'y' | 'sides' | 'near'>;

export interface TrySettings {
  /** Numbers that the project has. */
  numbers: string[];
  mostRows: number | null;
  /** The file's system and the project's, where they differ. */
  carry: { from: PublishedSystem; to: PublishedSystem } | null;
  control: { number: string; x: number; y: number; z: number }[] | null;
  /** m, added to all of it. */
  shift: readonly [east: number, north: number] | null;
}

const SHOWN = 100_000;
/** m; what two issues of a drawing have nearer than this is in the same place. */
const SAME_PLACE = 5e-4;
const MOST_ROWS_COMPARED = 200_000;

/** FNV-1a (Fowler, Noll, Vo), 32 bits. */
function hashOfRow(row: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < row.length; i++) h = Math.imul(h ^ row.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

/** Whether rows of a file may be readings: those of a drawing are its points. */
const isTable = (kind: FormatName): boolean => kind === 'text' || kind === 'spreadsheet';

const work = {
  /** Keeps a file to be opened; what a large drawing draws first, to be looked at meanwhile, null of any other file. */
  glance(bytes: Uint8Array, unit: FileUnit): Glance | null {
    arrived = bytes;
    const first = firstLines(bytes, unit);
    if (!first) return null;
    const { sides, x, y } = first;
    const ends = { x: sides.filter((_, i) => i % 2 === 0), y: sides.filter((_, i) => i % 2 === 1) };
    const { near } = sides.length ? nearExtent(ends.x, ends.y) : nearExtent(x, y);
    return transfer({ x, y, sides, near }, [x.buffer, y.buffer, sides.buffer]);
  },

  /** @param from the file, the one that was glanced at, or another part of the one that is open */
  open(
    from: Uint8Array | 'arrived' | 'open',
    context: OpenContext,
    asked: FilePart = {},
  ): Opened | { ok: false; reason: string; drawing?: DrawingTable } {
    const received = from === 'arrived' ? arrived : from === 'open' ? null : from;
    arrived = null;
    const bytes = received ?? file!.bytes;
    // A drawing is read from its bytes: it is no book, whatever its text.
    const plain = formatOf(bytes, null)?.contentOfBytes ? null : decodeText(bytes);
    whole = plain?.ok ? plain.text : '';
    if (plain?.ok && bookFormOf(plain.text)) return openBook(plain.text, bytes, context);
    if (received || !file) file = { bytes, parts: partsOfFile(bytes) };
    const { parts } = file;
    const isDrawn = !plain || (plain.ok && formatOf(bytes, plain.text)?.content !== undefined);
    // What comes in from now on keeps its arcs; what was read with chords is read so again.
    const wanted = isDrawn ? { arcs: true, ...asked } : asked;
    const { part, decoded, from: tickedAs } = partFor(parts, wanted, isDrawn ? context.drawing : undefined);
    if (!decoded.ok) return { ok: false, reason: decoded.reason, drawing: decoded.drawing };
    text = whole = decoded.text;
    ({ lost, together } = decoded);
    const rows = sampleRows(text);
    if (rows.every((r) => r.trim() === '')) return { ok: false, reason: 'The file holds nothing but empty rows.' };
    const guess = guessLayout(rows, { ...context, knownCodes: new Set(context.codes), unitSaid: decoded.claims.unit });
    return {
      ok: true,
      encoding: decoded.encoding,
      kind: decoded.kind,
      besides: decoded.besides ?? null,
      claims: decoded.claims,
      sheet: decoded.sheet,
      rows: rows.slice(0, 40),
      sample: rows,
      surfaces: decoded.surfaces ?? [],
      surface: decoded.surface?.name ?? null,
      drawing: decoded.drawing,
      grid: decoded.grid,
      part,
      tickedAs,
      together: decoded.together,
      points: decoded.hasPoints ?? true,
      lines: decoded.lines ?? { count: 0, taken: false },
      readings: isTable(decoded.kind) ? ofPart(guessBookLayout(rows), { sheet: part.sheet }) : undefined,
      guess: ofPart(guess, {
        ...part,
        surface: decoded.surface?.name,
        lines: decoded.lines?.taken,
        step: decoded.grid?.step,
      }),
      sha256: hashBytes(bytes),
      signature: signatureOf(rows, guess.layout),
    };
  },

  /** What became of an earlier issue of the drawing that is open; both by the unit that each is read in. */
  compareWith(earlier: Uint8Array, units: { earlier: FileUnit; now: FileUnit }): Compared | { problem: string } {
    const [before, after] = [contentOfFile(earlier), contentOfFile(file!.bytes)];
    if (!before || !after) return { problem: 'One of the two is no drawing that can be compared.' };
    const [a, b] = [thingsOf(before, METRES_IN_FILE[units.earlier]), thingsOf(after, METRES_IN_FILE[units.now])];
    return compareThings(a, b, { tolerance: SAME_PLACE, reach: extentOfThings([...a, ...b]) / 10 });
  },

  /** A hash of each row that is not blank, of as many as tell one version of a file from another. */
  rowHashes(): Uint32Array {
    const out: number[] = [];
    for (const row of whole.split(/\r?\n/, MOST_ROWS_COMPARED)) if (row.trim() !== '') out.push(hashOfRow(row.trim()));
    const hashes = Uint32Array.from(out);
    return transfer(hashes, [hashes.buffer as ArrayBuffer]);
  },

  /** What a table or tagged text holds as a field book, or why the layout does not serve. */
  tryBook(layout: BookLayout, onProgress?: (share: number) => void): BookFacts | { problem: string } {
    const problem = bookLayoutProblem(layout);
    if (problem) return { problem };
    return factsOf(readBookFile(text, layout, onProgress ? (share) => onProgress(share) : undefined)!.book);
  },

  split(rows: string[], layout: TextLayout): string[][] {
    return rows.map((r) => splitRow(r, layout.separator));
  },

  try(
    layout: TextLayout,
    { numbers, mostRows, carry, control, shift }: TrySettings,
    onProgress?: (share: number) => void,
  ): Tried {
    const found = readPoints(text, layout, {
      mostRows: mostRows ?? undefined,
      onProgress: onProgress ? (share) => onProgress(share) : undefined,
    })!;
    const all = withLost(found, lost);
    const area = carry?.to.area ?? null;
    const exchanged = Boolean(layout.degrees && area && degreesExchanged(area, all.x, all.y));
    const placed = bringOver(all, layout, carry);
    if (shift)
      for (let i = 0; i < all.x.length; i++) {
        all.x[i] += shift[0];
        all.y[i] += shift[1];
      }
    const { underlay, ...read } = together?.underlay
      ? withoutUnderlay(all, together.underlay.from)
      : { ...all, underlay: undefined };
    const inProject = new Set(numbers);
    const seen = new Set<string>();
    const known = new Set<string>();
    const twice = new Set<string>();
    for (const n of read.number) {
      if (n === '') continue;
      if (inProject.has(n)) known.add(n);
      if (seen.has(n)) twice.add(n);
      seen.add(n);
    }
    let lowest = Infinity;
    let highest = -Infinity;
    let withoutElevation = 0;
    const extent: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const z of read.z) {
      if (Number.isNaN(z)) withoutElevation++;
      else {
        lowest = Math.min(lowest, z);
        highest = Math.max(highest, z);
      }
    }
    // Where it lies is told by all of it, an underlay too.
    for (let i = 0; i < all.x.length; i++) {
      extent[0] = Math.min(extent[0], all.x[i]);
      extent[1] = Math.min(extent[1], all.y[i]);
      extent[2] = Math.max(extent[2], all.x[i]);
      extent[3] = Math.max(extent[3], all.y[i]);
    }
    // Vertices of lines are shown by their sides.
    const alone = together ? read.row.findIndex((row) => row >= together!.points + 2) : -1;
    const sides = joined(alone < 0 ? new Float64Array() : sidesOfRows(read, alone, SHOWN), underlay);
    const shown = alone < 0 ? read.x.length : alone;
    const step = Math.max(1, Math.ceil(shown / SHOWN));
    const x = read.x.filter((_, i) => i < shown && i % step === 0);
    const y = read.y.filter((_, i) => i < shown && i % step === 0);
    return transfer(
      {
        problem: layoutProblem(layout),
        read: read.x.length,
        underlay: underlay?.kinds.length ?? 0,
        refusedCount: read.refusedCount,
        refused: read.refused.slice(0, 200),
        blank: read.blank,
        withoutElevation,
        lowest,
        highest,
        extent: all.x.length ? extent : null,
        ...nearExtent(all.x, all.y),
        compared: control && placed ? compareControl(read, control) : null,
        placed,
        exchanged,
        known: [...known],
        twice: [...twice],
        x,
        y,
        sides,
      },
      [x, y, sides].map((v) => v.buffer as ArrayBuffer),
    );
  },
};

/** Sides of lines (x, y of both ends), and behind them those of an underlay. */
function joined(sides: Float64Array, underlay: Underlay | undefined): Float64Array {
  if (!underlay) return sides;
  const { x, y } = sidesOfUnderlay(underlay, SHOWN);
  const out = new Float64Array(sides.length + 2 * x.length);
  out.set(sides);
  x.forEach((v, i) => out.set([v, y[i]], sides.length + 2 * i));
  return out;
}

/** The part that is asked for; of a drawing nobody has ticked yet, the one that is proposed. */
function partFor(
  parts: ReturnType<typeof partsOfFile>,
  asked: FilePart,
  drawing: OpenContext['drawing'],
): { part: FilePart; decoded: ReturnType<typeof parts>; from: DrawingChoice['from'] } {
  // Its table alone, before any row is made.
  const table = drawing && !asked.taken && asked.surface === undefined ? parts({ ...asked, taken: [] }).drawing : undefined; // prettier-ignore
  const choice = table && chooseTaken(table, drawing!.codes, drawing!.kept);
  if (!choice?.taken.length) {
    // Of a file with nothing else to tick, a ready-made surface as it is.
    const surface = table?.surfaces?.[0];
    const part = surface === undefined || asked.lines ? asked : { ...asked, surface };
    return { part, decoded: parts(part), from: null };
  }
  const part = { ...asked, taken: choice.taken };
  return { part, decoded: parts(part), from: choice.from };
}

/** A field book: what it holds, said before it is taken in; its layout is its own. */
function openBook(content: string, bytes: Uint8Array, context: OpenContext): Opened {
  const { book } = readBookFile(content, null)!;
  return {
    ok: true,
    encoding: 'utf-8',
    kind: 'book',
    besides: null,
    surfaces: [],
    surface: null,
    points: true,
    part: {},
    tickedAs: null,
    lines: { count: 0, taken: false },
    claims: { unit: null, system: null, geoid: null },
    rows: content.split(/\r?\n/, 40),
    sample: [],
    guess: guessLayout(['1,2,3'], { ...context, knownCodes: new Set() }),
    sha256: hashBytes(bytes),
    signature: 'book 1',
    book: factsOf(book),
  };
}

function factsOf(book: Book): BookFacts {
  const counts: Record<string, number> = {};
  for (const r of book.records) {
    const what = r.deleted
      ? 'deleted in the field'
      : r.kind === 'sighting'
        ? BOOK_WORD[r.role]
        : (BOOK_WORD[r.kind] ?? r.kind);
    counts[what] = (counts[what] ?? 0) + 1;
  }
  return {
    name: book.name,
    unit: book.unit,
    angle: book.angle,
    complete: book.complete,
    counts,
    stations: [...new Set(book.records.filter((r) => r.kind === 'setup').map((r) => r.number))],
    instruments: book.instruments.map((i) => i.name),
    problems: book.problems.slice(0, 50),
    problemCount: book.problemCount,
  };
}

const BOOK_WORD: Record<string, string> = {
  setup: 'setups',
  back: 'backsight readings',
  shot: 'shots',
  check: 'checks',
  gnss: 'GNSS shots',
  level: 'level readings',
  point: 'typed coordinates',
  azimuth: 'azimuths',
  weather: 'weather readings',
  remark: 'remarks',
};

/** Carries what was read over for the preview, where no grid file is needed; the server reads it anew. */
function bringOver(read: ReadPoints, layout: TextLayout, carry: TrySettings['carry']): boolean {
  if (!carry) return !layout.degrees;
  if ([carry.from, carry.to].some((s) => gridsNamed(s.definition).length)) return false;
  const made = transformBetween(carry.from, carry.to);
  if (!made.ok) return false;
  made.transformation.apply(read.x, read.y);
  return true;
}

/** Points of one name nearer than half a millimetre are the same. */
function compareControl(read: ReadPoints, control: NonNullable<TrySettings['control']>): ComparedControl {
  const known = new Map(control.map((c) => [c.number, c]));
  const out: ComparedControl = { same: 0, fresh: 0, differ: [] };
  read.number.forEach((number, i) => {
    const c = known.get(number);
    if (!c) {
      out.fresh++;
      return;
    }
    const plan = distance(read.x[i] - c.x, read.y[i] - c.y);
    const height = read.z[i] - c.z;
    if (plan < 5e-4 && !(Math.abs(height) >= 5e-4)) out.same++;
    else if (out.differ.length < 500) out.differ.push({ number, plan, height });
  });
  return out;
}

/** Six times the distance within which nine points in ten lie from the middle is near; a correction reference station is not. */
function nearExtent(x: Float64Array, y: Float64Array): Pick<Tried, 'near' | 'far'> {
  if (x.length === 0) return { near: null, far: 0 };
  const middle = (v: Float64Array): number => v.slice().sort()[v.length >> 1];
  const [cx, cy] = [middle(x), middle(y)];
  const distances = Float64Array.from(x, (v, i) => Math.hypot(v - cx, y[i] - cy));
  const limit = Math.max(200, 6 * distances.slice().sort()[Math.floor(0.9 * (x.length - 1))]);
  const near: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  let far = 0;
  for (let i = 0; i < x.length; i++) {
    if (distances[i] > limit) {
      far++;
      continue;
    }
    near[0] = Math.min(near[0], x[i]);
    near[1] = Math.min(near[1], y[i]);
    near[2] = Math.max(near[2], x[i]);
    near[3] = Math.max(near[3], y[i]);
  }
  return { near, far };
}

/** A layout with the part of the file that it is of. */
function ofPart<T extends { layout: FilePart }>(guess: T, { sheet, surface, lines, ...rest }: FilePart): T {
  const part = {
    ...(sheet === undefined ? {} : { sheet }),
    ...(surface === undefined ? {} : { surface }),
    ...(lines ? { lines } : {}),
    // Of a surface that is taken as it is, nothing else is.
    ...(surface === undefined ? drawingChoices(rest) : {}),
  };
  return { ...guess, layout: { ...guess.layout, ...part } };
}

/** Headings when there are any, else the shape of a row: letters and digits of each field by kind. */
function signatureOf(rows: string[], layout: TextLayout): string {
  const row = layout.skipRows > 0 ? rows[layout.skipRows - 1] : rows.find((r) => r.trim() !== '');
  const shape = layout.skipRows > 0 ? (row ?? '') : (row ?? '').replace(/[0-9]+/g, '9').replace(/[A-Za-z]+/g, 'a');
  return shape.slice(0, 400);
}

export type IntakeWork = typeof work;
expose(work);
