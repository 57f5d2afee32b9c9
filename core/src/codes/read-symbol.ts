import { SaxesParser, type SaxesTagPlain } from 'saxes';
import svgpath from 'svgpath';
import { strokePath } from './symbols.ts';
import { type Stroke } from './strokes.ts';

/** Most characters, shapes and vertices of a symbol that is taken in. */
const MOST_TEXT = 200_000;
const MOST_STROKES = 60;
const MOST_VERTICES = 3000;
const MOST_DEPTH = 40;
/** Straight pieces of a curve. */
const CHORDS = 10;

export type SymbolRead =
  /** `left` says what else was in the drawing and is not drawn. */
  { ok: true; strokes: Stroke[]; left: string[] } | { ok: false; reason: string };

interface Course {
  places: number[];
  closed: boolean;
  filled: boolean;
}

interface Look {
  transform: string;
  fill: string;
  stroke: string;
  hidden: boolean;
}

const SILENT = new Set(['title', 'desc', 'metadata', 'style', 'defs', 'clippath', 'mask', 'pattern', 'symbol', 'marker', 'lineargradient', 'radialgradient', 'filter']); // prettier-ignore
const GROUPS = new Set(['svg', 'g', 'a', 'switch']);

/**
 * A symbol from a drawing in scalable vector graphics: its shapes as strokes in a square from −1 to 1, y up, the
 * middle of the view box in the middle. Curves become chords. Nothing that it refers to is opened.
 */
export function readSymbol(svg: string): SymbolRead {
  if (svg.length > MOST_TEXT) return no(`it is longer than ${MOST_TEXT} characters`);
  if (/<!(DOCTYPE|ENTITY)/i.test(svg)) return no('it has a document type, which is not opened');
  const reader = new SymbolReader();
  try {
    reader.read(svg);
  } catch (error) {
    return no(error instanceof Unreadable ? error.message : 'it is not an SVG drawing that can be read');
  }
  if (reader.courses.length === 0) return no('it has no shapes that can be drawn');
  const left = [...reader.left].map(([name, count]) => `${count} ${name}`);
  return { ok: true, strokes: squared(reader.courses, reader.box), left };
}

/** Strokes as one line of text: path data as in SVG, parted by semicolons, `fill` before those that are filled. */
export const symbolText = (strokes: readonly Stroke[]): string =>
  strokes.map((s) => `${s.filled ? 'fill ' : ''}${strokePath(s)}`).join('; ');

/** The same read again; null of what is none. */
export function symbolOfText(text: string): Stroke[] | null {
  if (text.length > MOST_TEXT) return null;
  const strokes: Stroke[] = [];
  for (const part of text.split(';').map((p) => p.trim())) {
    const filled = /^fill\s+/i.test(part);
    const path = absolute(part.replace(/^fill\s+/i, ''), '');
    if (typeof path === 'string') return null;
    for (const { places, closed } of coursesOf(path)) {
      if (places.length < 4 || places.some((v) => Math.abs(v) > 2)) return null;
      strokes.push({ kind: 'course', places: places.map((v, i) => Math.round((i % 2 ? -v : v) * 1e4) / 1e4), ...(closed ? { closed } : {}), ...(filled ? { filled } : {}) }); // prettier-ignore
    }
  }
  return strokes.length > 0 && strokes.length <= MOST_STROKES ? strokes : null;
}

/** A path with absolute commands, without arcs and shorthands; in words what is wrong with it. */
function absolute(d: string, transform: string): ReturnType<typeof svgpath> | string {
  const path = svgpath(d).transform(transform).abs().unshort().unarc();
  // The package says so in a field that its types do not name.
  const { err } = path as unknown as { err: string };
  return err ? err.slice(0, 120) : path;
}

const no = (reason: string): SymbolRead => ({ ok: false, reason });

class Unreadable extends Error {}

class SymbolReader {
  readonly courses: Course[] = [];
  readonly left = new Map<string, number>();
  box: [x: number, y: number, width: number, height: number] | null = null;
  private readonly looks: Look[] = [];
  private silent = 0;
  private vertices = 0;

  read(svg: string): void {
    const parser = new SaxesParser();
    let first = true;
    parser.on('error', (e) => {
      throw new Unreadable(`it is not well-formed XML: ${e.message.replace(/^undefined:/, 'line ')}`);
    });
    parser.on('opentag', (tag) => {
      const name = tag.name.toLowerCase();
      if (first && name !== 'svg') throw new Unreadable(`it is not SVG but <${tag.name.slice(0, 20)}>`);
      first = false;
      this.open(name, tag);
    });
    parser.on('closetag', (tag) => {
      if (SILENT.has(tag.name.toLowerCase())) this.silent--;
      this.looks.pop();
    });
    parser.write(svg).close();
  }

  private open(name: string, tag: SaxesTagPlain): void {
    if (this.looks.length > MOST_DEPTH) throw new Unreadable(`it is nested deeper than ${MOST_DEPTH}`);
    const look = lookOf(tag.attributes, this.looks.at(-1));
    this.looks.push(look);
    if (SILENT.has(name)) this.silent++;
    if (this.silent > 0) return;
    if (name === 'svg') this.box ??= boxOf(tag.attributes);
    if (GROUPS.has(name) || look.hidden) return;
    const d = pathOf(name, tag.attributes);
    if (d === null) return void this.left.set(name, (this.left.get(name) ?? 0) + 1);
    if (look.fill === 'none' && look.stroke === 'none') return;
    this.take(d, look);
  }

  private take(d: string, look: Look): void {
    const path = absolute(d, look.transform);
    if (typeof path === 'string') throw new Unreadable(`a path cannot be read: ${path}`);
    for (const course of coursesOf(path)) {
      if (course.places.length < 4) continue;
      if (!course.places.every(Number.isFinite)) throw new Unreadable('a path leads farther than numbers go');
      this.vertices += course.places.length / 2;
      if (this.vertices > MOST_VERTICES) throw new Unreadable(`it has more than ${MOST_VERTICES} corners; simplify it`);
      if (this.courses.length >= MOST_STROKES) throw new Unreadable(`it has more than ${MOST_STROKES} shapes; simplify it`); // prettier-ignore
      this.courses.push({ ...course, filled: look.fill !== 'none' });
    }
  }
}

function lookOf(attributes: Record<string, string>, from: Look | undefined): Look {
  const style = new Map((attributes.style ?? '').split(';').map((p) => [p.split(':')[0].trim(), p.split(':').slice(1).join(':').trim()])); // prettier-ignore
  const said = (name: string): string | undefined => style.get(name) ?? attributes[name];
  return {
    transform: `${from?.transform ?? ''} ${attributes.transform ?? ''}`.trim(),
    fill: said('fill') ?? from?.fill ?? 'black',
    stroke: said('stroke') ?? from?.stroke ?? 'none',
    hidden: (from?.hidden ?? false) || said('display') === 'none' || said('visibility') === 'hidden',
  };
}

function boxOf(attributes: Record<string, string>): SymbolReader['box'] {
  const said = (attributes.viewBox ?? '').trim().split(/[\s,]+/).map(Number); // prettier-ignore
  const box =
    said.length === 4 ? said : [0, 0, parseFloat(attributes.width ?? ''), parseFloat(attributes.height ?? '')];
  return box.every(Number.isFinite) && box[2] > 0 && box[3] > 0 ? (box as [number, number, number, number]) : null;
}

/** Path data of a shape, or null of what is none. */
function pathOf(name: string, a: Record<string, string>): string | null {
  const n = (key: string): number => Number.parseFloat(a[key] ?? '0') || 0;
  const round = (cx: number, cy: number, rx: number, ry: number): string =>
    `M${cx - rx} ${cy}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0z`;
  switch (name) {
    case 'path':
      return a.d ?? '';
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
    case 'polyline':
    case 'polygon': {
      const places = (a.points ?? '').trim();
      return places === '' ? '' : `M${places}${name === 'polygon' ? 'z' : ''}`;
    }
    case 'rect':
      return `M${n('x')} ${n('y')}h${n('width')}v${n('height')}h${-n('width')}z`;
    case 'circle':
      return round(n('cx'), n('cy'), n('r'), n('r'));
    case 'ellipse':
      return round(n('cx'), n('cy'), n('rx'), n('ry'));
    default:
      return null;
  }
}

/** Courses of a path whose commands are absolute, without arcs and shorthands. */
function coursesOf(path: ReturnType<typeof svgpath>): Omit<Course, 'filled'>[] {
  const out: Omit<Course, 'filled'>[] = [];
  let now: Omit<Course, 'filled'> = { places: [], closed: false };
  const begin = (x: number, y: number): void => {
    now = { places: [x, y], closed: false };
    out.push(now);
  };
  path.iterate((segment: [string, ...number[]], _index: number, x: number, y: number) => {
    const [command, ...v] = segment;
    if (command === 'M') return begin(v[0], v[1]);
    if (command === 'Z') {
      now.closed = true;
      return;
    }
    // What goes on after closing begins where it was closed.
    if (now.closed) begin(x, y);
    if (command === 'L') now.places.push(v[0], v[1]);
    else if (command === 'H') now.places.push(v[0], y);
    else if (command === 'V') now.places.push(x, v[0]);
    else if (command === 'C') bend(now.places, [x, y, ...v]);
    else if (command === 'Q') bend(now.places, [x, y, ...raised(x, y, v)]);
  });
  return out;
}

/** A quadratic curve as a cubic one. */
const raised = (x: number, y: number, [cx, cy, ex, ey]: number[]): number[] => [
  x + (2 / 3) * (cx - x),
  y + (2 / 3) * (cy - y),
  ex + (2 / 3) * (cx - ex),
  ey + (2 / 3) * (cy - ey),
  ex,
  ey,
];

/** Chords of a cubic curve (Bernstein's form). */
function bend(places: number[], [x0, y0, x1, y1, x2, y2, x3, y3]: number[]): void {
  for (let i = 1; i <= CHORDS; i++) {
    const t = i / CHORDS;
    const s = 1 - t;
    const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    places.push(a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3);
  }
}

/** Brought into the square: by the view box where everything lies inside it, else by what is drawn. */
function squared(courses: readonly Course[], box: SymbolReader['box']): Stroke[] {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { places } of courses)
    for (let i = 0; i < places.length; i += 2) {
      minX = Math.min(minX, places[i]);
      maxX = Math.max(maxX, places[i]);
      minY = Math.min(minY, places[i + 1]);
      maxY = Math.max(maxY, places[i + 1]);
    }
  const fits = box && minX >= box[0] && minY >= box[1] && maxX <= box[0] + box[2] && maxY <= box[1] + box[3];
  const [x, y, w, h] = fits ? box : [minX, minY, maxX - minX, maxY - minY];
  const half = Math.max(w, h) / 2 || 1;
  const n = (v: number): number => Math.round((v / half) * 1e4) / 1e4;
  return courses.map(({ places, closed, filled }) => ({
    kind: 'course',
    places: places.map((v, i) => (i % 2 ? n(y + h / 2 - v) : n(v - (x + w / 2)))),
    ...(closed ? { closed } : {}),
    ...(filled ? { filled } : {}),
  }));
}
